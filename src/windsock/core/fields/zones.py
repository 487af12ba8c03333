"""Zones: what a step listens to in a field."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

Values = NDArray[np.float64]
Zone = Literal["value", "inside", "band", "outside"]
Band = float | Values
"""A width in field values: the same everywhere, or (n,) for each element."""
FieldZone = Literal["value", "inside", "band", "outside", "age"]
"""With age: seconds since the value first crossed the level upward, 0 before; it is no weight and needs the history."""


def zone_weight(zone: Zone, values: Values, level: float, band: Band) -> Values:
    """(n,) weight 0..1 of a zone for (n,) field values.

    inside = clamp((v - L) / w + 1/2), for w = 0 the step v >= L; outside = 1 - inside; band = max(0, 1 - 2|v - L| / w).
    """
    if zone == "value":
        return values
    if zone == "band":
        return np.maximum(0.0, 1 - _shares(2 * np.abs(values - level), band, values == level, 0.0, 2.0))
    inside = np.clip(_shares(values - level, band, values >= level, 0.5, -0.5) + 0.5, 0, 1)
    return inside if zone == "inside" else 1 - inside


def _shares(over: Values, band: Band, reached: NDArray[np.bool_], yes: float, no: float) -> Values:
    """(n,) over / band; where the band has no width, `yes` where it is reached and `no` where not."""
    if isinstance(band, np.ndarray):
        return np.divide(over, band, out=np.where(reached, yes, no), where=band > 0)
    return over / band if band > 0 else np.where(reached, yes, no)
