"""Jumble: moves, turns and scales each piece or copy by its own chance."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from windsock.core.declarations import Quantity
from windsock.core.fields.zones import Zone
from windsock.core.kernels.chance import chance
from windsock.core.steps.moving import Axes, Movement, bodies_of, moved_by
from windsock.core.steps.part import Drive, Part
from windsock.core.steps.step import Here, WeightedStep
from windsock.core.timing.parameter import NumberParameter, VectorParameter


class Jumble(WeightedStep):
    """Move and turn each piece or copy by up to so much either way, and size it between two sizes, by its own chance.

    Chances belong to the piece or copy and the seed, so that nothing jumps when counts change. The rest as for Shift.
    """

    kind: Literal["jumble"] = "jumble"
    whole: ClassVar[bool] = True
    worldly: ClassVar[bool] = True
    zone: Zone = "inside"
    move: Annotated[VectorParameter, Quantity("Moved by up to", unit="m", low=0, high=1e4)] = (0.1, 0.1, 0.1)
    turn: Annotated[
        VectorParameter, Quantity("Turned by up to, about X, Y and Z", unit="°", low=0, high=36000, drag=0.5)
    ] = (30.0, 30.0, 30.0)
    smallest: Annotated[NumberParameter, Quantity("At least so many times as large", unit="×", low=0, high=1000)] = 1.0
    largest: Annotated[NumberParameter, Quantity("At most so many times as large", unit="×", low=0, high=1000)] = 1.0
    axes: Annotated[Axes, Field(description="Along and about which axes")] = "own"
    seed: Annotated[int, Quantity("Which of the chances", low=0, high=999_999, drag=0.1, whole=True)] = 1

    def apply(self, part: Part, drive: Drive | None, here: Here) -> Part:
        """The part with its bodies moved."""
        at, bodies = here.at, bodies_of(part)
        chances = np.stack([chance(bodies.places.number, self.seed * 8 + one) for one in range(7)], axis=1)
        either_way = 2 * chances[:, :6] - 1
        size = at(self.smallest) + (at(self.largest) - at(self.smallest)) * chances[:, 6:]
        movement = Movement(
            np.array(at(self.move)) * either_way[:, :3],
            np.array(at(self.turn)) * either_way[:, 3:],
            np.broadcast_to(size, (len(size), 3)),
            self.axes,
        )
        return moved_by(part, self.weight(len(bodies), drive, at), movement, here.matrix)
