"""Exact distance from places to a triangle surface, up to a reach."""

from __future__ import annotations

from functools import cached_property

import igl
import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.boxes import box_of

Reals = NDArray[np.float64]

TREE_SIZE = 1e6
"""About how large the tree of a surface is."""


class Surface:
    """A triangle surface and the tree of boxes over its faces, which is built when it is first asked.

    points: (n, 3); faces: (m, 3). Method: libigl's bounding-volume hierarchy with exact point-triangle distances; what is
    inside by the generalized winding number (A. Jacobson, L. Kavan, O. Sorkine-Hornung, 2013), which needs no closed
    surface, in its fast approximation (G. Barill and others, 2018): it decides only about the side, never the distance.
    """

    def __init__(self, points: Reals, faces: NDArray[np.integer]) -> None:
        self.points = np.ascontiguousarray(points, dtype=np.float64)
        self.faces = np.ascontiguousarray(faces, dtype=np.int64)

    @property
    def nbytes(self) -> int:
        return 2 * self.points.nbytes + self.faces.nbytes + 120 * len(self.faces)

    def nearest(self, places: Reals) -> tuple[Reals, NDArray[np.int64], Reals]:
        """Of (n, 3) places: (n,) the squared metres to the nearest point of the surface, (n,) its face, and (n, 3) that point."""
        tree, scale, points = self._tree
        squared, face, point = tree.squared_distance(points, self.faces, np.ascontiguousarray(places * scale))
        return (
            np.asarray(squared, dtype=np.float64).ravel() / scale**2,
            np.asarray(face, dtype=np.int64).ravel(),
            np.asarray(point, dtype=np.float64).reshape(-1, 3) / scale,
        )

    def first_hits(self, starts: Reals, ways: Reals) -> tuple[NDArray[np.int64], Reals]:
        """Of rays from (n, 3) places by (n, 3) ways of length 1: (n,) the face that each meets first, -1 for none, and (n,) how many
        metres on."""
        tree, scale, points = self._tree
        found = tree.intersect_ray_first(
            points, self.faces, np.ascontiguousarray(starts * scale), np.ascontiguousarray(ways)
        )
        return (
            np.asarray(found[0], dtype=np.int64).ravel(),
            np.asarray(found[1], dtype=np.float64).ravel() / scale,
        )

    @cached_property
    def _tree(self) -> tuple[igl.AABB, float, Reals]:
        """The tree, how many times as large as the surface it is, and its points."""
        low, high = self.box
        size = float((high - low).max()) if len(self.faces) else 0.0
        # The library takes a face of less than a millionth for one that lies along the ray: the tree is so large that none is.
        # A power of two changes no digit of what is found.
        scale = float(2.0 ** round(np.log2(TREE_SIZE / size))) if size > 0 else 1.0
        tree, points = igl.AABB(), np.ascontiguousarray(self.points * scale)
        tree.init(points, self.faces)
        return tree, scale, points

    @cached_property
    def box(self) -> tuple[Reals, Reals]:
        """Lowest and highest corner of the faces."""
        return box_of(self.points, self.faces)


def surface_distance(places: Reals, surface: Surface, reach: float, inside_is_near: bool) -> Reals:
    """(n,) metres from (n, 3) places to the nearest point of a surface; infinite where it is certainly beyond the reach.

    inside_is_near: places inside the surface have the distance 0.
    """
    distance = np.full(len(places), np.inf)
    if len(surface.faces) == 0:
        return distance
    low, high = surface.box
    out = np.maximum(np.maximum(low - places, places - high), 0)
    close = np.flatnonzero(np.einsum("ij,ij->i", out, out) <= reach * reach)
    if len(close) == 0:
        return distance
    distance[close] = np.sqrt(surface.nearest(places[close])[0])
    if inside_is_near:
        within = close[(out[close] == 0).all(axis=1)]
        distance[within[is_inside(places[within], surface)]] = 0.0
    return distance


def nearest_on(places: Reals, surface: Surface) -> tuple[Reals, Reals]:
    """(n,) metres from (n, 3) places to the nearest point of a surface, and (n, 3) those points; infinite from one without faces."""
    if len(surface.faces) == 0 or len(places) == 0:
        return np.full(len(places), np.inf), places.copy()
    squared, _, point = surface.nearest(places)
    return np.sqrt(squared), point


def is_inside(places: Reals, surface: Surface) -> NDArray[np.bool_]:
    """(n,) whether (n, 3) places lie inside, by the winding number."""
    if len(places) == 0:
        return np.zeros(0, dtype=bool)
    return np.asarray(igl.fast_winding_number(surface.points, surface.faces, np.ascontiguousarray(places))) > 0.5
