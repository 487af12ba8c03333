"""Gaps in space between places that keep their distance: cubes in which another place would have room."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled, inlined

Reals = NDArray[np.float64]

DEPTHS = 4
"""How often a cube is halved, the whole one counted: the smallest have a diagonal of an eighth of the spacing."""

CUBE = 3.0**-0.5
"""Edge of a whole cube in spacings: its diagonal is one spacing."""


def free_middles(cubes: Reals, taken: Reals, spacing: float, depth: int, most: int) -> Reals:
    """(k, 3) the middles of parts of cubes that are at least a spacing from every place, up to so many.

    cubes: (m, 3) middles of whole cubes; taken: (n, 3); both in metres. depth: how often cubes are halved. A part that one
    place covers is not looked into (compare D.-M. Yan and P. Wonka, "Gap processing for adaptive maximal Poisson-disk
    sampling", 2013).
    """
    if len(cubes) == 0:
        return np.zeros((0, 3))
    low = np.minimum(cubes.min(axis=0), taken.min(axis=0) if len(taken) else np.inf)
    size = 1 << max(4, int(np.ceil(np.log2(2 * len(taken) + 1))))
    return _free_middles(np.ascontiguousarray(cubes), np.ascontiguousarray(taken), low, spacing, depth, size - 1, most)


@compiled
def _slot_at(
    place: NDArray[np.float64], low: NDArray[np.float64], spacing: float, mask: int, dx: int, dy: int, dz: int
):  # pragma: no cover - compiled
    x = np.int64(np.floor((place[0] - low[0]) / spacing)) + dx
    y = np.int64(np.floor((place[1] - low[1]) / spacing)) + dy
    z = np.int64(np.floor((place[2] - low[2]) / spacing)) + dz
    return (x * 73856093 ^ y * 19349663 ^ z * 83492791) & mask


@compiled
def _free_middles(
    cubes: NDArray[np.float64],
    taken: NDArray[np.float64],
    low: NDArray[np.float64],
    spacing: float,
    depth: int,
    mask: int,
    most: int,
):  # pragma: no cover - compiled
    first, after = np.full(mask + 1, -1, np.int64), np.full(max(len(taken), 1), -1, np.int64)
    for one in range(len(taken)):
        slot = _slot_at(taken[one], low, spacing, mask, 0, 0, 0)
        after[one] = first[slot]
        first[slot] = one
    found = np.empty((1024, 3))
    count = 0
    near, seen = np.empty((256, 3)), np.empty(256, np.int64)
    stack = np.empty((8 * DEPTHS + 8, 4))
    half = 0.5 * CUBE * spacing
    reach = (1.5 * spacing) ** 2
    for cube in range(len(cubes)):
        known = 0
        for dx in range(-2, 3):
            for dy in range(-2, 3):
                for dz in range(-2, 3):
                    other = first[_slot_at(cubes[cube], low, spacing, mask, dx, dy, dz)]
                    while other >= 0:
                        away = 0.0
                        for axis in range(3):
                            away += (taken[other, axis] - cubes[cube, axis]) ** 2
                        # Two cubes of the grid may share a slot: each place counts once.
                        if away < reach and known < len(near) and not _has(seen, known, other):
                            near[known] = taken[other]
                            seen[known] = other
                            known += 1
                        other = after[other]
        stack[0, 0], stack[0, 1], stack[0, 2], stack[0, 3] = cubes[cube, 0], cubes[cube, 1], cubes[cube, 2], 0.0
        height = 1
        while height > 0:
            height -= 1
            x, y, z, level = stack[height, 0], stack[height, 1], stack[height, 2], stack[height, 3]
            own = half / 2.0**level
            nearest = np.inf
            for one in range(known):
                away = (near[one, 0] - x) ** 2 + (near[one, 1] - y) ** 2 + (near[one, 2] - z) ** 2
                nearest = min(nearest, away)
            if np.sqrt(nearest) + own * 3.0**0.5 <= spacing:
                continue
            if level == depth:
                if nearest >= spacing * spacing:
                    if count == most:
                        return found[:count].copy()
                    if count == len(found):
                        more = np.empty((2 * count, 3))
                        more[:count] = found
                        found = more
                    found[count, 0], found[count, 1], found[count, 2] = x, y, z
                    count += 1
                continue
            for corner in range(8):
                stack[height, 0] = x + (0.5 * own if corner & 1 else -0.5 * own)
                stack[height, 1] = y + (0.5 * own if corner & 2 else -0.5 * own)
                stack[height, 2] = z + (0.5 * own if corner & 4 else -0.5 * own)
                stack[height, 3] = level + 1
                height += 1
    return found[:count].copy()


@inlined
def _has(seen: NDArray[np.int64], known: int, one: NDArray[np.int64]):  # pragma: no cover - compiled
    there = False
    for place in range(known):
        there = there or seen[place] == one
    return there
