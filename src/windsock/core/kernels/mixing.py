"""Values at places that lie between three others."""

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
