"""Colours between documents (sRGB) and the core (linear Rec. 709). Transfer function: IEC 61966-2-1."""

from __future__ import annotations


def linear_from_hex(colour: str) -> tuple[float, float, float]:
    """Linear components 0..1 of #RRGGBB."""
    red, green, blue = (_linear(int(colour[at : at + 2], 16) / 255) for at in (1, 3, 5))
    return red, green, blue


def _linear(encoded: float) -> float:
    return encoded / 12.92 if encoded <= 0.04045 else ((encoded + 0.055) / 1.055) ** 2.4
