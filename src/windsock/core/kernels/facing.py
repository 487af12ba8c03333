"""Where the faces about places look."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled


def facing_sums(
    points: NDArray[np.float32], faces: NDArray[np.int32], place: NDArray[np.int64], count: int
) -> NDArray[np.float64]:
    """(count, 3) the sum of the normals of the faces about each place, each as long as twice the area of its face.

    points: (n, 3), faces: (m, 3), place: (n,) which place each point is at, below `count`.
    """
    sums = np.zeros((count, 3))
    _add_up(points, faces, place, sums)
    return sums


@compiled
def _add_up(
    points: NDArray[np.float32], faces: NDArray[np.int32], place: NDArray[np.int64], sums: NDArray[np.float64]
):  # pragma: no cover - compiled
    for face in range(len(faces)):
        a, b, c = faces[face, 0], faces[face, 1], faces[face, 2]
        ax, ay, az = np.float64(points[a, 0]), np.float64(points[a, 1]), np.float64(points[a, 2])
        ux, uy, uz = points[b, 0] - ax, points[b, 1] - ay, points[b, 2] - az
        vx, vy, vz = points[c, 0] - ax, points[c, 1] - ay, points[c, 2] - az
        x, y, z = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        for corner in (a, b, c):
            at = place[corner]
            sums[at, 0] += x
            sums[at, 1] += y
            sums[at, 2] += z
