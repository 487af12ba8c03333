"""Noise: a procedural pattern in space."""

from __future__ import annotations

from typing import Annotated, Literal

from windsock.core.declarations import Quantity
from windsock.core.fields.source import Elements, Scene, SourceBase, Values
from windsock.core.kernels.noise import gradient_noise
from windsock.core.timing.parameter import NumberParameter


class Noise(SourceBase):
    """Gradient noise about 1/2, within 0..1.

    `contrast` c stretches it about 1/2 by 1 / (1 - c): at 0 the noise as it is, towards 1 hard edges.
    """

    kind: Literal["noise"] = "noise"
    size: Annotated[
        NumberParameter, Quantity("Size of the pattern's coarsest cells", unit="m", low=0.0001, high=1e4)
    ] = 0.5
    octaves: Annotated[int, Quantity("Layers of ever finer pattern", low=1, high=10, drag=0.02, whole=True)] = 3
    contrast: Annotated[NumberParameter, Quantity("How far the values spread", unit="%", low=0, high=99, drag=0.25)] = (
        40.0
    )
    space: Literal["rest", "world"] = "rest"
    seed: Annotated[int, Quantity("Which of the patterns", low=0, high=999_999, drag=0.1, whole=True)] = 1

    @property
    def posed(self) -> bool:
        return self.space == "world"

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        at = scene.at
        places = elements.rest if self.space == "rest" else elements.posed
        values = gradient_noise(places / max(at(self.size), 1e-6), self.seed, self.octaves)
        return 0.5 + 0.5 * values / (1 - min(at(self.contrast), 99.0) / 100)
