"""What every step of a recipe declares, and what it may ask of the shot."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Annotated, ClassVar, Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.declarations import Declared, Id, Quantity, Rank
from windsock.core.fields.source import Elements, Subject, Values
from windsock.core.fields.zones import Band, Zone
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.course import Course
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix
from windsock.core.steps.copies import Model
from windsock.core.steps.part import Drive
from windsock.core.timing.curve import Curve
from windsock.core.timing.parameter import Moment, NumberParameter

Arrays = Mapping[str, NDArray[np.generic]]


class Result(Protocol):
    """Anything that can be kept: it says how many bytes it holds."""

    @property
    def nbytes(self) -> int: ...


Kept = TypeVar("Kept", bound=Result)


class Driven(Declared):
    """A setting ruled by a field of its own: its weight is curve(zone)."""

    field: Id
    zone: Zone = "value"
    curve: Annotated[Curve | None, Field(description="What becomes of the zone's weight")] = None


Beat = tuple[int, float, Values, Values, Values, float, Band]
"""Which moment and its second; places (n, 3) and normals (n, 3) in the world; (n,) values, their level and their band."""


class Asking(Protocol):
    """What a step may ask of the shot beside its part and its drive."""

    def placement(self, item: str) -> Matrix:
        """(4, 4) matrix from an item's space to the world."""
        ...

    def placement_at_start(self, item: str) -> Matrix:
        """The same at the shot's first frame."""
        ...

    def begins(self) -> float:
        """The second of the shot's first frame."""
        ...

    def lasts(self) -> float:
        """The second of the shot's last frame."""
        ...

    def course(self, path: str) -> Course:
        """The curve of a path, in its own space."""
        ...

    def course_at_start(self, path: str) -> Course:
        """The same at the shot's first frame."""
        ...

    def model(self, shape: str) -> Model:
        """A shape as its recipe leaves it, in its own space, stretched as it is."""
        ...

    def weigh(self, driven: Driven, places: Mesh, key: str) -> Values:
        """(k,) the weight of a field at the middles of copies, which are the points of a mesh known by a key."""
        ...

    def weigh_step(self, places: Mesh, key: str) -> Values | None:
        """(k,) the weight of what drives the step there, None where nothing does."""
        ...

    def kept(self, name: str, make: Callable[[], Kept]) -> Kept:
        """What a step made for the same part and the same solution before, or makes now."""
        ...

    def at_start(self) -> Subject:
        """The subject at the shot's first frame, before any step."""
        ...

    def weigh_at_start(self, elements: Callable[[Matrix, Subject], Elements]) -> Values:
        """(n,) the weight of what drives the step, at the shot's first frame. elements: made for the subject there."""
        ...

    def start_key(self) -> str | None:
        """What that weight depends on, None where nothing drives the step."""
        ...

    def reached(self, bodies: Bodies) -> tuple[Values, str]:
        """(k,) the second at which the step's field first comes to the middle of each body where that rests, infinite
        where it does not; and the key of this answer."""
        ...

    def beats(self, every: int) -> Iterator[Beat]:
        """The shot's seconds, so many moments in each: what drives the step at the points of the subject at rest then."""
        ...

    def beats_key(self) -> str:
        """What that depends on."""
        ...

    def carried(self, seconds: Values) -> Values:
        """(k, 4, 4) the subject's placement at each second."""
        ...

    def carried_key(self) -> str:
        """What that, and the seconds of the shot's frames, depend on."""
        ...

    def told(self, parameter: NumberParameter, seconds: Values) -> Values:
        """(k,) what a parameter is at each second."""
        ...


@dataclass(frozen=True, eq=False)
class Here:
    """Where a step works: at which moment, where its subject stands, and what was solved for it.

    key, solved_key: what the part that it takes and what was solved depend on. check: told how much of a long work is done; raises where it is cancelled.
    """

    at: Moment
    matrix: Matrix
    subject: Subject
    ask: Asking
    key: str = ""
    check: Callable[[float], None] = lambda share: None
    solved: Arrays = field(default_factory=dict[str, NDArray[np.generic]])
    solved_key: str = ""


@dataclass(frozen=True, eq=False)
class Problem:
    """Something that a step solves once. key: all that it depends on, as plain data."""

    key: object
    solve: Callable[[], Arrays]


class StepBase(Declared):
    """A line of a recipe: it takes a part and is driven by a field, or by nothing.

    whole: it is driven at the middles of pieces and copies, not at points. timed: it changes over time by itself.
    worldly: what it does depends on how its subject stands in the world. beats: how often in a second of the shot what it
    solves looks at the field that drives it.
    """

    whole: ClassVar[bool] = False
    beats: ClassVar[int] = 0
    timed: ClassVar[bool] = False
    worldly: ClassVar[bool] = False

    rank: Rank
    on: Annotated[bool, Field(description="A step that is off is passed over")] = True
    part: Id = "body"
    field: Id | None = None
    amount: Annotated[NumberParameter, Quantity("How much the step counts", low=0, high=1, drag=0.005)] = 1.0

    @property
    def by_bodies(self) -> bool:
        """Whether it is driven at the middles of pieces and copies, as it is set."""
        return self.whole

    def items(self) -> tuple[str, ...]:
        """The ids of the controllers and paths that it reads."""
        return ()

    def paths(self) -> tuple[str, ...]:
        """Those of the items that have to be paths."""
        return ()

    def shapes(self) -> tuple[str, ...]:
        """The ids of the shapes whose finished recipes it uses."""
        return ()

    def fields(self) -> tuple[str, ...]:
        """The ids of the fields that rule settings of it, beside the one that drives it."""
        return ()

    def solving(self, mesh: Mesh, lasts: float) -> float:
        """About how many seconds it takes to solve, without what it reads of fields, for a shape at rest and a shot that
        lasts so many seconds."""
        del mesh, lasts
        return 0.0

    def made(self) -> str | None:
        """The part that it adds, None where it changes the one it takes."""
        return None


class WeightedStep(StepBase):
    """A step that blends from no effect to its full effect by a weight: overall field x amount x curve(zone)."""

    zone: Zone = "value"
    curve: Annotated[Curve | None, Field(description="What becomes of the zone's weight")] = None

    def weight(self, count: int, drive: Drive | None, at: Moment) -> Values:
        """(count,) the weight at what the step is driven at."""
        weight = np.full(count, at(self.amount))
        return weight if drive is None else weight * drive.weight(self.zone, self.curve)
