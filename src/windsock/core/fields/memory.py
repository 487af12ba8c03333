"""Memory: a field that holds the most it has been, or lets it fade."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Declared, Quantity
from windsock.core.fields.elements import Values


class Memory(Declared):
    """hold: the most the value has been since the shot's first frame. fade: that, sinking from 1 to 0 in `seconds`."""

    kind: Literal["hold", "fade"] = "hold"
    seconds: Annotated[float, Quantity("Time to fade from 1 to 0", unit="s", low=0.001, high=1e4, drag=0.01)] = 1.0

    def advanced(self, held: Values, values: Values, passed: float) -> Values:
        """(n,) what is remembered after `passed` seconds, given what was and the values now."""
        left = held if self.kind == "hold" else held - passed / self.seconds
        return np.maximum(left, values)
