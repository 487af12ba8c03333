"""How near shapes that move come to the points of a surface at rest, over a whole shot."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import ceil

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.movers import Bounds, Mover, in_both
from windsock.core.geometry.placement import Matrix, inverse, moved
from windsock.core.geometry.touches import Resting, Span
from windsock.core.kernels.surface_distance import Surface, surface_distance
from windsock.core.kernels.touching import points_in_box

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

LOOKS_ON_WAY = 64
"""Looks between two ticks at how near something comes, at most."""


@dataclass(frozen=True, eq=False)
class Approach:
    """When to look at a mover so that it goes no further than a step in between: each look has the moments between which it is, the
    bodies that are there, and its share of the way."""

    mover: Mover
    looks: Sequence[tuple[float, float, Numbers, float]]


def approaches(
    resting: Resting, movers: Sequence[Mover], span: Span, step: float, check: Callable[[float], None]
) -> list[Approach]:
    """When to look at movers that go about a surface. step: metres."""
    last = span.ticks()
    made: list[Approach] = []
    for mover in movers:
        bounds, carried = mover.bounds(span.start), resting.carried(span.start)
        looked, looks = span.start, [(span.start, span.start, bounds.number, 1.0)]
        for tick in range(1, last + 1):
            if tick % 16 == 0:
                check(tick / (last + 1))
            seconds = span.second(tick)
            now, carries = mover.bounds(seconds), resting.carried(seconds)
            went = _went(bounds, carried, now, carries)
            if went == 0 or (went < step and tick < last):
                continue
            number, count = in_both(bounds.number, now.number)[0], min(max(ceil(went / step - 1e-9), 1), LOOKS_ON_WAY)
            looks += [(looked, seconds, number, (look + 1) / count) for look in range(count)]
            if len(number) < len(now.number):
                looks.append((seconds, seconds, np.setdiff1d(now.number, number), 1.0))
            looked, bounds, carried = seconds, now, carries
        made.append(Approach(mover, looks))
    return made


def closest(
    resting: Resting, reach: Reals, enough: float, coming: Sequence[Approach], check: Callable[[float], None]
) -> Reals:
    """(n,) metres that movers come near to points of a surface at rest, at the looks; infinite beyond (n,) the reach of each. What has come
    nearer than `enough` is not looked at again."""
    most, found = float(reach.max(initial=0)), np.full(len(reach), np.inf)
    for approach in coming:
        for place, (before, now, number, share) in enumerate(approach.looks):
            if place % 16 == 0:
                check(place / len(approach.looks))
            surface, matrix = approach.mover.way(before, now, number).at(share)
            if len(surface.faces):
                carried = resting.carried(before + (now - before) * share)
                _nearer(resting, surface, matrix, carried, (enough, most), found)
    return np.where(found <= reach, found, np.inf)


def _went(then: Bounds, stood: Matrix, now: Bounds, carried: Matrix) -> float:
    """Metres that any body goes between two moments as what it touches sees it."""
    if then.key == now.key and np.array_equal(stood, carried):
        return 0.0
    _, one, other = in_both(then.number, now.number)
    if len(one) == 0:
        return np.inf if len(now.number) else 0.0
    gone = now.corners[other].reshape(-1, 3) - moved(then.corners[one].reshape(-1, 3), carried @ inverse(stood)[0])
    return float(np.sqrt(np.einsum("ij,ij->i", gone, gone).max()))


def _nearer(
    resting: Resting, surface: Surface, matrix: Matrix, carried: Matrix, within: tuple[float, float], found: Reals
) -> None:
    """Have distances be no more than those to a surface. within: metres from which on it does not matter how near it is, and up to
    which."""
    low, high = surface.box
    to_surface, longest = inverse(matrix)
    pad = within[1] * longest
    which = points_in_box(resting.points, to_surface @ carried, low - pad, high + pad, inverse(carried)[0] @ matrix)
    which = which[found[which] > within[0]]
    if len(which) == 0:
        return
    # In the space of the surface, where its tree stays: a stretch only makes what is found nearer.
    places = moved(resting.points[which], to_surface @ carried)
    away = surface_distance(places, surface, within[1] * longest, False) / longest
    np.minimum.at(found, which, away)
