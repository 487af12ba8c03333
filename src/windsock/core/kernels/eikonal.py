"""When a front comes to each node of a grid: |grad T| = slowness.

Godunov's upwind scheme of first order, by fast sweeping (H. Zhao, "A fast sweeping method for eikonal equations", 2005) within bricks,
of which that is taken next that the front comes to first (A. Chacon, A. Vladimirsky, "Fast two-scale methods for eikonal equations",
2012). It ends when nothing changes, not after a number of sweeps.
"""

from __future__ import annotations

from heapq import heappop, heappush

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Floats = NDArray[np.float32]
STOPPED = np.inf
"""The slowness of a node that no front enters."""

ALIKE = 1e-4
"""Share of what a voxel takes by which a node has to be reached earlier to count as changed."""


def swept_times(
    times: Floats,
    slowness: Floats,
    before: float = np.inf,
    after: float = -np.inf,
    cancelled: NDArray[np.uint8] | None = None,
) -> bool:
    """Finds, in place, when a front comes to the nodes of a grid. False where it was cancelled.

    times: when it starts at each node, infinite where it does not. slowness: what it needs for one voxel at each node, infinite where it
    is stopped. before: times after this one are not gone on from; after: what is reached now is reached no sooner. cancelled: (1,) a flag that is looked at.
    """
    flag = np.zeros(1, dtype=np.uint8) if cancelled is None else cancelled
    return _run(times, slowness, before, after, flag)


SIDE = 16
"""Nodes along an edge of a brick."""


