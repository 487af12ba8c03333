"""Faces turned alike."""

from __future__ import annotations

import igl
import numpy as np
from numpy.typing import NDArray


def turned_alike(faces: NDArray[np.int64]) -> tuple[NDArray[np.bool_], NDArray[np.int64]]:
    """(m,) which faces are to be turned so that those that share an edge look the same way, and (m,) the part of each.

    faces: (m, 3) indices of places. Parts are joined over edges that two faces share (libigl `bfs_orient`).
    """
    oriented, part = igl.bfs_orient(np.ascontiguousarray(faces))

    def even(one: NDArray[np.int64]) -> NDArray[np.bool_]:
        """Whether the smallest corner is followed by the next larger one."""
        start = one.argmin(axis=1)[:, None]
        row = np.arange(len(one))[:, None]
        return (one[row, (start + 1) % 3] < one[row, (start + 2) % 3]).ravel()

    return even(np.asarray(oriented)) != even(faces), np.asarray(part, dtype=np.int64)
