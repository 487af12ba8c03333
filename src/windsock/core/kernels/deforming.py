"""The global deformations of solids of A. H. Barr (1984), and points pushed.

Everything is measured in a frame of metres: s along an axis, t and r across it, in which a region from `start` to `end` is
deformed and what lies beyond is carried along stiffly. Normals are taken through the cofactors of each deformation's own
derivative, so that they stay those of the deformed surface (Barr 1984, section 3).
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled, inlined, loop, parallel

Reals = NDArray[np.float64]
Floats = NDArray[np.float32]

Way = Literal["bend", "twist", "taper"]
WAYS: dict[Way, int] = {"bend": 0, "twist": 1, "taper": 2}


def deformed(
    way: Way,
    points: Floats,
    normals: Floats,
    to_frame: Reals,
    start: float,
    end: float,
    most: float,
    weight: Reals,
) -> tuple[Floats, Floats]:
    """(n, 3) points and normals of length 1 of a surface after it was bent, twisted or tapered.

    to_frame: (4, 4) from the points' own space to the frame. most: at weight 1, the radians that the far end is turned by, or
    the factor by which it is larger across. weight: (n,) how much of that counts at each point. The normals are right
    where the weight is the same all over; a point that nothing is done to keeps its bits.
    """
    to_own = np.ascontiguousarray(np.linalg.inv(to_frame), dtype=np.float64)
    linear = np.ascontiguousarray(np.linalg.inv(to_frame[:3, :3]).T, dtype=np.float64)
    back = np.ascontiguousarray(to_frame[:3, :3].T)
    places, facing = np.empty_like(points), np.empty_like(normals)
    still = min(max(0.0, start), end)
    _deform(
        WAYS[way], points, normals, to_frame, to_own, linear, back, start, end, still, most, weight,
        places, facing,
    )  # fmt: skip
    return places, facing


@inlined
def _through(matrix: Reals, x: float, y: float, z: float, one: float):  # pragma: no cover - compiled
    """A place (one 1) or a direction (one 0) taken through a matrix."""
    shift_x, shift_y, shift_z = 0.0, 0.0, 0.0
    if one != 0:
        shift_x, shift_y, shift_z = matrix[0, 3], matrix[1, 3], matrix[2, 3]
    return (
        matrix[0, 0] * x + matrix[0, 1] * y + matrix[0, 2] * z + shift_x,
        matrix[1, 0] * x + matrix[1, 1] * y + matrix[1, 2] * z + shift_y,
        matrix[2, 0] * x + matrix[2, 1] * y + matrix[2, 2] * z + shift_z,
    )


@parallel
def _deform(
    way: int,
    points: Floats,
    normals: Floats,
    to_frame: Reals,
    to_own: Reals,
    linear: Reals,
    back: Reals,
    start: float,
    end: float,
    still: float,
    most: float,
    weight: Reals,
    places: Floats,
    facing: Floats,
):  # pragma: no cover - compiled
    span = end - start
    for point in loop(len(points)):
        whole = (1 + (most - 1) * weight[point]) if way == 2 else most * weight[point]
        if weight[point] == 0 or whole == (1.0 if way == 2 else 0.0):
            for axis in range(3):
                places[point, axis] = points[point, axis]
                facing[point, axis] = normals[point, axis]
            continue
        t, s, r = _through(to_frame, points[point, 0], points[point, 1], points[point, 2], 1.0)
        nt, ns, nr = _through(linear, normals[point, 0], normals[point, 1], normals[point, 2], 0.0)
        held = min(max(s, start), end)
        inside = span > 0 and start < s < end
        if way == 2:
            share = (held - start) / span if span > 0 else (1.0 if s > start else 0.0)
            factor, slope = 1 + (whole - 1) * share, (whole - 1) / span if inside else 0.0
            ns = factor * ns - slope * (t * nt + r * nr)
            t, r = factor * t, factor * r
        else:
            along = held - still
            if span > 0:
                rate = whole / span
                angle = rate * along
            else:
                rate, angle = 0.0, whole if s > start else 0.0
            rate = rate if inside else 0.0
            sine, cosine = np.sin(angle), np.cos(angle)
            if way == 0:
                arc, rise = along, 0.0
                if angle != 0 and span > 0:
                    half = np.sin(angle / 2)
                    arc, rise = along * sine / angle, along * 2 * half * half / angle
                shrink = 1 - rate * t
                nt, nr = shrink * nt, shrink * nr
                ns, nt = cosine * ns - sine * nt, sine * ns + cosine * nt
                beyond = s - held
                s, t = still + arc - sine * t + cosine * beyond, cosine * t + rise + sine * beyond
            else:
                ns = ns + rate * (r * nt - t * nr)
                nt, nr = cosine * nt - sine * nr, sine * nt + cosine * nr
                t, r = cosine * t - sine * r, sine * t + cosine * r
        x, y, z = _through(to_own, t, s, r, 1.0)
        places[point, 0], places[point, 1], places[point, 2] = x, y, z
        x, y, z = _through(back, nt, ns, nr, 0.0)
        length = np.sqrt(x * x + y * y + z * z)
        if length > 1e-12:
            facing[point, 0], facing[point, 1], facing[point, 2] = x / length, y / length, z / length
        else:
            for axis in range(3):
                facing[point, axis] = normals[point, axis]


def shifted(points: Floats, matrix: Reals, shift: Reals) -> Floats:
    """(n, 3) points moved by (n, 3) metres along the axes of the world; those that are not keep their bits."""
    made = np.empty_like(points)
    _shift(
        points, np.ascontiguousarray(np.linalg.inv(matrix[:3, :3]), dtype=np.float64), np.ascontiguousarray(shift), made
    )
    return made


@compiled
def _shift(points: Floats, inverse: Reals, shift: Reals, made: Floats):  # pragma: no cover - compiled
    for point in range(len(points)):
        x, y, z = _through(inverse, shift[point, 0], shift[point, 1], shift[point, 2], 0.0)
        made[point, 0] = points[point, 0] + x
        made[point, 1] = points[point, 1] + y
        made[point, 2] = points[point, 2] + z
