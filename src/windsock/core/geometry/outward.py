"""Which way out of a surface is, at sharp edges too."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Reals = NDArray[np.float64]

SHARP = 1e-6
"""The share by which normals at one place have to differ for it to be an edge."""

FLAT = 0.02
"""The share of a place's directions below which it is taken to have no extent that way."""

LONGEST = 4.0
"""How much further than a face a corner goes at most."""


def outward(normals: Reals, place: NDArray[np.int64], count: int) -> Reals:
    """(n, 3) for each point the way that its place goes, for its faces to go one metre out along their normals.

    normals: (n, 3) of length 1; place: (n,) which place each point is at, below `count`. Where all normals of a place are
    alike it is that normal. At an edge it is the shortest u with n . u = 1 for each normal n there, in the sense of least
    squares: all points of the place go the same way, and a box stays a box.
    """
    shared = np.bincount(place, minlength=count)
    sums = np.stack([np.bincount(place, weights=normals[:, axis], minlength=count) for axis in range(3)], axis=1)
    square = np.einsum("ij,ij->i", sums, sums)
    edges = np.flatnonzero((shared > 1) & (square < (shared * (1 - SHARP)) ** 2))
    if len(edges) == 0:
        return normals
    row = np.full(count, -1, dtype=np.int64)
    row[edges] = np.arange(len(edges))
    at = np.flatnonzero(row[place] >= 0)
    own = normals[at]
    outer = np.zeros((len(edges), 3, 3))
    for i in range(3):
        for j in range(3):
            outer[:, i, j] = np.bincount(row[place[at]], weights=own[:, i] * own[:, j], minlength=len(edges))
    sizes, axes = np.linalg.eigh(outer)
    least = FLAT * sizes.sum(axis=1, keepdims=True)
    inverse = np.divide(1.0, sizes, out=np.zeros_like(sizes), where=sizes > least)
    way = np.einsum("kij,kj,klj,kl->ki", axes, inverse, axes, sums[edges])
    length = np.linalg.norm(way, axis=1, keepdims=True)
    way *= np.minimum(1.0, LONGEST / np.maximum(length, 1e-12))
    made = normals.copy()
    made[at] = way[row[place[at]]]
    return made
