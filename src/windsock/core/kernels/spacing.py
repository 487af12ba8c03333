"""Places that keep their distance: of candidates in order, each is taken that no taken one is too near to."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

Reals = NDArray[np.float64]


def spaced(places: Reals, spacing: float, most: int) -> NDArray[np.int64]:
    """Which of (n, 3) candidates are taken, in their order, at most so many.

    Every two that are taken are at least `spacing` metres apart (straight through space), and every candidate that is not
    taken has one within that. Dart throwing (R. L. Cook, "Stochastic sampling in computer graphics", 1986), the taken
    ones found in a grid of cubes of that size by a hash of the cube.
    """
    if len(places) == 0 or spacing <= 0:
        return np.arange(min(len(places), most))
    cubes = np.floor((places - places.min(axis=0)) / spacing).astype(np.int64)
    size = 1 << max(4, int(np.ceil(np.log2(len(places) + 1))))
    return _throw(np.ascontiguousarray(places), cubes, spacing * spacing, size - 1, most)


@njit(cache=True, nogil=True)
def _slot(x, y, z, mask):  # pragma: no cover - compiled
    return (x * 73856093 ^ y * 19349663 ^ z * 83492791) & mask


@njit(cache=True, nogil=True)
def _throw(places, cubes, least, mask, most):  # pragma: no cover - compiled
    first = np.full(mask + 1, -1, np.int64)
    after = np.full(len(places), -1, np.int64)
    taken = np.empty(min(len(places), most), np.int64)
    count = 0
    for place in range(len(places)):
        if count == most:
            break
        x, y, z = cubes[place]
        free = True
        for dx in range(-1, 2):
            for dy in range(-1, 2):
                for dz in range(-1, 2):
                    other = first[_slot(x + dx, y + dy, z + dz, mask)]
                    while other >= 0:
                        a = places[place, 0] - places[other, 0]
                        b = places[place, 1] - places[other, 1]
                        c = places[place, 2] - places[other, 2]
                        if a * a + b * b + c * c < least:
                            free = False
                            break
                        other = after[other]
                    if not free:
                        break
                if not free:
                    break
            if not free:
                break
        if free:
            slot = _slot(x, y, z, mask)
            after[place] = first[slot]
            first[slot] = place
            taken[count] = place
            count += 1
    return taken[:count].copy()
