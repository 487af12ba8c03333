"""One skin over many points: a sum of bells of limited reach, in bricks about them only.

The bell is that of B. Wyvill, C. McPheeters, G. Wyvill, "Data structure for soft objects" (1986): 1 at the middle, 1/2 at half its
reach, 0 from its reach on. Each counts by what all of them are at its own middle together, so that points that lie more densely make no
thicker skin.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled, inlined, loop, parallel
from windsock.core.kernels.isosurface import CELLS, NODES

Reals = NDArray[np.float64]
Floats = NDArray[np.float32]
Integers = NDArray[np.int32]
Numbers = NDArray[np.int64]

MIXED = 3
"""Points that what is carried to a place of the skin is mixed of."""


def bell(share: float) -> float:
    """What a bell is at a share of its reach, 0..1."""
    return float(_bell(share * share))


@inlined
def _risen(square: float) -> float:  # pragma: no cover - compiled
    """What it is within its reach."""
    return 1 + square * (-22.0 / 9 + square * (17.0 / 9 - square * (4.0 / 9)))


@compiled
def _bell(square: float) -> float:  # pragma: no cover - compiled
    """The same for the square of the share."""
    return 0.0 if square >= 1 else _risen(square)


@dataclass(frozen=True, eq=False)
class Bricks:
    """The bricks about points, and which points reach into each.

    bricks: (k, 3); starts: (k + 1,) where the points of each begin in (p,) points.
    """

    bricks: Integers
    starts: Numbers
    points: Integers


def bricks_about(places: Reals, reach: Reals, shape: tuple[int, int, int]) -> Bricks:
    """The bricks of a grid that points reach into. places: (n, 3) and reach: (n,), in voxels from the first node."""
    count = tuple(-(-(one - 1) // CELLS) for one in shape)
    held = np.zeros(count, dtype=np.int32)
    _count(places, reach, held)
    there = np.flatnonzero(held.reshape(-1))
    slots = np.full(held.size, -1, dtype=np.int32)
    slots[there] = np.arange(len(there))
    starts = np.concatenate([[0], np.cumsum(held.reshape(-1)[there], dtype=np.int64)])
    points = np.empty(int(starts[-1]), dtype=np.int32)
    _list(places, reach, slots.reshape(count), starts[:-1].copy(), points)
    bricks = np.stack(np.unravel_index(there, count), axis=1).astype(np.int32)
    return Bricks(bricks, starts, points)


def sums_of_own(places: Reals, about: Bricks, shape: tuple[int, int, int]) -> float:
    """How many values of bells `own_weights` adds up."""
    count = tuple(-(-(one - 1) // CELLS) for one in shape)
    bricks = np.minimum((places // CELLS).astype(np.int64), np.array(count) - 1)
    own = np.ravel_multi_index(tuple(bricks.T), count)
    there = np.ravel_multi_index(tuple(about.bricks.T.astype(np.int64)), count)
    reached = np.diff(about.starts).astype(np.float64)
    return float(reached[np.searchsorted(there, own)].sum())


def own_weights(places: Reals, reach: Reals, about: Bricks) -> Reals:
    """(n,) 1 over what all bells are together at the middle of each point. Points are in the order of their X."""
    total = np.ones(len(places))
    _own(places, reach, about.bricks, about.starts, about.points, total)
    return 1 / total


def summed(places: Reals, reach: Reals, weight: Reals, about: Bricks) -> Floats:
    """(k, 9, 9, 9) the sums of the bells at the nodes of the bricks."""
    made = np.zeros((len(about.bricks), NODES, NODES, NODES), dtype=np.float32)
    _sum(places, reach, weight, about.bricks, about.starts, about.points, made)
    return made


def mixed_at(
    at: Reals,
    places: Reals,
    reach: Reals,
    weight: Reals,
    counts: NDArray[np.bool_],
    about: Bricks,
    shape: tuple[int, int, int],
) -> tuple[Numbers, Reals]:
    """(v, 3) the points that count most at (v, 3) places of the skin, and (v, 3) their shares. counts: (n,) which points do at all; where
    none does it is the first of them."""
    count = tuple(-(-(one - 1) // CELLS) for one in shape)
    slots = np.full(count, -1, dtype=np.int32)
    slots[about.bricks[:, 0], about.bricks[:, 1], about.bricks[:, 2]] = np.arange(len(about.bricks))
    which, share = np.zeros((len(at), MIXED), dtype=np.int64), np.zeros((len(at), MIXED))
    which[:], share[:, 0] = int(np.argmax(counts)), 1.0
    far = float(reach.max(initial=0))
    _mix(at, places, reach, weight, counts, slots, about.starts, about.points, far, which, share)
    return which, share


@compiled
def _spanned(place: float, reach: float, most: int) -> tuple[int, int]:  # pragma: no cover - compiled
    """The bricks along an axis that a point reaches into; one at a border belongs to both."""
    low = int(np.floor((place - reach - 1) / CELLS))
    high = int(np.floor((place + reach) / CELLS))
    return max(low, 0), min(high, most - 1)


@compiled
def _count(places: Reals, reach: Reals, held: Integers):  # pragma: no cover - compiled
    for point in range(len(places)):
        x0, x1 = _spanned(places[point, 0], reach[point], held.shape[0])
        y0, y1 = _spanned(places[point, 1], reach[point], held.shape[1])
        z0, z1 = _spanned(places[point, 2], reach[point], held.shape[2])
        for x in range(x0, x1 + 1):
            for y in range(y0, y1 + 1):
                for z in range(z0, z1 + 1):
                    held[x, y, z] += 1


@compiled
def _list(places: Reals, reach: Reals, slots: Integers, next_one: Numbers, points: Integers):  # pragma: no cover
    for point in range(len(places)):
        x0, x1 = _spanned(places[point, 0], reach[point], slots.shape[0])
        y0, y1 = _spanned(places[point, 1], reach[point], slots.shape[1])
        z0, z1 = _spanned(places[point, 2], reach[point], slots.shape[2])
        for x in range(x0, x1 + 1):
            for y in range(y0, y1 + 1):
                for z in range(z0, z1 + 1):
                    slot = slots[x, y, z]
                    points[next_one[slot]] = point
                    next_one[slot] += 1


@inlined
def _within(
    places: Reals, points: Integers, start: int, stop: int, x: float, far: float
) -> tuple[int, int]:  # pragma: no cover - compiled
    """From where to where in a list of points, which are in the order of their X, those are that are so near along that."""
    low, high = start, stop
    while low < high:
        middle = (low + high) // 2
        if places[points[middle], 0] < x - far:
            low = middle + 1
        else:
            high = middle
    end, high = low, stop
    while end < high:
        middle = (end + high) // 2
        if places[points[middle], 0] <= x + far:
            end = middle + 1
        else:
            high = middle
    return low, end


@parallel
def _own(
    places: Reals, reach: Reals, bricks: Integers, starts: Numbers, points: Integers, total: Reals
):  # pragma: no cover
    for brick in loop(len(bricks)):
        x0, y0, z0 = bricks[brick, 0] * CELLS, bricks[brick, 1] * CELLS, bricks[brick, 2] * CELLS
        far = 0.0
        for at in range(starts[brick], starts[brick + 1]):
            far = max(far, float(reach[points[at]]))
        for at in range(starts[brick], starts[brick + 1]):
            one = points[at]
            x, y, z = places[one, 0], places[one, 1], places[one, 2]
            # Each point is summed in the one brick that its middle lies in.
            if not (x0 <= x < x0 + CELLS and y0 <= y < y0 + CELLS and z0 <= z < z0 + CELLS):
                continue
            found = 0.0
            begin, end = _within(places, points, int(starts[brick]), int(starts[brick + 1]), x, far)
            for beside in range(begin, end):
                other = points[beside]
                square = (places[other, 0] - x) ** 2 + (places[other, 1] - y) ** 2 + (places[other, 2] - z) ** 2
                found += _bell(square / (reach[other] * reach[other]))
            total[one] = max(found, 1.0)


@parallel
def _sum(
    places: Reals, reach: Reals, weight: Reals, bricks: Integers, starts: Numbers, points: Integers, made: Floats
):  # pragma: no cover - compiled
    for brick in loop(len(bricks)):
        x0, y0, z0 = bricks[brick, 0] * CELLS, bricks[brick, 1] * CELLS, bricks[brick, 2] * CELLS
        held, up, aside = np.zeros((NODES, NODES, NODES)), np.zeros(NODES), np.zeros(NODES)
        for at in range(starts[brick], starts[brick + 1]):
            one = points[at]
            far, count = reach[one], weight[one]
            x, y, z = places[one, 0] - x0, places[one, 1] - y0, places[one, 2] - z0
            scale = 1 / (far * far)
            for node in range(NODES):
                up[node], aside[node] = (node - z) ** 2 * scale, (node - y) ** 2 * scale
            j0, j1 = max(int(np.ceil(y - far)), 0), min(int(np.floor(y + far)), CELLS) + 1
            for i in range(max(int(np.ceil(x - far)), 0), min(int(np.floor(x + far)), CELLS) + 1):
                along = (i - x) ** 2 * scale
                for j in range(j0, j1):
                    flat = along + aside[j]
                    if flat >= 1:
                        continue
                    # Only those that it reaches.
                    long = far * np.sqrt(1 - flat)
                    for k in range(max(int(np.ceil(z - long)), 0), min(int(np.floor(z + long)), CELLS) + 1):
                        held[i, j, k] += count * _risen(flat + up[k])
        for i in range(NODES):
            for j in range(NODES):
                for k in range(NODES):
                    made[brick, i, j, k] = held[i, j, k]


@parallel
def _mix(
    at: Reals,
    places: Reals,
    reach: Reals,
    weight: Reals,
    counts: NDArray[np.bool_],
    slots: Integers,
    starts: Numbers,
    points: Integers,
    far: float,
    which: Numbers,
    share: Reals,
):  # pragma: no cover - compiled
    for row in loop(len(at)):
        x, y, z = at[row, 0], at[row, 1], at[row, 2]
        brick = slots[
            min(int(x) // CELLS, slots.shape[0] - 1),
            min(int(y) // CELLS, slots.shape[1] - 1),
            min(int(z) // CELLS, slots.shape[2] - 1),
        ]
        if brick < 0:
            continue
        a, b, c, fa, fb, fc = -1, -1, -1, 0.0, 0.0, 0.0
        begin, end = _within(places, points, int(starts[brick]), int(starts[brick + 1]), x, far)
        for turn in range(begin, end):
            one = points[turn]
            if not counts[one]:
                continue
            square = (places[one, 0] - x) ** 2 + (places[one, 1] - y) ** 2 + (places[one, 2] - z) ** 2
            found = weight[one] * _bell(square / (reach[one] * reach[one]))
            if found > fa:
                a, b, c, fa, fb, fc = one, a, b, found, fa, fb
            elif found > fb:
                b, c, fb, fc = one, b, found, fb
            elif found > fc:
                c, fc = one, found
        if a < 0:
            continue
        total = fa + fb + fc
        which[row, 0], which[row, 1], which[row, 2] = a, (b if b >= 0 else a), (c if c >= 0 else a)
        share[row, 0], share[row, 1], share[row, 2] = fa / total, fb / total, fc / total
