"""Areas of triangles, and what share of them each corner stands for."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Places = NDArray[np.floating]
Faces = NDArray[np.int32]


def face_areas(points: Places, faces: Faces) -> NDArray[np.float64]:
    """(m,) half the length of the cross product of two sides of each (m, 3) triangle between (n, 3) points."""
    made = np.empty(len(faces))
    _areas(points, faces, made)
    return made


def point_areas(points: Places, faces: Faces) -> NDArray[np.float64]:
    """(n,) a third of the area of the triangles about each of (n, 3) points."""
    made = np.zeros(len(points))
    _shares(points, faces, made)
    return made


@compiled
def _areas(points: Places, faces: Faces, made: NDArray[np.float64]):  # pragma: no cover - compiled
    for face in range(len(faces)):
        made[face] = _area(points, faces[face, 0], faces[face, 1], faces[face, 2])


@compiled
def _shares(points: Places, faces: Faces, made: NDArray[np.float64]):  # pragma: no cover - compiled
    for face in range(len(faces)):
        a, b, c = faces[face, 0], faces[face, 1], faces[face, 2]
        third = _area(points, a, b, c) / 3.0
        made[a] += third
        made[b] += third
        made[c] += third


@compiled
def _area(points: Places, a: int, b: int, c: int) -> float:  # pragma: no cover - compiled
    ax, ay = np.float64(points[b, 0]) - np.float64(points[a, 0]), np.float64(points[b, 1]) - np.float64(points[a, 1])
    az = np.float64(points[b, 2]) - np.float64(points[a, 2])
    bx, by = np.float64(points[c, 0]) - np.float64(points[a, 0]), np.float64(points[c, 1]) - np.float64(points[a, 1])
    bz = np.float64(points[c, 2]) - np.float64(points[a, 2])
    x, y, z = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
    return 0.5 * np.sqrt(x * x + y * y + z * z)
