"""How far a mesh is stretched and folded against how it rests."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.neighbours import places_by_piece
from windsock.core.geometry.placement import Matrix, moved

Values = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Strain:
    """At n points. stretch: (n,) times as long as at rest, in the direction in which that is most, on the faces about the point.
    fold: (n,) degrees by which two of these faces are bent against each other more than at rest, at most 180."""

    stretch: Values
    fold: Values

    @classmethod
    def none(cls, count: int) -> Strain:
        """That of what rests."""
        return cls(np.ones(count), np.zeros(count))

    def between(self, first: NDArray[np.integer], second: NDArray[np.integer], share: Values) -> Strain:
        """The same at (k,) places between points."""

        def on(values: Values) -> Values:
            return values[first] + (values[second] - values[first]) * share

        return Strain(on(self.stretch), on(self.fold))


def strain_of(mesh: Mesh, matrix: Matrix) -> Strain:
    """The strain of a mesh under a (4, 4) matrix to the world, against how it rests under the same one.

    The stretch of a face is the largest singular value of the linear map from its two edges at rest to those it has, found from
    their Gram matrices (the larger principal stretch of continuum mechanics). Faces of no area at rest count as not
    stretched, and faces of no area on either side as not folded."""
    faces = mesh.faces
    if len(faces) == 0:
        return Strain.none(len(mesh.points))
    now, rest = moved(mesh.points, matrix), moved(mesh.rest, matrix)
    place, count = places_by_piece(mesh)
    corners = place[faces]
    stretch = np.zeros(count)
    np.maximum.at(stretch, corners.ravel(), np.repeat(_stretch(now, rest, faces), 3))
    fold = np.zeros(count)
    ends, beside = _edges(corners, count)
    bent = _degrees(_facing(now, faces), beside) - _degrees(_facing(rest, faces), beside)
    np.maximum.at(fold, ends.ravel(), np.repeat(np.maximum(bent, 0), 2))
    used = np.zeros(count, dtype=bool)
    used[corners] = True
    return Strain(np.where(used, stretch, 1.0)[place], fold[place])


def _stretch(now: Values, rest: Values, faces: NDArray[np.integer]) -> Values:
    """(m,) the larger principal stretch of faces."""
    (aa, bb, ab), (pp, qq, pq) = _gram(rest, faces), _gram(now, faces)
    area = aa * bb - ab * ab
    flat = area <= 1e-14 * np.maximum(aa, bb) ** 2
    area = np.where(flat, 1.0, area)
    half = (bb * pp - 2 * ab * pq + aa * qq) / (2 * area)
    product = np.maximum(pp * qq - pq * pq, 0) / area
    return np.where(flat, 1.0, np.sqrt(half + np.sqrt(np.maximum(half * half - product, 0))))


def _gram(points: Values, faces: NDArray[np.integer]) -> tuple[Values, Values, Values]:
    start = points[faces[:, 0]]
    a, b = points[faces[:, 1]] - start, points[faces[:, 2]] - start
    aa, bb, ab = (np.einsum("ij,ij->i", one, other) for one, other in ((a, a), (b, b), (a, b)))
    return aa, bb, ab


def _edges(corners: NDArray[np.integer], count: int) -> tuple[NDArray[np.integer], NDArray[np.integer]]:
    """(k, 2) the places at the edges of two faces, below `count`, and (k, 2) which faces these are. Of an edge of more faces, those
    that follow each other."""
    ends = np.sort(corners[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64), axis=1)
    name = ends[:, 0] * count + ends[:, 1]
    order = np.argsort(name, kind="stable")
    same = (name[order][1:] == name[order][:-1]) & (ends[order][1:, 0] != ends[order][1:, 1])
    first, second = order[:-1][same], order[1:][same]
    return ends[first], np.stack([first // 3, second // 3], axis=1)


def _facing(points: Values, faces: NDArray[np.integer]) -> Values:
    """(m, 3) normals of faces, of length 1, or 0 where a face has no area."""
    start = points[faces[:, 0]]
    normal = np.asarray(np.cross(points[faces[:, 1]] - start, points[faces[:, 2]] - start), dtype=np.float64)
    length = np.linalg.norm(normal, axis=1, keepdims=True)
    return np.divide(normal, length, out=np.zeros_like(normal), where=length > 1e-14 * max(float(length.max()), 1e-300))


def _degrees(facing: Values, beside: NDArray[np.integer]) -> Values:
    """(k,) degrees between the normals of faces beside each other; 0 where one has none."""
    one, other = facing[beside[:, 0]], facing[beside[:, 1]]
    there = one.any(axis=1) & other.any(axis=1)
    return np.where(there, np.degrees(np.arccos(np.clip(np.einsum("ij,ij->i", one, other), -1, 1))), 0.0)
