"""How far a front travels from body to body, over the shortest ways between neighbours."""

from __future__ import annotations

from typing import cast

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import dijkstra
from scipy.spatial import KDTree

Reals = NDArray[np.float64]

NEIGHBOURS = 10
"""Bodies that a front can go on to from one: the nearest, and those that it is among the nearest of."""


def travel_between(middles: Reals, entered: Reals, pace: Reals) -> Reals:
    """(k,) metres of travel, at full pace, that a front needs to come to each body; infinite where it never does.

    middles: (k, 3) metres. entered: (k,) travel at which it enters each by itself, infinite where it does not. pace: (k,)
    factor of its speed at each, 0..1. Dijkstra's shortest ways (1959) over the nearest neighbours.
    """
    count = len(middles)
    seeds = np.flatnonzero(np.isfinite(entered))
    if count == 0 or len(seeds) == 0:
        return np.full(count, np.inf)
    apart, near = KDTree(middles).query(middles, k=min(NEIGHBOURS + 1, count))
    apart, near = np.asarray(apart).reshape(count, -1), np.asarray(near).reshape(count, -1)
    start = np.repeat(np.arange(count), near.shape[1])
    end, length = near.ravel(), apart.ravel()
    slow = (pace[start] + pace[end]) / 2
    open_ = (start != end) & (slow > 0)
    start, end, length = start[open_], end[open_], (length / np.maximum(slow, 1e-12))[open_]
    # One more body that leads to each seed at its own time; a way of no length is kept as a tiny one.
    start, end = np.append(start, np.full(len(seeds), count)), np.append(end, seeds)
    length = np.maximum(np.append(length, entered[seeds]), 1e-12)
    # Both ways at once, each pair with its length only once: a sparse array would add them up.
    low, high = np.minimum(start, end), np.maximum(start, end)
    _, first = np.unique(low * (count + 1) + high, return_index=True)
    graph = coo_array((length[first], (low[first], high[first])), shape=(count + 1, count + 1)).tocsr()
    return cast(Reals, dijkstra(graph, directed=False, indices=count))[:count]
