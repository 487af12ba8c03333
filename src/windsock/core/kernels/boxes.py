"""Boxes about triangles."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Reals = NDArray[np.float64]
Faces = NDArray[np.int64]


def box_of(points: Reals, faces: Faces) -> tuple[Reals, Reals]:
    """(3,) the lowest and (3,) the highest corner of (m, 3) triangles between (n, 3) points."""
    low, high = np.full(3, np.inf), np.full(3, -np.inf)
    _box(points, faces, low, high)
    return low, high


def faces_in_box(points: Reals, faces: Faces, low: Reals, high: Reals) -> NDArray[np.bool_]:
    """(m,) of which triangles the box about them meets one from a (3,) corner to another."""
    found = np.empty(len(faces), dtype=np.bool_)
    _meet(points, faces, low, high, found)
    return found


@compiled
def _box(points: Reals, faces: Faces, low: Reals, high: Reals):  # pragma: no cover - compiled
    for face in range(len(faces)):
        for corner in range(3):
            for axis in range(3):
                at = points[faces[face, corner], axis]
                low[axis] = min(low[axis], at)
                high[axis] = max(high[axis], at)


@compiled
def _meet(
    points: Reals, faces: Faces, low: Reals, high: Reals, found: NDArray[np.bool_]
):  # pragma: no cover - compiled
    for face in range(len(faces)):
        a, b, c = faces[face, 0], faces[face, 1], faces[face, 2]
        meets = True
        for axis in range(3):
            x, y, z = points[a, axis], points[b, axis], points[c, axis]
            if min(x, y, z) > high[axis] or max(x, y, z) < low[axis]:
                meets = False
                break
        found[face] = meets
