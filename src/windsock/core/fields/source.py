"""What every source of a field shares: its place in the sentence, and what it measures from."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Annotated, ClassVar, Literal, NamedTuple, Protocol, Self, overload

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import Declared, FieldId, Quantity, Rank
from windsock.core.fields.joining import Word
from windsock.core.fields.zones import Band
from windsock.core.geometry.eating import Front
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.movers import Mover
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.strain import Strain
from windsock.core.geometry.touches import Span
from windsock.core.kernels.surface_distance import Surface
from windsock.core.timing.curve import Curve
from windsock.core.timing.parameter import Moment, NumberParameter, VectorParameter
from windsock.core.timing.ticks import State

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


class Scene(Protocol):
    """What a source may ask of the shot at the moment that it is measured. What it asks is what its values depend on."""

    @overload
    def at(self, parameter: NumberParameter) -> float: ...
    @overload
    def at(self, parameter: VectorParameter) -> tuple[float, float, float]: ...

    @property
    def seconds(self) -> float:
        """The moment."""
        ...

    def camera(self) -> Matrix | None:
        """(4, 4) matrix from the space of the shot's camera to the world, None where it has none."""
        ...

    def group(self, group: str, but: str) -> list[FinishedShape]:
        """The shapes of a group after their recipes, without the item `but`."""
        ...

    def travelled(self, setting: str) -> float:
        """The integral, from the shot's first frame to this moment, of a speed: one of the source's own settings, by name."""
        ...

    def looped(self, setting: str) -> tuple[float, int]:
        """How far something that goes on at a rate, a setting by name, has come, stretched so that it comes a whole number
        of times over the shot, the last frame's duration included; and that number, at least 1, or 0 where the rate is 0
        throughout."""
        ...

    def placement(self, item: str) -> Matrix:
        """(4, 4) matrix from the item's space to the world."""
        ...

    def earlier(self, seconds: float) -> Scene:
        """The scene so many seconds before."""
        ...

    def field_values(self, field: str, elements: Elements) -> Values:
        """(n,) the values of another field of the shot."""
        ...

    def field_edge(self, field: str) -> tuple[float, float, str]:
        """Level and band of another field, and what the band is counted in."""
        ...

    def field_band(self, field: str, elements: Elements, values: Values) -> Band:
        """The width of another field's band in values, where it has these (n,) values at elements."""
        ...

    def crossed(self, field: str, subject: Subject) -> Values:
        """(m,) the second at which another field first crossed its level upward at each point of a subject's rest mesh,
        infinite where it does not within the shot."""
        ...

    def marched(self, subject: Subject) -> State:
        """The state of the source itself, a marched one, at each of the m points of a subject's rest mesh."""
        ...

    def history(self, subject: Subject) -> Solution:
        """What the source itself has solved, at the points of a subject as it rests at the shot's first frame."""
        ...

    def at_points_now(self, subject: Subject, values: Values) -> Values:
        """(m, ...) values at those points, at those that the subject has now."""
        ...

    def fronts(self, item: str, step: str | None, subject: str) -> list[Front]:
        """Where the fronts are that the steps of a shape let through it, in their order, or that of one of them by id. subject: the id of
        what is measured, in whose own time its own fronts are."""
        ...

    def arrivals(self, subject: Subject) -> Values:
        """(m,) what the front of the source itself, a solved one, needs to come to each point of a rest mesh."""
        ...

    def arrivals_between(self, elements: Elements) -> Values:
        """(n,) what that front needs to come to each piece or copy, going from one to the next."""
        ...


Outline = dict[str, object]
"""A surface in a controller's space: {"form": "ball", "radius"}, {"form": "plane", "axis", "distance"} or
{"form": "box", "half": three half sizes, infinite for a slab, "margin"}; in metres."""


class FrontOf(NamedTuple):
    """What lets a front through a shape: shape: its id, None for the subject; step: of its recipe, None for all that do."""

    shape: str | None
    step: str | None


