"""Near: distance to the surface of the shapes of a group, however they move, up to a reach."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import GroupId, Quantity
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.falloff import Fall, fallen
from windsock.core.fields.source import PlacedSource, Scene
from windsock.core.kernels.surface_distance import surface_distance
from windsock.core.timing.parameter import NumberParameter


class Near(PlacedSource):
    """1 at the nearest surface of the group's shapes, falling to 0 at the reach over the last `soft` metres before it.

    The shapes are taken as their recipes leave them; the subject itself does not count. `inside`: whether places inside
    a shape have the value 1, or are measured from its surface like those outside.
    """

    says = "High close to other shapes"
    wish = "Where it is"

    offered = "Near shapes"

    kind: Literal["near"] = "near"
    group: GroupId
    reach: Annotated[NumberParameter, Quantity("Distance at which the value is 0", unit="m", low=0, high=1e4)] = 0.5
    soft: Annotated[NumberParameter, Quantity("Width of the fall from 1 to 0", unit="m", low=0, high=1e4)] = 0.5
    fall: Fall = "straight"
    inside: Literal["counted", "not counted"] = "counted"

    def groups(self) -> tuple[str, ...]:
        return (self.group,)

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        places, reach = self.places(elements, scene), scene.at(self.reach)
        nearest = np.full(len(places), np.inf)
        for shape in scene.group(self.group, elements.subject.item):
            distance = surface_distance(places, shape.surface, reach, self.inside == "counted")
            nearest = np.minimum(nearest, distance)
        return fallen(np.minimum(nearest, 1e12) - reach, scene.at(self.soft), self.fall)
