"""Bend: the shape is bent about an axis across another, as A. H. Barr (1984) bends solids."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.parts.part import Part
from windsock.core.steps.deforming import DeformingStep, longest_turned
from windsock.core.steps.given import StepInputs
from windsock.core.timing.parameter import Moment, NumberParameter


class Bend(DeformingStep):
    """Bend what lies between two places along an axis into an arc; what lies beyond goes on straight.

    The line of the axis keeps its length and its place at 0, or at the end nearest to that. `angle` is how far the two
    ends are turned against each other, `toward` which way, turned about the axis.
    """

    says = "Bends it into an arc"
    wish = "Bend and turn it"

    kind: Literal["bend"] = "bend"
    angle: Annotated[
        NumberParameter,
        Quantity("How far one end is turned against the other", unit="°", low=-36000, high=36000, drag=0.5),
    ] = 60.0
    toward: Annotated[
        NumberParameter, Quantity("Which way it bends, about the axis", unit="°", low=-36000, high=36000, drag=0.5)
    ] = 0.0

    def longest_faces(self, at: Moment, long: float) -> float:
        return longest_turned(at(self.angle), long)

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part bent."""
        most = float(np.radians(given.at(self.angle)))
        return self.deformed_by(part, given, "bend", most, given.at(self.toward))
