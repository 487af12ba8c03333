"""Moving things whole: turns as quaternions (x, y, z, w), and the points of pieces taken along."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Reals = NDArray[np.float64]
Floats = NDArray[np.float32]

Quaternion = tuple[float, float, float, float]

NO_TURN = np.array([0.0, 0.0, 0.0, 1.0])


def displaced(
    place: Reals,
    turn: Floats,
    size: Floats,
    axes: Reals,
    move: Reals,
    angles: Reals,
    factor: Reals,
    weight: Reals,
    about: Reals | None,
) -> tuple[Reals, Floats, Floats]:
    """(k, 3) places, (k, 4) turns and (k, 3) sizes after each body is moved, turned and sized as far as its weight says.

    place: (k, 3) metres. axes: (k, 4) quaternions of the axes along which and about which that happens. At a weight of 1,
    move: metres; angles: degrees about X, then Y, then Z; factor: along the body's own axes; (k, 3) or (3,) for all.
    weight: (k,). about: (3,) a place that bodies go round and away from, each on its own middle where it is None.
    """
    move, angles, factor = (np.broadcast_to(one, place.shape) for one in (move, angles, factor))
    places, turns, sizes = np.empty_like(place), np.empty_like(turn), np.empty_like(size)
    centre = np.zeros(3) if about is None else np.asarray(about, dtype=np.float64)
    _displace(place, turn, size, axes, move, angles, factor, weight, centre, about is not None, places, turns, sizes)
    return places, turns, sizes


@compiled
def _times(a: Quaternion, b: Quaternion):  # pragma: no cover - compiled
    """Hamilton's product of two quaternions."""
    return (
        a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1],
        a[3] * b[1] - a[0] * b[2] + a[1] * b[3] + a[2] * b[0],
        a[3] * b[2] + a[0] * b[1] - a[1] * b[0] + a[2] * b[3],
        a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2],
    )


@compiled
def _turned(q: Quaternion, x: float, y: float, z: float):  # pragma: no cover - compiled
    """A vector turned by a quaternion of length 1."""
    tx, ty, tz = 2 * (q[1] * z - q[2] * y), 2 * (q[2] * x - q[0] * z), 2 * (q[0] * y - q[1] * x)
    return (
        x + q[3] * tx + q[1] * tz - q[2] * ty,
        y + q[3] * ty + q[2] * tx - q[0] * tz,
        z + q[3] * tz + q[0] * ty - q[1] * tx,
    )


@compiled
def _about(x: float, y: float, z: float):  # pragma: no cover - compiled
    """The quaternion of turns about X, then Y, then Z."""
    ax, bx = np.sin(x / 2), np.cos(x / 2)
    ay, by = np.sin(y / 2), np.cos(y / 2)
    az, bz = np.sin(z / 2), np.cos(z / 2)
    return _times((0.0, 0.0, az, bz), _times((0.0, ay, 0.0, by), (ax, 0.0, 0.0, bx)))


@compiled
def _displace(
    place: NDArray[np.float64],
    turn: NDArray[np.float32],
    size: NDArray[np.float32],
    axes: NDArray[np.float64],
    move: NDArray[np.float64],
    angles: NDArray[np.float64],
    factor: NDArray[np.float64],
    weight: NDArray[np.float64],
    centre: NDArray[np.float64],
    around: bool,
    places: NDArray[np.float64],
    turns: NDArray[np.float32],
    sizes: NDArray[np.float32],
):  # pragma: no cover
    for k in range(len(place)):
        w, degree = weight[k], weight[k] * np.pi / 180
        sx, sy, sz = (
            max(1 + (factor[k, 0] - 1) * w, 0.0),
            max(1 + (factor[k, 1] - 1) * w, 0.0),
            max(1 + (factor[k, 2] - 1) * w, 0.0),
        )
        q = (axes[k, 0], axes[k, 1], axes[k, 2], axes[k, 3])
        back = (-q[0], -q[1], -q[2], q[3])
        spin = _times(_times(q, _about(angles[k, 0] * degree, angles[k, 1] * degree, angles[k, 2] * degree)), back)
        x, y, z = place[k, 0], place[k, 1], place[k, 2]
        if around:
            out = _turned(back, x - centre[0], y - centre[1], z - centre[2])
            out = _turned(spin, *_turned(q, out[0] * sx, out[1] * sy, out[2] * sz))
            x, y, z = centre[0] + out[0], centre[1] + out[1], centre[2] + out[2]
        went = _turned(q, move[k, 0] * w, move[k, 1] * w, move[k, 2] * w)
        places[k, 0], places[k, 1], places[k, 2] = x + went[0], y + went[1], z + went[2]
        own = (float(turn[k, 0]), float(turn[k, 1]), float(turn[k, 2]), float(turn[k, 3]))
        made = _times(spin, own)
        length = np.sqrt(made[0] ** 2 + made[1] ** 2 + made[2] ** 2 + made[3] ** 2)
        for axis in range(4):
            turns[k, axis] = made[axis] / length
        sizes[k, 0], sizes[k, 1], sizes[k, 2] = size[k, 0] * sx, size[k, 1] * sy, size[k, 2] * sz


