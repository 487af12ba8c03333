"""Things that are moved whole, such as the pieces of a broken mesh."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Floats, Integers, Mesh, carried_content, content_of

Reals = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Bodies:
    """k things, each with a middle, a turn and a size. Turns and sizes are in the level space of the subject (see Stance).

    places: a mesh of k points without faces: their middles as points, where they were made as rest, the surface's normal
    there, and their numbers. turn: (k, 4) unit quaternions x, y, z, w. size: (k, 3) along own axes. radius: (k,) of the
    ball about the middle that holds one, at size 1, in metres. moved: (k,) which are not where they were made, None for
    none. touching: (p, 2) pairs of pieces that have a border in common, None where a gap is between them.
    """

    places: Mesh
    turn: Floats
    size: Floats
    radius: Floats
    moved: NDArray[np.bool_] | None = None
    touching: Integers | None = None

    @property
    def nbytes(self) -> int:
        return self.places.nbytes + self.turn.nbytes + self.size.nbytes + self.radius.nbytes

    def __len__(self) -> int:
        return len(self.turn)

    def at_rest(self) -> Bodies:
        """They where they rest, as large as they are, not turned: what their movement is solved from."""
        places = self.places
        bare = Mesh(places.rest, places.rest, places.normals, places.faces, places.number)
        return Bodies(bare, np.zeros_like(self.turn), self.size, self.radius)

    @cached_property
    def rest_content(self) -> str:
        """A hash of all that `at_rest` has."""
        places = self.places
        return content_of(places.rest, places.normals, places.number, self.size, self.radius)

    def places_content(self, points: int) -> str:
        """A hash of where they rest, and of how values at so many points of the shape before its recipe are carried to them."""
        return content_of(self.places.rest) + carried_content(self.places.from_rest, points)

    def welded(self) -> NDArray[np.bool_]:
        """(k,) which pieces are as if nothing were broken: neither they nor those that touch them have moved."""
        if self.touching is None:
            return np.zeros(len(self), dtype=bool)
        if self.moved is None:
            return np.ones(len(self), dtype=bool)
        one, other = self.touching.T
        loose = self.moved.copy()
        loose[one[self.moved[other]]] = True
        loose[other[self.moved[one]]] = True
        return ~loose
