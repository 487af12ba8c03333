"""How fast values change over a surface."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Values = NDArray[np.float64]


def face_gradients(points: Values, faces: NDArray[np.int32], values: Values) -> Values:
    """(m,) the length of the gradient, per metre, of values that are linear over each face; 0 on faces of no area.

    points: (n, 3) in metres. values: (n,). With edges a, b from the first corner and differences p, q along them the
    gradient g is the vector in their plane with g.a = p and g.b = q, so |g|^2 = (p^2 b.b - 2 p q a.b + q^2 a.a) / |a x b|^2.
    """
    start = points[faces[:, 0]]
    a, b = points[faces[:, 1]] - start, points[faces[:, 2]] - start
    base = values[faces[:, 0]]
    p, q = values[faces[:, 1]] - base, values[faces[:, 2]] - base
    aa, bb, ab = (np.einsum("ij,ij->i", one, other) for one, other in ((a, a), (b, b), (a, b)))
    area = aa * bb - ab * ab
    square = p * p * bb - 2 * p * q * ab + q * q * aa
    return np.sqrt(np.divide(np.maximum(square, 0), area, out=np.zeros(len(faces)), where=area > 1e-24))


def point_gradients(points: Values, faces: NDArray[np.int32], number: NDArray[np.int64], values: Values) -> Values:
    """(n,) the same at points: the mean over the faces about each place, weighted by area. number: (n,) as in a mesh."""
    start = points[faces[:, 0]]
    area = np.linalg.norm(np.cross(points[faces[:, 1]] - start, points[faces[:, 2]] - start), axis=1)
    weighted = area * face_gradients(points, faces, values)
    _, place = np.unique(number, return_inverse=True)
    corners, count = place[faces].ravel(), int(place.max(initial=-1)) + 1
    sums = np.bincount(corners, weights=np.repeat(weighted, 3), minlength=count)
    areas = np.bincount(corners, weights=np.repeat(area, 3), minlength=count)
    return np.divide(sums, areas, out=np.zeros(count), where=areas > 0)[place]
