"""A part that is a mesh in pieces."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Self

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.mesh import Floats, Integers, Mesh
from windsock.core.geometry.rounding import Rounding
from windsock.core.geometry.stance import Stance
from windsock.core.kernels.bodies import linear_parts
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part, Relocation


@dataclass(frozen=True, eq=False, kw_only=True)
class PiecesPart(MeshPart):
    """A mesh whose points say which of its pieces they belong to.

    pieces: the pieces; solid: whether they are closed; rounded: what rounds their edges where they are loose, None where
    nothing does.
    """

    pieces: Bodies
    solid: bool
    rounded: Rounding | None = None

    @property
    def nbytes(self) -> int:
        return self.mesh.nbytes + self.pieces.nbytes + (0 if self.rounded is None else self.rounded.nbytes)

    def described(self) -> str:
        return f"{len(self.pieces):,} pieces, {'solid' if self.solid else 'sheets'}"

    def bodies(self) -> Bodies:
        return self.pieces

    def body_of_points(self) -> Integers:
        piece = self.mesh.piece
        assert piece is not None
        return piece

    def _relocated(self, bodies: Bodies, to: Relocation, stance: Stance) -> Self:
        made = super()._relocated(bodies, to, stance)
        places = replace(bodies.places, points=to.places.astype(np.float32))
        moved = to.moves if bodies.moved is None else to.moves | bodies.moved
        return replace(made, pieces=replace(bodies, places=places, turn=to.turn, size=to.size, moved=moved))

    def deformed(
        self, moved: Callable[[Mesh], Floats], changes: bool, facing: Callable[[Mesh], Floats] | None = None
    ) -> Self:
        """The part with its points moved, and the middle of each piece as far as its points are on average."""
        made, pieces = super().deformed(moved, changes, facing), self.pieces
        loose = np.ones(len(pieces), dtype=bool) if changes else pieces.moved
        piece, shift = self.body_of_points(), made.mesh.points.astype(np.float64) - self.mesh.points
        count = np.maximum(np.bincount(piece, minlength=len(pieces)), 1)
        mean = [np.bincount(piece, weights=shift[:, axis], minlength=len(pieces)) / count for axis in range(3)]
        middles = (pieces.places.points + np.stack(mean, axis=1)).astype(np.float32)
        places = replace(pieces.places, points=middles)
        return replace(made, pieces=replace(pieces, places=places, moved=loose))

    def without_bodies(self, gone: NDArray[np.bool_]) -> Self:
        mesh = self.mesh
        left = ~gone[self.body_of_points()[mesh.faces[:, 0]]]
        return replace(self, mesh=mesh.faced(mesh.faces[left], np.flatnonzero(left)).without_loose_points())

    def seen(self) -> Part:
        """The part without the faces inside pieces that are as if nothing were broken, and with the edges of loose pieces
        rounded."""
        if self.mesh.origin is None:
            return self
        welded = self.pieces.welded()
        mesh = self._loose_ones_rounded(welded)
        hidden = welded[self.body_of_points()[mesh.faces[:, 0]]] & (self.mesh.origin < 0)
        left = np.flatnonzero(~hidden)
        if len(left) == len(hidden):
            return self if mesh is self.mesh else replace(self, mesh=mesh)
        return replace(self, mesh=mesh.faced(mesh.faces[left], left))

    def _loose_ones_rounded(self, welded: NDArray[np.bool_]) -> Mesh:
        """The mesh with the edges of its loose pieces rounded; as it is where a later step has changed its points."""
        rounded, pieces, mesh = self.rounded, self.pieces, self.mesh
        if rounded is None or len(rounded.inward) != len(mesh.points):
            return mesh
        piece = self.body_of_points()
        linear = linear_parts(pieces.turn, pieces.size)[piece]
        loose = ~welded[piece][:, None]
        inward = np.einsum("nij,nj->ni", linear, rounded.inward.astype(np.float64))
        turned = np.einsum("nij,nj->ni", linear_parts(pieces.turn, np.ones_like(pieces.size))[piece], rounded.normals)
        points = np.where(loose, mesh.points + inward, mesh.points).astype(np.float32)
        normals = np.where(loose, turned, mesh.normals).astype(np.float32)
        return replace(mesh, points=points, normals=normals)
