"""Glow: light spreads about what shines."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from windsock.core.declarations import Quantity
from windsock.core.finishing.finish import LUMA, FinishBase, Floats, Seen, Worked
from windsock.core.kernels.blurring import blurred_sum
from windsock.core.timing.parameter import Moment, NumberParameter

GLOWS = ((0.25, 0.174), (0.42, 1.0))
"""How much of what shines is spread at a strength of 1, and how wide, as a share of the reach."""

BRIGHTEST = 20.0
"""What shines more spreads no more."""


class Glow(FinishBase):
    """Spread light about what shines: what gives off light itself, or all that is brighter than a level."""

    says = "Light spreads about what shines"
    wish = "Light and lens"

    kind: Literal["glow"] = "glow"
    of: Annotated[Literal["what shines", "what is bright"], Field(description="Of what light spreads")] = "what shines"
    level: Annotated[NumberParameter, Quantity("Brightness from which light spreads", low=0, high=100, drag=0.01)] = 1.0
    strength: Annotated[NumberParameter, Quantity("How much of it spreads", low=0, high=20, drag=0.01)] = 1.0
    reach: Annotated[
        NumberParameter, Quantity("How wide it spreads, of the picture's height", unit="%", low=0, high=50, drag=0.05)
    ] = 11.5

    def quick_glow(self, at: Moment) -> float:
        return at(self.strength) * at(self.amount) if self.of == "what shines" else 0.0

    def spreads_beyond(self) -> bool:
        return True

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        shines = seen.emission if self.of == "what shines" else _above(light, seen.at(self.level))
        shines = np.minimum(shines, np.float32(BRIGHTEST))
        if mask is not None:
            shines = shines * mask[..., None]
        strength, reach = seen.at(self.strength), seen.at(self.reach) / 100
        if strength <= 0 or reach <= 0 or not shines.any():
            return light
        parts = [(share * strength, wide * reach * light.shape[0]) for share, wide in GLOWS]
        spread = blurred_sum(shines, parts)
        spread += light
        return spread


def _above(light: Floats, level: float) -> Worked:
    """The light that is above a brightness, in its own colour."""
    bright = light @ LUMA
    return light * (np.maximum(bright - level, 0) / np.maximum(bright, 1e-6))[..., None]
