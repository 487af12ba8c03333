"""What marched steps share: a state at the points of a part, taken through time tick by tick."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.fields.source import Values
from windsock.core.steps.step import WeightedStep
from windsock.core.timing.parameter import Moment

TICKS = 120
"""Ticks in a second, whatever the frame rate."""

State = Mapping[str, NDArray[np.float64]]


@dataclass(frozen=True, eq=False)
class Tick:
    """What a marched step reads at a moment, at the m points of its part that are the same at every moment.

    at: answers what a parameter is then. places: (m, 3) where the points stand in the world before the step. weight: (m,)
    of its drive.
    """

    at: Moment
    places: Values
    weight: Values


class MarchedStep(WeightedStep):
    """A step whose result depends on what was before. It is exact for any length of a step between two ticks."""

    def pre_roll(self) -> float:
        """Seconds before the first frame at which the march begins."""
        return 0.0

    def begin(self, tick: Tick) -> State:
        """The state at the start."""
        raise NotImplementedError

    def advance(self, state: State, before: Tick, now: Tick) -> State:
        """The state at `now`, from the state at `before`."""
        raise NotImplementedError
