"""Finished frames as the bytes of pictures of sRGB."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from windsock.core.kernels.opencv import opencv
from windsock.picture.scene import Floats


def of_depth(shown: Floats, bits: int) -> NDArray[np.uint8] | NDArray[np.uint16]:
    """(height, width, k) what a display gets, 0..1, in whole numbers of so many bits, 8 or 16."""
    most = 2**bits - 1
    return np.floor(shown * most + 0.5).astype(np.uint8 if bits == 8 else np.uint16)


def png(shown: Floats, bits: int = 8, quickly: bool = False) -> bytes:
    """A PNG of 8 or 16 bits a colour, of 3 or of 4 with an opacity. quickly: rather soon than small."""
    pixels = of_depth(shown, bits)
    if bits == 8:
        return _by_pillow(pixels, "PNG", compress_level=1 if quickly else 4)
    import av  # Pillow writes no colours of 16 bits

    writer: Any = av.CodecContext.create("png", "w")
    writer.height, writer.width = pixels.shape[:2]
    stored = "rgb48" if pixels.shape[2] == 3 else "rgba64"
    writer.pix_fmt, writer.time_base = f"{stored}be", 1
    frame = av.VideoFrame.from_ndarray(pixels, format=f"{stored}le").reformat(format=f"{stored}be")
    packets = [*writer.encode(frame), *writer.encode(None)]
    return b"".join(bytes(packet) for packet in packets)


def png_pixels(content: bytes) -> NDArray[np.uint16]:
    """(height, width, 3 or 4) what is in a PNG of 16 bits."""
    import av

    container: Any = av.open(io.BytesIO(content), "r")
    with container:
        (frame,) = container.decode(video=0)
        return frame.reformat(format="rgba64le" if "rgba" in frame.format.name else "rgb48le").to_ndarray()


def side_by_side(pictures: list[Floats]) -> Floats:
    """Pictures of one size in rows, about as wide as high together, a little apart."""
    height, width, channels = pictures[0].shape
    gap = max(2, width // 80)
    columns = max(1, min(len(pictures), round((len(pictures) * height / width) ** 0.5)))
    rows = -(-len(pictures) // columns)
    sheet = np.full((rows * (height + gap) + gap, columns * (width + gap) + gap, channels), 0.1, dtype=np.float32)
    for number, picture in enumerate(pictures):
        top, left = (
            gap + place * (side + gap) for place, side in zip(divmod(number, columns), (height, width), strict=True)
        )
        sheet[top : top + height, left : left + width] = picture
    return sheet


def smaller(shown: Floats, widest: int) -> Floats:
    """A picture that is at most so many pixels wide."""
    height, width = shown.shape[:2]
    if width <= widest:
        return shown
    size = (widest, max(1, round(height * widest / width)))
    return opencv().resize(np.ascontiguousarray(shown), size, interpolation=opencv().INTER_AREA)


def jpeg(shown: Floats) -> bytes:
    """A JPEG with its colours as fine as its brightness."""
    return _by_pillow(of_depth(shown, 8), "JPEG", quality=95, subsampling=0)


def webp(shown: Floats) -> bytes:
    """A WebP."""
    return _by_pillow(of_depth(shown, 8), "WEBP", quality=92, method=4)


def _by_pillow(pixels: NDArray[Any], kind: str, **options: Any) -> bytes:
    held = io.BytesIO()
    Image.fromarray(pixels).save(held, kind, **options)
    return held.getvalue()
