"""Pictures of all round as files."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import OpenEXR


def hdr(pixels: np.ndarray) -> bytes:
    """A Radiance picture without runs: four bytes a pixel, red, green, blue and their shared exponent (G. Ward, 1991)."""
    exponent = np.ceil(np.log2(np.maximum(pixels.max(axis=-1), 1e-9)) + 1e-9)
    told = np.clip(pixels * 256 / 2.0 ** exponent[..., None], 0, 255).astype(np.uint8)
    rgbe = np.concatenate([told, (exponent + 128).astype(np.uint8)[..., None]], axis=-1)
    height, width = pixels.shape[:2]
    return b"#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n" + f"-Y {height} +X {width}\n".encode() + rgbe.tobytes()


def exr(pixels: np.ndarray, path: Path) -> None:
    """An OpenEXR picture."""
    with OpenEXR.File({}, {name: np.ascontiguousarray(pixels[..., place]) for place, name in enumerate("RGB")}) as file:
        file.write(str(path))
