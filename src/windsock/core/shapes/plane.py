"""A flat sheet facing up."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.geometry.mesh import Mesh
from windsock.core.shapes.geometry import Assets, Courses, GeometryBase, scaled
from windsock.core.shapes.grid import grid_faces
from windsock.core.timing.parameter import Moment, NumberParameter


class Plane(GeometryBase):
    """A rectangle in X and Z about the item's place, facing up."""

    called: ClassVar[str] = "Sheet"
    finenesses: ClassVar[dict[str, str]] = {"columns": "{:g} columns", "rows": "{:g} rows"}
    kind: Literal["plane"] = "plane"
    width: Annotated[NumberParameter, Quantity("Size along X", unit="m", low=0.0001, high=1e5)] = 2.0
    depth: Annotated[NumberParameter, Quantity("Size along Z", unit="m", low=0.0001, high=1e5)] = 2.0
    columns: Annotated[int, Quantity("Cells along X", low=1, high=2048, drag=0.2, whole=True)] = 20
    rows: Annotated[int, Quantity("Cells along Z", low=1, high=2048, drag=0.2, whole=True)] = 20

    def face_count(self) -> int:
        """How many faces `build_plane` will make."""
        return 2 * self.columns * self.rows

    @classmethod
    def example(cls) -> Self:
        return cls(width=4.0, depth=4.0, columns=40, rows=40)

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        del assets, courses
        return build_plane(self, at)

    def fitting(self, faces: int) -> str:
        now = self.face_count()
        return f"{scaled(self.columns, now, faces)} columns with {scaled(self.rows, now, faces)} rows would fit."

    def finer_settings(self, factor: int) -> dict[str, float]:
        return {"columns": self.columns * factor, "rows": self.rows * factor}


def build_plane(plane: Plane, at: Moment) -> Mesh:
    """The sheet as a mesh."""
    column, row = (values.ravel() for values in np.meshgrid(np.arange(plane.columns + 1), np.arange(plane.rows + 1)))
    u, v = column / plane.columns, row / plane.rows
    points = np.stack([(u - 0.5) * at(plane.width), 0 * u, (0.5 - v) * at(plane.depth)], axis=1).astype(np.float32)
    number = np.arange(len(points), dtype=np.int64)
    normals = np.tile(np.array([0, 1, 0], dtype=np.float32), (len(points), 1))
    uv = np.stack([u, v], axis=1).astype(np.float32)
    return Mesh(points, points, normals, grid_faces(plane.columns, plane.rows, number), number, uv)
