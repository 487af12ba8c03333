"""Whether places lie within a closed surface."""

from __future__ import annotations

import igl
import numpy as np
from numpy.typing import NDArray

Reals = NDArray[np.float64]


def lies_within(points: Reals, faces: NDArray[np.int32], places: Reals) -> NDArray[np.bool_]:
    """(n,) whether each of (n, 3) places has the surface of (p, 3) points and (m, 3) faces wound about it.

    Generalised winding number: A. Jacobson and others, "Robust inside-outside segmentation", 2013; G. Barill and others,
    "Fast winding numbers for soups and clouds", 2018. An open surface winds about what it nearly encloses.
    """
    wound = igl.fast_winding_number(points, faces.astype(np.int64), places)
    return np.asarray(wound).ravel() > 0.5
