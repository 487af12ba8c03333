"""What every step of a recipe declares."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from windsock.core.declarations import Declared, Id, Quantity, Rank
from windsock.core.timing.curve import Curve
from windsock.core.timing.parameter import NumberParameter


class StepBase(Declared):
    """A line of a recipe: it takes a part and is driven by a field, or by nothing."""

    rank: Rank
    on: Annotated[bool, Field(description="A step that is off is passed over")] = True
    part: Id = "body"
    field: Id | None = None
    amount: Annotated[NumberParameter, Quantity("How much the step counts", low=0, high=1, drag=0.005)] = 1.0


class WeightedStep(StepBase):
    """A step that blends from no effect to its full effect by a weight: overall field x amount x curve(zone)."""

    curve: Annotated[Curve | None, Field(description="What becomes of the zone's weight")] = None
