"""The transfer function of sRGB (IEC 61966-2-1)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def decoded(components: NDArray[np.float64]) -> NDArray[np.float64]:
    """Linear components of sRGB ones, both 0..1."""
    return np.where(components <= 0.04045, components / 12.92, ((components + 0.055) / 1.055) ** 2.4)


def encoded(linear: NDArray[np.floating]) -> NDArray[np.float64]:
    """sRGB components of linear ones, kept to 0..1."""
    kept = np.clip(linear.astype(np.float64), 0, 1)
    return np.where(kept <= 0.0031308, kept * 12.92, 1.055 * np.maximum(kept, 1e-12) ** (1 / 2.4) - 0.055)


OF_BYTES = decoded(np.arange(256) / 255)
"""(256,) the linear component of each byte."""
