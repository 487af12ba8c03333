"""Places that lie between three others: how they are told, and values at them."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray


def mixed_values(
    corners: NDArray[np.int64], shares: NDArray[np.float64], values: NDArray[np.float64]
) -> NDArray[np.float64]:
    """(k,) what (n,) values are between (k, 3) of them. One that has no share does not count, infinite or not."""
    made = np.empty(len(corners))
    _mix(corners, shares, values, made)
    return made


@njit(cache=True, nogil=True)
def _mix(corners, shares, values, made):  # pragma: no cover - compiled
    for k in range(len(corners)):
        total = 0.0
        for corner in range(3):
            if shares[k, corner] > 0:
                total += shares[k, corner] * values[corners[k, corner]]
        made[k] = total


def told_alike(
    corners: NDArray[np.int64], shares: NDArray[np.float64]
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """Corners and shares, (k, 3), told in one way: those with a share first, by falling number; 0 for the others."""
    of, share = np.zeros_like(corners), np.zeros_like(shares)
    _tell_alike(corners, shares, of, share)
    return of, share


@njit(cache=True, nogil=True)
def _tell_alike(corners, shares, of, share):  # pragma: no cover - compiled
    for k in range(len(corners)):
        count = 0
        for corner in range(3):
            if shares[k, corner] <= 0:
                continue
            place = count
            while place > 0 and of[k, place - 1] < corners[k, corner]:
                of[k, place], share[k, place] = of[k, place - 1], share[k, place - 1]
                place -= 1
            of[k, place], share[k, place] = corners[k, corner], shares[k, corner]
            count += 1
