"""Fade: towards one colour."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Colour, Quantity
from windsock.core.finishing.finish import FinishBase, Floats, Seen, Worked
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.timing.parameter import NumberParameter


class FadeToColour(FinishBase):
    """Fade towards a colour, in linear light: keyed, the picture comes out of it or goes into it."""

    says = "Keyed, it fades in and out"
    wish = "Brightness and colour"

    kind: Literal["fade_to_colour"] = "fade_to_colour"
    colour: Colour = "#000000"
    share: Annotated[NumberParameter, Quantity("How far", unit="%", low=0, high=100, drag=0.3)] = 25.0

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        del mask
        colour = np.array(linear_from_hex(self.colour), dtype=np.float32)
        return light + np.float32(seen.at(self.share) / 100) * (colour - light)
