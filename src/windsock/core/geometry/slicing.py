"""A closed mesh cut by a solid: what is left of its surface, and the cap where it was cut."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from manifold3d import Manifold
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray

from windsock.core.geometry.breaking import hashed, laid_flat, shares_on
from windsock.core.geometry.eating import Eating, eaten
from windsock.core.geometry.mesh import Mesh, derived_number, one_of_each, places_of
from windsock.core.geometry.slab import HARD
from windsock.core.geometry.stance import Stance
from windsock.core.geometry.subdivision import split_where
from windsock.core.geometry.volume import nodes_of, refuse_too_fine, volume_of
from windsock.core.kernels.creases import corner_normals
from windsock.core.kernels.crossing import crossing_shares
from windsock.core.kernels.isosurface import CELLS, LEAST, NODES, IsoSurface, isosurface
from windsock.core.kernels.mixing import canonical
from windsock.core.kernels.nearest import nearest_points
from windsock.core.kernels.solids import are_closed, block, left_of, solid_of
from windsock.core.kernels.surface_distance import Surface, nearest_on

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]
Apart = Callable[[Reals], Reals]
"""Gives (n,) metres that (n, 3) places are away from the cut."""


@dataclass(frozen=True, eq=False)
class Closed:
    """A mesh that is closed, and the solid that it bounds, in the level space of its subject; None where even its volume bounds none."""

    mesh: Mesh
    solid: Manifold | None

    @property
    def nbytes(self) -> int:
        return 2 * self.mesh.nbytes


@dataclass(frozen=True, eq=False)
class Sliced:
    """What is left of a surface, and the cap where it was cut: both together, closed, with (n,) which points are of the cap; and each."""

    whole: Mesh
    capped: NDArray[np.bool_]
    kept: Mesh
    cap: Mesh

    @classmethod
    def without_cap(cls, mesh: Mesh) -> Sliced:
        """A mesh of which nothing is cut."""
        return cls(mesh, np.zeros(len(mesh.points), dtype=bool), mesh, mesh.emptied())

    @property
    def nbytes(self) -> int:
        return self.whole.nbytes + self.kept.nbytes + self.cap.nbytes


def closed(mesh: Mesh, stance: Stance, voxel: float) -> Closed:
    """A mesh and its solid; one that does not close, or meets itself badly, is made anew from its volume first, in voxels of a size.
    Raises TooMuch for more of them than a volume may have."""
    solid = _bounded(mesh, stance)
    if solid is not None or len(mesh.faces) == 0:
        return Closed(mesh, solid)
    level = stance.level(mesh.points)
    volume = volume_of(level, mesh.faces, voxel)
    never = np.full(volume.shape, np.inf, dtype=np.float32)
    own = np.asarray(np.linalg.inv(stance.stretch), dtype=np.float64)
    skin = eaten(mesh, level, Eating.found(volume, never, own, "in"), 0.0).skin
    return Closed(skin, _bounded(skin, stance))


def closes(mesh: Mesh) -> bool:
    """Whether each edge of a mesh has one face on either side."""
    place, _ = places_of(mesh.number)
    return are_closed(place[mesh.faces].astype(np.int32))


def _bounded(mesh: Mesh, stance: Stance) -> Manifold | None:
    place, count = places_of(mesh.number)
    first = one_of_each(place, count)
    return solid_of(stance.level(mesh.points)[first], place[mesh.faces].astype(np.int32))


def solid_about(points: Reals, faces: NDArray[np.integer], number: Numbers, voxel: float) -> Manifold | None:
    """The solid that a surface bounds, in metres; from its volume where it does not close. None where it has no inside."""
    place, count = places_of(number)
    solid = solid_of(points[one_of_each(place, count)], place[faces].astype(np.int32)) if len(faces) else None
    if solid is not None or len(faces) == 0:
        return solid
    volume = volume_of(points, faces, voxel)
    return _within(-volume.distance.astype(np.float32), volume.low, voxel, None)


def slab_about(points: Reals, frame: Reals, start: float, end: float) -> Manifold:
    """The slab between two places along Y of a frame, as wide as points, (n, 3), need it. frame: (4, 4) from their space to it."""
    there = points @ frame[:3, :3].T + frame[:3, 3]
    low, high = there.min(axis=0) - 1.0, there.max(axis=0) + 1.0
    low[1], high[1] = min(start, end), max(start, end)
    corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    return block((corners - frame[:3, 3]) @ frame[:3, :3])


def solid_where(points: Reals, voxel: float, excess: Callable[[Reals], Reals]) -> Manifold | None:
    """The solid where a function of places is above 0, about (n, 3) points and a little beyond, in voxels of a size; exact on their edges.
    Raises TooMuch for more of them than a volume may have."""
    low, high = points.min(axis=0), points.max(axis=0)
    refuse_too_fine(high - low, voxel, 0.0)
    shape = nodes_of(high - low, voxel, 0.0)
    start = (low + high) / 2 - (np.array(shape) - 1) / 2 * voxel
    nodes = np.stack(np.unravel_index(np.arange(int(np.prod(shape))), shape), axis=1)
    values = excess(start + nodes * voxel).astype(np.float32).reshape(shape)
    return _within(values, start, voxel, excess)


def _within(
    values: NDArray[np.float32], start: Reals, voxel: float, exact: Callable[[Reals], Reals] | None
) -> Manifold | None:
    """The solid of the nodes where values are above 0; what is at the end of the grid is outside."""
    values = values.copy()
    lowest = -abs(float(values[np.isfinite(values)].max(initial=1.0))) - 1e-6
    values[~np.isfinite(values)] = lowest
    for axis in range(3):
        at = np.moveaxis(values, axis, 0)
        at[0] = at[-1] = np.minimum(lowest, -1e-6)
    shape = (values.shape[0], values.shape[1], values.shape[2])
    padded = np.pad(values, [(0, (1 - one) % CELLS) for one in shape], constant_values=lowest)
    windows = sliding_window_view(padded, (NODES, NODES, NODES))[::CELLS, ::CELLS, ::CELLS]
    above = windows.max(axis=(3, 4, 5)) > 0
    mixed = above & (windows.min(axis=(3, 4, 5)) <= 0)
    if not mixed.any():
        return None
    found = isosurface(shape, np.argwhere(mixed).astype(np.int32), np.ascontiguousarray(windows[mixed]))
    places = start + found.places(shape) * voxel
    if exact is not None:
        _on_edges(places, found, values, start, voxel, exact)
    # Seen from where values are low its faces turn counter-clockwise: that is from outside.
    return solid_of(places, found.faces)


def _on_edges(
    places: Reals,
    found: IsoSurface,
    values: NDArray[np.float32],
    start: Reals,
    voxel: float,
    exact: Callable[[Reals], Reals],
) -> None:
    """Puts the points of an iso-surface, in place, where a function is 0 on the edges between nodes, but for those at the grid's end."""
    shape = (values.shape[0], values.shape[1], values.shape[2])
    first, second = found.first, found.second(shape)
    one, other = (np.stack(np.unravel_index(at, shape), axis=1) for at in (first, second))
    inner = np.flatnonzero(((one > 0) & (other < np.array(shape) - 1)).all(axis=1))
    begins, way = start + one[inner] * voxel, (other - one)[inner] * voxel

    def there(which: Numbers, share: Reals) -> Reals:
        return exact(begins[which] + way[which] * share[:, None])

    ends = [values.reshape(-1)[at[inner]].astype(np.float64) for at in (first, second)]
    share = np.clip(crossing_shares(ends[0], ends[1], there), LEAST, 1 - LEAST)
    places[inner] = begins + way * share[:, None]


