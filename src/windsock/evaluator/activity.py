"""What is being worked on for whom, how far it is, and how long it will take: for the page to show."""

from __future__ import annotations

import time
from dataclasses import dataclass
from threading import Condition

from pydantic import JsonValue


@dataclass
class _Work:
    browser: str
    view: str
    says: str
    share: float
    since: float


class Activity:
    """Keeps what is under way; those who watch are woken by a change."""

    def __init__(self) -> None:
        self._under_way: dict[int, _Work] = {}
        self._numbers = 0
        self._change = Condition()

    def begin(self, browser: str, view: str) -> int:
        """Work has begun; answers with its number."""
        with self._change:
            self._numbers += 1
            self._under_way[self._numbers] = _Work(browser, view, "", 0.0, time.monotonic())
            return self._numbers

    def report(self, number: int, says: str, share: float) -> None:
        """How far it is; another task of the same work begins its time anew."""
        with self._change:
            work = self._under_way[number]
            if says != work.says:
                work.since = time.monotonic()
            work.says, work.share = says, share
            self._changed()

    def end(self, number: int) -> None:
        """The work is done, or given up."""
        with self._change:
            if self._under_way.pop(number).says:
                self._changed()

    def watch(self, patience: float) -> dict[str, JsonValue]:
        """The work for each browser, once something has changed or when patience ends."""
        with self._change:
            self._change.wait(patience)
            by_browser: dict[str, list[JsonValue]] = {}
            for work in self._under_way.values():
                if work.says:
                    by_browser.setdefault(work.browser, []).append(
                        {"view": work.view, "says": work.says, "share": work.share, "seconds_left": _left(work)}
                    )
            return dict(by_browser)

    def _changed(self) -> None:
        self._change.notify_all()


def _left(work: _Work) -> float | None:
    spent = time.monotonic() - work.since
    return spent * (1 - work.share) / work.share if work.share > 0.02 and spent > 0.3 else None
