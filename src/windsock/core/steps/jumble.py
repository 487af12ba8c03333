"""Jumble: moves, turns and scales each piece or copy by its own chance."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.declarations import Quantity, about
from windsock.core.fields.elements import Values
from windsock.core.fields.zones import Zone
from windsock.core.kernels.chance import chance
from windsock.core.parts.part import Part
from windsock.core.steps.given import StepInputs
from windsock.core.steps.moving import Movement, moved_by
from windsock.core.steps.step import Axes, Leaves, WeightedStep
from windsock.core.timing.parameter import NumberParameter, VectorParameter


class Jumble(WeightedStep):
    """Move and turn each piece or copy by up to so much either way, and size it between two sizes, by its own chance.

    Chances belong to the piece or copy and the seed, so that nothing jumps when counts change. The rest as for Shift.
    """

    says = "Moves and turns each piece or copy by chance"
    wish = "Move its pieces and copies"

    undriven = (
        "No field drives this, so every piece is jumbled from the first frame on. "
        "Choose a field in place of “everywhere”."
    )

    kind: Literal["jumble"] = "jumble"
    zone: Zone = "inside"
    move: Annotated[VectorParameter, Quantity("Moved by up to", unit="m", low=0, high=1e4)] = (0.1, 0.1, 0.1)
    turn: Annotated[
        VectorParameter, Quantity("Turned by up to, about X, Y and Z", unit="°", low=0, high=36000, drag=0.5)
    ] = (30.0, 30.0, 30.0)
    smallest: Annotated[NumberParameter, Quantity("At least so many times as large", unit="×", low=0, high=1000)] = 1.0
    largest: Annotated[NumberParameter, Quantity("At most so many times as large", unit="×", low=0, high=1000)] = 1.0
    axes: Annotated[Axes, Field(description="Along and about which axes")] = "own"
    seed: Annotated[int, Quantity("Which of the chances", low=0, high=999_999, drag=0.1, whole=True)] = 1

    @property
    def at_middles(self) -> bool:
        return True

    @property
    def leaves(self) -> Leaves:
        return "points"

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"move": [about(size, 0.05), about(size, 0.05), about(size, 0.05)]}

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part with its bodies moved."""
        at, bodies = given.at, part.bodies()
        number = bodies.places.number

        def either_way(most: tuple[float, float, float], first: int) -> Values:
            made = np.empty((len(number), 3))
            for axis in range(3):
                made[:, axis] = (2 * chance(number, self.seed * 8 + first + axis) - 1) * most[axis]
            return made

        smallest, largest = at(self.smallest), at(self.largest)
        size = np.ones((1, 3))
        if smallest != 1 or largest != 1:
            size = (smallest + (largest - smallest) * chance(number, self.seed * 8 + 6))[:, None]
        movement = Movement(
            either_way(at(self.move), 0),
            either_way(at(self.turn), 3),
            np.broadcast_to(size, (len(number), 3)),
            self.axes,
        )
        return moved_by(part, self.weight(len(bodies), given), movement, given.matrix)