def sliced(
    whole: Closed, stance: Stance, cutter: Manifold, within: bool, beside: float = 0.0, apart: Apart | None = None
) -> Sliced:
    """What of a closed mesh lies outside of a solid, or within it, and the cap, with all of the surface that is up to so many metres
    beside the cut. apart: how far places are from it, by default measured to the cap."""
    mesh = whole.mesh
    assert whole.solid is not None
    left = left_of(whole.solid, cutter, within)
    if len(left.source) == 0:
        return Sliced.without_cap(mesh.emptied())
    cut = left.source < 0
    if not cut.any() and len(left.source) == len(mesh.faces):
        return Sliced.without_cap(mesh)
    order = np.argsort(cut, kind="stable")
    corners, source, joined, cut = left.corners[order], left.source[order], left.joined[order], cut[order]
    whole_left = made = _welded(mesh, stance, corners, source, joined)
    capped = np.zeros(len(made.points), dtype=bool)
    capped[made.faces[cut].ravel()] = True
    if beside > 0 and cut.any():
        level = stance.level(made.points)
        away = apart(level) if apart is not None else nearest_on(level, Surface(*_bare(corners[cut])))[0]
        made, away = split_where(made, np.where(capped, 0.0, away), beside)
        cut = away[made.faces].max(axis=1) <= beside * (1 + 1e-9)
    return Sliced(whole_left, capped, _some(made, ~cut), _some(made, cut))


def _some(mesh: Mesh, faces: NDArray[np.bool_]) -> Mesh:
    return mesh.faced(mesh.faces[faces], np.flatnonzero(faces)).without_loose_points()


def _bare(corners: Reals) -> tuple[Reals, Numbers]:
    """Triangles as points and faces."""
    return corners.reshape(-1, 3), np.arange(3 * len(corners)).reshape(-1, 3)


