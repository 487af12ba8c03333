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
