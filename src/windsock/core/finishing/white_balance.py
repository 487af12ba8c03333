"""White balance: which light counts as white."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import Quantity
from windsock.core.finishing.finish import FinishBase, Floats, Seen, Worked
from windsock.core.geometry.temperature import XYZ, white_at
from windsock.core.kernels.opencv import channels_mixed
from windsock.core.timing.parameter import NumberParameter

CONES = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])
"""The Bradford responses of XYZ (Lam 1985; ICC.1:2022, annex E)."""

D65 = (0.3127, 0.3290)


class WhiteBalance(FinishBase):
    """Have light of a colour temperature look white. Below 6504 K the picture becomes cooler, above warmer. The tint goes towards
    green below 0 and towards magenta above."""

    says = "Cooler or warmer: which light looks white"
    wish = "Brightness and colour"

    kind: Literal["white_balance"] = "white_balance"
    temperature: Annotated[
        NumberParameter, Quantity("Temperature of the light that looks white", unit="K", low=1700, high=25_000, drag=10)
    ] = 5600.0
    tint: Annotated[NumberParameter, Quantity("Towards magenta, below 0 green", low=-100, high=100, drag=0.2)] = 0.0

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        del mask
        return channels_mixed(light, balancing(seen.at(self.temperature), seen.at(self.tint)))


def balancing(kelvin: float, tint: float) -> NDArray[np.float64]:
    """(3, 3) what takes linear Rec. 709 light under a white to the same under D65, by the Bradford transform."""
    x, y = white_at(kelvin)
    to_cones = CONES @ XYZ
    before = CONES @ _xyz(x, y)
    after = CONES @ _xyz(*D65)
    balanced = np.linalg.inv(to_cones) @ np.diag(after / before) @ to_cones
    green = 2.0 ** (-tint / 200)
    # Brightness stays: green gives what red and blue take.
    even = np.array([1 / green, green, 1 / green])
    return np.diag(even / float(np.array([0.2126, 0.7152, 0.0722]) @ even)) @ balanced


def _xyz(x: float, y: float) -> NDArray[np.float64]:
    return np.array([x / y, 1.0, (1 - x - y) / y])
