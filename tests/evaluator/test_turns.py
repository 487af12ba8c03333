"""Turns: fair between clients, what is waited for first, and out of the queue when it is cancelled."""

from __future__ import annotations

import threading
import time

import pytest

from windsock.core.evaluate.watch import Watch
from windsock.core.refusals import Cancelled
from windsock.evaluator.turns import Turns


class Crowd:
    """Threads that take turns, and the order in which they got them."""

    def __init__(self, places: int) -> None:
        self.turns = Turns(places)
        self.order: list[str] = []
        self.go_on = threading.Event()
        self.threads: list[threading.Thread] = []

    def enter(self, name: str, client: str, ahead: bool = False, watch: Watch | None = None) -> None:
        def work() -> None:
            try:
                with self.turns.turn(client, ahead, watch or Watch()):
                    self.order.append(name)
                    self.go_on.wait(10)
            except Cancelled:
                self.order.append(f"{name} cancelled")

        thread = threading.Thread(target=work)
        thread.start()
        self.threads.append(thread)
        deadline = time.monotonic() + 5
        while time.monotonic() < deadline and name not in self.order and not self._waits(client, ahead):
            time.sleep(0.002)

    def _waits(self, client: str, ahead: bool) -> bool:
        return any(one.client == client and one.ahead == ahead for one in self.turns._waiting)

    def finish(self) -> list[str]:
        self.go_on.set()
        for thread in self.threads:
            thread.join(10)
        return self.order


def test_who_was_served_longest_ago_comes_first():
    crowd = Crowd(1)
    crowd.enter("a1", "a")
    for name in ("a2", "a3", "b1", "c1"):
        crowd.enter(name, name[0])
        time.sleep(0.05)
    order = crowd.finish()
    assert order[0] == "a1"
    assert set(order[1:3]) == {"b1", "c1"}
    assert set(order[3:]) == {"a2", "a3"}


def test_what_is_waited_for_comes_before_what_is_done_ahead():
    crowd = Crowd(1)
    crowd.enter("first", "x")
    crowd.enter("ahead", "a", ahead=True)
    crowd.enter("waited for", "b")
    assert crowd.finish() == ["first", "waited for", "ahead"]


def test_one_client_has_one_place_at_a_time_and_work_ahead_never_takes_the_last():
    crowd = Crowd(2)
    crowd.enter("a1", "a")
    crowd.enter("a2", "a")
    crowd.enter("b ahead", "b", ahead=True)
    crowd.enter("c ahead", "c", ahead=True)
    assert crowd.order == ["a1", "b ahead"]
    crowd.finish()


def test_cancelled_while_it_waits():
    crowd, watch = Crowd(1), Watch()
    crowd.enter("first", "a")
    crowd.enter("second", "a", watch=watch)
    watch.cancel()
    crowd.turns.look_again()
    crowd.threads[1].join(5)
    assert crowd.order == ["first", "second cancelled"]
    crowd.finish()
    with pytest.raises(Cancelled), crowd.turns.turn("b", False, watch):
        watch.check()
