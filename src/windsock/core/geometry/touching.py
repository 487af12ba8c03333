"""How near two surfaces come to each other."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.boxes import faces_in_box
from windsock.core.kernels.surface_distance import Surface, surface_distance

Reals = NDArray[np.float64]


def gap_between(one: Surface, other: Surface, within: float) -> float:
    """Metres between two surfaces, 0 where they cross or a corner of the other one lies inside the first; infinite from `within`
    on.

    Whether they cross is exact: an edge of one goes through a face of the other. Else it is the least distance from the corners of
    each to the faces of the other: what two edges that pass each other come nearer is not seen. What is out of reach of the
    other one's box is passed by."""
    if len(one.faces) == 0 or len(other.faces) == 0:
        return np.inf
    here, there = _in_reach(one, other, within), _in_reach(other, one, within)
    if here is None or there is None:
        return np.inf
    least = min(
        float(surface_distance(_corners(here), there, within, False).min()),
        float(surface_distance(_corners(there), one, within, True).min()),
    )
    if least > 0 and (_goes_through(here, there) or _goes_through(there, here)):
        return 0.0
    return least if least < within else np.inf


def _in_reach(surface: Surface, other: Surface, reach: float) -> Surface | None:
    """The faces of a surface in reach of the box about another one; None where there are none."""
    low, high = other.box
    near = faces_in_box(surface.points, surface.faces, low - reach, high + reach)
    return Surface(surface.points, surface.faces[near]) if near.any() else None


def _corners(surface: Surface) -> Reals:
    return surface.points[np.unique(surface.faces)]


def _goes_through(one: Surface, other: Surface) -> bool:
    """Whether an edge of one surface goes through a face of another."""
    ends = np.unique(np.sort(one.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1), axis=0)
    start, way = one.points[ends[:, 0]], one.points[ends[:, 1]] - one.points[ends[:, 0]]
    long = np.linalg.norm(way, axis=1)
    start, way, long = start[long > 0], way[long > 0], long[long > 0]
    if len(start) == 0:
        return False
    face, along = other.first_hits(start, way / long[:, None])
    return bool(((face >= 0) & (along <= long)).any())
