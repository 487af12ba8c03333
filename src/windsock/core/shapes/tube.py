"""A tube: a round wall of a thickness, standing upright; a solid cylinder where the wall is as thick as the radius."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise
from typing import Annotated, ClassVar, Literal, Self

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.geometry.mesh import Mesh
from windsock.core.shapes.geometry import Assets, Courses, GeometryBase, scaled
from windsock.core.shapes.revolve import joined, turned
from windsock.core.timing.parameter import Moment, NumberParameter


class Tube(GeometryBase):
    """A tube about the item's Y axis, its middle at the item's place."""

    called: ClassVar[str] = "Tube"
    finenesses: ClassVar[dict[str, str]] = {
        "segments": "{:g} segments",
        "rows": "{:g} rows",
        "rim_rows": "{:g} rows across the wall",
    }
    kind: Literal["tube"] = "tube"
    radius: Annotated[NumberParameter, Quantity("Outer radius", unit="m", low=0.0001, high=1e4)] = 0.5
    wall: Annotated[NumberParameter, Quantity("Thickness of the wall", unit="m", low=0.0001, high=1e4)] = 0.1
    height: Annotated[NumberParameter, Quantity("Height", unit="m", low=0.0001, high=1e4)] = 1.5
    segments: Annotated[int, Quantity("Segments round the axis", low=3, high=4096, drag=0.5, whole=True)] = 96
    rows: Annotated[int, Quantity("Rows from foot to top", low=1, high=4096, drag=0.5, whole=True)] = 40
    rim_rows: Annotated[int, Quantity("Rows across the wall", low=1, high=4096, drag=0.5, whole=True)] = 4

    def face_count(self) -> int:
        """How many faces `build_tube` will make at most."""
        return 4 * self.segments * (self.rows + self.rim_rows)

    @classmethod
    def example(cls) -> Self:
        return cls()

    def below(self) -> float:
        return Moment(0, 0)(self.height) / 2

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        del assets, courses
        return build_tube(self, at)

    def fitting(self, faces: int) -> str:
        now = self.face_count()
        return f"{scaled(self.segments, now, faces)} segments with {scaled(self.rows, now, faces)} rows would fit."

    def finer_settings(self, factor: int) -> dict[str, float]:
        return {name: getattr(self, name) * factor for name in self.finenesses}


def build_tube(tube: Tube, at: Moment) -> Mesh:
    """The tube as a closed mesh with hard edges. u goes round the axis, v round the wall, from the foot of the outside."""
    outer, half = at(tube.radius), at(tube.height) / 2
    inner = max(outer - at(tube.wall), 0.0)
    corners = [(outer, -half), (outer, half), (inner, half), (inner, -half), (outer, -half)]
    if inner == 0:
        corners = [(0.0, -half), *corners[:2], (0.0, half)]
    sides = [(np.array(low), np.array(high)) for low, high in pairwise(corners)]
    total = sum(float(np.linalg.norm(high - low)) for low, high in sides)
    spans: list[Mesh] = []
    first_row, come = 0, 0.0
    for low, high in sides:
        rows = tube.rows if low[0] == high[0] else tube.rim_rows
        share = np.linspace(0, 1, rows + 1)[:, None]
        length = float(np.linalg.norm(high - low))
        along = (come + share[:, 0] * length) / total
        directions = np.tile(high - low, (rows + 1, 1))
        spans.append(turned(low + (high - low) * share, directions, tube.segments, first_row, along, None))
        first_row, come = first_row + rows, come + length
    mesh = joined(spans)
    return replace(mesh, number=mesh.number % (first_row * tube.segments)) if inner > 0 else mesh
