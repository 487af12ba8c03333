"""What every part of a shape has, whatever it is made of."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable
from dataclasses import dataclass
from typing import ClassVar, Literal, Self

import numpy as np
from numpy.typing import NDArray

from windsock.core.fields.elements import Values
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.geometry.stance import Stance
from windsock.core.look import Look


@dataclass(frozen=True, eq=False)
class Relocation:
    """Where k bodies are moved to.

    places: (k, 3) in the subject's space; turn: (k, 4) and size: (k, 3) as those of Bodies. moves: (k,) which of the bodies
    are moved, the others stay as they are. growth: gives (k, 3), how many times as large they are as before, along own axes.
    """

    places: Values
    turn: Floats
    size: Floats
    moves: NDArray[np.bool_]
    growth: Callable[[], Values]


@dataclass(frozen=True, eq=False)
class Part:
    """A named outcome of a recipe: points with their channels, a look, and what is seen of faces from behind (a look: its
    own).

    mesh: its points, and their faces where it has any. alpha: whether an opacity below 1 is blended, or cut at 1/2.
    points_are_middles: whether its points are the middles of things, with chances of their own.
    """

    points_are_middles: ClassVar[bool] = False

    mesh: Mesh
    look: Look
    backs: Look | Literal["shown", "hidden"]
    alpha: Literal["blend", "cut"] = "blend"

    @property
    @abstractmethod
    def nbytes(self) -> int:
        """Bytes held by its arrays."""

    @abstractmethod
    def faces(self) -> int:
        """How many faces are drawn of it."""

    @abstractmethod
    def described(self) -> str:
        """In words, what it is made of beside faces."""

    @abstractmethod
    def seen(self) -> Part:
        """The part as it is drawn: without what is kept only so that later steps find it again."""

    @abstractmethod
    def bodies(self) -> Bodies:
        """What a step moves whole in it."""

    def relocated(self, bodies: Bodies, to: Relocation, stance: Stance) -> Self:
        """The part with its bodies elsewhere. bodies: as `bodies()` gave them; stance: how the subject stands. The arrays of
        the relocation are taken over."""
        stays = np.flatnonzero(~to.moves)
        to.places[stays], to.turn[stays], to.size[stays] = (
            bodies.places.points[stays],
            bodies.turn[stays],
            bodies.size[stays],
        )
        return self._relocated(bodies, to, stance)

    @abstractmethod
    def _relocated(self, bodies: Bodies, to: Relocation, stance: Stance) -> Self:
        """The same, with the bodies that are not moved where they were."""

    @abstractmethod
    def deformed(
        self, moved: Callable[[Mesh], Floats], changes: bool, facing: Callable[[Mesh], Floats] | None = None
    ) -> Self:
        """The part with its points moved. moved: gives (n, 3) the new places of the points of its mesh; changes: whether any
        place differs. facing: gives (n, 3) the new normals; without it they turn as the faces about them do."""

    @abstractmethod
    def without_bodies(self, gone: NDArray[np.bool_]) -> Self:
        """The part without some of its bodies, (k,)."""
