"""Looks after work under way: it stops when the one who asked is gone, and when it takes longer than a turn may."""

from __future__ import annotations

import logging
import os
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from threading import Lock, Thread

from windsock.core.evaluate.watch import Watch
from windsock.core.refusals import TooMuch

log = logging.getLogger("windsock.evaluator")

LOOK = 0.25
STUCK = 120.0
"""Seconds over its limit after which work that does not stop takes the process with it: another stands by."""


@dataclass
class _Work:
    gone: Callable[[], bool]
    stopped: Callable[[], None]
    seconds: float = 0.0
    until: float = float("inf")


class Overseer:
    """One thread that looks at all work a few times a second."""

    def __init__(self) -> None:
        self._work: dict[Watch, _Work] = {}
        self._lock = Lock()
        self._thread: Thread | None = None

    def enter(self, watch: Watch, gone: Callable[[], bool], stopped: Callable[[], None]) -> None:
        """Work begins. gone: whether the one who asked is gone; stopped: called after it was cancelled."""
        with self._lock:
            self._work[watch] = _Work(gone, stopped)
            if self._thread is None:
                self._thread = Thread(target=self._look, daemon=True)
                self._thread.start()

    def leave(self, watch: Watch) -> None:
        """The work has ended."""
        with self._lock:
            self._work.pop(watch, None)

    @contextmanager
    def limited(self, watch: Watch, seconds: float) -> Iterator[None]:
        """Within this the work may take so many seconds; then it is stopped with a TooMuch."""
        with self._lock:
            work = self._work[watch]
            work.seconds, work.until = seconds, time.monotonic() + seconds
        try:
            yield
        finally:
            work.until = float("inf")

    def _look(self) -> None:
        while True:
            time.sleep(LOOK)
            with self._lock:
                under_way = list(self._work.items())
            now = time.monotonic()
            for watch, work in under_way:
                if now > work.until + STUCK:
                    log.error("work does not stop: this process ends, another takes over")
                    os._exit(3)
                if now > work.until:
                    watch.cancel(
                        TooMuch(
                            f"This takes more than {work.seconds:.0f} s, and was stopped. The shot is unharmed. Undo the last "
                            "change, or take fewer faces, frames or fields."
                        )
                    )
                elif not watch.flag[0] and work.gone():
                    watch.cancel()
                    work.stopped()
