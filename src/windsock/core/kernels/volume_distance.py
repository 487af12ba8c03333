"""Which face of a surface is nearest to each node of a grid, and how far that is.

Distances to faces are exact within a voxel of the surface (the nearest point of a triangle after C. Ericson, "Real-time collision
detection", 2005); from there those faces are tried that are nearest where the surface is near.
"""

from __future__ import annotations

from collections.abc import Callable

import igl
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import distance_transform_edt

from windsock.core.kernels.compiled import compiled, loop, parallel

Reals = NDArray[np.float64]
Floats = NDArray[np.float32]
Integers = NDArray[np.int32]
Bytes = NDArray[np.uint8]

AT_A_TIME = 500_000
"""Nodes of which a winding number is asked at once."""

BAND = 1.05
"""Voxels about the surface within which every face that is near is tried."""

SLABS = 64
"""Parts of the grid that are filled each by itself, so that no two write to one node."""

OUT, IN, UNKNOWN = 0, 1, 2
"""On which side of the surface a node lies."""


def near_faces(points: Reals, faces: Integers, shape: tuple[int, int, int]) -> tuple[Floats, Integers]:
    """The squared distance to the nearest face, and that face, at the nodes of a grid within a voxel of a surface; infinite and -1
    elsewhere.

    points: (n, 3) in voxels from the first node; faces: (m, 3). Both made are of the shape of the grid, distances in voxels.
    """
    squared, face = np.full(shape, np.inf, dtype=np.float32), np.full(shape, -1, dtype=np.int32)
    corners = points[faces]
    lows, highs = corners[:, :, 0].min(axis=1), corners[:, :, 0].max(axis=1)
    order = np.argsort(lows, kind="stable")
    longest = float((highs - lows).max(initial=0))
    starts = np.linspace(0, shape[0], SLABS + 1).astype(np.int64)
    _near(np.ascontiguousarray(points), faces, order, np.ascontiguousarray(lows[order]), longest, starts, squared, face)
    return squared, face


def filled_sides(side: Bytes, face: Integers) -> None:
    """Decides in place for each node of which it is UNKNOWN on which side it lies: that of its neighbours. face: -1 where the surface is
    not within a voxel; those nodes are parted from others of the other side by nodes that know their side."""
    while _fill(side, face):
        pass


def deep_faces(points: Reals, faces: Integers, wanted: Bytes, squared: Floats, face: Integers) -> None:
    """Finds, in place, the nearest face and its distance for the nodes of a grid that are wanted and do not know them.

    Those faces are tried that are nearest to the nodes about the nearest one that knows its own, and then those that were found for the
    nodes beside it, so that a distance may be too long by a few hundredths of a voxel. Method for the nearest node: C. Maurer, R. Qi, V. Raghavan, "A linear time algorithm for computing exact
    Euclidean distance transforms" (2003), by scipy.
    """
    near = distance_transform_edt(face < 0, return_distances=False, return_indices=True)
    _deep(points, faces, wanted, np.asarray(near, dtype=np.int32), face.copy(), squared, face)
    _better(points, faces, wanted, face.copy(), squared, face)


def winding_on(shape: tuple[int, int, int], points: Reals, faces: Integers, tell: Callable[[float], None]) -> Floats:
    """(x, y, z) how far the nodes of a grid are inside of a surface, by the winding number; points in voxels from the first node. tell: told what
    share is done, again and again; may raise."""
    made = np.empty(int(np.prod(shape)), dtype=np.float32)
    corners, at = np.ascontiguousarray(faces, dtype=np.int64), np.ascontiguousarray(points)
    for start in range(0, len(made), AT_A_TIME):
        tell(start / len(made))
        some = np.arange(start, min(start + AT_A_TIME, len(made)))
        nodes = np.stack(np.unravel_index(some, shape), axis=1).astype(np.float64)
        made[some] = np.asarray(igl.fast_winding_number(at, corners, nodes)).ravel()
    return made.reshape(shape)


def across_openings(winding: Floats) -> Floats:
    """(x, y, z) about how many voxels each node is from where the winding number is 1/2."""
    square = np.zeros(winding.shape, dtype=np.float32)
    for rise in np.gradient(winding):
        square += rise * rise
    return (np.abs(winding - 0.5) / np.sqrt(np.maximum(square, 1e-12))).astype(np.float32)


def on_faces(
    places: Reals, points: Reals, faces: NDArray[np.integer], face: Integers
) -> tuple[Integers, Reals, NDArray[np.bool_]]:
    """Of the faces that are nearest to the nodes about each of (n, 3) places the nearest one: (n,) which, and (n, 3) the shares of its
    corners in the point of it that is nearest; and (n,) whether there is one.

    places, points: in voxels from the first node; face: the nearest face at the nodes of a grid, -1 where it is not known.
    """
    found, shares = np.zeros(len(places), dtype=np.int32), np.zeros((len(places), 3))
    there = np.zeros(len(places), dtype=np.bool_)
    _on_faces(places, points, np.ascontiguousarray(faces, dtype=np.int64), face, found, shares, there)
    return found, shares, there


