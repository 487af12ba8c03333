"""Slabs: flat regions given a depth, with bevelled edges."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import FACE_LIMIT, Mesh, are_triangles
from windsock.core.geometry.region import Region, area, inset, length, sampled
from windsock.core.kernels.creases import corner_normals
from windsock.core.kernels.triangulation import (
    Triangles,
    border_distance,
    border_meshed,
    inside,
    meshed,
    nearest_place,
)
from windsock.core.refusals import TooMuch

HARD = np.radians(34.0)
"""Edges that bend by more than this stay hard."""

FINEST = 0.3
"""Along a bevel, samples are no nearer than this share of the wished spacing."""

DEEPEST = 0.49
"""The share of the depth that a bevel takes at most: front and back never touch."""

Colour = tuple[float, float, float]
Form = Literal["straight", "round", "hollow"]


@dataclass(frozen=True)
class Slab:
    """How a region gets its depth. Lengths in metres. bevel_rows: faces across a bevel."""

    depth: float
    spacing: float
    bevel: float = 0.0
    form: Form = "straight"
    bevel_rows: int = 1


def slab_faces(flat_area: float, border: float, slab: Slab) -> int:
    """About how many faces a slab of a region of this area and border length has."""
    triangle = slab.spacing**2 * np.sqrt(3) / 4
    caps = (1 if slab.depth <= 0 else 2) * (flat_area / triangle + 2 * border / slab.spacing)
    sides = 0.0 if slab.depth <= 0 else 2 * border / slab.spacing * np.ceil(slab.depth / slab.spacing)
    bevels = 4 * slab.bevel_rows * border / slab.spacing if slab.bevel > 0 and slab.depth > 0 else 0.0
    return int(min(caps + sides + bevels, 1e12))


def raised(region: Region, slab: Slab, paints: Sequence[tuple[Region, Colour | None]] = ()) -> Mesh:
    """The slab of a region as a closed mesh, its middle at z = 0, its front towards +Z; flat and open without a depth.

    paints: regions and their colours, later ones over earlier ones; faces follow their borders.
    A bevel raises what lies within its width of the border by a curve of its distance from there, so that it holds on
    the thinnest stroke, where it simply stays lower. u, v lie over the front, 0..1 along the longer side.
    """
    if slab_faces(area(region), length(region), slab) > FACE_LIMIT:
        raise TooMuch(
            f"This would have more than {FACE_LIMIT:,} faces. Nothing was changed. Take larger faces, or a smaller size."
        )
    bevel = min(slab.bevel, DEEPEST * slab.depth)
    rows = slab.bevel_rows if bevel > 0 else 0
    fine = max(min(slab.spacing, 1.5 * bevel / rows), FINEST * slab.spacing) if rows else slab.spacing
    rises = [inset(region, bevel * row / rows) for row in range(1, rows + 1)]
    rises += [painted for painted, _ in paints] if len(paints) > 1 else []
    along = min(fine, slab.spacing / 2) if len(paints) > 1 else fine
    inner = [sampled(outline, along) for rise in rises for outline in rise]
    flat, faces, rings = _even(region, inner, fine, slab.spacing)
    height = np.full(len(flat), slab.depth / 2)
    if rows:
        share = np.minimum(border_distance(flat, [flat[ring] for ring in rings]) / bevel, 1.0)
        height = slab.depth / 2 - bevel + bevel * _rise(share, slab.form)
    front = np.column_stack([flat, height])
    if slab.depth <= 0:
        return _finished(front, faces, paints, slab.spacing)
    back = np.column_stack([flat, -height])
    wall = (slab.depth - 2 * bevel) / 2
    points, sides = _walls(flat, rings, wall, slab.spacing, 2 * len(flat))
    total = np.concatenate([front, back, points])
    return _finished(
        total, np.concatenate([faces, faces[:, ::-1] + len(flat), *sides]).astype(np.int32), paints, slab.spacing
    )


def _even(region: Region, inner: list[NDArray[np.float64]], fine: float, spacing: float) -> Triangles:
    """Even triangles. Where outlines nearly touch, coarse samples of them may cross: then they are sampled more finely."""
    for part in (1, 2, 4, 8):
        loops = [loop for loop in (sampled(outline, fine / part) for outline in region) if len(loop) >= 3]
        found = meshed(loops, inner, fine, spacing)
        if found is not None:
            return found
    return border_meshed(region)


def _rise(share: NDArray[np.float64], form: Form) -> NDArray[np.float64]:
    """How high a bevel is, 0..1, where its distance from the border is 0..1 of its width."""
    if form == "straight":
        return share
    if form == "round":
        return np.sqrt(np.maximum(0.0, 1 - (1 - share) ** 2))
    return 1 - np.sqrt(np.maximum(0.0, 1 - share**2))


def _walls(
    flat: NDArray[np.float64], rings: list[NDArray[np.int64]], half: float, spacing: float, first: int
) -> tuple[NDArray[np.float64], list[NDArray[np.int64]]]:
    """The sides between the front's border and the back's: points in between, and faces.

    The front's points are numbered from 0, the back's from len(flat), those in between from `first`.
    """
    rows = max(1, int(np.ceil(2 * half / spacing - 1e-9)))
    made: list[NDArray[np.float64]] = []
    sides: list[NDArray[np.int64]] = []
    for ring in rings:
        levels = [ring]
        for row in range(1, rows):
            z = half - 2 * half * row / rows
            levels.append(first + np.arange(len(ring)))
            made.append(np.column_stack([flat[ring], np.full(len(ring), z)]))
            first += len(ring)
        levels.append(ring + len(flat))
        for above, below in itertools.pairwise(levels):
            ahead, beneath = np.roll(above, -1), np.roll(below, -1)
            sides.append(np.stack([above, below, beneath], axis=1))
            sides.append(np.stack([above, beneath, ahead], axis=1))
    none = np.zeros((0, 3))
    return np.concatenate([none, *made]), sides


def _finished(
    points: NDArray[np.float64],
    faces: NDArray[np.int32],
    paints: Sequence[tuple[Region, Colour | None]],
    spacing: float,
) -> Mesh:
    """A mesh of places and faces, its corners split where edges are hard or colours meet. Equal places become one."""
    _, kept, place = np.unique(np.round(points, 7), axis=0, return_index=True, return_inverse=True)
    order = np.argsort(kept)
    place = np.argsort(order)[place.ravel()]
    points, faces = points[kept[order]], place[faces].astype(np.int32)
    proper = are_triangles(faces)
    faces = faces[proper]
    corners = points[faces]
    facing = 0.5 * np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals = corner_normals(facing, faces.astype(np.int64), HARD).reshape(-1, 3)
    tint = _tint(corners, facing, paints, spacing)
    mesh = split_corners(points, faces, normals, tint)
    if not paints:
        return mesh
    shades = np.array([(np.nan,) * 3, *((np.nan,) * 3 if colour is None else colour for _, colour in paints)])
    colour = np.empty((len(mesh.points), 3), dtype=np.float32)
    colour[mesh.faces] = shades[tint][:, None, :]
    return replace(mesh, colour=colour)


def _tint(
    corners: NDArray[np.float64],
    facing: NDArray[np.float64],
    paints: Sequence[tuple[Region, Colour | None]],
    spacing: float,
) -> NDArray[np.int64]:
    """(m,) the number of the last paint over each face, from 1; 0 where there is none. Walls look a little inward."""
    outward = facing[:, :2]
    long = np.linalg.norm(facing, axis=1, keepdims=True)
    inward = np.divide(outward, long, out=np.zeros_like(outward), where=long > 0)
    middles = corners[:, :, :2].mean(axis=1) - inward * spacing * 0.02
    tint = np.zeros(len(corners), dtype=np.int64)
    for place, (region, _) in enumerate(paints, 1):
        tint[inside(middles, region)] = place
    bare = tint == 0
    if paints and bare.any() and not bare.all():
        # Where samples cut a corner of a hollow, a wall may lie outside all: it takes after its neighbour.
        tint[bare] = tint[~bare][nearest_place(middles[~bare], middles[bare])]
    return tint


def split_corners(
    points: NDArray[np.float64],
    faces: NDArray[np.integer],
    normals: NDArray[np.float64],
    tint: NDArray[np.int64] | None = None,
) -> Mesh:
    """A mesh whose places are points once for each normal and tint that corners have there; u, v over the front.

    points: (p, 3) places. faces: (m, 3). normals: (3m, 3) of the faces' corners in order. tint: (m,) by face.
    """
    tints = np.zeros(len(faces), dtype=np.int64) if tint is None else tint
    corner = np.column_stack([faces.ravel(), np.round(normals * 1000).astype(np.int64), np.repeat(tints, 3)])
    _, first, own = np.unique(corner, axis=0, return_index=True, return_inverse=True)
    number = faces.ravel()[first].astype(np.int64)
    places = points[number].astype(np.float32)
    low, high = points.min(axis=0), points.max(axis=0)
    uv = ((places[:, :2] - low[:2]) / max(float((high - low)[:2].max()), 1e-9)).astype(np.float32)
    return Mesh(
        points=places,
        rest=places,
        normals=normals[first].astype(np.float32),
        faces=own.reshape(-1, 3).astype(np.int32),
        number=number,
        uv=uv,
    )
