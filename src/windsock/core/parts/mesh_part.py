"""A part that is a mesh in one piece."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Self

import numpy as np
from numpy.typing import NDArray

from windsock.core.fields.elements import Values
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.mesh import Floats, Integers, Mesh, places_of
from windsock.core.geometry.stance import Stance
from windsock.core.kernels.bodies import NO_TURN, carried_points, linear_parts, product
from windsock.core.kernels.facing import turned_with_faces
from windsock.core.parts.part import Part, Relocation

MOST_CORNERS = 64
"""Points that the field's value on a part in one piece is the mean of."""


@dataclass(frozen=True, eq=False)
class MeshPart(Part):
    """A mesh. Steps that move things whole take it as one body about the middle of its box."""

    @property
    def nbytes(self) -> int:
        return self.mesh.nbytes

    def faces(self) -> int:
        return len(self.mesh.faces)

    def described(self) -> str:
        return ""

    def seen(self) -> Part:
        return self

    def bodies(self) -> Bodies:
        return one_body(self.mesh)

    def _relocated(self, bodies: Bodies, to: Relocation, stance: Stance) -> Self:
        mesh = self.mesh
        spun = product(to.turn.astype(np.float64), bodies.turn.astype(np.float64) * np.array([-1.0, -1, -1, 1]))
        growth = to.growth()
        linear = linear_parts(spun.astype(np.float32), np.ones_like(growth)) @ _along_own(bodies.turn, growth)
        linear = np.ascontiguousarray(np.linalg.inv(stance.stretch) @ linear @ stance.stretch)
        before = bodies.places.points.astype(np.float64)
        points, normals = carried_points(
            mesh.points, mesh.normals, self.body_of_points(), before, to.places, linear, to.moves
        )
        return replace(self, mesh=replace(mesh, points=points, normals=normals))

    def body_of_points(self) -> Integers:
        """(n,) which of its bodies each point belongs to."""
        return np.zeros(len(self.mesh.points), dtype=np.int32)

    def deformed(
        self, moved: Callable[[Mesh], Floats], changes: bool, facing: Callable[[Mesh], Floats] | None = None
    ) -> Self:
        mesh, points = self.mesh, moved(self.mesh)
        if facing is not None:
            normals = facing(mesh)
        else:
            place, count = places_of(mesh.number)
            normals = turned_with_faces(mesh.normals, mesh.points, points, mesh.faces, place, count)
        return replace(self, mesh=replace(mesh, points=points, normals=normals))

    def without_bodies(self, gone: NDArray[np.bool_]) -> Self:
        return self.emptied() if gone.all() else self

    def emptied(self) -> Self:
        """The part without any face or point."""
        return replace(self, mesh=self.mesh.emptied())


def one_body(mesh: Mesh) -> Bodies:
    """A mesh as one body about the middle of its box."""
    if len(mesh.points) == 0:
        none = np.zeros((0, 1), dtype=np.int64)
        nothing = np.zeros((0, 4), dtype=np.float32)
        return Bodies(mesh.mixed(none, none.astype(np.float64), none[:, 0]), nothing, nothing[:, :3], nothing[:, 0])
    # Points that the shape had before its recipe, as far as any are left: others come and go with what splits and cuts.
    own = np.flatnonzero(mesh.number >= 0)
    own = own if len(own) else np.arange(len(mesh.points))
    corners = own[np.linspace(0, len(own) - 1, min(MOST_CORNERS, len(own))).astype(np.int64)][None]
    place = mesh.mixed(corners, np.full(corners.shape, 1 / corners.shape[1]), np.zeros(1, dtype=np.int64))
    middle = (mesh.points.min(axis=0) + mesh.points.max(axis=0)) / 2
    rest = (mesh.rest.min(axis=0) + mesh.rest.max(axis=0)) / 2
    up = np.array([[0, 1, 0]], dtype=np.float32)
    place = replace(place, points=middle[None], rest=rest[None], normals=up)
    radius = np.linalg.norm(mesh.points - middle, axis=1).max(keepdims=True).astype(np.float32)
    return Bodies(place, NO_TURN.astype(np.float32)[None], np.ones((1, 3), dtype=np.float32), radius)


def _along_own(turn: Floats, factor: Values) -> Values:
    """(k, 3, 3) sizing by (k, 3) factors along the axes of (k, 4) turns."""
    frame = linear_parts(turn, np.ones((len(turn), 3)))
    return (frame * factor[:, None, :]) @ frame.transpose(0, 2, 1)
