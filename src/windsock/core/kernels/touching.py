"""What touches the points of a surface: how deep rays go into another one, and when it was how deep at each point."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled
from windsock.core.kernels.surface_distance import Surface

Reals = NDArray[np.float64]
Floats = NDArray[np.float32]
Integers = NDArray[np.int32]
Numbers = NDArray[np.int64]
Log = tuple[Integers, Integers, Integers, Floats]
"""Touches, a row each: which point, its first and its last tick, and how deep."""

NEXT = 1e-7
"""Share of the size of a surface by which a ray goes on beyond what it has hit."""

BESIDE = 1e-6
"""Share of that by which rays go beside the points that are asked after."""

ASKEW = np.array([0.5672, 0.3109, 0.7626])


def points_in_box(points: Reals, matrix: Reals, low: Reals, high: Reals, inverse: Reals) -> Numbers:
    """(k,) which of (n, 3) points lie in a box, in their order. low, high: (3,) its corners in a space that a (4, 4) matrix leads to from
    that of the points; inverse: of the matrix."""
    found = np.empty(len(points), dtype=np.int64)
    middle, half = (low + high) / 2, (high - low) / 2
    own = inverse[:3, :3] @ middle + inverse[:3, 3]
    reach = np.abs(inverse[:3, :3]) @ half
    return found[: _in_box(points, own - reach, own + reach, matrix, low, high, found)]


def rays_into(
    points: Reals, normals: Reals, to_world: Reals, to_surface: Reals, box: tuple[Reals, Reals], margin: float
) -> tuple[Numbers, Reals, Reals, Reals]:
    """Rays against the normals of a surface into another one, at several looks, from where its points are in the box of that one or a
    margin from it: (k,) the points, a point as often as it is there; (k, 3) origins, a margin above the points, and (k, 3) ways of
    length 1, both in the space of the other surface; and (k,) how long a metre of the world is there.

    points, normals: (n, 3) in a space of their own, from which (m, 4, 4) `to_world` leads at each look; to_surface: (m, 4, 4) from the
    world to the other's; box: (3,) its lowest and its highest corner. margin: metres of the world.
    """
    to_own = np.asarray(np.linalg.inv(to_world), dtype=np.float64)
    to, back = to_surface @ to_world, to_own @ np.linalg.inv(to_surface)
    pad = margin * np.linalg.norm(to_surface[:, :3, :3], ord=2, axis=(1, 2)) + 1e-9
    low, high = box[0] - pad[:, None], box[1] + pad[:, None]
    own = np.einsum("mij,mj->mi", back[:, :3, :3], (low + high) / 2) + back[:, :3, 3]
    reach = np.einsum("mij,mj->mi", np.abs(back[:, :3, :3]), (high - low) / 2)
    about = own - reach, own + reach
    count = _pairs(points, *about, to, low, high, np.empty(0, dtype=np.int64), np.empty(0, dtype=np.int64))
    which, look = np.empty(count, dtype=np.int64), np.empty(count, dtype=np.int64)
    if count:
        _pairs(points, *about, to, low, high, which, look)
    origins, ways, long = np.empty((count, 3)), np.empty((count, 3)), np.empty(count)
    _rays(points, normals, which, look, to_world, to_own, to_surface, margin, origins, ways, long)
    return which, origins, ways, long


def depths_along(origins: Reals, ways: Reals, surface: Surface, margin: Reals) -> Reals:
    """(n,) how far rays go from their origins until they leave a surface for good; 0 where it is not there.

    origins, ways: (n, 3), ways of length 1; margin: (n,) a ray that begins outside counts only if it comes in that soon. A ray that
    comes in and never leaves, as through a sheet or by a hole, has what it came to.
    """
    out = np.zeros(len(origins))
    if len(surface.faces) == 0 or len(origins) == 0:
        return out
    low, high = surface.box
    on = NEXT * max(float((high - low).max()), 1e-9)
    # A ray just through an edge would find neither of its faces.
    origins = origins + BESIDE * max(float((high - low).max()), 1e-9) * ASKEW
    along, leaves, hit = _first_hits(origins, ways, surface)
    out[hit & leaves] = along[hit & leaves]
    enters = np.flatnonzero(hit & ~leaves & (along <= margin + on))
    if len(enters):
        out[enters] = np.maximum(along[enters], on)
        start = origins[enters] + ways[enters] * (along[enters] + on)[:, None]
        further, leaves, hit = _first_hits(start, ways[enters], surface)
        through = hit & leaves
        out[enters[through]] = (along[enters] + on + further)[through]
    return out


def _first_hits(origins: Reals, ways: Reals, surface: Surface) -> tuple[Reals, NDArray[np.bool_], NDArray[np.bool_]]:
    """(n,) how far the first face is along each ray, whether the ray leaves the surface there, and whether there is one."""
    face, along = surface.first_hits(origins, ways)
    hit = face >= 0
    leaves = np.empty(len(face), dtype=np.bool_)
    _leaving(surface.points, surface.faces, face, ways, leaves)
    return along, leaves, hit


def label_boxes(points: Reals, label: Integers, count: int) -> tuple[Reals, Reals]:
    """(count, 3) the lowest and the highest corners of those of (n, 3) points that have each of the labels from 0 on."""
    low, high = np.full((count, 3), np.inf), np.full((count, 3), -np.inf)
    _boxes(points, label, low, high)
    return low, high


def kept_deeper(depth: Reals, which: Numbers, found: Reals) -> None:
    """Have (n,) depths be no less than (k,) others at some of the points."""
    _deeper(depth, which, found)


def recorded(touched: Numbers, depth: Reals, tick: int, alike: float, running: Numbers, log: Log, used: int) -> int:
    """Write down how deep points are touched at a tick, and give how many rows there are then.

    touched: (k,) points; depth: (n,) metres; running: (n,) the row of a point that was still touched at the last tick, or an older
    one, -1 for none. log: point, first and last tick, and depth of each row, of which so many are used; there is room for k more.
    A touch as deep as at the tick before, but for so many metres, goes on in its row.
    """
    return int(_record(touched, depth, tick, alike, running, *log, used))


def deepest_at(log: Log, tick: int, count: int, recovers: float) -> Reals:
    """(count,) metres that points are touched deep at a tick or were before; it is gone after so many ticks, 0 for never, at first
    slowly."""
    made = np.zeros(count)
    _envelope(*log, tick, recovers, made)
    return made


def times_at(log: Log, tick: float, count: int) -> tuple[Reals, Reals]:
    """(count,) the ticks at which points were first and last touched up to a tick; infinite and minus infinite for never."""
    first, last = np.full(count, np.inf), np.full(count, -np.inf)
    _times(*log[:3], tick, first, last)
    return first, last


@compiled
def _rays(
    points: Reals,
    normals: Reals,
    which: Numbers,
    look: Numbers,
    to_world: Reals,
    to_own: Reals,
    to_surface: Reals,
    margin: float,
    origins: Reals,
    ways: Reals,
    long: Reals,
):  # pragma: no cover - compiled
    out, place = np.empty(3), np.empty(3)
    for row in range(len(which)):
        point, at = which[row], look[row]
        square = 0.0
        for axis in range(3):
            # A normal goes by the inverse, turned over.
            out[axis] = (
                to_own[at, 0, axis] * normals[point, 0]
                + to_own[at, 1, axis] * normals[point, 1]
                + to_own[at, 2, axis] * normals[point, 2]
            )
            square += out[axis] * out[axis]
        size = 1.0 / max(np.sqrt(square), 1e-300)
        for axis in range(3):
            out[axis] *= size
            place[axis] = (
                to_world[at, axis, 0] * points[point, 0]
                + to_world[at, axis, 1] * points[point, 1]
                + to_world[at, axis, 2] * points[point, 2]
                + to_world[at, axis, 3]
                + margin * out[axis]
            )
        square = 0.0
        for axis in range(3):
            ways[row, axis] = -(
                to_surface[at, axis, 0] * out[0] + to_surface[at, axis, 1] * out[1] + to_surface[at, axis, 2] * out[2]
            )
            square += ways[row, axis] * ways[row, axis]
            origins[row, axis] = (
                to_surface[at, axis, 0] * place[0]
                + to_surface[at, axis, 1] * place[1]
                + to_surface[at, axis, 2] * place[2]
                + to_surface[at, axis, 3]
            )
        long[row] = max(np.sqrt(square), 1e-12)
        for axis in range(3):
            ways[row, axis] /= long[row]


@compiled
def _pairs(
    points: Reals,
    about_low: Reals,
    about_high: Reals,
    to: Reals,
    low: Reals,
    high: Reals,
    which: Numbers,
    look: Numbers,
) -> int:  # pragma: no cover - compiled
    count, looks = 0, len(to)
    least, most = np.full(3, np.inf), np.full(3, -np.inf)
    for at in range(looks):
        for axis in range(3):
            least[axis] = min(least[axis], about_low[at, axis])
            most[axis] = max(most[axis], about_high[at, axis])
    for point in range(len(points)):
        x, y, z = points[point, 0], points[point, 1], points[point, 2]
        if x < least[0] or x > most[0] or y < least[1] or y > most[1] or z < least[2] or z > most[2]:
            continue
        for at in range(looks):
            inside = True
            for axis in range(3):
                place = to[at, axis, 0] * x + to[at, axis, 1] * y + to[at, axis, 2] * z + to[at, axis, 3]
                inside = inside and low[at, axis] <= place <= high[at, axis]
            if inside:
                if count < len(which):
                    which[count], look[count] = point, at
                count += 1
    return count


@compiled
def _leaving(
    points: Reals, faces: Numbers, hit: Numbers, ways: Reals, leaves: NDArray[np.bool_]
):  # pragma: no cover - compiled
    for ray in range(len(hit)):
        leaves[ray] = False
        if hit[ray] < 0:
            continue
        a, b, c = faces[hit[ray], 0], faces[hit[ray], 1], faces[hit[ray], 2]
        ux, uy, uz = points[b, 0] - points[a, 0], points[b, 1] - points[a, 1], points[b, 2] - points[a, 2]
        vx, vy, vz = points[c, 0] - points[a, 0], points[c, 1] - points[a, 1], points[c, 2] - points[a, 2]
        x, y, z = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        leaves[ray] = x * ways[ray, 0] + y * ways[ray, 1] + z * ways[ray, 2] > 0


@compiled
def _in_box(
    points: Reals, about_low: Reals, about_high: Reals, matrix: Reals, low: Reals, high: Reals, found: Numbers
) -> int:  # pragma: no cover - compiled
    count = 0
    for point in range(len(points)):
        x, y, z = points[point, 0], points[point, 1], points[point, 2]
        if (
            x < about_low[0]
            or x > about_high[0]
            or y < about_low[1]
            or y > about_high[1]
            or z < about_low[2]
            or z > about_high[2]
        ):
            continue
        inside = True
        for axis in range(3):
            place = matrix[axis, 0] * x + matrix[axis, 1] * y + matrix[axis, 2] * z + matrix[axis, 3]
            inside = inside and low[axis] <= place <= high[axis]
        if inside:
            found[count] = point
            count += 1
    return count


@compiled
def _boxes(points: Reals, label: Integers, low: Reals, high: Reals):  # pragma: no cover - compiled
    for point in range(len(points)):
        row = label[point]
        for axis in range(3):
            low[row, axis] = min(low[row, axis], points[point, axis])
            high[row, axis] = max(high[row, axis], points[point, axis])


@compiled
def _deeper(depth: Reals, which: Numbers, found: Reals):  # pragma: no cover - compiled
    for row in range(len(which)):
        depth[which[row]] = max(depth[which[row]], found[row])


@compiled
def _record(
    touched: Numbers,
    depth: Reals,
    tick: int,
    alike: float,
    running: Numbers,
    point: Integers,
    begin: Integers,
    end: Integers,
    deep: Floats,
    used: int,
) -> int:  # pragma: no cover - compiled
    for row in range(len(touched)):
        one = touched[row]
        before = running[one]
        if before >= 0 and end[before] == tick - 1 and abs(depth[one] - deep[before]) <= alike:
            end[before] = tick
            continue
        point[used], begin[used], end[used], deep[used] = one, tick, tick, depth[one]
        running[one] = used
        used += 1
    return used


@compiled
def _envelope(
    point: Integers, begin: Integers, end: Integers, deep: Floats, tick: int, recovers: float, made: Reals
):  # pragma: no cover - compiled
    for row in range(len(point)):
        if begin[row] > tick:
            break
        left = float(deep[row])
        if recovers > 0 and end[row] < tick:
            gone = min((tick - end[row]) / recovers, 1.0)
            left *= 1 - gone * gone * (3 - 2 * gone)
        made[point[row]] = max(made[point[row]], left)


@compiled
def _times(
    point: Integers, begin: Integers, end: Integers, tick: float, first: Reals, last: Reals
):  # pragma: no cover - compiled
    for row in range(len(point)):
        if begin[row] > tick:
            break
        one = point[row]
        first[one] = min(first[one], float(begin[row]))
        last[one] = max(last[one], min(float(end[row]), tick))