def linear_parts(turn: Floats, size: Reals | Floats) -> Reals:
    """(k, 3, 3) matrices that size along own axes and then turn."""
    made = np.empty((len(turn), 3, 3))
    _linear(turn, size, made)
    return made


@compiled
def _linear(
    turn: NDArray[np.float32], size: NDArray[np.floating], made: NDArray[np.float64]
):  # pragma: no cover - compiled
    for k in range(len(turn)):
        q = (float(turn[k, 0]), float(turn[k, 1]), float(turn[k, 2]), float(turn[k, 3]))
        for column in range(3):
            x, y, z = _turned(q, 1.0 if column == 0 else 0.0, 1.0 if column == 1 else 0.0, 1.0 if column == 2 else 0.0)
            made[k, 0, column] = x * size[k, column]
            made[k, 1, column] = y * size[k, column]
            made[k, 2, column] = z * size[k, column]


def facing_turns(normals: Reals, along: Reals | None = None) -> Reals:
    """(k, 4) quaternions that take +Y to (k, 3) normals of length 1, and +X as near as that allows to `along` (k, 3).

    Without `along`, by the shortest turn (about the axis Y x normal).
    """
    made = np.empty((len(normals), 4))
    if along is None:
        _shortest(normals, made)
    else:
        _framed(normals, along, made)
    return made


@compiled
def _shortest(normals: NDArray[np.float64], made: NDArray[np.float64]):  # pragma: no cover - compiled
    for k in range(len(normals)):
        x, y, z = normals[k, 0], normals[k, 1], normals[k, 2]
        if y < -0.999999:
            made[k, 0], made[k, 1], made[k, 2], made[k, 3] = 1.0, 0.0, 0.0, 0.0
            continue
        # The half-way turn: (Y x n, 1 + Y . n), brought to length 1.
        length = np.sqrt(z * z + x * x + (1 + y) * (1 + y))
        made[k, 0], made[k, 1], made[k, 2], made[k, 3] = z / length, 0.0, -x / length, (1 + y) / length


@compiled
def _framed(
    normals: NDArray[np.float64], along: NDArray[np.float64], made: NDArray[np.float64]
):  # pragma: no cover - compiled
    """Shepperd, "Quaternion from rotation matrix", 1978: by the largest of the four squares."""
    for k in range(len(normals)):
        bx, by, bz = normals[k, 0], normals[k, 1], normals[k, 2]
        length = max(np.sqrt(bx * bx + by * by + bz * bz), 1e-300)
        bx, by, bz = bx / length, by / length, bz / length
        ax, ay, az = along[k, 0], along[k, 1], along[k, 2]
        share = ax * bx + ay * by + az * bz
        ax, ay, az = ax - share * bx, ay - share * by, az - share * bz
        length = np.sqrt(ax * ax + ay * ay + az * az)
        if length < 1e-9:
            if abs(bz) < 0.9:
                ax, ay, az = by, -bx, 0.0
            else:
                ax, ay, az = 0.0, bz, -by
            length = np.sqrt(ax * ax + ay * ay + az * az)
        ax, ay, az = ax / length, ay / length, az / length
        cx, cy, cz = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
        trace = ax + by + cz
        if trace > 0:
            s = 2 * np.sqrt(1 + trace)
            x, y, z, w = (bz - cy) / s, (cx - az) / s, (ay - bx) / s, s / 4
        elif ax >= by and ax >= cz:
            s = 2 * np.sqrt(1 + ax - by - cz)
            x, y, z, w = s / 4, (bx + ay) / s, (cx + az) / s, (bz - cy) / s
        elif by >= cz:
            s = 2 * np.sqrt(1 + by - ax - cz)
            x, y, z, w = (bx + ay) / s, s / 4, (cy + bz) / s, (cx - az) / s
        else:
            s = 2 * np.sqrt(1 + cz - ax - by)
            x, y, z, w = (cx + az) / s, (cy + bz) / s, s / 4, (ay - bx) / s
        made[k, 0], made[k, 1], made[k, 2], made[k, 3] = x, y, z, w


