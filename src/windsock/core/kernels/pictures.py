"""Pictures laid on by u,v."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.srgb import OF_BYTES

Wrap = Literal["repeat", "mirror", "clamp"]
"""What is seen beyond a picture's edge."""

Reals = NDArray[np.float64]


def looked_up(pixels: NDArray[np.uint8], uv: NDArray[np.float32], wrap: tuple[Wrap, Wrap]) -> Reals:
    """(n, 3) the linear colour of a picture at u, v, in between its pixels by their distance.

    pixels: (height, width, 3 or 4) sRGB, from the top; uv: (n, 2), v from the bottom; wrap: along u and v.
    """
    return _between(lambda rows, columns: OF_BYTES[pixels[rows, columns, :3]], pixels.shape[:2], uv, wrap)


def sampled(values: NDArray[np.float32], uv: NDArray[np.float32], wrap: tuple[Wrap, Wrap]) -> Reals:
    """(n, k) the same of (height, width, k) values that are linear already."""
    return _between(lambda rows, columns: values[rows, columns], values.shape[:2], uv, wrap)


def _between(
    read: Callable[[NDArray[np.int64], NDArray[np.int64]], NDArray[np.floating]],
    size: tuple[int, ...],
    uv: NDArray[np.float32],
    wrap: tuple[Wrap, Wrap],
) -> Reals:
    high, wide = size
    x = uv[:, 0].astype(np.float64) * wide - 0.5
    y = (1 - uv[:, 1].astype(np.float64)) * high - 0.5
    left, top = np.floor(x).astype(np.int64), np.floor(y).astype(np.int64)
    share_x, share_y = (x - left)[:, None], (y - top)[:, None]
    columns = [_within(left + more, wide, wrap[0]) for more in (0, 1)]
    rows = [_within(top + more, high, wrap[1]) for more in (0, 1)]

    def pixel(column: int, row: int) -> Reals:
        return np.asarray(read(rows[row], columns[column]), dtype=np.float64)

    upper = pixel(0, 0) * (1 - share_x) + pixel(1, 0) * share_x
    lower = pixel(0, 1) * (1 - share_x) + pixel(1, 1) * share_x
    return upper * (1 - share_y) + lower * share_y


def _within(place: NDArray[np.int64], count: int, wrap: Wrap) -> NDArray[np.int64]:
    if wrap == "clamp":
        return np.clip(place, 0, count - 1)
    if wrap == "repeat":
        return place % count
    turned = place % (2 * count)
    return np.where(turned < count, turned, 2 * count - 1 - turned)
