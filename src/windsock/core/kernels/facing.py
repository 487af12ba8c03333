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


def turned_with_faces(
    normals: NDArray[np.float32],
    before: NDArray[np.float32],
    after: NDArray[np.float32],
    faces: NDArray[np.int32],
    place: NDArray[np.int64],
    count: int,
) -> NDArray[np.float32]:
    """(n, 3) normals of length 1, each turned by the shortest turn that takes where the faces about its place looked before to
    where they look after; so those that differ at one place, at a sharp edge, still do.

    before, after: (n, 3) the points. place, count: as of `facing_sums`. By Rodrigues' rotation formula, with the axis
    start x end and the cosine start . end; normals where the faces are as they were keep their bits.
    """
    made = np.empty_like(normals)
    start, end = facing_sums(before, faces, place, count), facing_sums(after, faces, place, count)
    _turn(normals, start, end, place, made)
    return made


@compiled
def _turn(
    normals: NDArray[np.float32],
    start: NDArray[np.float64],
    end: NDArray[np.float64],
    place: NDArray[np.int64],
    made: NDArray[np.float32],
):  # pragma: no cover - compiled
    for point in range(len(normals)):
        at = place[point]
        px, py, pz = start[at, 0], start[at, 1], start[at, 2]
        qx, qy, qz = end[at, 0], end[at, 1], end[at, 2]
        nx, ny, nz = np.float64(normals[point, 0]), np.float64(normals[point, 1]), np.float64(normals[point, 2])
        long = np.sqrt((px * px + py * py + pz * pz) * (qx * qx + qy * qy + qz * qz))
        x, y, z = py * qz - pz * qy, pz * qx - px * qz, px * qy - py * qx
        if long <= 1e-300 or (px == qx and py == qy and pz == qz):
            made[point, 0], made[point, 1], made[point, 2] = normals[point, 0], normals[point, 1], normals[point, 2]
            continue
        x, y, z = x / long, y / long, z / long
        cosine = (px * qx + py * qy + pz * qz) / long
        if cosine < -0.999999:
            made[point, 0], made[point, 1], made[point, 2] = -normals[point, 0], -normals[point, 1], -normals[point, 2]
            continue
        along = (x * nx + y * ny + z * nz) / max(1 + cosine, 1e-9)
        made[point, 0] = nx * cosine + (y * nz - z * ny) + x * along
        made[point, 1] = ny * cosine + (z * nx - x * nz) + y * along
        made[point, 2] = nz * cosine + (x * ny - y * nx) + z * along
