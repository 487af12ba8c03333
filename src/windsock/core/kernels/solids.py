"""Closed meshes as solids, cut by convex cells (manifold3d), and where each face of the outcome came from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from manifold3d import Manifold
from manifold3d import Mesh as Raw
from numpy.typing import NDArray

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

FEW = 32
"""So many cells are cut out of a solid one by one; of more, first each half of them together."""


@dataclass(frozen=True, eq=False)
class Shard:
    """What one cell cuts out of a solid. corners: (t, 3, 3) of its triangles, in metres. source: (t,) the face of the solid
    that each is a part of, -1 for those on the cut. joined: (t, 3) which corners are the same point."""

    cell: int
    corners: Reals
    source: Numbers
    joined: Numbers


def solid_of(points: Reals, faces: NDArray[np.int32]) -> Manifold | None:
    """A solid bounded by (m, 3) faces of (n, 3) points, None where they do not close or meet themselves badly."""
    if len(faces) == 0 or not _closed(faces):
        return None
    raw = Raw(
        np.ascontiguousarray(points, dtype=np.float32),
        np.ascontiguousarray(faces, dtype=np.uint32),
        face_id=np.arange(len(faces), dtype=np.uint32),
    )
    solid = Manifold(raw)
    return solid if solid.status().name == "NoError" and solid.volume() > 0 else None


def _closed(faces: NDArray[np.int32]) -> bool:
    """Whether each edge has one face on either side."""
    sides = faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64)
    if (sides[:, 0] == sides[:, 1]).any():
        return False
    count = int(faces.max()) + 1
    there, back = sides[:, 0] * count + sides[:, 1], sides[:, 1] * count + sides[:, 0]
    there.sort()
    back.sort()
    return bool((np.diff(there) > 0).all() and np.array_equal(there, back))


def shards(solid: Manifold, cells: list[Reals | None], named: Numbers, check: Callable[[float], None]) -> list[Shard]:
    """What is left of a solid within each cell, given by its corners. named: (m,) what `source` calls each of its faces.
    check: told how much is done, may raise.

    Many cells are halved again and again along their widest side, and each half is cut out by the convex body about it
    first, so that a cell is cut out of little more than what it keeps.
    """
    original = int(solid.to_mesh().run_original_id[0])
    there = [cell for cell, corners in enumerate(cells) if corners is not None]
    found: list[Shard] = []

    def cut(body: Manifold, which: list[int]) -> None:
        if body.is_empty():
            return
        if len(which) <= FEW:
            for cell in which:
                corners = cells[cell]
                assert corners is not None
                shard = _shard(body ^ Manifold.hull_points(corners), cell, original, named)
                if shard is not None:
                    found.append(shard)
            check(len(found) / max(len(there), 1))
            return
        middles = np.array([_of(cells, cell).mean(axis=0) for cell in which])
        order = np.argsort(middles[:, np.ptp(middles, axis=0).argmax()], kind="stable")
        for half in (order[: len(order) // 2], order[len(order) // 2 :]):
            chosen = [which[one] for one in half]
            about = Manifold.hull_points(np.concatenate([_of(cells, cell) for cell in chosen]))
            cut(body ^ about, chosen)

    cut(solid, there)
    return sorted(found, key=lambda shard: shard.cell)


def _of(cells: list[Reals | None], cell: int) -> Reals:
    corners = cells[cell]
    assert corners is not None
    return corners


def _shard(body: Manifold, cell: int, original: int, named: Numbers) -> Shard | None:
    raw = body.to_mesh()
    triangles = np.asarray(raw.tri_verts).astype(np.int64)
    if len(triangles) == 0:
        return None
    points = np.asarray(raw.vert_properties)[:, :3].astype(np.float64)
    source = np.full(len(triangles), -1, dtype=np.int64)
    runs = np.asarray(raw.run_index).astype(np.int64) // 3
    for run, name in enumerate(np.asarray(raw.run_original_id)):
        if int(name) == original:
            own = slice(int(runs[run]), int(runs[run + 1]))
            source[own] = named[np.asarray(raw.face_id)[own]]
    return Shard(cell, points[triangles], source, triangles)
