"""Normals of corners that are smooth over gentle edges and hard over sharp ones."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled


def corner_normals(facing: NDArray[np.float64], place: NDArray[np.int64], angle: float) -> NDArray[np.float64]:
    """(m, 3, 3) normals of length 1 for the corners of faces.

    facing: (m, 3) the faces' normals, as long as their areas. place: (m, 3) the place of each corner. A corner takes the
    faces about its place that meet its own face at no more than `angle` (radians), weighted by area.
    """
    corners = place.ravel()
    order = np.argsort(corners, kind="stable")
    starts = np.flatnonzero(np.diff(corners[order], prepend=-1))
    ends = np.append(starts[1:], len(corners))
    length = np.linalg.norm(facing, axis=1, keepdims=True)
    unit = np.divide(facing, length, out=np.zeros_like(facing), where=length > 0)
    made = np.zeros((len(corners), 3))
    _gather(facing, unit, order, starts, ends, np.cos(angle), made)
    return made.reshape(-1, 3, 3)


@compiled
def _gather(
    facing: NDArray[np.float64],
    unit: NDArray[np.float64],
    order: NDArray[np.int64],
    starts: NDArray[np.int64],
    ends: NDArray[np.int64],
    least: float,
    made: NDArray[np.float64],
):  # pragma: no cover - compiled
    for group in range(len(starts)):
        for one in range(starts[group], ends[group]):
            corner = order[one]
            own = corner // 3
            x = y = z = 0.0
            for other in range(starts[group], ends[group]):
                face = order[other] // 3
                if face == own or np.dot(unit[own], unit[face]) >= least:
                    x, y, z = x + facing[face, 0], y + facing[face, 1], z + facing[face, 2]
            length = np.sqrt(x * x + y * y + z * z)
            if length > 0:
                made[corner, 0], made[corner, 1], made[corner, 2] = x / length, y / length, z / length
            else:
                made[corner, 1] = 1.0
