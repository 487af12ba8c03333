"""Which shares of its corners a place on a triangle has."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Reals = NDArray[np.float64]
Faces = NDArray[np.int64]


def corner_shares(places: Reals, points: Reals, faces: Faces, face: Faces) -> Reals:
    """(n, 3) shares of the corners of triangles at (n, 3) places on them, each at least 0 and together 1.

    points: (m, 3); faces: (k, 3) of them; face: (n,) which one each place is on. Those of a face of no area go along its longer side.
    Method: the barycentric coordinates by the Gram matrix of two sides."""
    made = np.empty((len(places), 3))
    _share(np.ascontiguousarray(places), points, faces, face, made)
    return made


@compiled
def _share(places: Reals, points: Reals, faces: Faces, face: Faces, made: Reals):  # pragma: no cover - compiled
    for place in range(len(places)):
        a, b, c = faces[face[place], 0], faces[face[place], 1], faces[face[place], 2]
        bb, cc, bc, pb, pc = 0.0, 0.0, 0.0, 0.0, 0.0
        for axis in range(3):
            at = points[a, axis]
            ab, ac, ap = points[b, axis] - at, points[c, axis] - at, places[place, axis] - at
            bb += ab * ab
            cc += ac * ac
            bc += ab * ac
            pb += ap * ab
            pc += ap * ac
        area = bb * cc - bc * bc
        if area > 1e-30:
            second, third = (cc * pb - bc * pc) / area, (bb * pc - bc * pb) / area
        elif bb >= cc:
            second, third = min(max(pb / max(bb, 1e-300), 0.0), 1.0), 0.0
        else:
            second, third = 0.0, min(max(pc / max(cc, 1e-300), 0.0), 1.0)
        first = min(max(1 - second - third, 0.0), 1.0)
        second, third = min(max(second, 0.0), 1.0), min(max(third, 0.0), 1.0)
        whole = max(first + second + third, 1e-12)
        made[place, 0], made[place, 1], made[place, 2] = first / whole, second / whole, third / whole
