"""Sharpen: what differs from its surroundings differs more."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.finishing.finish import FinishBase, Floats, Seen, Worked
from windsock.core.kernels.blurring import blurred
from windsock.core.timing.parameter import NumberParameter


class Sharpen(FinishBase):
    """Sharpen by an unsharp mask, on what a display shows: the difference to a blurred picture is added."""

    says = "Edges stand out more"
    wish = "Light and lens"
    after_view = True

    kind: Literal["sharpen"] = "sharpen"
    strength: Annotated[NumberParameter, Quantity("How much", low=0, high=5, drag=0.01)] = 0.5
    reach: Annotated[
        NumberParameter, Quantity("How wide, of the picture's height", unit="%", low=0.01, high=10, drag=0.005)
    ] = 0.15

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        del mask
        soft = blurred(light, seen.at(self.reach) / 100 * light.shape[0], beyond="edge")
        return np.clip(light + np.float32(seen.at(self.strength)) * (light - soft), 0, 1)
