"""What text and extruded drawings share: their depth, their bevel and the size of their faces."""

from __future__ import annotations

from typing import Annotated, Literal

from windsock.core.declarations import Declared, Quantity
from windsock.core.geometry.slab import Slab
from windsock.core.timing.parameter import Moment, NumberParameter


class Thick(Declared):
    """A flat outline given a depth. Its front looks along +Z, its middle lies at z = 0."""

    depth: Annotated[NumberParameter, Quantity("Depth, flat at 0", unit="m", low=0, high=1e4)] = 0.2
    bevel: Annotated[NumberParameter, Quantity("Width of the bevel", unit="m", low=0, high=1e3, drag=0.002)] = 0.0
    bevel_form: Literal["straight", "round", "hollow"] = "round"
    bevel_rows: Annotated[int, Quantity("Faces across the bevel", low=1, high=32, drag=0.1, whole=True)] = 4
    face_size: Annotated[
        NumberParameter, Quantity("Length of the faces' edges", unit="m", low=0.0005, high=1e3, drag=0.001)
    ] = 0.05

    def slab(self, at: Moment) -> Slab:
        """The depth and bevel at a moment."""
        return Slab(at(self.depth), at(self.face_size), at(self.bevel), self.bevel_form, self.bevel_rows)
