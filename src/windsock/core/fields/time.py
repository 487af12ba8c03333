"""Time: a ramp, pulse or beat, staggered by order, distance or chance."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import JsonValue

from windsock.core.declarations import ItemId, Quantity
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.falloff import Fall, smoothstep
from windsock.core.fields.joining import Word
from windsock.core.fields.source import Scene, SourceBase
from windsock.core.kernels.chance import chance
from windsock.core.timing.parameter import NumberParameter


class Time(SourceBase):
    """A value that comes with time: a ramp from 0 to 1, one pulse up and down, or a beat of pulses.

    Each place waits for its own delay: by the order of the shape's points (from 0 to `spread` seconds), by chance (the
    same), or by its distance from a controller (`wait` seconds for each metre).
    """

    says = "Ramps, pulses and beats"
    wish = "Over time"

    joins: ClassVar[Word] = "times"
    kind: Literal["time"] = "time"
    form: Literal["ramp", "pulse", "beat"] = "ramp"
    start: Annotated[NumberParameter, Quantity("When it begins", unit="s", low=-1e4, high=1e4, drag=0.01)] = 0.0
    length: Annotated[NumberParameter, Quantity("How long it takes", unit="s", low=0, high=1e4, drag=0.01)] = 1.0
    every: Annotated[NumberParameter, Quantity("Time from beat to beat", unit="s", low=0.01, high=1e4, drag=0.01)] = 1.0
    fall: Fall = "smooth"
    stagger: Literal["none", "order", "chance", "distance"] = "none"
    spread: Annotated[NumberParameter, Quantity("Delay of the last place", unit="s", low=0, high=1e4, drag=0.01)] = 1.0
    wait: Annotated[NumberParameter, Quantity("Delay for a metre", unit="s/m", low=0, high=1e4, drag=0.005)] = 0.5
    controller: ItemId | None = None
    seed: Annotated[int, Quantity("Which of the chances", low=0, high=999_999, drag=0.1, whole=True)] = 1

    @classmethod
    def added(cls, place: int) -> dict[str, JsonValue]:
        return super().added(place) | {"start": 0.5}

    def items(self) -> tuple[str, ...]:
        return (self.controller,) if self.stagger == "distance" and self.controller else ()

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        at = scene.at
        passed = scene.seconds - at(self.start) - self._delays(elements, scene)
        length, every = at(self.length), at(self.every)
        if self.form == "beat":
            passed = np.where(passed >= 0, np.mod(passed, max(every, 1e-6)), passed)
        share = passed / length if length > 0 else np.where(passed >= 0, np.inf, -np.inf)
        value = np.clip(share, 0, 1) if self.form == "ramp" else np.clip(1 - np.abs(2 * share - 1), 0, 1)
        return value if self.fall == "straight" else smoothstep(value)

    def _delays(self, elements: Elements, scene: Scene) -> Values:
        if self.stagger == "order":
            number = elements.subject.mesh.number
            return elements.carry(number / max(int(number.max(initial=0)), 1)) * scene.at(self.spread)
        if self.stagger == "chance":
            return elements.carry(chance(elements.subject.mesh.number, self.seed)) * scene.at(self.spread)
        if self.stagger == "distance" and self.controller:
            centre = scene.placement(self.controller)[:3, 3]
            return np.linalg.norm(elements.posed - centre, axis=1) * scene.at(self.wait)
        return np.zeros(len(elements))
