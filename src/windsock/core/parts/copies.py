"""Models, and copies of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Floats, Integers, Mesh
from windsock.core.look import Look


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
        left = np.flatnonzero(which)
        turn, size, radius = (np.take(one, left, axis=0) for one in (self.turn, self.size, self.radius))
        return Copies(turn, size, radius, np.take(self.kind, left), self.models)
