"""The Laplacian of a triangle mesh, by cotangents.

U. Pinkall and K. Polthier, "Computing discrete minimal surfaces and their conjugates" (1993); masses are a third of the area of the
faces about a place (lumped). Weights below 0, which obtuse faces have, count as 0: so values never rise above those about them.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array, csr_array

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]


def cotangent_weights(points: Reals, faces: Numbers) -> tuple[csr_array, Reals]:
    """(n, n) the weights w of the edges between places, symmetric and without a diagonal, and (n,) the mass of each place in square
    metres.

    points: (n, 3) metres; faces: (m, 3). The Laplacian of values u at place i is the sum of w_ij (u_j - u_i), divided by its mass."""
    corners, count = points[faces], len(points)
    twice = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    rows: list[Numbers] = []
    columns: list[Numbers] = []
    weights: list[Reals] = []
    for corner in range(3):
        one, other = (corner + 1) % 3, (corner + 2) % 3
        a, b = corners[:, one] - corners[:, corner], corners[:, other] - corners[:, corner]
        weight = 0.5 * np.einsum("ij,ij->i", a, b) / np.maximum(twice, 1e-12 * _squares(a, b))
        rows += [faces[:, one], faces[:, other]]
        columns += [faces[:, other], faces[:, one]]
        weights += [weight, weight]
    row, column, weight = np.concatenate(rows), np.concatenate(columns), np.concatenate(weights)
    proper = row != column
    made = coo_array((weight[proper], (row[proper], column[proper])), shape=(count, count)).tocsr()
    made.data = np.maximum(made.data, 0.0)
    mass = np.bincount(faces.ravel(), weights=np.repeat(twice / 6, 3), minlength=count)
    return made, mass.astype(np.float64)


def _squares(a: Reals, b: Reals) -> Reals:
    return np.einsum("ij,ij->i", a, a) + np.einsum("ij,ij->i", b, b) + 1e-300


def border_lengths(points: Reals, faces: Numbers) -> Reals:
    """(n,) metres of the open edges that each place stands for: half of each beside it."""
    ends = np.sort(faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    edges, count = np.unique(ends, axis=0, return_counts=True)
    edges = edges[(count == 1) & (edges[:, 0] != edges[:, 1])]
    half = np.linalg.norm(points[edges[:, 0]] - points[edges[:, 1]], axis=1) / 2
    return np.bincount(edges.ravel(), weights=np.repeat(half, 2), minlength=len(points)).astype(np.float64)
