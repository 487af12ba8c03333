"""Twist: the shape is turned about an axis, more and more along it, as A. H. Barr (1984) twists solids."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.parts.part import Part
from windsock.core.steps.deforming import DeformingStep, longest_turned
from windsock.core.steps.given import StepInputs
from windsock.core.timing.parameter import Moment, NumberParameter


class Twist(DeformingStep):
    """Turn what lies between two places along an axis about it, from not at all at 0, or at the end nearest to that; what lies
    beyond is turned as the end is."""

    says = "Turns one end against the other"
    wish = "Bend and turn it"

    kind: Literal["twist"] = "twist"
    angle: Annotated[
        NumberParameter,
        Quantity("How far one end is turned against the other", unit="°", low=-36000, high=36000, drag=0.5),
    ] = 90.0

    def longest_faces(self, at: Moment, long: float) -> float:
        return longest_turned(at(self.angle), long)

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part twisted."""
        return self.deformed_by(part, given, "twist", float(np.radians(given.at(self.angle))))
