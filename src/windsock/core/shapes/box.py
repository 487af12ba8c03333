"""A box with its faces divided evenly."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import Quantity
from windsock.core.geometry.mesh import Mesh
from windsock.core.shapes.geometry import Assets, Courses, GeometryBase
from windsock.core.shapes.grid import grid_faces
from windsock.core.timing.parameter import Moment, NumberParameter

SIDES = ((0, 1, 2, 1), (0, 1, 2, -1), (1, 2, 0, 1), (1, 2, 0, -1), (2, 0, 1, 1), (2, 0, 1, -1))
"""For each side: the axes that its columns, rows and outside run along, and the sign of the outside."""


class Box(GeometryBase):
    """A box about the item's place."""

    called: ClassVar[str] = "Box"
    finenesses: ClassVar[dict[str, str]] = {"divisions": "{:g} cells along each edge"}
    kind: Literal["box"] = "box"
    width: Annotated[NumberParameter, Quantity("Size along X", unit="m", low=0.0001, high=1e4)] = 1.0
    height: Annotated[NumberParameter, Quantity("Size along Y", unit="m", low=0.0001, high=1e4)] = 1.0
    depth: Annotated[NumberParameter, Quantity("Size along Z", unit="m", low=0.0001, high=1e4)] = 1.0
    divisions: Annotated[int, Quantity("Cells along each edge", low=1, high=512, drag=0.1, whole=True)] = 12

    def face_count(self) -> int:
        """How many faces `build_box` will make."""
        return 12 * self.divisions**2

    @classmethod
    def example(cls) -> Self:
        return cls(divisions=24)

    def below(self) -> float:
        return Moment(0, 0)(self.height) / 2

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        del assets, courses
        return build_box(self, at)

    def fitting(self, faces: int) -> str:
        return f"{max(1, int((max(faces, 12) / 12) ** 0.5))} cells along each edge would fit."

    def finer_settings(self, factor: int) -> dict[str, float]:
        return {"divisions": self.divisions * factor}


def build_box(box: Box, at: Moment) -> Mesh:
    """The box as a mesh: hard edges, each side with u,v of its own."""
    n = box.divisions
    column, row = (values.ravel() for values in np.meshgrid(np.arange(n + 1), np.arange(n + 1)))
    lattice: list[NDArray[np.int64]] = []
    normals: list[NDArray[np.float32]] = []
    faces: list[NDArray[np.int32]] = []
    uv: list[NDArray[np.float64]] = []
    for side, (along, up, outside, sign) in enumerate(SIDES):
        corner = np.zeros((len(column), 3), dtype=np.int64)
        corner[:, along] = column if sign > 0 else n - column
        corner[:, up] = row
        corner[:, outside] = n if sign > 0 else 0
        normal = np.zeros((len(column), 3), dtype=np.float32)
        normal[:, outside] = sign
        lattice.append(corner)
        normals.append(normal)
        uv.append(np.stack([column / n, row / n], axis=1))
        faces.append(grid_faces(n, n, np.arange(len(column))) + side * len(column))
    places = np.concatenate(lattice)
    size = np.array([at(box.width), at(box.height), at(box.depth)])
    points = ((places / n - 0.5) * size).astype(np.float32)
    number = places @ np.array([1, n + 1, (n + 1) ** 2])
    return Mesh(
        points, points, np.concatenate(normals), np.concatenate(faces), number, np.concatenate(uv).astype(np.float32)
    )
