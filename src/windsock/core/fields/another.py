"""Another field: that field's zone, later by a lag."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

import numpy as np
from pydantic import JsonValue

from windsock.core.declarations import FieldId, Quantity
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.source import Scene, SourceBase
from windsock.core.fields.zones import FieldZone, zone_weight
from windsock.core.timing.parameter import NumberParameter


class AnotherField(SourceBase):
    """What another field was `lag` seconds ago: its value, a zone of it, or its age as a share of `full` seconds.

    With a lag, the field is measured on the subject as it rests, where it stood then.
    """

    says = "What another field was a while ago"
    wish = "From what is there"

    offered = "Another field, later"

    kind: Literal["another"] = "another"
    field: FieldId
    zone: FieldZone = "value"
    lag: Annotated[NumberParameter, Quantity("How much later", unit="s", low=0, high=1e4, drag=0.01)] = 0.0
    full: Annotated[NumberParameter, Quantity("Age that counts as 1", unit="s", low=0.001, high=1e4, drag=0.01)] = 1.0

    @classmethod
    def added(cls, place: int) -> dict[str, JsonValue]:
        return super().added(place) | {"lag": 0.4}

    @classmethod
    def named(cls) -> str:
        return "another field"

    def briefly(self, name: Callable[[str], str]) -> str:
        return f"{name(self.field)}, later" if self.lag else name(self.field)

    def fields(self) -> tuple[str, ...]:
        return (self.field,)

    def crossings(self) -> tuple[str, ...]:
        return (self.field,) if self.zone == "age" else ()

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        lag = scene.at(self.lag)
        then = scene.earlier(lag)
        if self.zone == "age":
            crossed = then.crossed(self.field, elements.subject)
            since = elements.carry(then.seconds - np.minimum(crossed, 1e12))
            return np.clip(since / scene.at(self.full), 0, 1)
        there = elements.at_rest(then.placement(elements.subject.item)) if lag > 0 else elements
        values = then.field_values(self.field, there)
        if self.zone == "value":
            return values
        band = then.field_band(self.field, there, values)
        return zone_weight(self.zone, values, then.field_edge(self.field)[0], band)
