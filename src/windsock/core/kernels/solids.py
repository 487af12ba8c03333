"""Closed meshes as solids, cut by convex cells (manifold3d), and where each face of the outcome came from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from manifold3d import Manifold
from manifold3d import Mesh as Raw
from numpy.typing import NDArray
from scipy.spatial import ConvexHull, KDTree, QhullError

from windsock.core.kernels.together import together

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

AT_ONCE = 16
"""So many cells are cut out of a solid together at most, so that the work can be stopped in between."""

TOUCHING = 1e-6
"""Corners of cells nearer than this share of their extent are at one place."""


@dataclass(frozen=True, eq=False)
class Shards:
    """What cells cut out of a solid, as t triangles.

    cell: (t,) which cell each lies in. corners: (t, 3, 3) in metres. source: (t,) the face of the solid that each is a part
    of, -1 for those on the cut. joined: (t, 3) which corners are the same point; those of two cells never are.
    """

    cell: Numbers
    corners: Reals
    source: Numbers
    joined: Numbers


def solid_of(points: Reals, faces: NDArray[np.int32]) -> Manifold | None:
    """A solid bounded by (m, 3) faces of (n, 3) points, None where they do not close or meet themselves badly."""
    if len(faces) == 0 or not are_closed(faces):
        return None
    raw = Raw(
        np.ascontiguousarray(points, dtype=np.float32),
        np.ascontiguousarray(faces, dtype=np.uint32),
        face_id=np.arange(len(faces), dtype=np.uint32),
    )
    solid = Manifold(raw)
    return solid if solid.status().name == "NoError" and solid.volume() > 0 else None


def are_closed(faces: NDArray[np.int32]) -> bool:
    """Whether each edge has one face on either side."""
    sides = faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64)
    if (sides[:, 0] == sides[:, 1]).any():
        return False
    count = int(faces.max()) + 1
    there, back = sides[:, 0] * count + sides[:, 1], sides[:, 1] * count + sides[:, 0]
    there.sort()
    back.sort()
    return bool((np.diff(there) > 0).all() and np.array_equal(there, back))


def shards(solid: Manifold, cells: list[Reals | None], named: Numbers, check: Callable[[float], None]) -> Shards:
    """What is left of a solid within each cell, given by its corners. named: (m,) what `source` calls each of its faces.
    check: told how much is done, may raise.

    Cells that touch none of each other are cut out together: to go through the solid once for each of a few colours of a
    map of the cells is less than once for each cell.
    """
    original = int(solid.to_mesh().run_original_id[0])
    found: list[Shards] = []
    groups = _apart(cells)
    count = 0
    for done, group in enumerate(groups):
        check(done / len(groups))
        made = _cut_out(solid, original, {cell: _of(cells, cell) for cell in group}, named)
        found.append(replace(made, joined=made.joined + count))
        count += int(made.joined.max(initial=-1)) + 1
    if not found:
        none = np.zeros(0, dtype=np.int64)
        return Shards(none, np.zeros((0, 3, 3)), none, none.reshape(0, 3))
    every = [np.concatenate([getattr(one, name) for one in found]) for name in Shards.__dataclass_fields__]
    order = np.argsort(every[0], kind="stable")
    return Shards(*(values[order] for values in every))


def _of(cells: list[Reals | None], cell: int) -> Reals:
    corners = cells[cell]
    assert corners is not None
    return corners


def _apart(cells: list[Reals | None]) -> list[list[int]]:
    """The cells that there are in groups of which no two touch, by colouring those with most neighbours first."""
    there = [cell for cell, corners in enumerate(cells) if corners is not None]
    if not there:
        return []
    corners = np.concatenate([_of(cells, cell) for cell in there])
    own = np.repeat(there, [len(_of(cells, cell)) for cell in there])
    near = KDTree(corners).query_pairs(TOUCHING * float(np.ptp(corners, axis=0).max()), output_type="ndarray")
    beside: dict[int, set[int]] = {cell: set() for cell in there}
    for one, other in np.unique(own[near], axis=0).tolist():
        beside[one].add(other)
        beside[other].add(one)
    colour: dict[int, int] = {}
    for cell in sorted(there, key=lambda cell: (-len(beside[cell]), cell)):
        taken = {colour[other] for other in beside[cell] if other in colour and other != cell}
        colour[cell] = next(number for number in range(len(there)) if number not in taken)
    groups: list[list[int]] = [[] for _ in range(max(colour.values()) + 1)]
    for cell in there:
        groups[colour[cell]].append(cell)
    return [group[start : start + AT_ONCE] for group in groups for start in range(0, len(group), AT_ONCE)]


def _cut_out(solid: Manifold, original: int, cells: dict[int, Reals], named: Numbers) -> Shards:
    """What cells that do not touch leave of a solid whose faces are known as those of `original`."""
    bodies = {cell: Manifold.hull_points(corners) for cell, corners in cells.items()}
    raw = (solid ^ Manifold.compose(list(bodies.values()))).to_mesh()
    triangles = np.asarray(raw.tri_verts).astype(np.int64)
    corners = np.asarray(raw.vert_properties)[:, :3].astype(np.float64)[triangles]
    cell_of = {body.original_id(): cell for cell, body in bodies.items()}
    source, cell = np.full(len(triangles), -1, dtype=np.int64), np.full(len(triangles), -1, dtype=np.int64)
    runs = np.asarray(raw.run_index).astype(np.int64) // 3
    for run, name in enumerate(np.asarray(raw.run_original_id).tolist()):
        own = slice(int(runs[run]), int(runs[run + 1]))
        if name == original:
            source[own] = named[np.asarray(raw.face_id)[own]]
        else:
            cell[own] = cell_of[name]
    # What hangs together lies in one cell: that of its cut faces, or the one about it.
    hangs = together(triangles)
    of_part = np.full(int(hangs.max(initial=-1)) + 1, -1, dtype=np.int64)
    cut = cell >= 0
    of_part[hangs[cut]] = cell[cut]
    _, first = np.unique(hangs, return_index=True)
    uncut = np.flatnonzero(of_part < 0)
    if len(uncut):
        of_part[uncut] = _about(cells, corners[first[uncut]].mean(axis=1))
    return Shards(of_part[hangs], corners, source, triangles)


@dataclass(frozen=True, eq=False)
class Left:
    """What is left of a solid, as t triangles; corners, source, joined: as of `Shards`."""

    corners: Reals
    source: Numbers
    joined: Numbers


def left_of(solid: Manifold, cutter: Manifold, within: bool) -> Left:
    """What of a solid lies outside of another one, or within it."""
    original = int(solid.to_mesh().run_original_id[0])
    raw = (solid ^ cutter if within else solid - cutter).to_mesh()
    triangles = np.asarray(raw.tri_verts).astype(np.int64).reshape(-1, 3)
    corners = (
        np.asarray(raw.vert_properties).reshape(-1, max(int(raw.vert_properties.shape[1]), 3))[:, :3].astype(np.float64)
    )
    source = np.full(len(triangles), -1, dtype=np.int64)
    runs = np.asarray(raw.run_index).astype(np.int64) // 3
    for run, name in enumerate(np.asarray(raw.run_original_id).tolist()):
        own = slice(int(runs[run]), int(runs[run + 1]))
        if name == original:
            source[own] = np.asarray(raw.face_id)[own]
    return Left(corners[triangles], source, triangles)


def block(corners: Reals) -> Manifold:
    """The convex solid about (n, 3) corners."""
    return Manifold.hull_points(corners)


def _about(cells: dict[int, Reals], places: Reals) -> Numbers:
    """(k,) the cell that each of (k, 3) places lies in, or is nearest to."""
    out = [_outside(corners, places) for corners in cells.values()]
    return np.array(list(cells), dtype=np.int64)[np.argmin(out, axis=0)]


def _outside(corners: Reals, places: Reals) -> Reals:
    """(k,) how far places are outside a convex body, in metres; below 0 inside it."""
    try:
        planes = ConvexHull(corners).equations
    except QhullError:  # it is flat
        return np.full(len(places), np.inf)
    return (places @ planes[:, :3].T + planes[:, 3]).max(axis=1)
