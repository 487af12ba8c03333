"""Colours between documents (sRGB) and the core (linear Rec. 709)."""

from __future__ import annotations

from windsock.core.kernels.srgb import OF_BYTES


def linear_from_hex(colour: str) -> tuple[float, float, float]:
    """Linear components 0..1 of #RRGGBB."""
    red, green, blue = (float(OF_BYTES[int(colour[at : at + 2], 16)]) for at in (1, 3, 5))
    return red, green, blue
