"""Marching: fixed ticks in seconds, with checkpoints, so that any moment is near one."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import ceil, floor
from time import perf_counter

from windsock.core.evaluate.definitions import TICKING
from windsock.core.evaluate.keeping import Arrays, Keeper
from windsock.core.evaluate.nodes import Node
from windsock.core.evaluate.reads import Answer, Question, Reads, answers
from windsock.core.evaluate.results import Results, key_of
from windsock.core.evaluate.watch import Watch
from windsock.core.timing.ticks import State

QUANTUM = 15
"""Checkpoints lie on multiples of so many ticks, whatever their spacing, so that any process finds those of another."""

CHECKPOINT_SECONDS = 0.05
"""Work between two checkpoints, at least."""

CHECKPOINT_BYTES = 192 * 2**20
"""Bytes that the checkpoints of one march may take together."""


@dataclass(frozen=True, eq=False)
class March:
    """Something that is marched: from `start` to `end` seconds, with `begin` for its state at the start and `advance` for
    the state at a later second, given that at an earlier one; both note what they read. answer: answers what was read.
    every: ticks in a second."""

    name: Node
    says: str
    start: float
    end: float
    begin: Callable[[Reads], State]
    advance: Callable[[State, float, float, Reads], State]
    answer: Answer
    every: int

    def within(self, seconds: float) -> float:
        """The second for which the march has an answer: before it begins and after it ends nothing changes."""
        return min(max(seconds, self.start), self.end)

    def tick_before(self, seconds: float) -> int:
        """The last tick that is not after a second."""
        return floor((self.within(seconds) - self.start) * self.every + 1e-6)

    def second(self, tick: int) -> float:
        """The second of a tick."""
        return self.start + tick / self.every


def state_at(march: March, seconds: float, results: Results, watch: Watch) -> tuple[State, Reads]:
    """The state of a march at a second, and what it read: from the nearest tick that is kept, tick by tick, then a part of
    a tick.

    The state does not depend on which tick was kept: every way from the start takes the same whole ticks.
    """
    seconds = march.within(seconds)
    wanted = march.tick_before(seconds)
    with results.keeper.counting(march.name, "marched") as counted:
        tick, state, said = _nearest(march, wanted, results) or (0, None, {})
        read = _Known(march, said, results)
        if state is None:
            state = march.begin(read.reads)
        state = _walked(march, tick, wanted, state, read, results, watch)
        on_tick = march.second(wanted)
        exact = state if seconds - on_tick < 1e-7 else march.advance(state, on_tick, seconds, read.reads)
        found = read.noted()
        counted.reused, counted.held = wanted == tick, Arrays(state).nbytes
    return exact, found


def _walked(march: March, tick: int, wanted: int, state: State, read: _Known, results: Results, watch: Watch) -> State:
    """The state at the wanted tick, walked to from that at an earlier one; some on the way are kept."""
    walked, keeper = wanted - tick, results.keeper
    spacing, begun = 0, perf_counter()
    for step in range(tick, wanted):
        watch.check()
        state = march.advance(state, march.second(step), march.second(step + 1), read.reads)
        if not spacing and (step - tick >= 4 or step + 1 == wanted):
            spacing = _spacing(march, Arrays(state).nbytes, (perf_counter() - begun) / (step - tick + 1))
        if spacing and (step + 1) % spacing == 0:
            keeper.keep(f"{read.key()} {step + 1}", state)
        if walked > QUANTUM and step % 4 == 0:
            watch.progress(march.says, (step - tick) / walked)
    if walked:
        keeper.leave(read.key(), wanted, state)
    return state


def ticks_to_walk(march: March, seconds: float, results: Results) -> int:
    """How many ticks lie between a second and the nearest tick before it that is kept."""
    wanted = march.tick_before(seconds)
    nearest = _nearest(march, wanted, results)
    return wanted if nearest is None else wanted - nearest[0]


class _Known:
    """What a march is known to read, with the answers; it may come to read more on its way."""

    def __init__(self, march: March, said: dict[Question, object], results: Results) -> None:
        self.reads = Reads()
        # Every march depends on when it begins and ends, and on its ticks.
        for question in (("defined", "timing"), ("defined", *TICKING)):
            self.reads.note(question, march.answer(question))
        self._march, self._said, self._results = march, dict(said), results
        self._leaves, self._key = -1, ""

    def key(self) -> str:
        """The key of all that was read so far, which is remembered."""
        if len(self.reads.leaves) != self._leaves:
            self._leaves = len(self.reads.leaves)
            for question in self.reads.definitions():
                if question not in self._said:
                    self._said[question] = self._march.answer(question)
            self._key = key_of(self._march.name, self._said)
            self._results.learn(self._march.name, self._said)
        return self._key

    def noted(self) -> Reads:
        """All of it."""
        self.key()
        found = Reads()
        for question, answer in self._said.items():
            found.note(question, answer)
        return found


def _nearest(march: March, wanted: int, results: Results) -> tuple[int, State, dict[Question, object]] | None:
    """The nearest tick, not after the wanted one, that is kept under something that the march has read before."""
    best: tuple[int, State, dict[Question, object]] | None = None
    for questions in results.lists(march.name):
        said = answers(questions, march.answer)
        if said is None:
            continue
        found = _kept_before(key_of(march.name, said), wanted, results.keeper)
        if found is not None and (best is None or found[0] > best[0]):
            best = (*found, said)
    return best


def _kept_before(key: str, wanted: int, keeper: Keeper) -> tuple[int, State] | None:
    left = [(tick, state.named) for tick, state in keeper.recent(key) if tick <= wanted]
    best = max(left, key=lambda one: one[0], default=None)
    for tick in range(wanted - wanted % QUANTUM, best[0] if best else 0, -QUANTUM):
        kept = keeper.stored(f"{key} {tick}")
        if kept is not None:
            return tick, kept
    return best


def _spacing(march: March, size: int, seconds: float) -> int:
    """Ticks from checkpoint to checkpoint: far enough apart to be worth their bytes and their work."""
    ticks = max(1.0, (march.end - march.start) * march.every)
    apart = max(ticks * size / CHECKPOINT_BYTES, CHECKPOINT_SECONDS / max(seconds, 1e-6))
    return QUANTUM * max(1, ceil(min(apart, ticks) / QUANTUM))
