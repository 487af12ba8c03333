"""Points joined to those near them, by the shortest way in all."""

from __future__ import annotations

from typing import cast

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array
from scipy.sparse.csgraph import minimum_spanning_tree
from scipy.spatial import KDTree

NEIGHBOURS = 8
"""Of a point, those that it may be joined to."""


def spanning_pairs(points: NDArray[np.float64]) -> NDArray[np.int64]:
    """(p, 2) pairs of (n, 3) points that are joined so that each hangs together with those near it by the shortest way in all: a minimum
    spanning tree (J. Kruskal, "On the shortest spanning subtree of a graph", 1956) over each and the nearest few."""
    count, many = min(NEIGHBOURS + 1, len(points)), len(points)
    if count < 2:
        return np.zeros((0, 2), dtype=np.int64)
    away, near = cast(tuple[NDArray[np.float64], NDArray[np.int64]], KDTree(points).query(points, k=count))
    one, other = np.repeat(np.arange(many), count), near.reshape(-1)
    apart = one != other
    # What lies in one place is as near as can be, not unjoined, as 0 would have it.
    lengths = np.maximum(away.reshape(-1)[apart], 1e-12)
    tree = minimum_spanning_tree(csr_array((lengths, (one[apart], other[apart])), shape=(many, many))).tocoo()
    return np.unique(np.sort(np.stack([tree.row, tree.col], axis=1).astype(np.int64), axis=1), axis=0)
