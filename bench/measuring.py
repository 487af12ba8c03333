"""How two things are timed against each other."""

from __future__ import annotations

import http.client
import json
import struct
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from statistics import median
from tempfile import TemporaryDirectory

from windsock.commands.cluster import free_port
from windsock.commands.machine import ensure_frontend, ensure_postgres
from windsock.commands.stack import Stack

Timed = Callable[[], float]
"""Does the work once and answers with the seconds that count."""


@dataclass(frozen=True)
class Bench:
    """One measurement. ratio = ours / reference; target is what it should not exceed."""

    name: str
    ours: float
    reference: float
    target: float
    meaning: str
    unit: str = "s"

    @property
    def ratio(self) -> float:
        return self.ours / self.reference

    def row(self) -> dict[str, str | float]:
        """As the JSON file has it."""
        return {
            "name": self.name,
            "ours": self.ours,
            "reference": self.reference,
            "unit": self.unit,
            "ratio": self.ratio,
            "target": self.target,
            "meaning": self.meaning,
        }


def clocked(work: Callable[[], object]) -> Timed:
    """Times the whole of a piece of work."""

    def timed() -> float:
        started = time.perf_counter()
        work()
        return time.perf_counter() - started

    return timed


def side_by_side(ours: Timed, reference: Timed, rounds: int = 9) -> tuple[float, float]:
    """Medians of alternating runs, after one of each that does not count."""
    ours(), reference()
    pairs = [(ours(), reference()) for _ in range(rounds)]
    return median(pair[0] for pair in pairs), median(pair[1] for pair in pairs)


class Caller:
    """Speaks to a running stack over HTTP, keeping its connection."""

    def __init__(self, stack: Stack, browser: str = "benchbench") -> None:
        self._browser = browser
        self._connection = http.client.HTTPConnection("127.0.0.1", stack.port, timeout=120)

    def ask(self, method: str, path: str, body: object = None, **more: str) -> tuple[bytes, str]:
        """The answer's body, and what the server says of its own timing."""
        headers = {"X-Windsock-Browser": self._browser, "Content-Type": "application/json"} | more
        self._connection.request(method, path, None if body is None else json.dumps(body).encode(), headers)
        answer = self._connection.getresponse()
        content = answer.read()
        if answer.status >= 300:
            raise RuntimeError(f"{path}: {answer.status} {content[:300]!r}")
        return content, answer.headers.get("Server-Timing", "")


@contextmanager
def running() -> Iterator[tuple[Stack, Caller]]:
    """A stack of its own on free ports, stopped at the end."""
    ensure_frontend()
    with TemporaryDirectory(prefix="windsock-bench-") as folder:
        Path(folder).chmod(0o755)
        stack = Stack(ensure_postgres(), Path(folder), free_port())
        try:
            stack.start()
            yield stack, Caller(stack)
        finally:
            stack.stop()


def manifest_of(bundle: bytes) -> dict:
    """The manifest of a frame's reply."""
    (length,) = struct.unpack_from("<I", bundle)
    return json.loads(bundle[4 : 4 + length])
