"""The cells of a set of sites: the places nearer to a site than to any other (G. Voronoi, 1908), as convex bodies."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import HalfspaceIntersection, QhullError, Voronoi

Reals = NDArray[np.float64]


def cell_corners(sites: Reals, low: Reals, high: Reals, gap: float) -> list[Reals | None]:
    """For each of (k, 3) sites the corners (v, 3) of its cell within a box, None where nothing of it is left.

    low, high: (3,) the box, in metres. gap: metres between two cells: each is drawn in by half of it.
    """
    planes = _planes(sites, low, high)
    return [_corners(*planes[site], sites[site], low, high, gap) for site in range(len(sites))]


def _planes(sites: Reals, low: Reals, high: Reals) -> list[tuple[Reals, Reals]]:
    """For each site the planes half-way to its neighbours: (p, 3) normals away from it, and (p,) where they lie."""
    middle, half = (low + high) / 2, np.maximum(high - low, 1e-9)
    corners = np.stack(np.meshgrid(*[[-1.0, 1.0]] * 3), axis=-1).reshape(-1, 3)
    # Sites so far out that their cells do not come into the box close the cells of the others.
    far = middle + np.concatenate([corners * 12, np.eye(3) * 25, -np.eye(3) * 25]) * half
    pairs = Voronoi(np.concatenate([sites, far])).ridge_points
    pairs = pairs[(pairs < len(sites)).all(axis=1)].astype(np.int64)
    both = np.concatenate([pairs, pairs[:, ::-1]])
    both = both[np.argsort(both[:, 0], kind="stable")]
    away = sites[both[:, 1]] - sites[both[:, 0]]
    normal = away / np.maximum(np.linalg.norm(away, axis=1, keepdims=True), 1e-300)
    lies = np.einsum("ij,ij->i", normal, (sites[both[:, 0]] + sites[both[:, 1]]) / 2)
    starts = np.searchsorted(both[:, 0], np.arange(len(sites) + 1))
    return [(normal[a:b], lies[a:b]) for a, b in itertools.pairwise(starts)]


def _corners(normal: Reals, lies: Reals, site: Reals, low: Reals, high: Reals, gap: float) -> Reals | None:
    box = np.concatenate([np.eye(3), -np.eye(3)])
    walls = np.concatenate([high, -low])
    normals, offsets = np.concatenate([normal, box]), np.concatenate([lies - gap / 2, walls])
    inside = np.clip(site, low + 1e-9, high - 1e-9)
    if ((normals @ inside - offsets) >= 0).any():
        return None
    try:
        found = HalfspaceIntersection(np.column_stack([normals, -offsets]), inside)
    except QhullError:
        return None
    return np.ascontiguousarray(found.intersections)
