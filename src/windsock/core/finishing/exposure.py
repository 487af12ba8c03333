"""Exposure: brighter or darker, in stops."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.finishing.finish import FinishBase, Floats, Seen, Worked
from windsock.core.timing.parameter import Moment, NumberParameter


class Exposure(FinishBase):
    """Make it brighter or darker: each stop doubles the light."""

    says = "Brighter or darker, in stops"
    wish = "Brightness and colour"

    kind: Literal["exposure"] = "exposure"
    stops: Annotated[NumberParameter, Quantity("Stops brighter", low=-10, high=10, drag=0.02)] = 0.5

    def quick_stops(self, at: Moment) -> float:
        return at(self.stops) * at(self.amount)

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        del mask
        return light * np.float32(2.0 ** seen.at(self.stops))
