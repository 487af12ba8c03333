"""Marching: fixed ticks in seconds, with checkpoints, so that any moment is near one."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import ceil, floor
from time import perf_counter

from windsock.core.evaluate.keeping import Arrays, Keeper
from windsock.core.evaluate.watch import Watch
from windsock.core.steps.march import TICKS, State

QUANTUM = 15
"""Checkpoints lie on multiples of so many ticks, whatever their spacing, so that any process finds those of another."""

CHECKPOINT_SECONDS = 0.05
"""Work between two checkpoints, at least."""

CHECKPOINT_BYTES = 192 * 2**20
"""Bytes that the checkpoints of one march may take together."""


@dataclass(frozen=True, eq=False)
class March:
    """Something that is marched: from `start` to `end` seconds, with `begin` for its state at the start and `advance` for
    the state at a later second, given that at an earlier one."""

    node: str
    says: str
    key: str
    start: float
    end: float
    begin: Callable[[], State]
    advance: Callable[[State, float, float], State]

    def within(self, seconds: float) -> float:
        """The second for which the march has an answer: before it begins and after it ends nothing changes."""
        return min(max(seconds, self.start), self.end)


def state_at(march: March, seconds: float, keeper: Keeper, watch: Watch) -> State:
    """The state of a march at a second: from the nearest tick that is kept, tick by tick, then a part of a tick.

    The result does not depend on which tick was kept: every way from the start takes the same whole ticks.
    """
    started = perf_counter()
    seconds = march.within(seconds)
    wanted = floor((seconds - march.start) * TICKS + 1e-6)
    tick, state = _nearest(march, wanted, keeper)
    walked = wanted - tick
    spacing, begun = 0, perf_counter()
    for step in range(tick, wanted):
        watch.check()
        state = march.advance(state, _second(march, step), _second(march, step + 1))
        if not spacing and (step - tick >= 4 or step + 1 == wanted):
            spacing = _spacing(march, Arrays(state).nbytes, (perf_counter() - begun) / (step - tick + 1))
        if spacing and (step + 1) % spacing == 0:
            keeper.keep(f"{march.key} {step + 1}", state)
        if walked > QUANTUM and step % 4 == 0:
            watch.progress(march.says, (step - tick) / walked)
    if walked:
        keeper.leave(march.key, wanted, state)
    keeper.marched(march.node, walked == 0, started, Arrays(state).nbytes)
    on_tick = _second(march, wanted)
    return state if seconds - on_tick < 1e-7 else march.advance(state, on_tick, seconds)


def ticks_to_walk(march: March, seconds: float, keeper: Keeper) -> int:
    """How many ticks lie between a second and the nearest tick before it that is kept."""
    wanted = floor((march.within(seconds) - march.start) * TICKS + 1e-6)
    left = [tick for tick, _ in keeper.recent(march.key) if tick <= wanted]
    best = max(left, default=0)
    for tick in range(wanted - wanted % QUANTUM, best, -QUANTUM):
        if keeper.stored(f"{march.key} {tick}") is not None:
            return wanted - tick
    return wanted - best


def _second(march: March, tick: int) -> float:
    return march.start + tick / TICKS


def _nearest(march: March, wanted: int, keeper: Keeper) -> tuple[int, State]:
    left = [(tick, state.named) for tick, state in keeper.recent(march.key) if tick <= wanted]
    best = max(left, key=lambda one: one[0], default=None)
    for tick in range(wanted - wanted % QUANTUM, best[0] if best else 0, -QUANTUM):
        kept = keeper.stored(f"{march.key} {tick}")
        if kept is not None:
            return tick, kept
    return best or (0, march.begin())


def _spacing(march: March, size: int, seconds: float) -> int:
    """Ticks from checkpoint to checkpoint: far enough apart to be worth their bytes and their work."""
    ticks = max(1.0, (march.end - march.start) * TICKS)
    apart = max(ticks * size / CHECKPOINT_BYTES, CHECKPOINT_SECONDS / max(seconds, 1e-6))
    return QUANTUM * max(1, ceil(min(apart, ticks) / QUANTUM))
