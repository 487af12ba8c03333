"""Taper: the shape becomes thinner or thicker along an axis, as A. H. Barr (1984) tapers solids."""

from __future__ import annotations

from typing import Annotated, Literal

from windsock.core.declarations import Quantity
from windsock.core.parts.part import Part
from windsock.core.steps.deforming import DeformingStep
from windsock.core.steps.given import StepInputs
from windsock.core.timing.parameter import NumberParameter


class Taper(DeformingStep):
    """Make what lies between two places along an axis thinner or thicker across, evenly from one end to the other; what lies
    beyond is as thick as the end is."""

    says = "Makes it thinner or thicker along an axis"
    wish = "Bend and turn it"

    kind: Literal["taper"] = "taper"
    size: Annotated[NumberParameter, Quantity("How many times as thick at the end", unit="×", low=0, high=100)] = 0.3

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part tapered."""
        return self.deformed_by(part, given, "taper", given.at(self.size))
