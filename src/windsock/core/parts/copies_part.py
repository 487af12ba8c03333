"""A part that is copies of models."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import ClassVar, Self

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.mesh import LOOKS, Floats, Mesh
from windsock.core.geometry.stance import Stance
from windsock.core.parts.copies import Copies, Model
from windsock.core.parts.part import Part, Relocation

MOSTLY = 0.9
"""From this share of copies on that are there, those that are not are drawn too, at no size."""


@dataclass(frozen=True, eq=False, kw_only=True)
class CopiesPart(Part):
    """Copies of models, standing at the points of the mesh, which has no faces. A normal there is that of the surface where
    the copy was laid."""

    points_are_middles: ClassVar[bool] = True

    copies: Copies

    @property
    def nbytes(self) -> int:
        return self.mesh.nbytes + self.copies.nbytes

    def faces(self) -> int:
        return self._faces

    @cached_property
    def _faces(self) -> int:
        each = np.array([len(model.mesh.faces) for model in self.copies.models] or [0])
        if len(each) == 1:
            return int(each[0]) * int(np.count_nonzero(self.there))
        return int(each[self.copies.kind[self.there]].sum())

    def described(self) -> str:
        return f"{int(self.there.sum()):,} copies"

    def seen(self) -> Part:
        """The part without the copies that have no size."""
        # A few that are not there cost less than taking the others out.
        return self if self.there.sum() >= MOSTLY * len(self.there) else self.only(self.there)

    @cached_property
    def there(self) -> NDArray[np.bool_]:
        """(k,) which of the copies have a size."""
        size = self.copies.size
        return (size[:, 0] > 0) | (size[:, 1] > 0) | (size[:, 2] > 0)

    def bodies(self) -> Bodies:
        copies = self.copies
        return Bodies(self.mesh, copies.turn, copies.size, copies.radius)

    def _relocated(self, bodies: Bodies, to: Relocation, stance: Stance) -> Self:
        mesh = replace(self.mesh, points=to.places.astype(np.float32))
        return replace(self, mesh=mesh, copies=replace(self.copies, turn=to.turn, size=to.size))

    def deformed(
        self, moved: Callable[[Mesh], Floats], changes: bool, facing: Callable[[Mesh], Floats] | None = None
    ) -> Self:
        return replace(self, mesh=replace(self.mesh, points=moved(self.mesh)))

    def without_bodies(self, gone: NDArray[np.bool_]) -> Self:
        return self.only(~gone)

    def only(self, which: NDArray[np.bool_]) -> Self:
        """Only some of the copies, (k,)."""
        return replace(self, mesh=self.mesh.chosen(np.flatnonzero(which)), copies=self.copies.taken(which))

    @property
    def model(self) -> Model:
        """What they are copies of, where all are of one."""
        return self.copies.models[0]

    def by_model(self) -> list[CopiesPart]:
        """The copies of one model at a time, each with the look of its model."""
        models = range(len(self.copies.models))
        if len(models) == 1:
            return [self._of_model(0)]
        return [self.only(self.copies.kind == number)._of_model(number) for number in models]

    def _of_model(self, number: int) -> CopiesPart:
        """Copies that are all of one model, as a part with that model and its look."""
        model = self.copies.models[number]
        kind = np.zeros(len(self.copies), dtype=np.int32)
        copies = replace(self.copies, models=(model,), kind=kind)
        return replace(self, copies=copies, look=model.look, backs=model.backs)

    @property
    def looked(self) -> Mesh:
        """The mesh whose points have the channels of the look: the copies, or their one model where they have none."""
        own = any(getattr(self.mesh, name) is not None for name in LOOKS)
        return self.mesh if own else self.model.mesh
