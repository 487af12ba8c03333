"""Places that lie between three others: how they are told, and values at them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled


def mixed_values(
    corners: NDArray[np.int64], shares: NDArray[np.float64], values: NDArray[np.float64]
) -> NDArray[np.float64]:
    """(k,) what (n,) values are between (k, 3) of them. One that has no share does not count, infinite or not."""
    made = np.empty(len(corners))
    _mix(corners, shares, values, made)
    return made


@compiled
def _mix(
    corners: NDArray[np.int64], shares: NDArray[np.float64], values: NDArray[np.float64], made: NDArray[np.float64]
):  # pragma: no cover - compiled
    for k in range(len(corners)):
        total = 0.0
        for corner in range(3):
            if shares[k, corner] > 0:
                total += shares[k, corner] * values[corners[k, corner]]
        made[k] = total


def canonical(corners: NDArray[np.int64], shares: NDArray[np.float64]) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """Corners and shares, (k, 3), in one form: those with a share first, by falling number; 0 for the others."""
    of, share = np.zeros_like(corners), np.zeros_like(shares)
    _canonical(corners, shares, of, share)
    return of, share


@compiled
def _canonical(
    corners: NDArray[np.int64], shares: NDArray[np.float64], of: NDArray[np.int64], share: NDArray[np.float64]
):  # pragma: no cover - compiled
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
