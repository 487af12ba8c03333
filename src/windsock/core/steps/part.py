"""What goes through a recipe from step to step, and what drives a step."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.fields.source import Elements, Question, Subject, Values
from windsock.core.fields.zones import Band, Zone, zone_weight
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.rounding import Rounded
from windsock.core.kernels.bodies import linear_parts
from windsock.core.look import Look
from windsock.core.steps.copies import Copies
from windsock.core.timing.curve import Curve


@dataclass(frozen=True, eq=False)
class Part:
    """A named outcome of a recipe: geometry, its look, and what is seen of its faces from behind (a look: its own).

    alpha: whether an opacity below 1 is blended, or cut at 1/2. pieces: what the mesh is in, where it is broken; its points
    say which they belong to; solid: whether they are closed; rounded: what
    rounds their edges where they are loose. copies: where the part is copies of models, standing at the points of the mesh, which then has
    no faces.
    """

    mesh: Mesh
    look: Look
    backs: Look | Literal["shown", "hidden"]
    alpha: Literal["blend", "cut"] = "blend"
    pieces: Bodies | None = None
    solid: bool = False
    rounded: Rounded | None = None
    copies: Copies | None = None

    @property
    def nbytes(self) -> int:
        return self.mesh.nbytes + sum(one.nbytes for one in (self.pieces, self.copies, self.rounded) if one is not None)

    def faces(self) -> int:
        """How many faces it has, those of the copies that have a size counted."""
        return self._faces

    @cached_property
    def _faces(self) -> int:
        if self.copies is None:
            return len(self.mesh.faces)
        each = np.array([len(model.mesh.faces) for model in self.copies.models] or [0])
        if len(each) == 1:
            return int(each[0]) * int(np.count_nonzero(self.there()))
        return int(each[self.copies.kind[self.there()]].sum())

    def seen(self) -> Part:
        """The part as it is drawn: without the copies that have no size, which are kept only so that later steps find the
        same ones; and without the faces inside pieces that are as if nothing were broken."""
        if self.copies is None:
            if self.pieces is None or self.mesh.piece is None or self.mesh.origin is None:
                return self
            welded = self.pieces.welded()
            mesh = self._loose_ones_rounded(welded)
            hidden = welded[self.mesh.piece[mesh.faces[:, 0]]] & (self.mesh.origin < 0)
            left = np.flatnonzero(~hidden)
            if len(left) == len(hidden):
                return self if mesh is self.mesh else replace(self, mesh=mesh)
            return replace(self, mesh=mesh.faced(mesh.faces[left], left))
        there = self.there()
        # A few that are not there cost less than taking the others out.
        return self if there.sum() >= MOSTLY * len(there) else self.only(there)

    def _loose_ones_rounded(self, welded: NDArray[np.bool_]) -> Mesh:
        """The mesh with the edges of its loose pieces rounded; as it is where a later step has changed its points."""
        rounded, pieces, mesh = self.rounded, self.pieces, self.mesh
        if rounded is None or pieces is None or mesh.piece is None or len(rounded.inward) != len(mesh.points):
            return mesh
        linear = linear_parts(pieces.turn, pieces.size)[mesh.piece]
        loose = ~welded[mesh.piece][:, None]
        inward = np.einsum("nij,nj->ni", linear, rounded.inward.astype(np.float64))
        turned = np.einsum(
            "nij,nj->ni", linear_parts(pieces.turn, np.ones_like(pieces.size))[mesh.piece], rounded.normals
        )
        points = np.where(loose, mesh.points + inward, mesh.points).astype(np.float32)
        normals = np.where(loose, turned, mesh.normals).astype(np.float32)
        return replace(mesh, points=points, normals=normals)

    def there(self) -> NDArray[np.bool_]:
        """(k,) which of the copies have a size."""
        return self._there

    @cached_property
    def _there(self) -> NDArray[np.bool_]:
        assert self.copies is not None
        size = self.copies.size
        return (size[:, 0] > 0) | (size[:, 1] > 0) | (size[:, 2] > 0)

    def of_model(self, number: int) -> Part:
        """Copies that are all of one model, as a part with that model and its look."""
        assert self.copies is not None
        model = self.copies.models[number]
        kind = np.zeros(len(self.copies), dtype=np.int32)
        copies = replace(self.copies, models=(model,), kind=kind)
        return replace(self, copies=copies, look=model.look, backs=model.backs)

    def only(self, which: NDArray[np.bool_]) -> Part:
        """Only some of the copies, (k,)."""
        assert self.copies is not None
        return replace(self, mesh=self.mesh.chosen(np.flatnonzero(which)), copies=self.copies.taken(which))


MOSTLY = 0.9
"""From this share of copies on that are there, those that are not are drawn too, at no size."""


@dataclass(frozen=True, eq=False)
class Drive:
    """A field as one step listens to it.

    elements: the points of the entering part. values: (n,) at them. measure: the field at any elements. overall: (n,)
    the recipe's overall field at the points, or None. band: its width in values, at all points or (n,). measured_overall: that at any elements.
    """

    elements: Elements
    values: Values
    measure: Callable[[Elements], Values]
    level: float
    band: Band
    overall: Values | None = None
    measured_overall: Callable[[Elements], Values] | None = None

    def zone(self, zone: Zone, curve: Curve | None) -> Values:
        """(n,) the weight of a zone, through a curve."""
        weight = zone_weight(zone, self.values, self.level, self.band)
        return weight if curve is None else curve(weight)

    def weight(self, zone: Zone, curve: Curve | None) -> Values:
        """(n,) the same times the overall field."""
        weight = self.zone(zone, curve)
        return weight if self.overall is None else weight * self.overall

    def lowered(self) -> Values:
        """(n,) the values times the overall field: what a cutting step compares with the level."""
        return self.values if self.overall is None else self.values * self.overall

    def lowered_at(self, elements: Elements) -> Values:
        """(n,) the same at any elements."""
        values = self.measure(elements)
        return values if self.measured_overall is None else values * self.measured_overall(elements)


def elements_of(mesh: Mesh, matrix: Matrix, subject: Subject, middles: bool = False, key: str = "") -> Elements:
    """The points of a mesh as elements; matrix: (4, 4) from the subject's space to the world.

    middles: they are the middles of pieces or copies, which have chances of their own. key: what the mesh depends on, where
    that is known.
    """

    def facing() -> Values:
        return turned_normals(mesh.normals.astype(np.float64), matrix)

    number = mesh.number if middles else None
    rest = mesh.rest.astype(np.float64)
    which: dict[Question, object] = {("elements", "rest"): [key, subject.key, middles]} if key else {}
    where = which | {("elements", "posed"): [key, subject.key, middles, matrix.tolist()]} if key else {}
    posed = moved(mesh.points, matrix)
    return Elements(posed, rest, subject, mesh.from_rest, facing, False, False, number, "", which, where)
