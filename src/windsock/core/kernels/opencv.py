"""OpenCV, loaded when it is first needed: it is there only where pictures are made."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Picture = NDArray[np.float32]


def opencv() -> Any:
    """The library."""
    import cv2

    return cv2


def channels_mixed(picture: Picture, matrix: NDArray[np.floating]) -> Picture:
    """(height, width, 3) each colour as a sum of those of a picture: matrix (3, 3), or (3, 4) with what is added."""
    return opencv().transform(picture, matrix.astype(np.float32))


def normal_noise(shape: tuple[int, int], seed: int) -> Picture:
    """(height, width, 4) numbers with a mean of 0 and a deviation of 1, the same for the same seed (32 bits)."""
    cv = opencv()
    made = np.empty((*shape, 4), dtype=np.float32)
    cv.setRNGSeed(seed - 2**31)
    cv.randn(made, (0, 0, 0, 0), (1, 1, 1, 1))
    return made
