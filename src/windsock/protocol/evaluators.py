"""Several evaluator processes, asked as one."""

from __future__ import annotations

import time
from collections.abc import Callable, Generator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from threading import Lock
from zlib import crc32

from pydantic import JsonValue
from pydantic_core import to_jsonable_python

from windsock.core.refusals import Refusal
from windsock.protocol.client import EvaluatorAway, EvaluatorClient, NobodyListens
from windsock.protocol.replies import Reply
from windsock.protocol.requests import (
    ActivityRequest,
    AnyRequest,
    BlockRequest,
    CancelRequest,
    CoverageRequest,
    FinishedRequest,
    ShotRequest,
)

Gone = Callable[[], bool] | None
Answer = tuple[Reply, bytes]


class Evaluators:
    """Sends each question to the process that it is for.

    What somebody waits for, and what is rendered, goes to the one process that a shot has its results in; what is done ahead and
    strips go to whoever has least to do. While a process is away the others answer for it.
    """

    def __init__(self, sockets: Sequence[Path], patience: float = 2.0) -> None:
        """patience: seconds for which it is tried again where nobody listens."""
        self._patience = patience
        self._clients = [EvaluatorClient(path, 0) for path in sockets]
        self._busy = [0] * len(sockets)
        self._lock = Lock()
        self._pool = ThreadPoolExecutor(len(sockets), "evaluators")

    def ask(self, request: AnyRequest, gone: Gone = None) -> Answer:
        """See `EvaluatorClient.ask`."""
        match request:
            case ActivityRequest() | CancelRequest():
                return self._ask_all(request)
            case BlockRequest():
                return self._ask_until(request, range(len(self._clients)), gone, Refusal)
            case _:
                return self._ask_until(request, self._order(request), gone, NobodyListens)

    def _order(self, request: AnyRequest) -> list[int]:
        """The processes in the order in which they are tried."""
        about = request.base.split(" ")[0] if isinstance(request, ShotRequest) else request.model_dump_json()
        home = crc32(about.encode()) % len(self._clients)
        ahead = isinstance(request, ShotRequest) and request.ahead
        # Renderings are kept where they were made, to be finished anew.
        spread = isinstance(request, CoverageRequest) or (ahead and not isinstance(request, FinishedRequest))
        with self._lock:
            # Of those that have as little to do, work ahead leaves the shot's own process to what is waited for.
            return sorted(
                range(len(self._clients)),
                key=lambda one: (self._busy[one] if spread else 0, (one == home) == spread, one),
            )

    def _ask_until(self, request: AnyRequest, order: Sequence[int], gone: Gone, passing: type[Refusal]) -> Answer:
        """The answer of the first process that has one. passing: the refusals after which the next is asked."""
        deadline = time.monotonic() + self._patience
        while True:
            refused: Refusal = EvaluatorAway()
            for one in order:
                try:
                    with self._counted(one):
                        return self._clients[one].ask(request, gone)
                except passing as refusal:
                    refused = refusal
            if not isinstance(refused, EvaluatorAway) or time.monotonic() > deadline:
                raise refused
            time.sleep(0.1)

    def _ask_all(self, request: AnyRequest) -> Answer:
        """The answers of all together; raises EvaluatorAway where none answers."""
        found: dict[str, list[JsonValue]] = {}
        told = [one for one in self._pool.map(partial(_told, request), self._clients) if one is not None]
        if not told:
            raise EvaluatorAway
        for reply in told:
            for browser, work in reply.data.items() if isinstance(reply.data, dict) else ():
                found.setdefault(browser, []).extend(work if isinstance(work, list) else [work])
        return Reply(data=to_jsonable_python(found)), b""

    @contextmanager
    def _counted(self, one: int) -> Generator[None]:
        with self._lock:
            self._busy[one] += 1
        try:
            yield
        finally:
            with self._lock:
                self._busy[one] -= 1


def _told(request: AnyRequest, client: EvaluatorClient) -> Reply | None:
    try:
        return client.ask(request)[0]
    except EvaluatorAway:
        return None
