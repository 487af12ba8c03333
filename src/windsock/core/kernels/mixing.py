"""Places that lie between others: how they are told, and values at them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled, loop, parallel


def mixed_values(
    corners: NDArray[np.int64], shares: NDArray[np.float64], values: NDArray[np.float64]
) -> NDArray[np.float64]:
    """(k, ...) what (n, ...) values are between (k, c) of them. One that has no share does not count, infinite or not."""
    rows = np.ascontiguousarray(values, dtype=np.float64).reshape(len(values), int(np.prod(values.shape[1:])))
    made = np.empty((len(corners), rows.shape[1]))
    _mix(np.ascontiguousarray(corners, dtype=np.int64), np.ascontiguousarray(shares), rows, made)
    return made.reshape(len(corners), *values.shape[1:])


@parallel
def _mix(
    corners: NDArray[np.int64], shares: NDArray[np.float64], values: NDArray[np.float64], made: NDArray[np.float64]
):  # pragma: no cover - compiled
    for k in loop(len(corners)):
        for column in range(values.shape[1]):
            made[k, column] = 0.0
        for corner in range(corners.shape[1]):
            share, of = shares[k, corner], corners[k, corner]
            if share > 0:
                for column in range(values.shape[1]):
                    made[k, column] += share * values[of, column]


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
