"""When and how deep the points of a surface at rest are touched by shapes that move.

The depth at a point is how far the shape goes in there, along the surface's normal. Between two ticks the shapes are looked at
so often that none goes further than a share of its own size; those that move past each other are looked at just where their boxes
meet, so that none is too fast to be seen.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from math import ceil

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Mesh, smooth_normals
from windsock.core.geometry.movers import Bounds, Mover, box_corners
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.solution import Solution
from windsock.core.kernels.surface_distance import Surface, surface_distance
from windsock.core.kernels.touching import (
    Log,
    deepest_at,
    depths_along,
    kept_deeper,
    points_in_box,
    recorded,
    times_at,
)
from windsock.core.refusals import TooMuch

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

FINE = 0.125
"""Share of its least extent that a shape goes between two looks."""

MOST_LOOKS = 256
"""Looks between two ticks, at most."""

MOST_TOUCHES = 6_000_000
"""Rows that the touches of one surface may have."""

ALIKE = 1e-6
"""Metres by which a depth may change and still be the same touch."""


@dataclass(frozen=True, eq=False)
class Resting:
    """The surface that is touched: (n, 3) points at rest and their normals, in its own space; carried: gives (4, 4) from there to
    the world at a second."""

    points: Reals
    normals: Reals
    carried: Callable[[float], Matrix]

    @cached_property
    def box(self) -> tuple[Reals, Reals]:
        """Lowest and highest corner of the points."""
        return self.points.min(axis=0), self.points.max(axis=0)


def at_rest(mesh: Mesh, carried: Callable[[float], Matrix]) -> Resting:
    """The surface of a mesh at rest; all points of one place have one normal. carried: as of `Resting`."""
    normals = smooth_normals(mesh.rest, mesh.faces, mesh.number)
    return Resting(mesh.rest.astype(np.float64), normals.astype(np.float64), carried)


@dataclass(frozen=True, eq=False)
class Span:
    """The seconds that are looked at, and how many ticks each has."""

    start: float
    end: float
    every: int

    def ticks(self) -> int:
        """The last tick."""
        return max(ceil((self.end - self.start) * self.every - 1e-6), 0)

    def second(self, tick: int) -> float:
        """The second of a tick."""
        return min(self.start + tick / self.every, self.end)


@dataclass(frozen=True, eq=False)
class Touches(Solution):
    """All touches of a shot, in the order in which they begin.

    point: (k,) which of the points; begin, end: (k,) ticks; depth: (k,) metres. clock: (2,) second of the first tick, and ticks in a
    second; points: how many points there are."""

    point: NDArray[np.int32]
    begin: NDArray[np.int32]
    end: NDArray[np.int32]
    depth: NDArray[np.float32]
    clock: Reals
    points: NDArray[np.int64]

    def deepest(self, seconds: float, recovers: float = 0.0) -> Reals:
        """(n,) metres that the points are touched deep at a second, or were before; it goes back over so many seconds, 0 for
        never. Between two ticks it goes straight."""
        tick, every, count = self._tick(seconds), float(self.clock[1]), int(self.points)
        before = int(np.floor(tick))
        made = deepest_at(self._log, before, count, recovers * every)
        if tick > before:
            made += (deepest_at(self._log, before + 1, count, recovers * every) - made) * (tick - before)
        return made

    def times(self, seconds: float) -> tuple[Reals, Reals]:
        """(n,) the seconds at which the points were first and last touched up to a second; infinite and minus infinite for
        never."""
        first, last = times_at(self._log, self._tick(seconds), int(self.points))
        start, every = self.clock
        return start + first / every, start + last / every

    @property
    def _log(self) -> Log:
        return self.point, self.begin, self.end, self.depth

    def _tick(self, seconds: float) -> float:
        tick = max((seconds - float(self.clock[0])) * float(self.clock[1]), 0.0)
        return float(round(tick)) if abs(tick - round(tick)) < 1e-5 else tick


def touches_of(
    resting: Resting, movers: Sequence[Mover], span: Span, margin: float, check: Callable[[float], None]
) -> Touches:
    """All touches of a surface at rest by movers that come as near as the margin. check: told the share that is done. Raises TooMuch
    for more of them than can be kept."""
    count = len(resting.points)
    log = _room(65_536)
    running, depth, used = np.full(count, -1, dtype=np.int64), np.zeros(count), 0
    for tick, which, found in touched_by_tick(resting, movers, span, margin, check):
        while used + len(which) > len(log[0]):
            if used + len(which) > MOST_TOUCHES:
                raise TooMuch(
                    f"More than {MOST_TOUCHES:,} touches would be kept over the shot. Nothing was changed. Take a surface with "
                    "larger faces, fewer shapes that touch it, or a shorter shot."
                )
            log = _twice(log)
        depth[which] = found
        used = recorded(which, depth, tick, ALIKE, running, log, used)
    clock = np.array([span.start, float(span.every)])
    return Touches(
        log[0][:used].copy(), log[1][:used].copy(), log[2][:used].copy(), log[3][:used].copy(), clock, np.array(count)
    )


def _room(rows: int) -> Log:
    point, begin, end = (np.zeros(rows, dtype=np.int32) for _ in range(3))
    return point, begin, end, np.zeros(rows, dtype=np.float32)


def _twice(log: Log) -> Log:
    point, begin, end, depth = log
    return np.tile(point, 2), np.tile(begin, 2), np.tile(end, 2), np.tile(depth, 2)


Found = tuple[Numbers, Reals]
"""(k,) points, each once, and (k,) how deep they are touched."""


@dataclass
class _Before:
    """What was seen of one mover at the tick before."""

    seconds: float = 0.0
    bounds: Bounds | None = None
    carried: Matrix = field(default_factory=lambda: np.eye(4))
    found: Found | None = None


def touched_by_tick(
    resting: Resting, movers: Sequence[Mover], span: Span, margin: float, check: Callable[[float], None]
) -> Iterator[tuple[int, Numbers, Reals]]:
    """For each tick at which anything touches: the tick, (k,) the points, and (k,) the deepest that each was touched since the tick
    before."""
    count, last = len(resting.points), span.ticks()
    depth, seen = np.zeros(count), [_Before() for _ in movers]
    if count == 0:
        return
    for tick in range(last + 1):
        if tick % 8 == 0:
            check(tick / (last + 1))
        found: list[Found] = []
        for mover, before in zip(movers, seen, strict=True):
            touched = _touched(resting, mover, before, span.second(tick), margin)
            if len(touched[0]):
                found.append(touched)
        if len(found) == 1:
            yield tick, *found[0]
        elif found:
            which = np.unique(np.concatenate([one[0] for one in found]))
            depth[which] = 0.0
            for one in found:
                kept_deeper(depth, *one)
            yield tick, which, depth[which].copy()


NONE: Found = (np.zeros(0, dtype=np.int64), np.zeros(0))


def _touched(resting: Resting, mover: Mover, before: _Before, seconds: float, margin: float) -> Found:
    """What a mover touches from the moment before on up to this one."""
    now, carried = mover.bounds(seconds), resting.carried(seconds)
    then, stood = before.bounds, before.carried
    still = then is not None and then.key == now.key and np.array_equal(stood, carried)
    if still and before.found is not None:
        before.seconds = seconds
        return before.found
    came_from = before.seconds
    before.seconds, before.bounds, before.carried, before.found = seconds, now, carried, None
    if then is None or still:
        found = _met(
            resting, mover, (seconds, seconds), now.number, (now.corners, now.corners), (carried, carried), margin
        )
        before.found = found
        return found
    number, one, other = np.intersect1d(then.number, now.number, return_indices=True)
    found = [
        _met(
            resting,
            mover,
            (came_from, seconds),
            number,
            (then.corners[one], now.corners[other]),
            (stood, carried),
            margin,
        )
    ]
    new = ~np.isin(now.number, number)
    if new.any():
        corners = now.corners[new]
        found.append(
            _met(resting, mover, (seconds, seconds), now.number[new], (corners, corners), (carried, carried), margin)
        )
    return _deepest_of(found, len(resting.points))


def _met(
    resting: Resting,
    mover: Mover,
    times: tuple[float, float],
    number: Numbers,
    corners: tuple[Reals, Reals],
    carried: tuple[Matrix, Matrix],
    margin: float,
) -> Found:
    """What some bodies of a mover touch between two moments. corners: (k, 8, 3) of their boxes in the world then."""
    if len(number) == 0:
        return NONE
    own = [
        moved(one.reshape(-1, 3), np.linalg.inv(to)).reshape(-1, 8, 3) for one, to in zip(corners, carried, strict=True)
    ]
    pad = margin * float(max(np.linalg.norm(np.linalg.inv(to[:3, :3]), 2) for to in carried)) + 1e-9
    low, high = resting.box[0] - pad, resting.box[1] + pad
    begin, end = _meeting(own[0], own[1], low, high)
    meets = begin <= end
    if not meets.any():
        return NONE
    begins, ends = float(begin[meets].min()), float(end[meets].max())
    went = float(np.linalg.norm((own[1] - own[0])[meets] @ carried[1][:3, :3].T, axis=2).max())
    sides = corners[1][meets]
    least = min(float(np.linalg.norm(sides[:, edge] - sides[:, 0], axis=1).min()) for edge in (1, 2, 4))
    fine = max(FINE * max(least, 0.25 * margin), 1e-6)
    looks = min(ceil(went * (ends - begins) / fine - 1e-9), MOST_LOOKS)
    way = mover.way(*times, number[meets])
    shares = np.linspace(begins, ends, looks + 1)[1:] if looks else np.array([ends])
    if begins > 0 and looks:
        shares = np.concatenate([[begins], shares])
    found = [
        _at_look(
            resting, *way.at(float(share)), resting.carried(times[0] + (times[1] - times[0]) * float(share)), margin
        )
        for share in shares
    ]
    return _deepest_of(found, len(resting.points))


def _meeting(first: Reals, last: Reals, low: Reals, high: Reals) -> tuple[Reals, Reals]:
    """(k,) from when to when, in shares of the way, boxes that go straight from their (k, 8, 3) first corners to the last ones meet
    the box from low to high; they do not where the end lies before the beginning."""
    from_low, from_high = first.min(axis=1), first.max(axis=1)
    to_low, to_high = last.min(axis=1), last.max(axis=1)
    begin, end = np.zeros(len(first)), np.ones(len(first))
    for now, then, bound, over in ((from_low, to_low, high, 1.0), (from_high, to_high, low, -1.0)):
        # Inside while over * (now + (then - now) * share - bound) <= 0.
        at, rate = over * (now - bound), over * (then - now)
        with np.errstate(divide="ignore", invalid="ignore"):
            crossing = -at / rate
        end = np.minimum(end, np.where(rate > 0, crossing, np.where((rate == 0) & (at > 0), -1.0, 1.0)).min(axis=1))
        begin = np.maximum(begin, np.where(rate < 0, crossing, 0.0).max(axis=1))
    return begin, end


def _at_look(resting: Resting, surface: Surface, matrix: Matrix, carried: Matrix, margin: float) -> Found:
    """What a surface touches where it is at one moment. matrix: (4, 4) from its space to the world; carried: from that of what is
    touched."""
    if len(surface.faces) == 0:
        return NONE
    to_own = np.linalg.inv(carried)
    corners = moved(box_corners(*surface.box), to_own @ matrix)
    pad = margin * float(np.linalg.norm(to_own[:3, :3], 2)) + 1e-9
    which = points_in_box(resting.points, corners.min(axis=0) - pad, corners.max(axis=0) + pad)
    if len(which) == 0:
        return NONE
    to_surface = np.linalg.inv(matrix)
    out = turned_normals(resting.normals[which], carried)
    origins = moved(moved(resting.points[which], carried) + margin * out, to_surface)
    ways = -out @ to_surface[:3, :3].T
    long = np.maximum(np.linalg.norm(ways, axis=1), 1e-12)
    gone = depths_along(origins, ways / long[:, None], surface, margin * long)
    touched = gone > 0
    return which[touched], np.maximum(gone[touched] / long[touched] - margin, 0.0)


def _deepest_of(found: list[Found], count: int) -> Found:
    """The points that are touched at any of several looks, and how deep at most."""
    some = [one for one in found if len(one[0])]
    if len(some) <= 1:
        return some[0] if some else NONE
    which = np.unique(np.concatenate([one[0] for one in some]))
    depth = np.zeros(count)
    for one in some:
        kept_deeper(depth, *one)
    return which, depth[which]


LOOKS_ON_WAY = 64
"""Looks between two ticks at how near something comes, at most."""


def closest(
    resting: Resting, reach: Reals, enough: float, movers: Sequence[Mover], span: Span, check: Callable[[float], None]
) -> Reals:
    """(n,) metres, at most so much more, that movers come near to points of a surface at rest; infinite beyond (n,) the reach of
    each. It is looked so often that nothing is missed by more than half of the least reach, which counts as nearer. What has come nearer
    than `enough` is not looked at again."""
    least, most = float(reach.min(initial=np.inf)), float(reach.max(initial=0))
    found = np.full(len(reach), np.inf)
    if len(reach) == 0:
        return found
    step, last = least / 2, span.ticks()
    for mover in movers:
        looked: tuple[float, Bounds, Matrix] | None = None
        for tick in range(last + 1):
            if tick % 16 == 0:
                check(tick / (last + 1))
            seconds = span.second(tick)
            now, carried = mover.bounds(seconds), resting.carried(seconds)
            if looked is None:
                _nearer(resting, mover, (seconds, seconds), (1.0,), now.number, (enough, most), found)
                looked = seconds, now, carried
                continue
            went = _went(looked[1], looked[2], now, carried)
            if went < step and tick < last:
                continue
            looks = min(max(ceil(went / step - 1e-9), 1), LOOKS_ON_WAY)
            number = np.intersect1d(looked[1].number, now.number)
            shares = tuple((look + 1) / looks for look in range(looks))
            _nearer(resting, mover, (looked[0], seconds), shares, number, (enough, most), found)
            new = np.setdiff1d(now.number, number)
            if len(new):
                _nearer(resting, mover, (seconds, seconds), (1.0,), new, (enough, most), found)
            looked = seconds, now, carried
    return np.where(found - step <= reach, np.maximum(found - step, 0.0), np.inf)


def _went(then: Bounds, stood: Matrix, now: Bounds, carried: Matrix) -> float:
    """Metres that any body goes between two moments as what it touches sees it."""
    if then.key == now.key and np.array_equal(stood, carried):
        return 0.0
    _, one, other = np.intersect1d(then.number, now.number, return_indices=True)
    if len(one) == 0:
        return np.inf if len(now.number) else 0.0
    before = moved(then.corners[one].reshape(-1, 3), carried @ np.linalg.inv(stood))
    return float(np.linalg.norm(now.corners[other].reshape(-1, 3) - before, axis=1).max())


def _nearer(
    resting: Resting,
    mover: Mover,
    times: tuple[float, float],
    shares: tuple[float, ...],
    number: Numbers,
    within: tuple[float, float],
    found: Reals,
) -> None:
    """Have distances be no more than those to some bodies of a mover at shares of its way. within: metres from which on it does not
    matter how near they are, and up to which."""
    if len(number) == 0:
        return
    way = mover.way(*times, number)
    for share in shares:
        surface, matrix = way.at(share)
        if len(surface.faces) == 0:
            continue
        carried = resting.carried(times[0] + (times[1] - times[0]) * share)
        to_own = np.linalg.inv(carried)
        corners = moved(box_corners(*surface.box), to_own @ matrix)
        pad = within[1] * float(np.linalg.norm(to_own[:3, :3], 2))
        which = points_in_box(resting.points, corners.min(axis=0) - pad, corners.max(axis=0) + pad)
        which = which[found[which] > within[0]]
        if len(which) == 0:
            continue
        # In the space of the surface, where its tree stays: a stretch only makes what is found nearer.
        least = float(np.linalg.svd(matrix[:3, :3], compute_uv=False)[-1])
        places = moved(resting.points[which], np.linalg.inv(matrix) @ carried)
        away = surface_distance(places, surface, within[1] / least, False) * least
        np.minimum.at(found, which, away)
