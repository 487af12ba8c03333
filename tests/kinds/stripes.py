"""A source: stripes across the world's X axis."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.source import PlacedSource, Scene
from windsock.core.timing.parameter import NumberParameter


class Stripes(PlacedSource):
    """1 and 0 in turns along the world's X axis."""

    offered = "Stripes"
    kind: Literal["stripes"] = "stripes"
    width: Annotated[NumberParameter, Quantity("Width of a stripe", unit="m", low=0.001, high=100)] = 0.2

    def measure(self, elements: Elements, scene: Scene) -> Values:
        return (np.floor(self.places(elements, scene)[:, 0] / scene.at(self.width)) % 2).astype(np.float64)
