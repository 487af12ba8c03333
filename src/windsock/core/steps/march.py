"""What marched steps share: a state at the points of a part, taken through time tick by tick."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from windsock.core.fields.elements import Values
from windsock.core.geometry.mesh import Mesh
from windsock.core.steps.given import StepInputs
from windsock.core.steps.step import WeightedStep
from windsock.core.timing.parameter import Moment
from windsock.core.timing.ticks import State


@dataclass(frozen=True, eq=False)
class Tick:
    """What a marched step may look at, at one moment, on the m points of its part that are the same at every moment.

    at: answers what a parameter is then. mesh: as it enters the step. places: (m, 3) its points in the world. weight: (m,) of
    the step's drive. given: all else that a step may ask for, at that moment.
    """

    at: Moment
    mesh: Mesh
    places: Values
    weight: Values
    given: StepInputs


class MarchedStep(WeightedStep):
    """A step whose result depends on what was before; it may solve something as well. Its keyed settings are parameters here:
    `at` of a tick says what they are then. A step between two ticks may be of any length."""

    follows_itself: ClassVar[bool] = True
    """Whether it comes from the shape's own motion, so that it does nothing where that never moves."""

    def pre_roll(self) -> float:
        """Seconds before the first frame at which the march begins."""
        return 0.0

    def begin(self, tick: Tick) -> State:
        """The state at the start."""
        raise NotImplementedError

    def advance(self, state: State, before: Tick, now: Tick) -> State:
        """The state at `now`, from the state at `before`."""
        raise NotImplementedError