class SourceBase(Declared):
    """One clause of a field. `word` joins it to the clauses before it; the first clause replaces 0."""

    joins: ClassVar[Word] = "or"
    """The word that joins it to others when it is added."""

    offered: ClassVar[str] = ""
    """What it is offered as: `Around a controller`."""

    rank: Rank = 0.0
    word: Word = "or"
    amount: Annotated[NumberParameter, Quantity("How much of this clause counts", low=0, high=1, drag=0.005)] = 1.0
    inverted: Annotated[bool, Field(description="not: 1 - value")] = False
    curve: Annotated[Curve | None, Field(description="What becomes of the value, before not")] = None

    @classmethod
    def named(cls) -> str:
        """Its kind in a word or two: `around`."""
        return cls.kind_name()

    @classmethod
    def in_words(cls) -> dict[str, JsonValue]:
        return {"called": cls.named(), "says": cls.says}

    @classmethod
    def offered_as(cls) -> str:
        """What it is called in the list that it is chosen from."""
        return cls.offered or cls.named().capitalize()

    def briefly(self, name: Callable[[str], str]) -> str:
        """In a few words, what it measures from. name: gives the name of an item or group, or the letter of a field, by id."""
        return " ".join([self.named(), *(name(key) for key in (*self.items(), *self.groups(), *self.fields())[:1])])

    @classmethod
    def added(cls, place: int) -> dict[str, JsonValue]:
        """Settings that it has when it is added as the clause at a place, from 0; what it measures from comes on top."""
        return {"word": cls.joins} if place else {}

    def items(self) -> tuple[str, ...]:
        """The ids of the items that this source measures from."""
        return ()

    def pattern_moves_with(self) -> tuple[str, ...] | None:
        """The items that a pattern of its own in space moves with, none where it stands still in the world; None where it
        has no such pattern, or one that sticks to the subject."""
        return None

    def stuck(self) -> Self:
        """The source with its pattern stuck to the subject."""
        return self

    def fields(self) -> tuple[str, ...]:
        """The ids of the fields that this source measures from."""
        return ()

    def crossings(self) -> tuple[str, ...]:
        """Those of the fields of which it asks when they first came to a place."""
        return ()

    def groups(self) -> tuple[str, ...]:
        """The ids of the groups whose shapes this source measures from."""
        return ()

    def fronts_of(self) -> tuple[FrontOf, ...]:
        """The fronts that it asks after."""
        return ()

    def outline(self, level: float, at: Moment) -> Outline | None:
        """Where this source alone has the value `level` (0..1), for those that have a place."""
        del level, at
        return None


class PlacedSource(SourceBase):
    """A source that measures places in the world: as earlier steps have posed them, or where the subject rests."""

    measured: Annotated[
        Literal["posed", "rest"],
        Field(description="On the geometry as it enters the step, or on the shape before its recipe"),
    ] = "posed"

    def places(self, elements: Elements, scene: Scene) -> Values:
        """(n, 3) where the elements are, in world metres."""
        if self.measured == "posed" or elements.resting:
            return elements.posed
        return moved(elements.rest, scene.placement(elements.subject.item))

    def facing(self, elements: Elements, scene: Scene) -> Values:
        """(n, 3) the normals there."""
        if self.measured == "posed":
            return elements.facing()
        return elements.at_rest(scene.placement(elements.subject.item)).facing()


class SolvedSource(SourceBase):
    """A source whose history is solved once for a subject; then any moment is a lookup."""

    seeds: FieldId
    pace: FieldId | None
    speed: NumberParameter

    def solve(self, problem: FrontProblem, cancelled: NDArray[np.uint8]) -> Values | None:
        """(m,) what the front needs to come to each point of the rest mesh; None where cancelled."""
        raise NotImplementedError


class HistoryInputs(Protocol):
    """What a source is given to solve something once for all moments: its subject, as it rests at the shot's first frame, and what
    moves. What it looks at is what its solution depends on."""

    def subject(self) -> Subject:
        """The shape before its recipe."""
        ...

    def carried_at(self, seconds: float) -> Matrix:
        """(4, 4) from the subject's space to the world at a second."""
        ...

    def movers(self, group: str) -> list[Mover]:
        """The shapes of a group after their recipes, every part of them, as they move; without the subject."""
        ...

    def span(self) -> Span:
        """The seconds of the shot, and the ticks at which what moves is looked at."""
        ...

    def check(self, share: float) -> None:
        """Tell how much of a long work is done; raises where it is cancelled."""
        ...


class HistorySource(SourceBase):
    """A source that solves something once for a subject at rest and all moments; then any moment is a lookup in
    `scene.history`."""

    solution: ClassVar[type[Solution]]
    works: ClassVar[str]
    """What it does while it solves, in words."""

    def solve(self, given: HistoryInputs) -> Solution:
        """The solution."""
        raise NotImplementedError

    def solving(self, points: int, lasts: float) -> float:
        """About how many seconds that takes for so many points of a subject and a shot of so many seconds."""
        raise NotImplementedError


@dataclass(frozen=True, eq=False)
class FrontProblem:
    """What a front is solved from, on the rest mesh of a subject in world metres.

    points: (m, 3) as they stand at the start. entered: (m,) travel at which the seeds touch each point, infinite where
    they do not. excess: (m,) how far the seed field is over its level at the start. pace: (m,) factor of the speed, 0..1.
    """

    mesh: Mesh
    points: Values
    entered: Values
    excess: Values
    pace: Values
