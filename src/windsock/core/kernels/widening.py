"""Values that fall off along the faces of a mesh about where they are high."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Reals = NDArray[np.float64]


def widened(values: Reals, points: Reals, faces: NDArray[np.int32], place: NDArray[np.int64], spreads: float) -> Reals:
    """(k,) at each place the most of the values there and of those elsewhere less what they fall by on the way along the edges of
    faces: 1 over so many metres.

    values: (k,) 0..1 at places; points: (n, 3) of a mesh; place: (n,) which place each point is at. Method: shortest paths by
    relaxing all edges until none is too long (R. Bellman, "On a routing problem", 1958), to and fro.
    """
    made = values.copy()
    for _ in range(len(values)):
        if not _relaxed(made, points, faces, place, spreads):
            break
    return made


@compiled
def _relaxed(
    values: Reals, points: Reals, faces: NDArray[np.int32], place: NDArray[np.int64], spreads: float
) -> bool:  # pragma: no cover - compiled
    changed = False
    for way in range(2):
        for turn in range(len(faces)):
            face = turn if way == 0 else len(faces) - 1 - turn
            for corner in range(3):
                a, b = faces[face, corner], faces[face, (corner + 1) % 3]
                one, other = place[a], place[b]
                if values[one] <= 0 and values[other] <= 0:
                    continue
                x, y, z = points[a, 0] - points[b, 0], points[a, 1] - points[b, 1], points[a, 2] - points[b, 2]
                fall = np.sqrt(x * x + y * y + z * z) / spreads
                if values[one] - fall > values[other] + 1e-12:
                    values[other] = values[one] - fall
                    changed = True
                elif values[other] - fall > values[one] + 1e-12:
                    values[one] = values[other] - fall
                    changed = True
    return changed
