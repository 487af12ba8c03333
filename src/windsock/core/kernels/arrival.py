"""Arrival times on a surface: when a front that starts at given points reaches every other point.

Method: fast marching on triangles, R. Kimmel and J. A. Sethian, "Computing geodesic paths on manifolds", PNAS 95, 1998:
points are settled in the order of their times, each updated from the triangles about it; where a triangle is obtuse at
the point the surface is unfolded across its far side until an acute one is found. A front is taken as straight within a
triangle, but as a circle about its start where it has come from one point at one speed: M. Novotni and R. Klein,
"Computing geodesic distances on triangular meshes", WSCG 2002.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled, inlined

UNFOLDINGS = 32
"""Faces that an obtuse corner is unfolded across before it is left as it is."""

POLLED_EVERY = 4096
"""Points settled between two looks at the cancel flag."""

NEVER_CANCELLED = np.zeros(1, dtype=np.uint8)


@dataclass(frozen=True, eq=False)
class Surface:
    """What the marching reads of a triangle surface, made once for a mesh.

    For each point p the updates that settling it can cause: of `target` from p and `other`, as a flat triangle with p at
    (0, 0), other at (base, 0) and the target at (x, y), y >= 0; `away` is the distance from p to the target.
    first: (n + 1,) where each point's updates begin. points: (n, 3) metres. faces: (m, 3).
    """

    first: NDArray[np.int64]
    target: NDArray[np.int32]
    other: NDArray[np.int32]
    flat: NDArray[np.float32]
    points: NDArray[np.float64]
    faces: NDArray[np.int64]

    @property
    def nbytes(self) -> int:
        arrays = (self.first, self.target, self.other, self.flat, self.points, self.faces)
        return sum(array.nbytes for array in arrays)


def surface_of(points: NDArray[np.floating], faces: NDArray[np.integer]) -> Surface:
    """Prepare a surface: points (n, 3) in metres, faces (m, 3)."""
    points = np.ascontiguousarray(points, dtype=np.float64)
    faces = np.ascontiguousarray(faces, dtype=np.int64)
    corners = points[faces]
    flat = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1) > 0
    faces = faces[flat]
    triple = np.concatenate([faces[:, [0, 1, 2]], faces[:, [1, 2, 0]], faces[:, [2, 0, 1]]])
    across = _across(faces, len(points))
    target, one, two, kept = _updates(points, faces, across, triple)
    target, one, two, placed = target[:kept], one[:kept], two[:kept], _placed(points, target, one, two, kept)
    source = np.concatenate([one, two])
    order = np.argsort(source, kind="stable")
    first = np.zeros(len(points) + 1, dtype=np.int64)
    np.cumsum(np.bincount(source, minlength=len(points)), out=first[1:])
    targets, others = np.concatenate([target, target]), np.concatenate([two, one])
    return Surface(first, targets[order].astype(np.int32), others[order].astype(np.int32), placed[order], points, faces)


def arrival_times(
    surface: Surface,
    starts: NDArray[np.float64],
    slowness: NDArray[np.float64],
    cancelled: NDArray[np.uint8] = NEVER_CANCELLED,
) -> NDArray[np.float64] | None:
    """(n,) the time at which the front reaches each point, infinite where it never does; None where cancelled.

    starts: (n,) the time at which the front starts at a point by itself, infinite where it does not. slowness: (n,)
    seconds for a metre at each point, at least 0; where it is infinite the front does not enter. cancelled: (1,) looked
    at now and then; the work stops when it is not 0.
    """
    times = starts.astype(np.float64).copy()
    finished = _march(surface.first, surface.target, surface.other, surface.flat, slowness, times, cancelled)
    return times if finished else None


def starts_about(
    surface: Surface, excess: NDArray[np.float64], slowness: NDArray[np.float64], at: float
) -> NDArray[np.float64]:
    """(n,) start times for a front that stands, at a moment, where `excess` (n,) crosses zero from outside (below).

    Points inside start at that moment; the points next to the crossing start when the front, straight within each face,
    has come to them. All others are infinite.
    """
    starts = np.where(excess >= 0, at, np.inf)
    inside = excess[surface.faces] >= 0
    count = inside.sum(axis=1)
    faces = surface.faces[(count > 0) & (count < 3)]
    if len(faces) == 0:
        return starts
    lone = np.where((excess[faces] >= 0).sum(axis=1) == 1, 1, 0)[:, None] == (excess[faces] >= 0)
    turn = np.argmax(lone, axis=1)
    faces = faces[np.arange(len(faces))[:, None], (turn[:, None] + np.arange(3)) % 3]
    apex, left, right = (surface.points[faces[:, corner]] for corner in range(3))
    value = excess[faces]
    share = value[:, :1] / np.where(value[:, :1] == value[:, 1:], 1.0, value[:, :1] - value[:, 1:])
    one = apex + (left - apex) * share[:, :1]
    two = apex + (right - apex) * share[:, 1:]
    for corner in range(3):
        point = faces[:, corner]
        outside = excess[point] < 0
        reached = at + _to_segment(surface.points[point], one, two) * slowness[point]
        np.minimum.at(starts, point[outside], reached[outside])
    return starts


def _to_segment(points: NDArray[np.float64], one: NDArray[np.float64], two: NDArray[np.float64]) -> NDArray[np.float64]:
    along = two - one
    length = np.einsum("ij,ij->i", along, along)
    share = np.einsum("ij,ij->i", points - one, along) / np.where(length == 0, 1, length)
    nearest = one + along * np.clip(share, 0, 1)[:, None]
    return np.linalg.norm(points - nearest, axis=1)


def _across(faces: NDArray[np.int64], count: int) -> NDArray[np.int64]:
    """(m, 3) for each face and corner, the point opposite the face that shares the far side; -1 at a border."""
    start, end, own = (np.concatenate([faces[:, k] for k in order]) for order in ((1, 2, 0), (2, 0, 1), (0, 1, 2)))
    side = np.minimum(start, end) * count + np.maximum(start, end)
    order = np.argsort(side, kind="stable")
    ranked = side[order]
    pair = np.zeros(len(side), dtype=bool)
    pair[:-1] = ranked[:-1] == ranked[1:]
    found = np.full(len(side), -1, dtype=np.int64)
    left = order[np.flatnonzero(pair)]
    right = order[np.flatnonzero(pair) + 1]
    found[left], found[right] = own[right], own[left]
    face = np.full(len(side), -1, dtype=np.int64)
    face[left], face[right] = right % len(faces), left % len(faces)
    return np.stack([found.reshape(3, -1).T, face.reshape(3, -1).T], axis=2)


def _updates(
    points: NDArray[np.float64], faces: NDArray[np.int64], across: NDArray[np.int64], triple: NDArray[np.int64]
) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64], int]:
    room = 2 * len(triple)
    target, one, two = (np.empty(room, dtype=np.int64) for _ in range(3))
    kept = _unfolded(points, faces, across, triple, target, one, two)
    return target, one, two, kept


@compiled
def _unfolded(
    points: NDArray[np.float64],
    faces: NDArray[np.int64],
    across: NDArray[np.int64],
    triple: NDArray[np.int64],
    target: NDArray[np.int64],
    one: NDArray[np.int64],
    two: NDArray[np.int64],
):  # pragma: no cover - compiled
    kept = 0
    count = len(faces)
    for place in range(len(triple)):
        t, p, q = triple[place]
        face, corner = place % count, place // count
        a, b, c = _length(points, t, p), _length(points, t, q), _length(points, p, q)
        w = -1
        if a * a + b * b < c * c * (1 - 1e-9):
            w = _seek(points, faces, across, face, corner, p, q, a, b, c)
        if w < 0 or w == t:
            target[kept], one[kept], two[kept] = t, p, q
            kept += 1
        else:
            target[kept], one[kept], two[kept] = t, p, w
            target[kept + 1], one[kept + 1], two[kept + 1] = t, w, q
            kept += 2
    return kept


@compiled
def _seek(
    points: NDArray[np.float64],
    faces: NDArray[np.int64],
    across: NDArray[np.int64],
    face: int,
    corner: int,
    p: int,
    q: int,
    a: float,
    b: float,
    c: float,
):  # pragma: no cover - compiled
    tx = (a * a - b * b + c * c) / (2 * c)
    ty = np.sqrt(max(a * a - tx * tx, 0.0))
    left, right = p, q
    lx, ly, rx, ry = 0.0, 0.0, c, 0.0
    for _ in range(UNFOLDINGS):
        w, beyond = across[face, corner]
        if w < 0:
            return -1
        base = np.sqrt((rx - lx) ** 2 + (ry - ly) ** 2)
        to_left, to_right = _length(points, w, left), _length(points, w, right)
        along = (to_left * to_left - to_right * to_right + base * base) / (2 * base)
        down = np.sqrt(max(to_left * to_left - along * along, 0.0))
        ux, uy = (rx - lx) / base, (ry - ly) / base
        wx, wy = lx + ux * along + uy * down, ly + uy * along - ux * down
        with_p = (wx - tx) * (0.0 - tx) + (wy - ty) * (0.0 - ty)
        with_q = (wx - tx) * (c - tx) + (wy - ty) * (0.0 - ty)
        if with_p > 0 and with_q > 0:
            return w
        gone = left if with_q <= 0 else right
        if with_q <= 0:
            left, lx, ly = w, wx, wy
        else:
            right, rx, ry = w, wx, wy
        face = beyond
        corner = 0
        while corner < 3 and faces[face, corner] != gone:
            corner += 1
        if corner == 3:
            return -1
    return -1


@inlined
def _length(points: NDArray[np.float64], a: int, b: int):  # pragma: no cover - compiled
    x, y, z = points[a, 0] - points[b, 0], points[a, 1] - points[b, 1], points[a, 2] - points[b, 2]
    return np.sqrt(x * x + y * y + z * z)


def _placed(
    points: NDArray[np.float64],
    target: NDArray[np.int64],
    one: NDArray[np.int64],
    two: NDArray[np.int64],
    kept: int,
) -> NDArray[np.float32]:
    """(2k, 4) base, x, y, away of each update, first seen from `one`, then from `two`.

    The sides of a virtual triangle are taken straight through space; unfolded faces are small against the bend.
    """
    t, p, q = points[target[:kept]], points[one[:kept]], points[two[:kept]]
    a, b, c = (np.linalg.norm(v, axis=1) for v in (t - p, t - q, p - q))
    base = np.maximum(c, 1e-300)
    x = (a * a - b * b + c * c) / (2 * base)
    y = np.sqrt(np.maximum(a * a - x * x, 0))
    seen = np.stack([c, x, y, a], axis=1), np.stack([c, c - x, y, b], axis=1)
    return np.concatenate(seen).astype(np.float32)


@compiled
def _march(
    first: NDArray[np.int64],
    target: NDArray[np.int32],
    other: NDArray[np.int32],
    flat: NDArray[np.float32],
    slowness: NDArray[np.float64],
    times: NDArray[np.float64],
    cancelled: NDArray[np.uint8],
):  # pragma: no cover - compiled
    count = len(times)
    settled = np.zeros(count, dtype=np.bool_)
    origin = np.full(count, -1, dtype=np.int32)
    starts = times.copy()
    heap = np.empty(count, dtype=np.int32)
    place = np.full(count, -1, dtype=np.int32)
    size = 0
    for point in range(count):
        if times[point] < np.inf:
            origin[point] = point
            heap[size] = point
            place[point] = size
            _rise(heap, place, times, size)
            size += 1
    turn = 0
    while size > 0:
        turn += 1
        if turn % POLLED_EVERY == 0 and cancelled[0]:
            return False
        p = int(heap[0])
        size -= 1
        if size > 0:
            heap[0] = heap[size]
            place[heap[0]] = 0
            _sink(heap, place, times, size)
        settled[p] = True
        from_p = times[p]
        for update in range(first[p], first[p + 1]):
            t = int(target[update])
            slow = slowness[t]
            if settled[t] or slow == np.inf:
                continue
            best = from_p + flat[update, 3] * slow
            even = origin[p] if slow == slowness[p] else -1
            q = int(other[update])
            if settled[q] and slow > 0:
                round_ = bool(even >= 0 and origin[q] == even and slow == slowness[q])
                begun = starts[even] if round_ else 0.0
                through = _through(from_p, times[q], slow, round_, begun, flat[update])
                if through <= best:
                    best = through
                    even = even if round_ else -1
            if best < times[t]:
                times[t] = best
                origin[t] = even
                if place[t] < 0:
                    heap[size] = t
                    place[t] = size
                    size += 1
                _rise(heap, place, times, place[t])
    return True


@inlined
def _through(
    at_p: float, at_q: float, slow: float, round_: bool, begun: float, flat: NDArray[np.float32]
):  # pragma: no cover - compiled
    """The time at which a front that passes between p and q reaches the target; infinite where it does not."""
    base, x, y = flat[0], flat[1], flat[2]
    if round_:
        near, far = (at_p - begun) / slow, (at_q - begun) / slow
        sx = (near * near - far * far + base * base) / (2.0 * base)
        depth = near * near - sx * sx
        if depth >= 0.0:
            sy = -np.sqrt(depth)
            if y > sy:
                foot = sx - (x - sx) * sy / (y - sy)
                if 0.0 <= foot <= base:
                    return begun + slow * np.sqrt((x - sx) ** 2 + (y - sy) ** 2)
            return np.inf
    slope = (at_q - at_p) / slow
    if not -base < slope < base:
        return np.inf
    across = slope / base
    up = np.sqrt(1.0 - across * across)
    foot = x - y * across / up
    if foot < 0.0 or foot > base:
        return np.inf
    return at_p + slow * (across * x + up * y)


@inlined
def _rise(
    heap: NDArray[np.int32], place: NDArray[np.int32], times: NDArray[np.float64], at: int
):  # pragma: no cover - compiled
    point = heap[at]
    key = times[point]
    while at > 0:
        above = (at - 1) >> 1
        if times[heap[above]] <= key:
            break
        heap[at] = heap[above]
        place[heap[at]] = at
        at = above
    heap[at] = point
    place[point] = at


@inlined
def _sink(
    heap: NDArray[np.int32], place: NDArray[np.int32], times: NDArray[np.float64], size: int
):  # pragma: no cover - compiled
    point = heap[0]
    key = times[point]
    at = 0
    while True:
        below = 2 * at + 1
        if below >= size:
            break
        if below + 1 < size and times[heap[below + 1]] < times[heap[below]]:
            below += 1
        if times[heap[below]] >= key:
            break
        heap[at] = heap[below]
        place[heap[at]] = at
        at = below
    heap[at] = point
    place[point] = at
