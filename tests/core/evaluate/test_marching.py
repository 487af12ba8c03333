"""Marches: any moment from the nearest tick that is kept, and the same from every one of them."""

from __future__ import annotations

import time

import numpy as np
import pytest

from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.keeping import Keeper
from windsock.core.evaluate.marching import March, state_at, ticks_to_walk
from windsock.core.evaluate.results import Results
from windsock.core.evaluate.watch import Watch
from windsock.core.refusals import Cancelled
from windsock.core.timing.ticks import TICKS

SAID = {("defined", "work"): 1, ("defined", "timing"): [1, 5], ("defined", "ticks"): TICKS}


class Counting:
    """A march whose state is the time passed, and which counts its whole ticks."""

    def __init__(self, work: float = 0.0) -> None:
        """work: seconds that a tick takes."""
        self.steps = 0
        self.work = work
        self.march = March("m", "Counting", 1.0, 5.0, self.begin, self.advance, SAID.__getitem__, TICKS)

    def begin(self, reads):
        reads.note(("defined", "work"), 1)
        return {"sum": np.zeros(4)}

    def advance(self, state, before, now, reads):
        reads.note(("defined", "work"), 1)
        self.steps += 1
        time.sleep(self.work)
        return {"sum": state["sum"] + (now - before) * (1 + before)}


def test_a_late_moment_is_near_a_checkpoint():
    counting, results = Counting(work=0.001), Results(Keeper(Cache(2**20)))
    late = state_at(counting.march, 4.9, results, Watch())
    assert counting.steps == pytest.approx(3.9 * 120, abs=1)
    counting.steps = 0
    results.keeper._recent.clear()  # as if another process asked
    np.testing.assert_array_equal(state_at(counting.march, 4.9, results, Watch())[0]["sum"], late[0]["sum"])
    assert counting.steps < 0.3 * 3.9 * 120


def test_onward_from_where_it_was_left_it_only_takes_what_is_new():
    counting, results = Counting(), Results(Keeper(Cache(2**20)))
    state_at(counting.march, 2.0, results, Watch())
    counting.steps = 0
    state_at(counting.march, 2.0 + 5 / 120, results, Watch())
    assert counting.steps == 5
    assert ticks_to_walk(counting.march, 2.0 + 7 / 120, results) == 2


def test_every_way_there_gives_the_same_bytes():
    seconds = [1.0, 1.5, 2.123, 3.0, 4.99, 1.2, 2.123]
    fresh = [
        state_at(Counting().march, at, Results(Keeper(Cache(2**20))), Watch())[0]["sum"].tobytes() for at in seconds
    ]
    for budget in (2**20, 64):
        results, counting = Results(Keeper(Cache(budget))), Counting()
        assert [state_at(counting.march, at, results, Watch())[0]["sum"].tobytes() for at in seconds] == fresh


def test_before_it_begins_and_after_it_ends_nothing_changes():
    counting, results = Counting(), Results(Keeper(Cache(2**20)))
    assert state_at(counting.march, -3.0, results, Watch())[0]["sum"][0] == 0
    np.testing.assert_array_equal(
        state_at(counting.march, 5.0, results, Watch())[0]["sum"],
        state_at(counting.march, 99.0, results, Watch())[0]["sum"],
    )


def test_it_stops_between_two_ticks_and_goes_on_later():
    counting, results, watch = Counting(), Results(Keeper(Cache(2**20))), Watch()
    told: list[float] = []

    def stop(says: str, share: float) -> None:
        told.append(share)
        if share > 0.5:
            watch.cancel()

    watch.progress = stop
    with pytest.raises(Cancelled):
        state_at(counting.march, 5.0, results, watch)
    assert 0.5 < told[-1] < 0.6
    assert told == sorted(told)
    assert state_at(counting.march, 5.0, results, Watch())[0]["sum"][0] == pytest.approx(
        state_at(Counting().march, 5.0, Results(Keeper(Cache(1))), Watch())[0]["sum"][0]
    )
