"""The fixed ticks through which a state is marched."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

TICKS = 120
"""Ticks in a second, whatever the frame rate."""

DRAGGED_TICKS = 30
"""The same while a value is dragged: what draws goes straight for four times as long."""

State = Mapping[str, NDArray[np.float64]]
"""Arrays by name with a row for each point that is marched."""
