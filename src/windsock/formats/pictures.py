"""Pictures in: PNG, JPEG and WebP, cleaned and no larger than is needed."""

from __future__ import annotations

from io import BytesIO
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from windsock.core.geometry.pictures import Picture
from windsock.core.kernels.pictures import Wrap
from windsock.core.refusals import Refusal

PIXEL_LIMIT = 64_000_000
"""Pixels of a picture, as it comes."""

SIDE_LIMIT = 4096
"""Pixels of a side, as it is kept: larger ones are made smaller."""

Alpha = Literal["none", "cut", "blend"]


def read_picture(
    content: bytes,
    wrap: tuple[Wrap, Wrap] = ("repeat", "repeat"),
    alpha: Alpha = "none",
    cutoff: float = 0.5,
) -> Picture:
    """A picture from the bytes of its file. cutoff: the opacity that counts as half where it is cut. Raises Refusal."""
    try:
        with Image.open(BytesIO(content), formats=("PNG", "JPEG", "WEBP")) as opened:
            if opened.width * opened.height > PIXEL_LIMIT:
                raise Refusal(
                    "A picture in the file has more than 64 million pixels. Nothing was imported. Save it smaller."
                )
            lossy = opened.format != "PNG"
            image = opened.convert("RGB" if alpha == "none" else "RGBA")
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise Refusal(
            "A picture in the file cannot be read. Nothing was imported. Save it as PNG or JPEG again."
        ) from None
    if max(image.size) > SIDE_LIMIT:
        image.thumbnail((SIDE_LIMIT, SIDE_LIMIT), Image.Resampling.LANCZOS)
    if alpha == "cut" and cutoff != 0.5:
        image.putalpha(image.getchannel("A").point([_about_half(value / 255, cutoff) for value in range(256)]))
    out = BytesIO()
    kind = "image/jpeg" if lossy and alpha == "none" else "image/png"
    if kind == "image/jpeg":
        image.save(out, "JPEG", quality=95, subsampling=0)
    else:
        image.save(out, "PNG", compress_level=4)
    return Picture(np.asarray(image), np.frombuffer(out.getvalue(), dtype=np.uint8), kind, wrap, alpha)


def pixels_of(content: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """The pixels of a picture that was read before."""
    with Image.open(BytesIO(content.tobytes()), formats=("PNG", "JPEG")) as opened:
        return np.asarray(opened)


def _about_half(opacity: float, cutoff: float) -> int:
    below = opacity / max(cutoff, 1e-6) / 2
    above = 0.5 + (opacity - cutoff) / max(1 - cutoff, 1e-6) / 2
    return round(255 * (below if opacity < cutoff else above))
