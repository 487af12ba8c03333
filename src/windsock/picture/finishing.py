"""From light to what is seen: glow about what shines, exposure, and the view transform."""

from __future__ import annotations

import numpy as np

from windsock.core.kernels.blurring import blurred
from windsock.core.kernels.srgb import encoded
from windsock.picture.layers import Layers
from windsock.picture.scene import Floats

GLOWS = ((0.25, 0.02), (0.42, 0.115))
"""How much of what shines is spread, and how wide, as a share of the picture's height: what the page lays over."""

BRIGHTEST = 20.0
"""What shines more spreads no more."""


def finished(layers: Layers, exposure: float = 0.0) -> Floats:
    """(height, width, 3) linear light with the glow, at an exposure in stops."""
    light = layers.light
    if float(layers.emission.max(initial=0)) > 0:
        shines = np.minimum(layers.emission, np.float32(BRIGHTEST))
        for share, width in GLOWS:
            light = light + np.float32(share) * blurred(shines, width * light.shape[0])
    return (light * np.float32(2.0**exposure)).astype(np.float32)


def neutral(light: Floats) -> Floats:
    """Light as a display shows it, 0..1 and still linear, by the PBR Neutral tone mapper of the Khronos Group (2024, its
    reference implementation): what is below 0.8 keeps its colour, what is above goes toward white.
    """
    start, faded = 0.8 - 0.04, 0.15
    lowest = light.min(axis=-1, keepdims=True)
    shown = light - np.where(lowest < 0.08, lowest - 6.25 * lowest * lowest, 0.04)
    peak = shown.max(axis=-1, keepdims=True)
    room = 1 - start
    pressed = 1 - room * room / np.maximum(peak + room - start, 1e-6)
    white = 1 - 1 / (faded * (peak - pressed) + 1)
    bright = shown * (pressed / np.maximum(peak, 1e-6)) * (1 - white) + pressed * white
    return np.clip(np.where(peak < start, shown, bright), 0, 1).astype(np.float32)


def shown(light: Floats) -> Floats:
    """(height, width, 3) what a display of sRGB gets, 0..1, of linear light."""
    return encoded(neutral(light)).astype(np.float32)
