"""Zones: what a step listens to in a field."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

Values = NDArray[np.float64]
Zone = Literal["value", "inside", "band", "outside"]
FieldZone = Literal["value", "inside", "band", "outside", "age"]
"""With age: seconds since the value first crossed the level upward, 0 before; it is no weight and needs the history."""


def zone_weight(zone: Zone, values: Values, level: float, band: float) -> Values:
    """(n,) weight 0..1 of a zone for (n,) field values.

    inside = clamp((v - L) / w + 1/2), for w = 0 the step v >= L; outside = 1 - inside; band = max(0, 1 - 2|v - L| / w).
    """
    if zone == "value":
        return values
    if zone == "band":
        return np.maximum(0.0, 1 - 2 * np.abs(values - level) / band) if band > 0 else (values == level).astype(float)
    inside = np.clip((values - level) / band + 0.5, 0, 1) if band > 0 else (values >= level).astype(float)
    return inside if zone == "inside" else 1 - inside
