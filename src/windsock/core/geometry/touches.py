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
from windsock.core.geometry.movers import Bounds, Mover, in_both
from windsock.core.geometry.placement import Matrix, inverse, moved
from windsock.core.geometry.solution import Solution
from windsock.core.kernels.surface_distance import Surface
from windsock.core.kernels.touching import (
    Log,
    deepest_at,
    depths_along,
    kept_deeper,
    rays_into,
    recorded,
    times_at,
)
from windsock.core.refusals import TooMuch

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

FINE = 0.25
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
    second; points: (1,) how many points there are."""

    point: NDArray[np.int32]
    begin: NDArray[np.int32]
    end: NDArray[np.int32]
    depth: NDArray[np.float32]
    clock: Reals
    points: NDArray[np.int64]

    def deepest(self, seconds: float, recovers: float = 0.0) -> Reals:
        """(n,) metres that the points are touched deep at a second, or were before; it goes back over so many seconds, 0 for
        never. Between two ticks it goes straight."""
        tick, every, count = self._tick(seconds), float(self.clock[1]), int(self.points[0])
        before = int(np.floor(tick))
        made = deepest_at(self._log, before, count, recovers * every)
        if tick > before:
            made += (deepest_at(self._log, before + 1, count, recovers * every) - made) * (tick - before)
        return made

    def times(self, seconds: float) -> tuple[Reals, Reals]:
        """(n,) the seconds at which the points were first and last touched up to a second; infinite and minus infinite for
        never."""
        first, last = times_at(self._log, self._tick(seconds), int(self.points[0]))
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
        log[0][:used].copy(), log[1][:used].copy(), log[2][:used].copy(), log[3][:used].copy(), clock, np.array([count])
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
    number, one, other = in_both(then.number, now.number)
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
    if len(number) < len(now.number):
        new = ~np.isin(now.number, number)
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
        moved(one.reshape(-1, 3), inverse(to)[0]).reshape(-1, 8, 3) for one, to in zip(corners, carried, strict=True)
    ]
    pad = margin * max(inverse(to)[1] for to in carried) + 1e-9
    low, high = resting.box[0] - pad, resting.box[1] + pad
    begin, end = _meeting(own[0], own[1], low, high)
    meets = begin <= end
    if not meets.any():
        return NONE
    begins, ends = float(begin[meets].min()), float(end[meets].max())
    gone = (own[1] - own[0])[meets] @ carried[1][:3, :3].T
    went = float(np.sqrt(np.einsum("kcx,kcx->kc", gone, gone).max()))
    sides = corners[1][meets][:, [1, 2, 4]] - corners[1][meets][:, :1]
    least = float(np.sqrt(np.einsum("kcx,kcx->kc", sides, sides).min()))
    fine = max(FINE * max(least, 0.25 * margin), 1e-6)
    looks = min(ceil(went * (ends - begins) / fine - 1e-9), MOST_LOOKS)
    way = mover.way(*times, number[meets])
    shares = (np.linspace(begins, ends, looks + 1)[0 if begins > 0 else 1 :] if looks else np.array([ends])).tolist()
    stood, stands = carried
    seen = [(*way.at(share), stands if share >= 1 else stood + (stands - stood) * share) for share in shares]
    return _deepest_of(
        [
            _at_looks(resting, surface, [look[1:] for look in seen if look[0] is surface], margin)
            for surface in _each(seen)
        ],
        len(resting.points),
    )


def _each(seen: Sequence[tuple[Surface, Matrix, Matrix]]) -> list[Surface]:
    """The different surfaces of some looks, in order."""
    return list({id(look[0]): look[0] for look in seen}.values())


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


def _at_looks(resting: Resting, surface: Surface, looks: Sequence[tuple[Matrix, Matrix]], margin: float) -> Found:
    """What one surface touches at some looks, each a point as often as it is found. looks: (4, 4) from its space to the world, and from
    that of what is touched."""
    if len(surface.faces) == 0:
        return NONE
    to_world = np.stack([carried for _, carried in looks])
    to_surface = np.asarray(np.linalg.inv(np.stack([matrix for matrix, _ in looks])), dtype=np.float64)
    which, origins, ways, long = rays_into(resting.points, resting.normals, to_world, to_surface, surface.box, margin)
    if len(which) == 0:
        return NONE
    gone = depths_along(origins, ways, surface, margin * long)
    touched = gone > 0
    found = which[touched]
    depth = np.maximum(gone[touched] / long[touched] - margin, 0.0)
    return (found, depth) if len(looks) == 1 else _deepest_of([(found, depth), NONE], len(resting.points), again=True)


def _deepest_of(found: list[Found], count: int, again: bool = False) -> Found:
    """The points that are touched at any of several looks, and how deep at most. again: one look may have a point several times."""
    some = [one for one in found if len(one[0])]
    if len(some) <= 1 and not (some and again):
        return some[0] if some else NONE
    which = np.unique(np.concatenate([one[0] for one in some]))
    depth = np.zeros(count)
    for one in some:
        kept_deeper(depth, *one)
    return which, depth[which]
