"""Whether a surface encloses a body, and how much of one."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import are_triangles

Reals = NDArray[np.floating]
Integers = NDArray[np.integer]


def encloses(points: Reals, faces: Integers) -> bool:
    """Whether a surface bounds bodies, that may touch: each edge has as many faces on one side as on the other, points at one place
    taken as one."""
    _, place = np.unique(points, axis=0, return_inverse=True)
    corners = place.reshape(-1)[faces.astype(np.int64)]
    sides = corners[are_triangles(corners)][:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    there, back = (sides[:, one] * len(points) + sides[:, 1 - one] for one in (0, 1))
    there.sort()
    back.sort()
    return bool(np.array_equal(there, back))


def volume_enclosed(points: Reals, faces: Integers) -> float:
    """What a surface encloses, in cubic metres; below 0 where its faces look inward."""
    if len(faces) == 0:
        return 0.0
    a, b, c = (points[faces[:, corner]] - points[faces[0, 0]] for corner in range(3))
    return float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6)


def mean_chord(points: Reals, faces: Integers) -> float | None:
    """How far straight lines through a body go within it, in the mean over all of them: four times its volume over its area
    (Cauchy; Dirac 1943 for bodies that are not convex). In metres; None where nothing is enclosed."""
    if not encloses(points, faces):
        return None
    a, b, c = (points[faces[:, corner]].astype(np.float64) for corner in range(3))
    area = float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum()) / 2
    return None if area <= 0 else 4 * abs(volume_enclosed(points.astype(np.float64), faces)) / area
