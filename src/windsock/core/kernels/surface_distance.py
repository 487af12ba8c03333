"""Exact distance from places to a triangle surface, up to a reach."""

from __future__ import annotations

from functools import cached_property

import igl
import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.boxes import box_of

Reals = NDArray[np.float64]


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
        return self.points.nbytes + self.faces.nbytes + 120 * len(self.faces)

    @cached_property
    def tree(self) -> igl.AABB:
        tree = igl.AABB()
        tree.init(self.points, self.faces)
        return tree

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
    asked = np.ascontiguousarray(places[close])
    squared, _, _ = surface.tree.squared_distance(surface.points, surface.faces, asked)
    distance[close] = np.sqrt(squared)
    if inside_is_near:
        within = close[(out[close] == 0).all(axis=1)]
        distance[within[is_inside(places[within], surface)]] = 0.0
    return distance


def nearest_on(places: Reals, surface: Surface) -> tuple[Reals, Reals]:
    """(n,) metres from (n, 3) places to the nearest point of a surface, and (n, 3) those points; infinite from one without faces."""
    if len(surface.faces) == 0 or len(places) == 0:
        return np.full(len(places), np.inf), places.copy()
    found = surface.tree.squared_distance(surface.points, surface.faces, np.ascontiguousarray(places))
    return np.sqrt(found[0]), np.asarray(found[2], dtype=np.float64)


def is_inside(places: Reals, surface: Surface) -> NDArray[np.bool_]:
    """(n,) whether (n, 3) places lie inside, by the winding number."""
    if len(places) == 0:
        return np.zeros(0, dtype=bool)
    return np.asarray(igl.fast_winding_number(surface.points, surface.faces, np.ascontiguousarray(places))) > 0.5