def _welded(mesh: Mesh, stance: Stance, corners: Reals, source: Numbers, joined: Numbers) -> Mesh:
    """Triangles as a mesh: parts of faces, source at least 0, that take all after those, and then the cap, smooth over gentle edges."""
    outer = int((source >= 0).sum())
    level = stance.level(mesh.points)
    of = mesh.faces[source[:outer]].astype(np.int64)
    at, shares = canonical(np.repeat(of, 3, axis=0), shares_on(corners[:outer], level[of]).reshape(-1, 3))
    _, first, back = np.unique(hashed(joined[:outer].ravel(), at), return_index=True, return_inverse=True)
    at, shares, name = at[first], shares[first], joined[:outer].ravel()[first]
    # Where a point comes out on an edge in one face and at its end in the next, both are that end.
    number = _alike(name, _numbers(mesh, at, shares))
    inner = corners[outer:]
    cross = 0.5 * np.cross(inner[:, 1] - inner[:, 0], inner[:, 2] - inner[:, 0])
    facing = corner_normals(cross, joined[outer:], HARD).reshape(-1, 3)
    names = hashed(joined[outer:].ravel(), np.round(facing * 1e3).astype(np.int64))
    _, chosen, rest = np.unique(names, return_index=True, return_inverse=True)
    places = inner.reshape(-1, 3)[chosen]
    near = nearest_points(places, level) if len(places) else np.zeros(0, dtype=np.int64)
    known = dict(zip(name.tolist(), number.tolist(), strict=True))
    number = np.concatenate([number, _cap_numbers(joined[outer:].ravel()[chosen], places, known)])
    at = np.concatenate([at, np.repeat(near[:, None], 3, axis=1)])
    shares = np.concatenate([shares, np.tile([1.0, 0.0, 0.0], (len(near), 1))])
    made = mesh.mixed(at, shares, number)
    points, resting, normals = made.points.copy(), made.rest.copy(), made.normals.copy()
    cap = slice(len(first), None)
    own = stance.own(places)
    resting[cap] += own - points[cap]
    points[cap] = own
    turned = facing[chosen] @ stance.stretch
    normals[cap] = turned / np.maximum(np.linalg.norm(turned, axis=1, keepdims=True), 1e-12)
    flat = cross / np.maximum(np.linalg.norm(cross, axis=1, keepdims=True), 1e-300)
    uv = np.zeros((len(points), 2), dtype=np.float32) if made.uv is None else made.uv.copy()
    uv[cap] = laid_flat(inner, flat).reshape(-1, 2)[chosen]
    faces = np.concatenate([back.reshape(-1, 3), len(first) + rest.reshape(-1, 3)]).astype(np.int32)
    origin = np.append(mesh.origins(), np.int32(-1))[source]
    return replace(made, points=points, rest=resting, normals=normals, uv=uv, faces=faces, origin=origin)


def _alike(name: Numbers, number: Numbers) -> Numbers:
    """(k,) for each point the highest number of those of its name."""
    highest = np.full(int(name.max(initial=-1)) + 1, np.iinfo(np.int64).min)
    np.maximum.at(highest, name, number)
    return highest[name]


def _cap_numbers(name: Numbers, places: Reals, known: dict[int, int]) -> Numbers:
    """(k,) numbers of points of the cap: that of the point of the surface at the same place, else one by where it is."""
    size = max(float(np.ptp(places, axis=0).max()), 1e-9) if len(places) else 1.0
    own = -1 - (hashed(np.round(places / size * 1e6).astype(np.int64)) >> np.uint64(2)).astype(np.int64)
    pairs = zip(name.tolist(), own.tolist(), strict=True)
    return np.array([known.get(one, made) for one, made in pairs], dtype=np.int64)


def _numbers(mesh: Mesh, at: Numbers, shares: Reals) -> Numbers:
    """(k,) numbers of points that lie between points of a mesh, as `canonical` gives them: their own, or by their edge and which of the
    points on it they are, so that they stay while the cut moves along."""
    count = (shares > 0).sum(axis=1)
    number = mesh.number[at[:, 0]].copy()
    one, other = mesh.number[at[:, 0]], mesh.number[at[:, 1]]
    edge = count == 2
    low = np.where(one <= other, one, other)
    along = np.where(one <= other, shares[:, 1], shares[:, 0])
    name = derived_number(one, other)
    for which, key in ((edge, along), (count == 3, shares[:, 0])):
        rows = np.flatnonzero(which)
        if len(rows) == 0:
            continue
        base = name[rows] if key is along else derived_number(name[rows], mesh.number[at[rows, 2]])
        order = np.lexsort([key[rows], base, low[rows]])
        sorted_, place = base[order], np.round(key[rows][order], 6)
        new = np.append(True, sorted_[1:] != sorted_[:-1])
        step = np.append(True, (place[1:] != place[:-1]) | new[1:])
        begun = np.flatnonzero(new)[np.cumsum(new) - 1]
        upto = np.cumsum(step)
        rank = upto - upto[begun]
        made = np.where(rank == 0, sorted_, derived_number(sorted_, -rank - 2))
        number[rows[order]] = made
    return number
