"""View transforms: what a display of sRGB gets of linear light. Those of the Academy are OpenColorIO's, with the
configurations that are built into it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

from windsock.core.document.shot import ViewTransform
from windsock.core.kernels.srgb import encoded
from windsock.picture.scene import Floats

SOURCE = "Linear Rec.709 (sRGB)"
DISPLAY = "sRGB - Display"


@dataclass(frozen=True)
class Academy:
    """A view of one of the built-in configurations, by the names that they have in it."""

    configuration: str
    view: str


ACADEMY: dict[ViewTransform, Academy] = {
    "aces_1_3": Academy("cg-config-v2.2.0_aces-v1.3_ocio-v2.4", "ACES 1.0 - SDR Video"),
    "aces_2_0": Academy("cg-config-v4.0.0_aces-v2.0_ocio-v2.5", "ACES 2.0 - SDR 100 nits (Rec.709)"),
}


def shown(light: Floats, view: ViewTransform = "neutral") -> Floats:
    """(height, width, 3) what a display of sRGB gets, 0..1, of linear light."""
    academy = ACADEMY.get(view)
    if academy is not None:
        made = np.ascontiguousarray(light, dtype=np.float32).copy()
        _processor(academy).applyRGB(made)
        return np.clip(made, 0, 1)
    return encoded(neutral(light) if view == "neutral" else light).astype(np.float32)


SIDE = 33
"""Places along each side of a table."""

BRIGHTEST = 64.0
"""The times white that the last place of a table stands for. A place is log2(256 light + 1), as a share of that of the last."""


def table(view: ViewTransform) -> bytes:
    """A view as a table, for who shows pictures without what is here: bytes of red, green, blue and 255, red the fastest."""
    place = np.linspace(0, 1, SIDE)
    light = ((256 * BRIGHTEST + 1) ** place - 1) / 256
    blue, green, red = np.meshgrid(light, light, light, indexing="ij")
    made = shown(np.stack([red, green, blue], axis=-1).reshape(SIDE * SIDE, SIDE, 3).astype(np.float32), view)
    held = np.full((SIDE**3, 4), 255, dtype=np.uint8)
    held[:, :3] = np.floor(made.reshape(-1, 3) * 255 + 0.5)
    return held.tobytes()


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


@cache
def _processor(academy: Academy) -> Any:
    import PyOpenColorIO  # it is there only where pictures are made

    ocio: Any = PyOpenColorIO
    configuration = ocio.Config.CreateFromBuiltinConfig(academy.configuration)
    transform = ocio.DisplayViewTransform(src=SOURCE, display=DISPLAY, view=academy.view)
    return configuration.getProcessor(transform).getDefaultCPUProcessor()
