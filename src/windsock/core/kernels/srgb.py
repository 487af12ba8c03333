"""The transfer function of sRGB (IEC 61966-2-1)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def decoded(encoded: NDArray[np.float64]) -> NDArray[np.float64]:
    """Linear components of sRGB ones, both 0..1."""
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


OF_BYTES = decoded(np.arange(256) / 255)
"""(256,) the linear component of each byte."""