@compiled
def _shares(
    px: float, py: float, pz: float, points: Reals, i: int, j: int, k: int
) -> tuple[float, float, float, float]:  # pragma: no cover - compiled
    """The squared distance from a place to a triangle, and the shares of its corners in the nearest point."""
    abx, aby, abz = points[j, 0] - points[i, 0], points[j, 1] - points[i, 1], points[j, 2] - points[i, 2]
    acx, acy, acz = points[k, 0] - points[i, 0], points[k, 1] - points[i, 1], points[k, 2] - points[i, 2]
    apx, apy, apz = px - points[i, 0], py - points[i, 1], pz - points[i, 2]
    d1, d2 = abx * apx + aby * apy + abz * apz, acx * apx + acy * apy + acz * apz
    ab, ac, mixed = (
        abx * abx + aby * aby + abz * abz,
        acx * acx + acy * acy + acz * acz,
        abx * acx + aby * acy + abz * acz,
    )
    d3, d4, d5, d6 = d1 - ab, d2 - mixed, d1 - mixed, d2 - ac
    vc, vb, va = d1 * d4 - d3 * d2, d5 * d2 - d1 * d6, d3 * d6 - d5 * d4
    v, w = 0.0, 0.0
    if d1 <= 0 and d2 <= 0:
        v, w = 0.0, 0.0
    elif d3 >= 0 and d4 <= d3:
        v, w = 1.0, 0.0
    elif vc <= 0 and d1 >= 0 and d3 <= 0:
        v, w = (d1 / (d1 - d3) if d1 > d3 else 0.0), 0.0
    elif d6 >= 0 and d5 <= d6:
        v, w = 0.0, 1.0
    elif vb <= 0 and d2 >= 0 and d6 <= 0:
        v, w = 0.0, (d2 / (d2 - d6) if d2 > d6 else 0.0)
    elif va <= 0 and d4 - d3 >= 0 and d5 - d6 >= 0:
        along = (d4 - d3) + (d5 - d6)
        w = (d4 - d3) / along if along > 0 else 0.0
        v = 1 - w
    else:
        whole = va + vb + vc
        v, w = (vb / whole, vc / whole) if whole > 0 else (0.0, 0.0)
    x, y, z = apx - v * abx - w * acx, apy - v * aby - w * acy, apz - v * abz - w * acz
    return x * x + y * y + z * z, 1 - v - w, v, w


@parallel
def _near(
    points: Reals,
    faces: Integers,
    order: NDArray[np.int64],
    lows: Reals,
    longest: float,
    starts: NDArray[np.int64],
    squared: Floats,
    face: Integers,
):  # pragma: no cover - compiled
    for slab in loop(len(starts) - 1):
        begin, end = starts[slab], starts[slab + 1]
        if begin == end:
            continue
        at = np.searchsorted(lows, begin - BAND - longest)
        to = np.searchsorted(lows, end - 1 + BAND, side="right")
        for place in range(at, to):
            one = order[place]
            a, b, c = faces[one, 0], faces[one, 1], faces[one, 2]
            ux, uy, uz = points[b, 0] - points[a, 0], points[b, 1] - points[a, 1], points[b, 2] - points[a, 2]
            vx, vy, vz = points[c, 0] - points[a, 0], points[c, 1] - points[a, 1], points[c, 2] - points[a, 2]
            nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
            size = np.sqrt(nx * nx + ny * ny + nz * nz)
            x0 = max(begin, int(np.ceil(min(points[a, 0], points[b, 0], points[c, 0]) - BAND)))
            x1 = min(end - 1, int(np.floor(max(points[a, 0], points[b, 0], points[c, 0]) + BAND)))
            y0 = max(0, int(np.ceil(min(points[a, 1], points[b, 1], points[c, 1]) - BAND)))
            y1 = min(squared.shape[1] - 1, int(np.floor(max(points[a, 1], points[b, 1], points[c, 1]) + BAND)))
            z0 = max(0, int(np.ceil(min(points[a, 2], points[b, 2], points[c, 2]) - BAND)))
            z1 = min(squared.shape[2] - 1, int(np.floor(max(points[a, 2], points[b, 2], points[c, 2]) + BAND)))
            for x in range(x0, x1 + 1):
                for y in range(y0, y1 + 1):
                    for z in range(z0, z1 + 1):
                        off = nx * (x - points[a, 0]) + ny * (y - points[a, 1]) + nz * (z - points[a, 2])
                        if abs(off) > BAND * size:
                            continue
                        found = _shares(float(x), float(y), float(z), points, a, b, c)[0]
                        if found <= BAND * BAND and found < squared[x, y, z]:
                            squared[x, y, z] = found
                            face[x, y, z] = one


