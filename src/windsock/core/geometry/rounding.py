"""Rounded edges of pieces: near an edge the faces are split, and their points go inward along a parabola."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.geometry.subdivision import refined, sums
from windsock.core.kernels.nearest import nearest_points

Reals = NDArray[np.float64]

SHARP = np.cos(np.radians(30.0))
"""Faces of a piece that meet at more than this have an edge between them."""

DEEP = 0.35
"""How far the edge itself goes inward, in widths of the rounding: about what a circle takes off a right angle (0.41)."""

MOST_SPLITS = 3
SAMPLES = 4
"""Places along the rounding's width at which an edge is sampled."""


@dataclass(frozen=True, eq=False)
class Rounding:
    """What rounding does to the n points of a mesh in pieces. inward: (n, 3) how far each goes, normals: (n, 3) after it."""

    inward: Floats
    normals: Floats

    @property
    def nbytes(self) -> int:
        return self.inward.nbytes + self.normals.nbytes


def with_rounding(mesh: Mesh, width: float) -> tuple[Mesh, Rounding]:
    """The mesh with finer faces near the edges of its pieces, and what rounds them. width: in units of its own space."""
    for _ in range(MOST_SPLITS):
        apart, _ = _edges_near(mesh, width)
        near = apart < width
        corners = mesh.points[mesh.faces].astype(np.float64)
        longest = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2).max(axis=1)
        coarse = near[mesh.faces].any(axis=1) & (longest > 0.75 * width)
        if not coarse.any():
            break
        weight = np.zeros(len(mesh.points))
        weight[mesh.faces[coarse].ravel()] = 1.0
        mesh, _ = refined(mesh, np.minimum(weight, near.astype(np.float64)), smooth=False)
    apart, outward = _edges_near(mesh, width)
    share = np.clip(1 - apart / width, 0, 1)[:, None]
    normals = mesh.normals * (1 - share) + outward * share
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    inward = -outward * (DEEP * width) * share**2
    return mesh, Rounding(inward.astype(np.float32), normals.astype(np.float32))


def _edges_near(mesh: Mesh, width: float) -> tuple[Reals, Reals]:
    """(n,) how far each point is from the nearest edge of its piece, and (n, 3) the way outward there."""
    assert mesh.piece is not None
    _, place = np.unique(np.stack([mesh.piece.astype(np.int64), mesh.number], axis=1), axis=0, return_inverse=True)
    place = place.ravel()
    corners = mesh.points[mesh.faces].astype(np.float64)
    facing = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    length = np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-300)
    count = int(place.max(initial=-1)) + 1
    # Each face counts by its angle, so that how finely a side is cut does not turn the edge towards it.
    outward = sums(place[mesh.faces].ravel(), np.repeat(facing / length, 3, axis=0) * _angles(corners), count)
    outward /= np.maximum(np.linalg.norm(outward, axis=1, keepdims=True), 1e-12)
    sides = mesh.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    low, high = np.sort(place[sides], axis=1).T
    _, edge = np.unique(low * count + high, return_inverse=True)
    total = sums(edge.ravel(), np.repeat(facing / length, 3, axis=0), int(edge.max(initial=-1)) + 1)
    # Two faces of an edge with cosine c add up to a vector whose square is 2 + 2 c.
    sharp = ((total**2).sum(axis=1) - 2) / 2 < SHARP
    chosen = sides[sharp[edge.ravel()]]
    if len(chosen) == 0:
        return np.full(len(mesh.points), np.inf), outward[place]
    start, end = (mesh.points[chosen[:, one]].astype(np.float64) for one in (0, 1))
    long = np.linalg.norm(end - start, axis=1)
    steps = np.clip(np.ceil(long * SAMPLES / width).astype(np.int64), 1, 64) + 1
    row = np.repeat(np.arange(len(chosen)), steps)
    along = (np.arange(len(row)) - np.repeat(np.cumsum(steps) - steps, steps)) / np.repeat(steps - 1, steps)
    samples = start[row] + (end - start)[row] * along[:, None]
    ways = outward[place[chosen[:, 0]]][row] * (1 - along[:, None]) + outward[place[chosen[:, 1]]][row] * along[:, None]
    # Pieces are put far from each other, so that a point finds only edges of its own.
    far = 4 * (np.ptp(mesh.points, axis=0).max() + width)
    own = np.column_stack([mesh.points.astype(np.float64), mesh.piece * far])
    near = nearest_points(own, np.column_stack([samples, mesh.piece[chosen[row, 0]] * far]))
    same = mesh.piece[chosen[row, 0]][near] == mesh.piece
    apart = np.where(same, np.linalg.norm(samples[near] - mesh.points, axis=1), np.inf)
    way = ways[near] / np.maximum(np.linalg.norm(ways[near], axis=1, keepdims=True), 1e-12)
    return apart, way


def _angles(corners: Reals) -> Reals:
    """(3 m, 1) the angle of each of (m, 3, 3) corners."""
    ways = corners[:, [1, 2, 0]] - corners
    back = -ways[:, [2, 0, 1]]
    across = np.linalg.norm(np.cross(ways, back), axis=2)
    return np.arctan2(across, (ways * back).sum(axis=2)).reshape(-1, 1)
