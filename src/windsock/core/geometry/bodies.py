"""Things that are moved whole: the pieces of a broken mesh, and copies of shapes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Floats, Integers, Mesh
from windsock.core.look import Look

Reals = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Bodies:
    """k things, each with a middle, a turn and a size. Turns and sizes are in the level space of the subject (see Stance).

    places: a mesh of k points without faces: their middles as points, where they were made as rest, the surface's normal
    there, and their numbers. turn: (k, 4) unit quaternions x, y, z, w. size: (k, 3) along own axes. radius: (k,) of the
    ball about the middle that holds one, at size 1, in metres.
    """

    places: Mesh
    turn: Floats
    size: Floats
    radius: Floats

    @property
    def nbytes(self) -> int:
        return self.places.nbytes + self.turn.nbytes + self.size.nbytes + self.radius.nbytes

    def __len__(self) -> int:
        return len(self.turn)

    def taken(self, which: NDArray[np.integer] | NDArray[np.bool_]) -> Bodies:
        """Only some of them."""
        chosen = np.flatnonzero(which) if which.dtype == np.bool_ else which
        return Bodies(self.places.chosen(chosen), self.turn[chosen], self.size[chosen], self.radius[chosen])


@dataclass(frozen=True, eq=False)
class Model:
    """What copies are copies of: a mesh in metres, its look, and what is seen of its faces from behind."""

    mesh: Mesh
    look: Look
    backs: Look | Literal["shown", "hidden"]

    @property
    def nbytes(self) -> int:
        return self.mesh.nbytes


@dataclass(frozen=True, eq=False)
class Copies:
    """Copies of models. Their places, numbers and channels of the look are the points of their part's mesh.

    turn, size, radius: as of Bodies. kind: (k,) which of the models each is a copy of.
    """

    turn: Floats
    size: Floats
    radius: Floats
    kind: Integers
    models: tuple[Model, ...]

    @property
    def nbytes(self) -> int:
        own = self.turn.nbytes + self.size.nbytes + self.radius.nbytes + self.kind.nbytes
        return own + sum(model.nbytes for model in self.models)

    def __len__(self) -> int:
        return len(self.kind)

    def taken(self, which: NDArray[np.bool_]) -> Copies:
        """Only some of them."""
        return Copies(self.turn[which], self.size[which], self.radius[which], self.kind[which], self.models)
