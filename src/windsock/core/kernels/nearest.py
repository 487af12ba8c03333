"""The place on a mesh that is nearest to a given one."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import KDTree

Reals = NDArray[np.float64]


def nearest_place(place: Reals, points: Reals, faces: NDArray[np.integer]) -> tuple[NDArray[np.integer], Reals]:
    """(3,) the corners of the nearest of (m, 3) faces, and (3,) the barycentric weights of the place on it.

    place: (3,); points: (n, 3). Every face is tried: exact, and linear in the faces.
    Method: C. Ericson, "Real-Time Collision Detection", 2005, closest point on a triangle, by its three sides and inside.
    """
    a, b, c = (points[faces[:, corner]] for corner in range(3))
    inside = _on_planes(place, a, b, c)
    candidates = [np.where(np.all(inside >= 0, axis=1, keepdims=True), inside, np.nan)]
    for start, end, one, two in ((a, b, 0, 1), (b, c, 1, 2), (c, a, 2, 0)):
        along = end - start
        length = np.einsum("ij,ij->i", along, along)
        share = np.clip(np.einsum("ij,ij->i", place - start, along) / np.where(length == 0, 1, length), 0, 1)
        weights = np.zeros((len(faces), 3))
        weights[:, one], weights[:, two] = 1 - share, share
        candidates.append(weights)
    best, found = np.inf, (0, candidates[1][0])
    for weights in candidates:
        nearest = weights[:, :1] * a + weights[:, 1:2] * b + weights[:, 2:] * c
        apart = np.nan_to_num(np.einsum("ij,ij->i", nearest - place, nearest - place), nan=np.inf)
        face = int(np.argmin(apart))
        if apart[face] < best:
            best, found = apart[face], (face, weights[face])
    return faces[found[0]], found[1]


def _on_planes(place: Reals, a: Reals, b: Reals, c: Reals) -> Reals:
    """(m, 3) barycentric weights of a place put straight onto the plane of each face."""
    ab, ac, ap = b - a, c - a, place - a
    normal = np.cross(ab, ac)
    area = np.einsum("ij,ij->i", normal, normal)
    area = np.where(area == 0, np.nan, area)
    second = np.einsum("ij,ij->i", np.cross(ap, ac), normal) / area
    third = np.einsum("ij,ij->i", np.cross(ab, ap), normal) / area
    return np.stack([1 - second - third, second, third], axis=1)


def nearest_points(places: NDArray[np.floating], among: NDArray[np.floating]) -> NDArray[np.int64]:
    """(n,) which of (m, 3) points is nearest to each of (n, 3) places."""
    _, near = KDTree(among).query(places, workers=2)
    return np.asarray(near, dtype=np.int64)


def within_reach(places: Reals, others: Reals, reach: float) -> NDArray[np.bool_]:
    """(n,) whether (n, 3) places have one of (m, 3) others within a reach."""
    distance, _ = KDTree(others).query(places, distance_upper_bound=reach, workers=-1)
    return np.isfinite(distance)
