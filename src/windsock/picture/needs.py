"""What rendering needs of a machine."""

from __future__ import annotations

from typing import NamedTuple

ALONE = 300_000_000
"""Bytes of a rendering process that has nothing to render."""

OF_A_PIXEL = 950
"""Bytes for each pixel of a picture. Measured, as the others are: 0.8 GB more at 1280 by 720, 1.7 GB more at 1920 by 1080."""

OF_A_FACE = 150
"""Bytes for each face: 0.17 GB more with 1,000,000, 0.43 GB with 3,000,000."""


class Pace(NamedTuple):
    """How a picture was rendered: the seconds that each pixel took, and the faces that were in it."""

    seconds: float
    faces: int


def memory_to_render(pixels: int, faces: int) -> int:
    """About how many bytes of memory a picture takes while it is rendered, whatever the number of frames."""
    return ALONE + OF_A_PIXEL * pixels + OF_A_FACE * faces
