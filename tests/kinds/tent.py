"""A shape: two sloping sheets that meet."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.geometry.mesh import Mesh
from windsock.core.shapes.geometry import Assets, Courses, GeometryBase
from windsock.core.timing.parameter import Moment, NumberParameter


class Tent(GeometryBase):
    """A roof along Z."""

    called: ClassVar[str] = "Tent"
    kind: Literal["tent"] = "tent"
    height: Annotated[NumberParameter, Quantity("Height of the ridge", unit="m", low=0.01, high=100)] = 1.0

    def face_count(self) -> int:
        return 4

    @classmethod
    def example(cls) -> Self:
        return cls()

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        top = at(self.height)
        points = np.array([[x, (1 - abs(x)) * top, z] for x in (-1, 0, 1) for z in (-1, 1)], dtype="f4")
        faces = np.array([[0, 1, 2], [1, 3, 2], [2, 3, 4], [3, 5, 4]], dtype="i4")
        normals = np.array([[x, 1, 0] for x in (-1, -1, 0, 0, 1, 1)], dtype="f4")
        normals /= np.linalg.norm(normals, axis=1, keepdims=True)
        return Mesh(points, points, normals, faces, np.arange(6))
