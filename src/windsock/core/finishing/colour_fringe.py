"""Colour fringe: a lens that bends colours differently."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.finishing.finish import FinishBase, Floats, Seen, Worked
from windsock.core.kernels.blurring import enlarged_about_middle
from windsock.core.timing.parameter import NumberParameter


class ColourFringe(FinishBase):
    """Show red a little larger and blue a little smaller, as a lens does that does not bend all colours alike: edges get
    fringes away from the middle (lateral chromatic aberration)."""

    says = "Edges get coloured fringes away from the middle"
    wish = "Light and lens"

    kind: Literal["colour_fringe"] = "colour_fringe"
    spread: Annotated[
        NumberParameter,
        Quantity(
            "How far red and blue lie apart in a corner, of the way there", unit="%", low=-10, high=10, drag=0.005
        ),
    ] = 0.4

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        del mask
        half = seen.at(self.spread) / 200
        red = enlarged_about_middle(light[..., 0], 1 + half)
        return np.stack([red, light[..., 1], enlarged_about_middle(light[..., 2], 1 - half)], axis=-1)
