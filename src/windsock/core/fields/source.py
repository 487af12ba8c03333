"""What every source of a field shares: its place in the sentence, and what it measures from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, NamedTuple, Protocol, Self, overload

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import Declared, FieldId, Quantity, Rank
from windsock.core.fields.elements import (
    Elements,
    FinishedShape,
    Subject,
    Values,
)
from windsock.core.fields.joining import Word
from windsock.core.fields.zones import Band
from windsock.core.geometry.eating import Front
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.movers import Mover
from windsock.core.geometry.placement import Matrix, moved
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.touches import Span
from windsock.core.timing.curve import Curve
from windsock.core.timing.parameter import Moment, NumberParameter, VectorParameter
from windsock.core.timing.ticks import State


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
