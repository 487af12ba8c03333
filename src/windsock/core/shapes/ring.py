"""A ring: a round section carried round a circle (a torus)."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.geometry.mesh import Mesh
from windsock.core.shapes.geometry import Assets, Courses, GeometryBase, scaled
from windsock.core.shapes.grid import grid_faces
from windsock.core.timing.parameter import Moment, NumberParameter


class Ring(GeometryBase):
    """A ring that lies flat about the item's place, its hole along Y. Its section may not be larger than its radius."""

    called: ClassVar[str] = "Ring"
    finenesses: ClassVar[dict[str, str]] = {"segments": "{:g} segments", "sides": "{:g} sides"}
    kind: Literal["ring"] = "ring"
    radius: Annotated[
        NumberParameter, Quantity("From the middle to the middle of the section", unit="m", low=0.0001, high=1e4)
    ] = 0.8
    thickness: Annotated[NumberParameter, Quantity("Width of the round section", unit="m", low=0.0001, high=1e4)] = 0.4
    segments: Annotated[int, Quantity("Segments round the hole", low=3, high=4096, drag=0.5, whole=True)] = 96
    sides: Annotated[int, Quantity("Sides of the section", low=3, high=4096, drag=0.5, whole=True)] = 32

    def face_count(self) -> int:
        """How many faces `build_ring` will make."""
        return 2 * self.segments * self.sides

    @classmethod
    def example(cls) -> Self:
        return cls()

    def below(self) -> float:
        return Moment(0, 0)(self.thickness) / 2

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        del assets, courses
        return build_ring(self, at)

    def fitting(self, faces: int) -> str:
        now = self.face_count()
        return f"{scaled(self.segments, now, faces)} segments with {scaled(self.sides, now, faces)} sides would fit."

    def finer_settings(self, factor: int) -> dict[str, float]:
        return {"segments": self.segments * factor, "sides": self.sides * factor}


def build_ring(ring: Ring, at: Moment) -> Mesh:
    """The ring as a mesh: u goes round the hole, v round the section, from the outermost line up and inward."""
    radius = at(ring.radius)
    section = min(at(ring.thickness) / 2, radius)
    column, row = (v.ravel() for v in np.meshgrid(np.arange(ring.segments + 1), np.arange(ring.sides + 1)))
    around = 2 * np.pi * (column % ring.segments) / ring.segments
    about = 2 * np.pi * (row % ring.sides) / ring.sides
    out, up = np.cos(about), np.sin(about)
    normals = np.stack([out * np.sin(around), up, out * np.cos(around)], axis=1)
    middle = np.stack([np.sin(around), 0 * around, np.cos(around)], axis=1) * radius
    points = (middle + section * normals).astype(np.float32)
    number = ((row % ring.sides) * ring.segments + column % ring.segments).astype(np.int64)
    uv = np.stack([column / ring.segments, row / ring.sides], axis=1).astype(np.float32)
    return Mesh(points, points, normals.astype(np.float32), grid_faces(ring.segments, ring.sides, number), number, uv)
