"""Blending of two rows of values in one pass."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Values = NDArray[np.float64]


def overlaid(before: Values, value: Values) -> Values:
    """(n,) overlay of W3C Compositing and Blending Level 1: 2 b v where b is at most 1/2, 1 - 2 (1 - b) (1 - v) elsewhere."""
    made = np.empty(len(before))
    _overlay(before, value, made)
    return made


@compiled
def _overlay(before: Values, value: Values, made: Values):  # pragma: no cover - compiled
    for one in range(len(made)):
        b, v = before[one], value[one]
        made[one] = 2 * b * v if b <= 0.5 else 1 - 2 * (1 - b) * (1 - v)
