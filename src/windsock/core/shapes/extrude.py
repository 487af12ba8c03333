"""Extrude: a drawing given a depth."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from windsock.core.declarations import ContentHash, Quantity
from windsock.core.geometry.drawing import Drawing, Paint
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.region import area, filled, length
from windsock.core.geometry.slab import raised, slab_faces
from windsock.core.refusals import Refusal
from windsock.core.shapes.geometry import Assets, BroughtFile, Courses
from windsock.core.shapes.thickness import SlabGeometry
from windsock.core.timing.parameter import Moment, NumberParameter, Vector


class Extrude(SlabGeometry):
    """The filled parts and strokes of an SVG drawing, its middle at the item's place, painted in its own colours."""

    kind: Literal["extrude"] = "extrude"
    asset: ContentHash
    height: Annotated[NumberParameter, Quantity("Height of the drawing", unit="m", low=0.001, high=1e4)] = 1.0
    painted: bool = True

    @classmethod
    def from_file(cls, file: BroughtFile) -> tuple[Self, Vector] | None:
        if file.sort != "drawing":
            return None
        high = file.height
        return cls(asset=file.asset, height=high, depth=high / 5, face_size=high / 20), (0.0, high / 2, 0.0)

    def face_count(self, drawing: Drawing | None = None) -> int:
        """About how many faces `build_extrude` will make; without its drawing, of a full square."""
        at = Moment(0, 0)
        if drawing is None or not drawing.paints:
            return slab_faces(at(self.height) ** 2, 8 * at(self.height), self.slab(at))
        low, high = drawing.bounds()
        factor = at(self.height) / max(float(high[1] - low[1]), 1e-9)
        inked = sum(area(paint.region) for paint in drawing.paints) * factor**2
        border = sum(length(paint.region) for paint in drawing.paints) * factor
        return slab_faces(inked, border, self.slab(at))

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        del courses
        return build_extrude(self, at, assets.drawing(self.asset))

    def faces_from(self, assets: Assets | None, courses: Courses) -> int:
        del courses
        return self.face_count(assets.drawing(self.asset) if assets else None)


def build_extrude(extrude: Extrude, at: Moment, drawing: Drawing) -> Mesh:
    """The drawing as a closed mesh. Raises Refusal where nothing in it is filled."""
    if not drawing.paints:
        raise Refusal(
            "The drawing has nothing that is filled. The shot is unharmed. Fill its outlines and import it again."
        )
    low, high = drawing.bounds()
    factor = at(extrude.height) / max(float(high[1] - low[1]), 1e-9)
    middle = (low + high) / 2
    paints = [
        Paint([(outline - middle) * factor for outline in paint.region], paint.colour) for paint in drawing.paints
    ]
    covered = filled([outline for paint in paints for outline in paint.region])
    painted = extrude.painted and any(paint.colour is not None for paint in paints)
    return raised(covered, extrude.slab(at), [(paint.region, paint.colour) for paint in paints] if painted else [])