def leaning_turns(upright: Reals, lean: Reals, way: Reals, angle: Reals) -> Floats:
    """(k, 4) turns of things that stand by `upright`, (k, 4), lean by `lean` towards `way` and are turned about their own
    Y by `angle`; (k,) radians each."""
    made = np.empty((len(lean), 4), dtype=np.float32)
    _lean(np.ascontiguousarray(upright, dtype=np.float64), lean, way, np.broadcast_to(angle, lean.shape), made)
    return made


@compiled
def _lean(
    upright: NDArray[np.float64],
    lean: NDArray[np.float64],
    way: NDArray[np.float64],
    angle: NDArray[np.float64],
    made: NDArray[np.float32],
):  # pragma: no cover - compiled
    for k in range(len(lean)):
        over = np.sin(lean[k] / 2)
        leaning = (over * np.cos(way[k]), 0.0, over * np.sin(way[k]), np.cos(lean[k] / 2))
        spun = (0.0, np.sin(angle[k] / 2), 0.0, np.cos(angle[k] / 2))
        own = (upright[k, 0], upright[k, 1], upright[k, 2], upright[k, 3])
        turned = _times(_times(own, leaning), spun)
        for axis in range(4):
            made[k, axis] = turned[axis]


def product(first: Reals, second: Reals) -> Reals:
    """(k, 4) quaternions that turn as `second` does and then as `first` does; either may be one for all."""
    made = np.empty(np.broadcast_shapes(first.shape, second.shape))
    _multiply(np.broadcast_to(first, made.shape), np.broadcast_to(second, made.shape), made)
    return made


@compiled
def _multiply(
    first: NDArray[np.float64], second: NDArray[np.float64], made: NDArray[np.float64]
):  # pragma: no cover - compiled
    for k in range(len(made)):
        a = (first[k, 0], first[k, 1], first[k, 2], first[k, 3])
        b = (second[k, 0], second[k, 1], second[k, 2], second[k, 3])
        made[k, 0], made[k, 1], made[k, 2], made[k, 3] = _times(a, b)


def carried_points(
    points: Floats,
    normals: Floats,
    piece: NDArray[np.int32],
    before: Reals,
    after: Reals,
    linear: Reals,
    moves: NDArray[np.bool_],
) -> tuple[Floats, Floats]:
    """(n, 3) points and normals, each taken along by its piece: x -> after + linear (x - before), per piece.

    before, after: (k, 3) middles; linear: (k, 3, 3). moves: (k,) those that do not stay as they are to the last digit, so
    that no crack opens between them. Normals go by the cofactors of `linear`, which also holds where a
    piece has shrunk to nothing.
    """
    made, facing = np.empty_like(points), np.empty_like(normals)
    _carry(points, normals, piece, before, after, linear, moves, made, facing)
    return made, facing


@compiled
def _carry(
    points: NDArray[np.float32],
    normals: NDArray[np.float32],
    piece: NDArray[np.int32],
    before: NDArray[np.float64],
    after: NDArray[np.float64],
    linear: NDArray[np.float64],
    moves: NDArray[np.bool_],
    made: NDArray[np.float32],
    facing: NDArray[np.float32],
):  # pragma: no cover - compiled
    for n in range(len(points)):
        k = piece[n]
        if not moves[k]:
            made[n], facing[n] = points[n], normals[n]
            continue
        a = linear[k]
        x, y, z = points[n, 0] - before[k, 0], points[n, 1] - before[k, 1], points[n, 2] - before[k, 2]
        for row in range(3):
            made[n, row] = after[k, row] + a[row, 0] * x + a[row, 1] * y + a[row, 2] * z
        u, v, w = normals[n, 0], normals[n, 1], normals[n, 2]
        fx = (a[1, 1] * a[2, 2] - a[1, 2] * a[2, 1]) * u + (a[1, 2] * a[2, 0] - a[1, 0] * a[2, 2]) * v
        fx += (a[1, 0] * a[2, 1] - a[1, 1] * a[2, 0]) * w
        fy = (a[0, 2] * a[2, 1] - a[0, 1] * a[2, 2]) * u + (a[0, 0] * a[2, 2] - a[0, 2] * a[2, 0]) * v
        fy += (a[0, 1] * a[2, 0] - a[0, 0] * a[2, 1]) * w
        fz = (a[0, 1] * a[1, 2] - a[0, 2] * a[1, 1]) * u + (a[0, 2] * a[1, 0] - a[0, 0] * a[1, 2]) * v
        fz += (a[0, 0] * a[1, 1] - a[0, 1] * a[1, 0]) * w
        length = np.sqrt(fx * fx + fy * fy + fz * fz)
        if length > 1e-30:
            facing[n, 0], facing[n, 1], facing[n, 2] = fx / length, fy / length, fz / length
        else:
            facing[n] = normals[n]
