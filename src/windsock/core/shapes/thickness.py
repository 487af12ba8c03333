"""What text and extruded drawings share: their depth, their bevel and the size of their faces."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from windsock.core.declarations import Quantity
from windsock.core.geometry.slab import Slab
from windsock.core.shapes.geometry import GeometryBase
from windsock.core.timing.parameter import Moment, NumberParameter


class SlabGeometry(GeometryBase):
    """A flat outline given a depth. Its front looks along +Z, its middle lies at z = 0."""

    finenesses: ClassVar[dict[str, str]] = {"face_size": "faces of {:g} m"}
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

    def fitting(self, faces: int) -> str:
        size = Moment(0, 0)(self.face_size) * (self.face_count() / max(faces, 1)) ** 0.5
        return f"Faces of {size * 1.05:.2g} m would fit."

    def finer_settings(self, factor: int) -> dict[str, float]:
        if not isinstance(self.face_size, (int, float)):
            return {}
        return {"face_size": round(self.face_size / factor, 5)}
