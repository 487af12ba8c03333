"""Grade: the ASC Color Decision List."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.finishing.finish import LUMA, FinishBase, Floats, Seen, Worked
from windsock.core.kernels.opencv import channels_mixed
from windsock.core.timing.parameter import NumberParameter, VectorParameter


class Grade(FinishBase):
    """Grade by slope, offset, power and saturation, as the ASC Color Decision List 1.2 has them, in linear light: what is
    below 0 before the power is 0, and nothing is cut off above."""

    says = "Slope, offset, power and saturation"
    wish = "Brightness and colour"

    kind: Literal["grade"] = "grade"
    slope: Annotated[VectorParameter, Quantity("Times, for red, green, blue", low=0, high=20, drag=0.005)] = (
        1.0,
        1.0,
        1.0,
    )
    offset: Annotated[VectorParameter, Quantity("Added to red, green, blue", low=-5, high=5, drag=0.001)] = (
        0.0,
        0.0,
        0.0,
    )
    power: Annotated[VectorParameter, Quantity("Powers of red, green, blue", low=0.05, high=10, drag=0.005)] = (
        1.0,
        1.0,
        1.0,
    )
    saturation: Annotated[NumberParameter, Quantity("Saturation", low=0, high=5, drag=0.005)] = 1.1

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        del mask
        at = seen.at
        made = channels_mixed(light, np.column_stack([np.diag(at(self.slope)), at(self.offset)]))
        np.maximum(made, 0, out=made)
        power = np.array(at(self.power), dtype=np.float32)
        if (power != 1).any():
            np.power(made, power, out=made)
        saturation = at(self.saturation)
        if saturation != 1:
            made = channels_mixed(made, saturation * np.eye(3) + (1 - saturation) * np.tile(LUMA, (3, 1)))
            np.maximum(made, 0, out=made)
        return made
