"""Whose turn it is: a few pieces of work at once, taken fairly from all who wait."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from threading import Condition

from windsock.core.evaluate.watch import Watch


@dataclass(eq=False)
class _Waiting:
    client: str
    ahead: bool


class Turns:
    """Gives turns. Each client has one at a time for what it waits for and one for what is done ahead of that.

    Of those who wait, what is waited for comes before what is done ahead, and then whoever was served longest ago. One
    place is never taken by work ahead, so that nobody waits for it.
    """

    def __init__(self, places: int = 2) -> None:
        self.places = places
        self._waiting: list[_Waiting] = []
        self._busy: list[_Waiting] = []
        self._served: dict[str, int] = {}
        self._count = 0
        self._change = Condition()

    @contextmanager
    def turn(self, client: str, ahead: bool, watch: Watch) -> Iterator[None]:
        """Wait for a turn and hold it. Raises Cancelled when the work is cancelled while it waits."""
        own = _Waiting(client, ahead)
        with self._change:
            self._waiting.append(own)
            try:
                while self._next() is not own:
                    self._change.wait()
                    watch.check()
            except BaseException:
                self._waiting.remove(own)
                self._change.notify_all()
                raise
            self._waiting.remove(own)
            self._busy.append(own)
            self._count += 1
            self._served[client] = self._count
            if len(self._served) > 1000:
                del self._served[min(self._served, key=lambda name: self._served[name])]
            self._change.notify_all()
        try:
            yield
        finally:
            with self._change:
                self._busy.remove(own)
                self._change.notify_all()

    def look_again(self) -> None:
        """Something was cancelled: those who wait look whether it was theirs."""
        with self._change:
            self._change.notify_all()

    def _next(self) -> _Waiting | None:
        if len(self._busy) >= self.places:
            return None
        taken = {(one.client, one.ahead) for one in self._busy}
        room_ahead = sum(one.ahead for one in self._busy) < max(1, self.places - 1)
        may = [one for one in self._waiting if (one.client, one.ahead) not in taken and (room_ahead or not one.ahead)]
        return min(may, key=lambda one: (one.ahead, self._served.get(one.client, 0)), default=None)
