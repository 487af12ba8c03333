"""Where a field is measured: the shape that is its subject, and places of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.strain import Strain
from windsock.core.kernels.surface_distance import Surface

Values = NDArray[np.float64]
Question = tuple[object, ...]
"""The name of what an evaluation asks, and the plain data that say of what."""


@dataclass(frozen=True, eq=False)
class Subject:
    """The shape that elements belong to. mesh: as its shape makes it, before any step; key: what it depends on."""

    item: str
    mesh: Mesh
    key: str

    @property
    def nbytes(self) -> int:
        return self.mesh.nbytes


@dataclass(frozen=True, eq=False)
class Elements:
    """The places that a field is measured at.

    posed: (n, 3) in world metres. rest: (n, 3) in the subject's own space, as its shape made them. carry: takes values
    (m, ...) at the m points of the subject's rest mesh to these elements, (n, ...). facing: gives (n, 3) normals of
    length 1 in the world, as posed. are_rest_points: they are just those points. resting: they are posed where the subject rests,
    moved by no step. number: (n,) the numbers of pieces or copies, None for points, which have those of the subject.
    rest_name: a name for just these elements at rest, or nothing. rest_reads, posed_reads: questions, with their answers, that
    say which elements they are and where they stand; none for those that an evaluation makes of others. straining: gives how
    far the surface is stretched and folded about them, None where it is as at rest.
    """

    posed: NDArray[np.float64]
    rest: NDArray[np.float64]
    subject: Subject
    carry: Callable[[Values], Values]
    facing: Callable[[], Values]
    are_rest_points: bool = False
    resting: bool = False
    number: NDArray[np.int64] | None = None
    rest_name: str = ""
    rest_reads: Mapping[Question, object] = field(default_factory=dict[Question, object])
    posed_reads: Mapping[Question, object] = field(default_factory=dict[Question, object])
    straining: Callable[[], Strain] | None = None

    @property
    def strain(self) -> Strain:
        """How far the surface is stretched and folded about them."""
        return Strain.none(len(self)) if self.straining is None else self.straining()

    def __len__(self) -> int:
        return len(self.rest)

    def at_rest(self, matrix: Matrix) -> Elements:
        """The same elements, posed as the resting shape stands under a (4, 4) matrix."""

        def facing() -> Values:
            return turned_normals(self.carry(self.subject.mesh.normals.astype(np.float64)), matrix)

        return Elements(
            moved(self.rest, matrix),
            self.rest,
            self.subject,
            self.carry,
            facing,
            self.are_rest_points,
            True,
            self.number,
        )

    @property
    def base(self) -> Elements:
        """The elements themselves, where they are watched."""
        return self

    def watched(self, note: Callable[[Question, object], None]) -> Elements:
        """The same elements; what is looked at of them is noted."""
        if not self.rest_reads:
            return self
        watched = object.__new__(_Watched)
        watched.__dict__.update(self.__dict__)
        watched.__dict__["note"], watched.__dict__["own"] = note, self
        return watched


STANDING = {"posed", "facing", "straining"}
WHICH = {"rest", "carry", "subject", "number"}


class _Watched(Elements):
    @property
    def base(self) -> Elements:
        own: Elements = self.__dict__["own"]
        return own

    def __getattribute__(self, name: str) -> object:
        if name in WHICH or name in STANDING:
            held = object.__getattribute__(self, "__dict__")
            for question, answer in held["posed_reads" if name in STANDING else "rest_reads"].items():
                held["note"](question, answer)
        return object.__getattribute__(self, name)


def rest_elements(subject: Subject, matrix: Matrix) -> Elements:
    """The points of a subject at rest, under a (4, 4) matrix."""
    mesh = subject.mesh

    def facing() -> Values:
        return turned_normals(mesh.normals.astype(np.float64), matrix)

    which: dict[Question, object] = {("elements", "rest"): subject.key}
    where = which | {("elements", "posed"): [subject.key, matrix.tolist()]}
    rest = mesh.points.astype(np.float64)
    return Elements(moved(mesh.points, matrix), rest, subject, _unchanged, facing, True, True, None, "", which, where)


def resting_bodies(places: Mesh, subject: Subject, matrix: Matrix, rest_name: str) -> Elements:
    """The middles of pieces or copies, standing where they were made, under a (4, 4) matrix."""

    def facing() -> Values:
        return turned_normals(places.from_rest(subject.mesh.normals.astype(np.float64)), matrix)

    rest = places.rest.astype(np.float64)
    posed = moved(places.rest, matrix)
    which: dict[Question, object] = {("elements", "rest"): [subject.key, rest_name]}
    where = which | {("elements", "posed"): [subject.key, rest_name, matrix.tolist()]}
    number = places.number
    return Elements(posed, rest, subject, places.from_rest, facing, False, True, number, rest_name, which, where)


def _unchanged(values: Values) -> Values:
    return values


@dataclass(frozen=True, eq=False)
class FinishedShape:
    """A shape after its recipe, in world metres."""

    surface: Surface

    @property
    def nbytes(self) -> int:
        return self.surface.nbytes
