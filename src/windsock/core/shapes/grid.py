"""Faces of a grid of points, as shapes share it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import are_triangles


def grid_faces(columns: int, rows: int, number: NDArray[np.integer]) -> NDArray[np.int32]:
    """Two faces for each cell of a grid of (columns + 1) x (rows + 1) points, row after row.

    number: which place each point is; a face two of whose corners are one place (at a pole) is left out.
    """
    column, row = np.meshgrid(np.arange(columns), np.arange(rows))
    corner = (row * (columns + 1) + column).ravel()
    right, up, across = corner + 1, corner + columns + 1, corner + columns + 2
    lower = np.stack([corner, right, across], axis=1)
    upper = np.stack([corner, across, up], axis=1)
    faces = np.stack([lower, upper], axis=1).reshape(-1, 3)
    place = number[faces]
    proper = are_triangles(place)
    return faces[proper].astype(np.int32)
