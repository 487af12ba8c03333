"""How a value falls from 1 to 0 over a distance."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

Values = NDArray[np.float64]
Fall = Literal["straight", "smooth"]


def fallen(beyond: Values, soft: float, fall: Fall) -> Values:
    """(n,) 0 where `beyond` is 0 or more, 1 from `soft` metres before that. With soft 0: 1 up to and including 0."""
    if soft <= 0:
        return (beyond <= 0).astype(np.float64)
    value = beyond / -soft
    np.clip(value, 0, 1, out=value)
    return value if fall == "straight" else smoothstep(value)


def fall_place(value: float, soft: float, fall: Fall) -> float:
    """How far beyond its end the fall has a value: 0 for 0, -soft for 1."""
    share = value if fall == "straight" else float(0.5 - np.sin(np.arcsin(np.clip(1 - 2 * value, -1, 1)) / 3))
    return -soft * share


def smoothstep(share: Values) -> Values:
    """(n,) 3 s^2 - 2 s^3: level at both ends."""
    # In place: as the work is all memory, this takes half the time.
    value = share * -2.0
    value += 3.0
    value *= share
    value *= share
    return value