@compiled
def _fill(side: Bytes, face: Integers) -> bool:  # pragma: no cover - compiled
    nx, ny, nz = side.shape
    changed, left = False, False
    for way in range(2):
        for turn in range(nx * ny * nz):
            node = turn if way == 0 else nx * ny * nz - 1 - turn
            x, y, z = node // (ny * nz), node // nz % ny, node % nz
            if side[x, y, z] != UNKNOWN:
                continue
            found = UNKNOWN
            if x > 0 and side[x - 1, y, z] != UNKNOWN:
                found = side[x - 1, y, z]
            elif x + 1 < nx and side[x + 1, y, z] != UNKNOWN:
                found = side[x + 1, y, z]
            elif y > 0 and side[x, y - 1, z] != UNKNOWN:
                found = side[x, y - 1, z]
            elif y + 1 < ny and side[x, y + 1, z] != UNKNOWN:
                found = side[x, y + 1, z]
            elif z > 0 and side[x, y, z - 1] != UNKNOWN:
                found = side[x, y, z - 1]
            elif z + 1 < nz and side[x, y, z + 1] != UNKNOWN:
                found = side[x, y, z + 1]
            if found != UNKNOWN:
                side[x, y, z] = found
                changed = True
            else:
                left = True
    return changed and left


@parallel
def _deep(
    points: Reals, faces: Integers, wanted: Bytes, near: Integers, known: Integers, squared: Floats, face: Integers
):  # pragma: no cover - compiled
    nx, ny, nz = face.shape
    for x in loop(nx):
        tried = np.empty(27, dtype=np.int32)
        for y in range(ny):
            for z in range(nz):
                if not wanted[x, y, z] or known[x, y, z] >= 0:
                    continue
                bx, by, bz = near[0, x, y, z], near[1, x, y, z], near[2, x, y, z]
                count = 0
                best, which = np.inf, -1
                for i in range(max(bx - 1, 0), min(bx + 2, nx)):
                    for j in range(max(by - 1, 0), min(by + 2, ny)):
                        for k in range(max(bz - 1, 0), min(bz + 2, nz)):
                            one = known[i, j, k]
                            if one < 0:
                                continue
                            again = False
                            for other in range(count):
                                again = again or tried[other] == one
                            if again:
                                continue
                            tried[count] = one
                            count += 1
                            a, b, c = faces[one, 0], faces[one, 1], faces[one, 2]
                            found = _shares(float(x), float(y), float(z), points, a, b, c)[0]
                            if found < best:
                                best, which = found, one
                squared[x, y, z] = best
                face[x, y, z] = which


@parallel
def _better(
    points: Reals, faces: Integers, wanted: Bytes, known: Integers, squared: Floats, face: Integers
):  # pragma: no cover - compiled
    nx, ny, nz = face.shape
    for x in loop(nx):
        for y in range(ny):
            for z in range(nz):
                if not wanted[x, y, z]:
                    continue
                for i in range(max(x - 1, 0), min(x + 2, nx)):
                    for j in range(max(y - 1, 0), min(y + 2, ny)):
                        for k in range(max(z - 1, 0), min(z + 2, nz)):
                            one = known[i, j, k]
                            if one < 0 or one == face[x, y, z] or one == known[x, y, z]:
                                continue
                            a, b, c = faces[one, 0], faces[one, 1], faces[one, 2]
                            found = np.float32(_shares(float(x), float(y), float(z), points, a, b, c)[0])
                            if found < squared[x, y, z]:
                                squared[x, y, z] = found
                                face[x, y, z] = one


@parallel
def _on_faces(
    places: Reals,
    points: Reals,
    faces: NDArray[np.int64],
    face: Integers,
    found: Integers,
    shares: Reals,
    there: NDArray[np.bool_],
):  # pragma: no cover - compiled
    for row in loop(len(places)):
        x, y, z = places[row, 0], places[row, 1], places[row, 2]
        i, j, k = int(np.floor(x)), int(np.floor(y)), int(np.floor(z))
        best = np.inf
        for corner in range(8):
            a, b, c = i + (corner & 1), j + (corner >> 1 & 1), k + (corner >> 2)
            if a < 0 or b < 0 or c < 0 or a >= face.shape[0] or b >= face.shape[1] or c >= face.shape[2]:
                continue
            which = face[a, b, c]
            if which < 0 or (best < np.inf and which == found[row]):
                continue
            away, u, v, w = _shares(x, y, z, points, faces[which, 0], faces[which, 1], faces[which, 2])
            if away < best:
                best = away
                found[row] = which
                there[row] = True
                shares[row, 0], shares[row, 1], shares[row, 2] = u, v, w
