"""Around: distance from a controller's centre, in the controller's own (stretched, turned) space."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import ItemId, Quantity
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.falloff import Fall, fall_place, fallen
from windsock.core.fields.source import Outline, PlacedSource, Scene
from windsock.core.kernels.affine import lengths
from windsock.core.timing.parameter import Moment, NumberParameter


class Around(PlacedSource):
    """1 near the controller, falling to 0 at the reach over the last `soft` metres before it."""

    says = "High near a controller"
    wish = "Where it is"

    offered = "Around a controller"

    kind: Literal["around"] = "around"
    controller: ItemId
    reach: Annotated[NumberParameter, Quantity("Distance at which the value is 0", unit="m", low=0, high=1e4)] = 2.0
    soft: Annotated[NumberParameter, Quantity("Width of the fall from 1 to 0", unit="m", low=0, high=1e4)] = 1.0
    fall: Fall = "straight"

    def items(self) -> tuple[str, ...]:
        return (self.controller,)

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        distance = lengths(
            self.places(elements, scene), np.asarray(np.linalg.inv(scene.placement(self.controller)), dtype=np.float64)
        )
        return fallen(distance - scene.at(self.reach), scene.at(self.soft), self.fall)

    def outline(self, level: float, at: Moment) -> Outline:
        return {"form": "ball", "radius": max(0.0, at(self.reach) + fall_place(level, at(self.soft), self.fall))}
