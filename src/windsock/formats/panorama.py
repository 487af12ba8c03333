"""Panoramas in: pictures twice as wide as high, Radiance HDR by OpenCV, OpenEXR by its own library, and PNG or JPEG in sRGB."""

from __future__ import annotations

import re
import tempfile
from io import BytesIO
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from windsock.core.geometry.panorama import Panorama
from windsock.core.kernels.srgb import OF_BYTES
from windsock.core.refusals import Refusal

PIXEL_LIMIT = 70_000_000
"""Pixels of a panorama, as it comes."""

WIDEST = 4096
"""Pixels that it is kept wide at most."""

BRIGHTEST = 60_000.0
"""The most light of a place: more does not fit into the numbers that are kept."""

MISSING = (
    "What reads such pictures is not installed yet; it comes with what renders finished pictures. Nothing was imported. Try again "
    "in a few minutes, or save the picture as PNG."
)


def read_hdr(content: bytes) -> Panorama:
    """A Radiance HDR picture. Raises Refusal."""
    found = re.search(rb"\n-Y (\d{1,6}) \+X (\d{1,6})\n", content[:4096])
    if not content.startswith((b"#?RADIANCE", b"#?RGBE")) or found is None:
        raise _unreadable("Radiance HDR")
    _refuse_size(int(found[2]), int(found[1]))
    try:
        import cv2
    except ImportError:
        raise Refusal(MISSING) from None
    library: Any = cv2
    try:
        read = library.imdecode(np.frombuffer(content, dtype=np.uint8), library.IMREAD_UNCHANGED)
    except library.error:
        read = None
    if read is None or read.ndim != 3:
        raise _unreadable("Radiance HDR")
    return _kept(read[..., 2::-1].astype(np.float32))


def read_exr(content: bytes) -> Panorama:
    """An OpenEXR picture with red, green and blue. Raises Refusal."""
    try:
        import OpenEXR
    except ImportError:
        raise Refusal(MISSING) from None
    library: Any = OpenEXR
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "panorama.exr"
        path.write_bytes(content)
        try:
            with library.File(str(path), header_only=True) as head:
                low, high = head.header()["dataWindow"]
            _refuse_size(int(high[0] - low[0] + 1), int(high[1] - low[1] + 1))
            with library.File(str(path), separate_channels=True) as file:
                channels = file.channels()
                light = np.stack([np.asarray(channels[name].pixels, dtype=np.float32) for name in "RGB"], axis=-1)
        except Refusal:
            raise
        except Exception:  # noqa: BLE001 - the library raises nearly anything on broken files
            raise _unreadable("OpenEXR with the channels R, G and B") from None
    return _kept(light)


def read_panorama(content: bytes) -> Panorama:
    """A PNG or JPEG, whose colours are sRGB. Raises Refusal."""
    try:
        with Image.open(BytesIO(content), formats=("PNG", "JPEG")) as opened:
            _refuse_size(opened.width, opened.height)
            pixels = np.asarray(opened.convert("RGB"))
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise _unreadable("PNG or JPEG") from None
    return _kept(OF_BYTES[pixels].astype(np.float32))


def _refuse_size(width: int, height: int) -> None:
    if width * height > PIXEL_LIMIT:
        raise Refusal(
            f"The picture has {width:,} by {height:,} pixels; {PIXEL_LIMIT // 1_000_000} million are read. Nothing was imported. "
            "Save it smaller."
        )
    if height < 4 or not 1.9 <= width / height <= 2.1:
        raise Refusal(
            f"The picture is {width:,} by {height:,}. A picture of all round is twice as wide as high. Nothing was imported. Choose "
            "an equirectangular one."
        )


def _kept(light: NDArray[np.float32]) -> Panorama:
    """As large as it is kept, with nothing in it that is no light."""
    light = np.clip(np.nan_to_num(light, nan=0.0, posinf=BRIGHTEST, neginf=0.0), 0, BRIGHTEST)
    smaller = -(-light.shape[1] // WIDEST)
    if smaller > 1:
        rows, columns = light.shape[0] // smaller, light.shape[1] // smaller
        cut = light[: rows * smaller, : columns * smaller]
        light = cut.reshape(rows, smaller, columns, smaller, 3).mean(axis=(1, 3))
    return Panorama(light.astype(np.float16))


def _unreadable(called: str) -> Refusal:
    return Refusal(f"The picture could not be read as {called}. Nothing was imported. Save it again.")
