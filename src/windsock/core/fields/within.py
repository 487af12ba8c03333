"""Within: inside a controller's box or slab, with a soft margin."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import ItemId, Quantity
from windsock.core.fields.across import AXES
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.falloff import Fall, fall_place, fallen
from windsock.core.fields.source import Outline, PlacedSource, Scene
from windsock.core.geometry.placement import moved
from windsock.core.timing.parameter import Moment, NumberParameter, Vector, VectorParameter


class Within(PlacedSource):
    """1 inside, falling to 0 over `soft` metres outside, in the controller's own (stretched, turned) space.

    The box is `size` large about the controller. The slab is as thick as the box is along one axis and has no end along
    the others. Distances to a box are exact: round about its edges and corners.
    """

    says = "High inside a controller’s box"
    wish = "Where it is"

    offered = "Within a controller's box"

    kind: Literal["within"] = "within"
    controller: ItemId
    form: Literal["box", "slab"] = "box"
    axis: Literal["x", "y", "z"] = "y"
    size: Annotated[VectorParameter, Quantity("Size of the box", unit="m", low=0, high=1e5)] = (2.0, 2.0, 2.0)
    soft: Annotated[NumberParameter, Quantity("Width of the margin from 1 to 0", unit="m", low=0, high=1e4)] = 0.3
    fall: Fall = "straight"

    def items(self) -> tuple[str, ...]:
        return (self.controller,)

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        own = moved(self.places(elements, scene), np.linalg.inv(scene.placement(self.controller)))
        beyond = np.maximum(np.abs(own) - self._half(scene.at), 0)
        soft = scene.at(self.soft)
        return fallen(np.sqrt(np.einsum("ij,ij->i", beyond, beyond)) - soft, soft, self.fall)

    def outline(self, level: float, at: Moment) -> Outline:
        margin = at(self.soft) + fall_place(level, at(self.soft), self.fall)
        half = [float(size) if np.isfinite(size) else None for size in self._half(at)]
        return {"form": "box", "half": half, "margin": margin}

    def _half(self, at: Callable[[VectorParameter], Vector]) -> Values:
        half = np.array(at(self.size)) / 2
        if self.form == "slab":
            half[[axis for axis in range(3) if axis != AXES[self.axis]]] = np.inf
        return half
