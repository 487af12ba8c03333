"""Finished frames as the bytes of pictures of sRGB."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from windsock.picture.finishing import shown
from windsock.picture.scene import Floats


def of_depth(light: Floats, bits: int) -> NDArray[np.uint8] | NDArray[np.uint16]:
    """(height, width, 3) what a display gets of linear light, in whole numbers of so many bits, 8 or 16."""
    most = 2**bits - 1
    return np.floor(shown(light) * most + 0.5).astype(np.uint8 if bits == 8 else np.uint16)


def png(light: Floats, bits: int = 8) -> bytes:
    """A PNG of 8 or 16 bits a colour."""
    pixels = of_depth(light, bits)
    if bits == 8:
        return _by_pillow(pixels, "PNG", compress_level=4)
    import av  # Pillow writes no colours of 16 bits

    writer: Any = av.CodecContext.create("png", "w")
    writer.height, writer.width = pixels.shape[:2]
    writer.pix_fmt, writer.time_base = "rgb48be", 1
    frame = av.VideoFrame.from_ndarray(pixels, format="rgb48le").reformat(format="rgb48be")
    packets = [*writer.encode(frame), *writer.encode(None)]
    return b"".join(bytes(packet) for packet in packets)


def png_pixels(content: bytes) -> NDArray[np.uint16]:
    """(height, width, 3) what is in a PNG of 16 bits."""
    import av

    container: Any = av.open(io.BytesIO(content), "r")
    with container:
        (frame,) = container.decode(video=0)
        return frame.reformat(format="rgb48le").to_ndarray()


def jpeg(light: Floats) -> bytes:
    """A JPEG with its colours as fine as its brightness."""
    return _by_pillow(of_depth(light, 8), "JPEG", quality=95, subsampling=0)


def webp(light: Floats) -> bytes:
    """A WebP."""
    return _by_pillow(of_depth(light, 8), "WEBP", quality=92, method=4)


def _by_pillow(pixels: NDArray[Any], kind: str, **options: Any) -> bytes:
    held = io.BytesIO()
    Image.fromarray(pixels).save(held, kind, **options)
    return held.getvalue()
