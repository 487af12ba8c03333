"""What drives a step."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.zones import Band, Zone, zone_weight
from windsock.core.timing.curve import Curve


@dataclass(frozen=True, eq=False)
class Drive:
    """A field as one step listens to it.

    elements: the points of the entering part. values: (n,) at them. measure: the field at any elements. overall: (n,)
    the recipe's overall field at the points, or None. band: its width in values, at all points or (n,). measured_overall: that at any elements.
    """

    elements: Elements
    values: Values
    measure: Callable[[Elements], Values]
    level: float
    band: Band
    overall: Values | None = None
    measured_overall: Callable[[Elements], Values] | None = None

    def zone(self, zone: Zone, curve: Curve | None) -> Values:
        """(n,) the weight of a zone, through a curve."""
        weight = zone_weight(zone, self.values, self.level, self.band)
        return weight if curve is None else curve(weight)

    def weight(self, zone: Zone, curve: Curve | None) -> Values:
        """(n,) the same times the overall field."""
        weight = self.zone(zone, curve)
        return weight if self.overall is None else weight * self.overall

    def lowered(self) -> Values:
        """(n,) the values times the overall field: what a cutting step compares with the level."""
        return self.values if self.overall is None else self.values * self.overall

    def lowered_at(self, elements: Elements) -> Values:
        """(n,) the same at any elements."""
        values = self.measure(elements)
        return values if self.measured_overall is None else values * self.measured_overall(elements)
