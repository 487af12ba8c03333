"""Points through a matrix: the innermost loop of everything that is measured in the world."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray


def affine(points: NDArray[np.floating], matrix: NDArray[np.float64]) -> NDArray[np.float64]:
    """(n, 3) points taken through a (4, 4) matrix. Several times the speed of a matrix product three wide."""
    result = np.empty((len(points), 3), dtype=np.float64)
    _affine(points, matrix, result)
    return result


@njit(cache=True, nogil=True)
def _affine(points, matrix, result):  # pragma: no cover - compiled
    for point in range(len(points)):
        x, y, z = points[point, 0], points[point, 1], points[point, 2]
        for row in range(3):
            result[point, row] = matrix[row, 0] * x + matrix[row, 1] * y + matrix[row, 2] * z + matrix[row, 3]
