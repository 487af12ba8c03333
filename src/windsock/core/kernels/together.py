"""What hangs together by shared corners."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

Numbers = NDArray[np.int64]


def together(corners: Numbers) -> Numbers:
    """(t,) which triangles hang together by shared corners, (t, 3), numbered in the order of their first triangle."""
    if len(corners) == 0:
        return np.zeros(0, dtype=np.int64)
    count = int(corners.max()) + 1
    ends = corners[:, [0, 1, 1, 2]].reshape(-1, 2)
    graph = coo_array((np.ones(len(ends), dtype=np.int8), (ends[:, 0], ends[:, 1])), shape=(count, count))
    _, label = connected_components(graph, directed=False)
    of_face = label[corners[:, 0]]
    _, first, back = np.unique(of_face, return_index=True, return_inverse=True)
    order = np.empty(len(first), dtype=np.int64)
    order[np.argsort(first)] = np.arange(len(first))
    return order[back]


def parts_and_holes(corners: Numbers) -> tuple[int, int]:
    """How many parts closed triangles, (t, 3), are, and how many holes go through them together: the handles that are left of points less
    edges and faces, which is twice the parts less twice the handles (Euler and Poincare)."""
    if len(corners) == 0:
        return 0, 0
    used, names = np.unique(corners, return_inverse=True)
    names = names.reshape(-1, 3)
    parts = int(together(names).max()) + 1
    edges = np.unique(np.sort(names[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1), axis=0)
    return parts, parts - (len(used) - len(edges) + len(corners)) // 2
