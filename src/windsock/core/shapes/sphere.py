"""A sphere: a subdivided icosahedron, or rings of latitude."""

from __future__ import annotations

from math import ceil, log2
from typing import Annotated, ClassVar, Literal, Self

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.geometry.mesh import Mesh
from windsock.core.shapes.geometry import Assets, Courses, GeometryBase, scaled
from windsock.core.shapes.grid import grid_faces
from windsock.core.timing.parameter import Moment, NumberParameter


class Sphere(GeometryBase):
    """A ball of a radius about the item's place."""

    called: ClassVar[str] = "Sphere"
    finenesses: ClassVar[dict[str, str]] = {
        "subdivisions": "{:g} splits",
        "segments": "{:g} segments",
        "rings": "{:g} rings",
    }
    kind: Literal["sphere"] = "sphere"
    radius: Annotated[NumberParameter, Quantity("Radius of the sphere", unit="m", low=0.0001, high=1e4)] = 1.0
    build: Literal["icosahedron", "latitude"] = "icosahedron"
    subdivisions: Annotated[
        int, Quantity("How often the icosahedron's faces are split in four", low=0, high=8, drag=0.02, whole=True)
    ] = 5
    segments: Annotated[int, Quantity("Segments round the axis", low=3, high=4096, drag=0.5, whole=True)] = 64
    rings: Annotated[int, Quantity("Rings from pole to pole", low=2, high=4096, drag=0.5, whole=True)] = 32

    def face_count(self) -> int:
        """How many faces `build_sphere` will make."""
        return 20 * 4**self.subdivisions if self.build == "icosahedron" else 2 * self.segments * (self.rings - 1)

    @classmethod
    def example(cls) -> Self:
        return cls()

    def below(self) -> float:
        return Moment(0, 0)(self.radius)

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        del assets, courses
        return build_sphere(self, at)

    def fitting(self, faces: int) -> str:
        if self.build == "icosahedron":
            fits = max((n for n in range(9) if 20 * 4**n <= faces), default=0)
            return f"{fits} subdivisions would fit."
        now = self.face_count()
        return f"{scaled(self.segments, now, faces)} segments with {scaled(self.rings, now, faces)} rings would fit."

    def finer_settings(self, factor: int) -> dict[str, float]:
        if self.build == "icosahedron":
            return {"subdivisions": self.subdivisions + ceil(log2(factor))}
        return {"segments": self.segments * factor, "rings": self.rings * factor}


def build_sphere(sphere: Sphere, at: Moment) -> Mesh:
    """The sphere as a mesh; its points lie on the radius exactly, to rounding."""
    radius = at(sphere.radius)
    if sphere.build == "icosahedron":
        return _icosahedral(radius, sphere.subdivisions)
    return _latitudinal(radius, sphere.segments, sphere.rings)


def _icosahedral(radius: float, subdivisions: int) -> Mesh:
    directions, faces = _icosahedron()
    for _ in range(subdivisions):
        directions, faces = _split_in_four(directions, faces)
    points = (directions * radius).astype(np.float32)
    number = np.arange(len(points), dtype=np.int64)
    return Mesh(points, points, directions.astype(np.float32), faces.astype(np.int32), number)


def _icosahedron() -> tuple[np.ndarray, np.ndarray]:
    golden = (1 + 5**0.5) / 2
    corners = [(-1, golden, 0), (1, golden, 0), (-1, -golden, 0), (1, -golden, 0)]
    directions = np.array([np.roll(corner, turn) for turn in range(3) for corner in corners], dtype=np.float64)
    directions /= np.linalg.norm(directions, axis=1, keepdims=True)
    near = directions @ directions.T > 0.4
    faces = [
        (a, b, c)
        for a in range(12)
        for b in range(a + 1, 12)
        for c in range(b + 1, 12)
        if near[a, b] and near[b, c] and near[a, c]
    ]
    outward = [face if np.linalg.det(directions[list(face)]) > 0 else (face[0], face[2], face[1]) for face in faces]
    return directions, np.array(outward, dtype=np.int64)


def _split_in_four(directions: np.ndarray, faces: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    ends = np.sort(faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    edges, edge = np.unique(ends, axis=0, return_inverse=True)
    middles = directions[edges].sum(axis=1)
    middles /= np.linalg.norm(middles, axis=1, keepdims=True)
    ab, bc, ca = (len(directions) + edge.reshape(-1, 3)).T
    a, b, c = faces.T
    quarters = [(a, ab, ca), (ab, b, bc), (ca, bc, c), (ab, bc, ca)]
    return np.concatenate([directions, middles]), np.concatenate([np.stack(corner, axis=1) for corner in quarters])


def _latitudinal(radius: float, segments: int, rings: int) -> Mesh:
    from_pole = np.linspace(np.pi, 0, rings + 1)[:, None]
    around = np.linspace(0, 2 * np.pi, segments + 1)[None, :]
    height = np.cos(from_pole) + 0 * around
    across = np.sin(from_pole)
    across[0] = across[-1] = 0.0
    directions = np.stack([across * np.sin(around), height, across * np.cos(around)], axis=2).reshape(-1, 3)
    directions[segments :: segments + 1] = directions[0 : -1 : segments + 1]
    column, row = np.meshgrid(np.arange(segments + 1), np.arange(rings + 1))
    number = row * segments + np.where((row == 0) | (row == rings), 0, column % segments)
    uv = np.stack([column / segments, row / rings], axis=2).reshape(-1, 2)
    points = (directions * radius).astype(np.float32)
    faces = grid_faces(segments, rings, number.ravel())
    return Mesh(
        points, points, directions.astype(np.float32), faces, number.ravel().astype(np.int64), uv.astype(np.float32)
    )