@compiled
def _run(
    times: Floats, slowness: Floats, before: float, after: float, flag: NDArray[np.uint8]
) -> bool:  # pragma: no cover - compiled
    nx, ny, nz = times.shape
    bx, by, bz = (nx + SIDE - 1) // SIDE, (ny + SIDE - 1) // SIDE, (nz + SIDE - 1) // SIDE
    # When the front comes to each brick that has to be looked into, infinite for the others.
    soonest = np.full(bx * by * bz, np.inf)
    told = np.zeros(bx * by * bz, dtype=np.bool_)
    queue = [(0.0, 0)]
    queue.pop()
    for brick in range(bx * by * bz):
        least = _least(times, brick // (by * bz) * SIDE, brick // bz % by * SIDE, brick % bz * SIDE)
        if least < before:
            soonest[brick] = least
            heappush(queue, (least, brick))
    held = np.full((SIDE + 2, SIDE + 2, SIDE + 2), np.inf)
    while len(queue) > 0:
        if flag[0]:
            return False
        when, brick = heappop(queue)
        if when != soonest[brick]:
            continue
        soonest[brick] = np.inf
        x0, y0, z0 = brick // (by * bz) * SIDE, brick // bz % by * SIDE, brick % bz * SIDE
        _taken(times, x0, y0, z0, held)
        turn, changed, ever = 0, True, False
        while changed:
            changed = _sweep(held, slowness, before, after, x0, y0, z0, turn)
            ever = ever or changed
            turn += 1
        if ever:
            _given(times, x0, y0, z0, held)
        elif told[brick]:
            # Those beside it know all of it already.
            continue
        told[brick] = True
        for side in range(6):
            axis, way = side // 2, 1 if side % 2 else -1
            i = x0 // SIDE + (way if axis == 0 else 0)
            j = y0 // SIDE + (way if axis == 1 else 0)
            k = z0 // SIDE + (way if axis == 2 else 0)
            if i < 0 or j < 0 or k < 0 or i >= bx or j >= by or k >= bz:
                continue
            earliest = _crossing(held, slowness, before, x0, y0, z0, axis, way)
            other = (i * by + j) * bz + k
            if earliest < soonest[other]:
                soonest[other] = earliest
                heappush(queue, (earliest, other))
    return True


@compiled
def _least(times: Floats, x0: int, y0: int, z0: int) -> float:  # pragma: no cover - compiled
    made = np.inf
    for x in range(x0, min(x0 + SIDE, times.shape[0])):
        for y in range(y0, min(y0 + SIDE, times.shape[1])):
            for z in range(z0, min(z0 + SIDE, times.shape[2])):
                made = min(made, times[x, y, z])
    return made


@compiled
def _taken(times: Floats, x0: int, y0: int, z0: int, held: NDArray[np.float64]):  # pragma: no cover - compiled
    """The times of a brick and of the nodes about it; those beyond the grid are infinite."""
    for i in range(SIDE + 2):
        x = x0 + i - 1
        for j in range(SIDE + 2):
            y = y0 + j - 1
            inside = 0 <= x < times.shape[0] and 0 <= y < times.shape[1]
            for k in range(SIDE + 2):
                z = z0 + k - 1
                held[i, j, k] = times[x, y, z] if inside and 0 <= z < times.shape[2] else np.inf


@compiled
def _given(times: Floats, x0: int, y0: int, z0: int, held: NDArray[np.float64]):  # pragma: no cover - compiled
    for x in range(x0, min(x0 + SIDE, times.shape[0])):
        for y in range(y0, min(y0 + SIDE, times.shape[1])):
            for z in range(z0, min(z0 + SIDE, times.shape[2])):
                times[x, y, z] = held[x - x0 + 1, y - y0 + 1, z - z0 + 1]


@compiled
def _crossing(
    held: NDArray[np.float64], slowness: Floats, before: float, x0: int, y0: int, z0: int, axis: int, way: int
) -> float:  # pragma: no cover - compiled
    """The soonest that the front may go on from a brick to one beside it, infinite where it does not."""
    made = np.inf
    edge = SIDE if way > 0 else 1
    for a in range(1, SIDE + 1):
        for b in range(1, SIDE + 1):
            i = edge if axis == 0 else a
            j = edge if axis == 1 else (a if axis == 0 else b)
            k = edge if axis == 2 else b
            own = held[i, j, k]
            if not own < before or own >= made:
                continue
            oi, oj, ok = i + (way if axis == 0 else 0), j + (way if axis == 1 else 0), k + (way if axis == 2 else 0)
            if held[oi, oj, ok] <= own:
                continue
            x, y, z = x0 + oi - 1, y0 + oj - 1, z0 + ok - 1
            if x >= slowness.shape[0] or y >= slowness.shape[1] or z >= slowness.shape[2]:
                continue
            if slowness[x, y, z] < STOPPED:
                made = own
    return made


@compiled
def _sweep(
    held: NDArray[np.float64],
    slowness: Floats,
    before: float,
    after: float,
    x0: int,
    y0: int,
    z0: int,
    turn: int,
) -> bool:  # pragma: no cover - compiled
    x1, y1, z1 = (
        min(SIDE, slowness.shape[0] - x0),
        min(SIDE, slowness.shape[1] - y0),
        min(SIDE, slowness.shape[2] - z0),
    )
    changed = False
    for a in range(x1):
        i = a + 1 if turn & 1 else x1 - a
        for b in range(y1):
            j = b + 1 if turn & 2 else y1 - b
            for c in range(z1):
                k = c + 1 if turn & 4 else z1 - c
                one = min(held[i - 1, j, k], held[i + 1, j, k])
                two = min(held[i, j - 1, k], held[i, j + 1, k])
                three = min(held[i, j, k - 1], held[i, j, k + 1])
                own = held[i, j, k]
                if one > two:
                    one, two = two, one
                if two > three:
                    two, three = three, two
                if one > two:
                    one, two = two, one
                if one >= own or not one < before:
                    continue
                slow = float(slowness[x0 + i - 1, y0 + j - 1, z0 + k - 1])
                if slow == STOPPED:
                    continue
                found = one + slow
                if found > two:
                    found = (one + two + np.sqrt(max(2 * slow * slow - (one - two) ** 2, 0.0))) / 2
                    if found > three:
                        whole = one + two + three
                        under = whole * whole - 3 * (one * one + two * two + three * three - slow * slow)
                        found = (whole + np.sqrt(max(under, 0.0))) / 3
                found = max(found, after)
                if found < own - ALIKE * slow:
                    held[i, j, k] = np.float32(found)
                    changed = True
    return changed
