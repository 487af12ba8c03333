"""A step: points go outwards."""

from __future__ import annotations

from typing import Annotated, Literal

from windsock.core.declarations import Quantity
from windsock.core.parts.part import Part
from windsock.core.steps.given import StepInputs
from windsock.core.steps.step import Leaves, WeightedStep
from windsock.core.timing.parameter import NumberParameter


class Puff(WeightedStep):
    """Move points along their normals."""

    undriven = "No field drives this, so the whole shape swells. Choose a field in place of “everywhere”."
    kind: Literal["puff"] = "puff"
    height: Annotated[NumberParameter, Quantity("How far points go", unit="m", low=0, high=10)] = 0.1

    @property
    def leaves(self) -> Leaves:
        return "points"

    def apply(self, part: Part, given: StepInputs) -> Part:
        height = given.at(self.height)

        def moved(mesh):
            weight = self.weight(len(mesh.points), given)
            return (mesh.points + mesh.normals * (weight * height)[:, None]).astype("f4")

        return part.deformed(moved, height != 0)
