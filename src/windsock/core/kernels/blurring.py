"""Blurs of pictures by OpenCV, wide ones on a smaller picture, and pictures made larger."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

import numpy as np
from scipy import ndimage

from windsock.core.kernels.opencv import Picture, opencv

Beyond = Literal["nothing", "edge"]

SHARP = 3.0
"""Pixels of a smaller picture that a blur is at least wide: it is as small as it can be for that."""

DISC = 8.0
"""Pixels of a smaller picture that the radius of a disc is at most."""


def blurred(picture: Picture, width: float, beyond: Beyond = "nothing") -> Picture:
    """A picture, (height, width, k), under a Gaussian with a standard deviation in pixels. beyond: what there is beyond its
    edges."""
    return blurred_sum(picture, [(1.0, width)], beyond)


def blurred_sum(picture: Picture, parts: Sequence[tuple[float, float]], beyond: Beyond = "nothing") -> Picture:
    """The sum of shares of a picture, (height, width, k), each under a Gaussian. parts: share and standard deviation in pixels."""
    height, across = picture.shape[:2]
    finest = _smaller(min(width for _, width in parts))
    base = _reduced(picture, finest, beyond)
    total = np.zeros_like(base)
    for share, width in parts:
        times = max(_smaller(width) // finest, 1)
        soft = _softened(_reduced(base, times, beyond), width, times * finest, beyond)
        total += np.float32(share) * _enlarged(soft, times, base.shape)
    return _enlarged(total, finest, picture.shape)[:height, :across]


def disc_blurred(picture: Picture, radius: float) -> Picture:
    """A picture, (height, width, k), with each pixel laid out as a disc of a radius in pixels, as a lens does. Beyond the edge there
    is the same as at it."""
    times = max(1, 2 ** int(np.ceil(np.log2(max(radius / DISC, 1)))))
    room = int(np.ceil(radius / times)) + 1
    place = np.arange(-room, room + 1)
    disc = np.clip(radius / times + 0.5 - np.hypot(place[:, None], place[None, :]), 0, 1).astype(np.float32)
    cv = opencv()
    soft = cv.filter2D(_reduced(picture, times, "edge"), -1, disc / disc.sum(), borderType=cv.BORDER_REPLICATE)
    return _enlarged(np.maximum(soft, 0), times, picture.shape)


def enlarged_about_middle(channel: Picture, times: float) -> Picture:
    """(height, width) a picture of one channel shown so many times as large about its middle, straight between its pixels. Beyond
    the edge there is the same as at it."""
    middle = (np.array(channel.shape) - 1) / 2
    offset: Any = middle - middle / times
    made = ndimage.affine_transform(channel, np.full(2, 1 / times), offset, order=1, mode="nearest")
    return made.astype(np.float32, copy=False)


def _smaller(width: float) -> int:
    return max(1, 2 ** int(np.floor(np.log2(max(width / SHARP, 1)))))


def _softened(small: Picture, width: float, times: int, beyond: Beyond) -> Picture:
    """A picture that is so many times as small under a Gaussian, so that with what making it smaller and larger blurs it is as
    wide as said, in pixels of the large one."""
    done = (times**2 - 1) / 12 + (times**2) / 6 if times > 1 else 0.0
    left = float(np.sqrt(max(width**2 - done, 0.0))) / times
    if left < 1e-3:
        return small
    cv = opencv()
    side = 2 * int(np.ceil(4 * left)) + 1
    border = cv.BORDER_CONSTANT if beyond == "nothing" else cv.BORDER_REPLICATE
    return cv.GaussianBlur(small, (side, side), left, borderType=border).reshape(small.shape)


def _reduced(picture: Picture, times: int, beyond: Beyond) -> Picture:
    """The means of squares of so many pixels a side."""
    if times == 1:
        return picture
    height, across, channels = picture.shape
    # Room for what spreads beyond the edge, so that nothing of it is thrown back.
    rows, columns = -(-height // times), -(-across // times)
    cv = opencv()
    border = cv.BORDER_CONSTANT if beyond == "nothing" else cv.BORDER_REPLICATE
    below, beside = rows * times - height, columns * times - across
    padded = cv.copyMakeBorder(np.ascontiguousarray(picture), 0, below, 0, beside, border)
    return cv.resize(padded, (columns, rows), interpolation=cv.INTER_AREA).reshape(rows, columns, channels)


def _enlarged(picture: Picture, times: int, shape: tuple[int, ...]) -> Picture:
    """So many times as high and wide, straight from the middle of one pixel to that of the next, cut to a shape."""
    rows, columns, channels = picture.shape
    if times > 1:
        cv = opencv()
        larger = cv.resize(picture, (columns * times, rows * times), interpolation=cv.INTER_LINEAR)
        picture = larger.reshape(rows * times, columns * times, channels)
    return picture[: shape[0], : shape[1]]
