"""Which places of a mesh are beside each other."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Mesh, Numbers, places_of
from windsock.core.kernels.distinct import distinct_pairs


def places_by_piece(mesh: Mesh) -> tuple[Numbers, int]:
    """(n,) which place each point is at, each piece with places of its own, and how many there are."""
    place, count = places_of(mesh.number)
    if mesh.piece is None:
        return place, count
    both = mesh.piece.astype(np.int64) * count + place
    _, own = np.unique(both, return_inverse=True)
    return own.astype(np.int64), int(own.max(initial=-1)) + 1


def edges_between(faces: Numbers, count: int) -> tuple[Numbers, NDArray[np.bool_]]:
    """(k, 2) the edges of (m, 3) faces between places, below `count`, and (count,) which places are at an edge of one face
    only."""
    ends = faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64)
    ends = ends[ends[:, 0] != ends[:, 1]]
    first, _, faces_at = distinct_pairs(np.ascontiguousarray(ends[:, 0]), np.ascontiguousarray(ends[:, 1]), count)
    edges = ends[first]
    border = np.zeros(count, dtype=bool)
    border[edges[faces_at == 1].ravel()] = True
    return edges, border
