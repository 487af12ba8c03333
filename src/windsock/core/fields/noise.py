"""Noise: a procedural pattern in space, which may evolve over time."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.declarations import ItemId, Quantity
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.joining import Word
from windsock.core.fields.source import PlacedSource, Scene
from windsock.core.geometry.placement import moved
from windsock.core.kernels.patterns import Pattern, Phase, pattern
from windsock.core.timing.parameter import NumberParameter, VectorParameter


class Noise(PlacedSource):
    """A pattern about 1/2, within 0..1.

    `contrast` c stretches it about 1/2 by 1 / (1 - c): at 0 the pattern as it is, towards 1 hard edges. In rest space it
    sticks to the shape's own places and ignores how the shape stands; in a controller's space it moves with that. An
    evolution that is `looped` is stretched to come a whole number of times over the shot, so that the first frame
    follows the last.
    """

    says = "A pattern of chance in space"
    wish = "By chance"

    joins: ClassVar[Word] = "roughened by"
    kind: Literal["noise"] = "noise"
    pattern: Pattern = "gradient"
    size: Annotated[
        NumberParameter, Quantity("Size of the pattern's coarsest cells", unit="m", low=0.0001, high=1e4)
    ] = 0.5
    octaves: Annotated[int, Quantity("Layers of ever finer pattern", low=1, high=10, drag=0.02, whole=True)] = 3
    contrast: Annotated[NumberParameter, Quantity("How far the values spread", unit="%", low=0, high=99, drag=0.25)] = (
        40.0
    )
    stretch: Annotated[
        VectorParameter, Quantity("How much longer its cells are along X, Y and Z", unit="×", low=0.001, high=1000)
    ] = (1.0, 1.0, 1.0)
    evolution: Annotated[
        NumberParameter, Quantity("How fast the pattern changes", unit="/s", low=0, high=100, drag=0.01)
    ] = 0.0
    looped: Annotated[bool, Field(description="The pattern comes back at the end of the shot")] = False
    space: Literal["rest", "world", "controller"] = "rest"
    controller: ItemId | None = None
    seed: Annotated[int, Quantity("Which of the patterns", low=0, high=999_999, drag=0.1, whole=True)] = 1

    @classmethod
    def added(cls, place: int) -> dict[str, JsonValue]:
        return super().added(place) | {"contrast": 50.0}

    def items(self) -> tuple[str, ...]:
        return (self.controller,) if self.space == "controller" and self.controller else ()

    def released(self, setting: str) -> dict[str, JsonValue]:
        return super().released(setting) | {"space": "rest"}

    def pattern_moves_with(self) -> tuple[str, ...] | None:
        return None if self.space == "rest" else self.items()

    def stuck(self) -> Self:
        return self.model_copy(update={"space": "rest"})

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        at = scene.at
        places = elements.rest if self.space == "rest" else self.places(elements, scene)
        if self.space == "controller" and self.controller:
            places = moved(places, np.linalg.inv(scene.placement(self.controller)))
        cells = places / (np.maximum(at(self.stretch), 1e-6) * max(at(self.size), 1e-6))
        values = pattern(self.pattern, cells, self.seed, self.octaves, self._phase(scene))
        return 0.5 + (values - 0.5) / (1 - min(at(self.contrast), 99.0) / 100)

    def _phase(self, scene: Scene) -> Phase:
        return Phase(*scene.looped("evolution")) if self.looped else Phase(scene.travelled("evolution"), 0)
