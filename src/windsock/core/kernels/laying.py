"""Places on a mesh at rest found again on what steps have made of it: cut, refined, broken, deformed."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

SLACK = 1e-4
"""How far outside a face a place may lie, in shares of the face: what rounding makes of a place on its edge."""


def found_again(
    places: Reals, face: Numbers, rest: NDArray[np.float32], faces: NDArray[np.int32], origin: NDArray[np.int32]
) -> tuple[Numbers, Reals]:
    """(k,) the face of the mesh that each place lies on now, -1 where it is gone, and (k, 3) the shares of its corners.

    places: (k, 3) where they are at rest; face: (k,) the face of the shape as it was made that each lies on. rest: (n, 3)
    and faces: (m, 3) of the mesh now, at rest; origin: (m,) which face of the shape as it was made each is a part of.
    """
    order = np.argsort(origin, kind="stable").astype(np.int64)
    last = int(max(face.max(initial=-1), origin.max(initial=-1))) + 2
    starts = np.searchsorted(origin[order], np.arange(last)).astype(np.int64)
    now, shares = np.full(len(places), -1, np.int64), np.zeros((len(places), 3))
    _find(places, face, rest, faces, order, starts, now, shares)
    return now, shares


@compiled
def _find(
    places: NDArray[np.float64],
    face: NDArray[np.int64],
    rest: NDArray[np.float32],
    faces: NDArray[np.int32],
    order: NDArray[np.int64],
    starts: NDArray[np.int64],
    now: NDArray[np.int64],
    shares: NDArray[np.float64],
):  # pragma: no cover - compiled
    for k in range(len(places)):
        best = -SLACK
        for one in range(starts[face[k]], starts[face[k] + 1]):
            f = order[one]
            a, b, c = rest[faces[f, 0]], rest[faces[f, 1]], rest[faces[f, 2]]
            d11 = d12 = d22 = d31 = d32 = 0.0
            for axis in range(3):
                u = float(b[axis]) - float(a[axis])
                v = float(c[axis]) - float(a[axis])
                w = places[k, axis] - float(a[axis])
                d11, d12, d22, d31, d32 = d11 + u * u, d12 + u * v, d22 + v * v, d31 + u * w, d32 + v * w
            area = d11 * d22 - d12 * d12
            if area <= 0:
                continue
            second, third = (d22 * d31 - d12 * d32) / area, (d11 * d32 - d12 * d31) / area
            first = 1 - second - third
            least = min(first, second, third)
            if least > best:
                best = least
                now[k] = f
                x, y, z = max(first, 0.0), max(second, 0.0), max(third, 0.0)
                total = x + y + z
                shares[k, 0], shares[k, 1], shares[k, 2] = x / total, y / total, z / total


def laid(
    corners: NDArray[np.int32],
    shares: Reals,
    points: NDArray[np.float32],
    rest: NDArray[np.float32],
    normals: NDArray[np.float32],
) -> tuple[NDArray[np.float32], NDArray[np.float32], NDArray[np.float32], Reals]:
    """(k, 3) places, rest places, normals and directions along the surface, of places on (k, 3) corners of a mesh.

    The direction is that of the shape's own Y axis along the surface at rest (X where the surface lies across that),
    carried along by the face.
    """
    count = len(corners)
    place, rested, facing = (np.empty((count, 3), dtype=np.float32) for _ in range(3))
    along = np.empty((count, 3))
    _lay(corners, shares, points, rest, normals, place, rested, facing, along)
    return place, rested, facing, along


@compiled
def _lay(
    corners: NDArray[np.int32],
    shares: NDArray[np.float64],
    points: NDArray[np.float32],
    rest: NDArray[np.float32],
    normals: NDArray[np.float32],
    place: NDArray[np.float32],
    rested: NDArray[np.float32],
    facing: NDArray[np.float32],
    along: NDArray[np.float64],
):  # pragma: no cover - compiled
    for k in range(len(corners)):
        a, b, c = corners[k, 0], corners[k, 1], corners[k, 2]
        x, y, z = shares[k, 0], shares[k, 1], shares[k, 2]
        length = 0.0
        for axis in range(3):
            place[k, axis] = x * points[a, axis] + y * points[b, axis] + z * points[c, axis]
            rested[k, axis] = x * rest[a, axis] + y * rest[b, axis] + z * rest[c, axis]
            facing[k, axis] = x * normals[a, axis] + y * normals[b, axis] + z * normals[c, axis]
            length += facing[k, axis] ** 2
        length = np.sqrt(length)
        for axis in range(3):
            facing[k, axis] = facing[k, axis] / length if length > 1e-12 else (1.0 if axis == 1 else 0.0)
        d11 = d12 = d22 = dy1 = dy2 = dx1 = dx2 = 0.0
        for axis in range(3):
            u = float(rest[b, axis]) - float(rest[a, axis])
            v = float(rest[c, axis]) - float(rest[a, axis])
            d11, d12, d22 = d11 + u * u, d12 + u * v, d22 + v * v
            if axis == 1:
                dy1, dy2 = u, v
            if axis == 0:
                dx1, dx2 = u, v
        area = d11 * d22 - d12 * d12
        one, two = 1.0, 0.0
        if area > 0:
            one, two = (d22 * dy1 - d12 * dy2) / area, (d11 * dy2 - d12 * dy1) / area
            # How much of the axis lies along the face: where little does, the other axis serves.
            if one * dy1 + two * dy2 < 0.04:
                one, two = (d22 * dx1 - d12 * dx2) / area, (d11 * dx2 - d12 * dx1) / area
        for axis in range(3):
            u = float(points[b, axis]) - float(points[a, axis])
            v = float(points[c, axis]) - float(points[a, axis])
            along[k, axis] = one * u + two * v
