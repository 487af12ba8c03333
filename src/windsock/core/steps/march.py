"""What marched steps share: a state on the rest points of the subject, taken through time tick by tick."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from windsock.core.fields.source import Values
from windsock.core.geometry.placement import Matrix
from windsock.core.steps.part import Part
from windsock.core.timing.parameter import Moment

TICKS = 120
"""Ticks in a second, whatever the frame rate."""

State = Mapping[str, NDArray[np.float64]]


@dataclass(frozen=True, eq=False)
class Tick:
    """What a marched step reads at a moment, on the m rest points of its subject.

    seconds: of the moment. places: (m, 3) where the points stand in the world before the step. weight: (m,) of its drive.
    """

    seconds: float
    at: Moment
    places: Values
    weight: Values


class MarchedStep(Protocol):
    """A step whose result depends on what was before. It is exact for any length of a step between two ticks."""

    def pre_roll(self, at: Moment) -> float:
        """Seconds before the first frame at which the march begins."""
        ...

    def begin(self, tick: Tick) -> State:
        """The state at the start."""
        ...

    def advance(self, state: State, before: Tick, now: Tick) -> State:
        """The state at `now`, from the state at `before`."""
        ...

    def places(self, state: State) -> Values:
        """(m, 3) where the rest points stand in the world after the step."""
        ...

    def finish(self, part: Part, shift: Callable[[], Values], matrix: Matrix) -> Part:
        """The part after the step. shift: gives (n, 3), how far the points of the part are moved, in world metres."""
        ...
