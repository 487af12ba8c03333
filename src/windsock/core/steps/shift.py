"""Shift: moves, turns and scales each piece or copy alike, by the field."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.declarations import ItemId, Quantity, about
from windsock.core.fields.zones import Zone
from windsock.core.parts.part import Part
from windsock.core.steps.given import StepInputs
from windsock.core.steps.moving import Movement, moved_by
from windsock.core.steps.step import Axes, Leaves, WeightedStep
from windsock.core.timing.parameter import VectorParameter


class Shift(WeightedStep):
    """Move, turn and scale each piece or copy, as far as the field's weight at its middle says.

    `axes`: along and about the world's axes, its own, or with Y along the surface's normal where it was laid. `about` a
    controller, it also turns and scales about that one's place. Sizes are along its own axes; 0 is nothing at all. A part
    that is in no pieces is moved as one.
    """

    says = "Moves, turns and sizes pieces or copies"
    wish = "Move its pieces and copies"

    undriven = "No field drives this, so every piece is moved alike. Choose a field in place of “everywhere”."

    kind: Literal["shift"] = "shift"
    zone: Zone = "inside"
    move: Annotated[VectorParameter, Quantity("How far it is moved", unit="m", low=-1e4, high=1e4)] = (0.0, 0.0, 0.0)
    turn: Annotated[
        VectorParameter, Quantity("Turned about X, then Y, then Z", unit="°", low=-36000, high=36000, drag=0.5)
    ] = (0.0, 0.0, 0.0)
    size: Annotated[VectorParameter, Quantity("How many times as large", unit="×", low=0, high=1000)] = (1.0, 1.0, 1.0)
    axes: Annotated[Axes, Field(description="Along and about which axes")] = "world"
    about: Annotated[
        ItemId | None, Field(description="A controller that it turns and scales about; None: its middle")
    ] = None

    def items(self) -> tuple[str, ...]:
        return () if self.about is None else (self.about,)

    @property
    def at_middles(self) -> bool:
        return True

    @property
    def leaves(self) -> Leaves:
        return "points"

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"move": [0.0, about(size, 0.2), 0.0]}

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part with its bodies moved."""
        at = given.at
        about = None if self.about is None else given.placement(self.about)[:3, 3]
        movement = Movement(np.array(at(self.move)), np.array(at(self.turn)), np.array(at(self.size)), self.axes, about)
        return moved_by(part, self.weight(len(part.bodies()), given), movement, given.matrix)
