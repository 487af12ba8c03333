"""What of a field in space is left once all that stands alone and is too small is taken off."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Floats = NDArray[np.float32]


def without_small(values: Floats, there: NDArray[np.bool_], least: int) -> Floats:
    """The values of a grid, lowered where what is as high or higher and hangs together with a node is fewer than so many nodes.

    there: the nodes that count. Method: area opening by union-find (A. Meijster, M. Wilkinson, "A comparison of algorithms for connected
    set openings and closings", 2002), over the six neighbours of each node.
    """
    inside = np.flatnonzero(there)
    order = inside[np.argsort(-values.reshape(-1)[inside], kind="stable")]
    parent = np.zeros(values.size, dtype=np.int64)
    made = values.copy()
    _open(values.reshape(-1), np.array(values.shape), order, least, parent, made.reshape(-1))
    return made


@compiled
def _root(node: int, parent: NDArray[np.int64]) -> int:  # pragma: no cover - compiled
    """parent: by node, 1 above that of which it is a part; below 0 the nodes that a root has; 0 for one that is not there yet."""
    root = node
    while parent[root] > 0:
        root = parent[root] - 1
    while parent[node] > 0:
        after = parent[node] - 1
        parent[node] = root + 1
        node = after
    return root


@compiled
def _open(
    values: Floats,
    shape: NDArray[np.int64],
    order: NDArray[np.int64],
    least: int,
    parent: NDArray[np.int64],
    made: Floats,
):  # pragma: no cover - compiled
    steps = np.array([shape[1] * shape[2], shape[2], 1])
    for node in order:
        parent[node] = -1
        for axis in range(3):
            at = node // steps[axis] % shape[axis]
            for way in range(2):
                if (way == 0 and at == 0) or (way == 1 and at == shape[axis] - 1):
                    continue
                other = node + (steps[axis] if way else -steps[axis])
                if parent[other] == 0:
                    continue
                root = _root(other, parent)
                if root == node:
                    continue
                if values[root] == values[node] or -parent[root] < least:
                    parent[node] = max(parent[node] + parent[root], -least)
                    parent[root] = node + 1
                else:
                    parent[node] = -least
    for turn in range(len(order)):
        node = order[len(order) - 1 - turn]
        # The root of what it is a part of comes later in the order, and so is known.
        if parent[node] > 0:
            made[node] = made[parent[node] - 1]
