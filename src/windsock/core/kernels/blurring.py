"""Gaussian blurs of pictures, wide ones on a smaller picture."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

SHARP = 3.0
"""Pixels of a smaller picture that a blur is at least wide: it is as small as it can be for that."""


def blurred(picture: NDArray[np.float32], width: float) -> NDArray[np.float32]:
    """A picture, (height, width, k), under a Gaussian with a standard deviation in pixels. Beyond the edge there is nothing."""
    smaller = max(1, 2 ** int(np.floor(np.log2(max(width / SHARP, 1)))))
    height, across = picture.shape[:2]
    # Room for what spreads beyond the edge, so that nothing of it is thrown back.
    rows, columns = -(-height // smaller) * smaller, -(-across // smaller) * smaller
    padded = np.pad(picture, ((0, rows - height), (0, columns - across), (0, 0)))
    small = padded.reshape(rows // smaller, smaller, columns // smaller, smaller, -1).mean(axis=(1, 3))
    # Taking means over squares, and going straight between them, has blurred by this much already.
    done = (smaller**2 - 1) / 12 + (smaller**2) / 6 if smaller > 1 else 0.0
    left = np.sqrt(max(width**2 - done, 0.0)) / smaller
    soft = ndimage.gaussian_filter(small, (left, left, 0), mode="constant", truncate=4.0)
    if smaller == 1:
        return soft.astype(np.float32)
    return _enlarged(_enlarged(soft, smaller, 0), smaller, 1)[:height, :across].astype(np.float32)


def _enlarged(picture: NDArray[np.floating], times: int, axis: int) -> NDArray[np.floating]:
    """So many times as long along an axis, straight from the middle of one pixel to that of the next."""
    count = picture.shape[axis]
    place = np.clip((np.arange(count * times) + 0.5) / times - 0.5, 0, count - 1)
    low = np.minimum(place.astype(np.int64), max(count - 2, 0))
    share = (place - low).reshape([-1 if one == axis else 1 for one in range(picture.ndim)])
    return picture.take(low, axis) * (1 - share) + picture.take(np.minimum(low + 1, count - 1), axis) * share
