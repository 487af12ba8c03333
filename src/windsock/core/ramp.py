"""Ramps: from a number in 0..1 to a colour or to another number, through stops."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.declarations import Colour, Declared, Id, Quantity
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.timing.curve import Unit

Values = NDArray[np.float64]


class Stop(Declared):
    """What the ramp is at a place: a colour where it drives colours, a value where it drives a number."""

    at: Annotated[Unit, Quantity("Place of the stop", low=0, high=1, drag=0.005)]
    colour: Colour = "#FFFFFF"
    value: Annotated[Unit, Quantity("Value at the stop", low=0, high=1, drag=0.005)] = 1.0


class Ramp(Declared):
    """Stops, and what is between two of them: a blend (smooth) or the lower one (stepped). Level beyond the ends."""

    kind: Literal["smooth", "stepped"] = "smooth"
    stops: Annotated[dict[Id, Stop], Field(min_length=1, max_length=32)]

    def colours(self, places: Values) -> Values:
        """(n, 3) linear colours at (n,) places; between two stops they are blended in linear light."""
        stops = self._sorted()
        colours = np.array([linear_from_hex(stop.colour) for stop in stops])
        return np.column_stack([self._at(places, stops, colours[:, channel]) for channel in range(3)])

    def values(self, places: Values) -> Values:
        """(n,) values at (n,) places."""
        stops = self._sorted()
        return self._at(places, stops, np.array([stop.value for stop in stops]))

    def _sorted(self) -> list[Stop]:
        return [stop for _, stop in sorted(self.stops.items(), key=lambda entry: (entry[1].at, entry[0]))]

    def _at(self, places: Values, stops: list[Stop], values: Values) -> Values:
        at = np.array([stop.at for stop in stops])
        if self.kind == "smooth":
            return np.interp(places, at, values)
        return values[np.maximum(np.searchsorted(at, places, side="right") - 1, 0)]
