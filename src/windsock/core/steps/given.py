"""What a step is given when it is evaluated, and when it solves something once for all moments."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, Protocol, TypeVar, overload

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.declarations import Declared, FieldId
from windsock.core.fields.elements import Elements, FinishedShape, Subject, Values
from windsock.core.fields.zones import Band, Zone
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.course import Course
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.movers import Mover
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.stance import Stance
from windsock.core.geometry.touches import Span
from windsock.core.parts.copies import Model
from windsock.core.parts.part import Part
from windsock.core.steps.drive import Drive
from windsock.core.timing.curve import Curve
from windsock.core.timing.parameter import NumberParameter, VectorParameter


class Result(Protocol):
    """Anything that can be kept: it says how many bytes it holds."""

    @property
    def nbytes(self) -> int: ...


Kept = TypeVar("Kept", bound=Result)


class DrivenSetting(Declared):
    """A setting ruled by a field of its own: its weight is curve(zone)."""

    field: FieldId
    zone: Zone = "value"
    curve: Annotated[Curve | None, Field(description="What becomes of the zone's weight")] = None


@dataclass(frozen=True, eq=False)
class Beat:
    """A moment of the shot: which, and its second; places (n, 3) and normals (n, 3) of the subject's points at rest, in the
    world; (n,) values of what drives a step there, their level and their band."""

    number: int
    seconds: float
    places: Values
    normals: Values
    values: Values
    level: float
    band: Band


class StepInputs(Protocol):
    """What a step is given at one moment. What it looks at is what its result depends on."""

    @overload
    def at(self, parameter: NumberParameter) -> float: ...
    @overload
    def at(self, parameter: VectorParameter) -> tuple[float, float, float]: ...

    @property
    def seconds(self) -> float:
        """The moment."""
        ...

    @property
    def matrix(self) -> Matrix:
        """(4, 4) from the subject's space to the world."""
        ...

    @property
    def stance(self) -> Stance:
        """The same, as a stretch and then a turn and a move."""
        ...

    @property
    def stretch(self) -> Stance:
        """Only the stretch; turn and move are none."""
        ...

    @property
    def subject(self) -> Subject:
        """The shape before its recipe."""
        ...

    @property
    def drive(self) -> Drive | None:
        """The field that drives the step, on its part; None where nothing does."""
        ...

    @property
    def solution(self) -> Solution:
        """What the step has solved, where it solves something."""
        ...

    def marched(self) -> tuple[Mapping[str, Values], Part]:
        """The state of a step that is marched, and the part that the state belongs to: as it enters the step, with the same
        points at every moment."""
        ...

    def placement(self, item: str) -> Matrix:
        """(4, 4) matrix from an item's space to the world."""
        ...

    def placement_at_start(self, item: str) -> Matrix:
        """The same at the shot's first frame."""
        ...

    def camera(self) -> Matrix | None:
        """(4, 4) matrix from the space of the shot's camera to the world, None where it has none."""
        ...

    def course(self, path: str) -> Course:
        """The curve of a path, in its own space."""
        ...

    def shape(self, shape: str) -> FinishedShape:
        """A shape as its recipe leaves it, in the world."""
        ...

    def group(self, group: str) -> list[FinishedShape]:
        """The shapes of a group after their recipes, without the subject."""
        ...

    def travelled(self, setting: str) -> float:
        """The integral, from the shot's first frame to this moment, of a speed: one of the step's own settings, by name."""
        ...

    def model(self, shape: str) -> Model:
        """A shape as its recipe leaves it, in its own space, stretched as it is."""
        ...

    def beside(self, part: str) -> Part | None:
        """Another part as it is before the step, None where it is not there."""
        ...

    def weigh(self, driven: DrivenSetting, places: Mesh, key: str) -> Values:
        """(k,) the weight of a field at the middles of copies, which are the points of a mesh known by a key."""
        ...

    def weigh_step(self, places: Mesh, key: str) -> Values | None:
        """(k,) the weight of what drives the step there, None where nothing does."""
        ...

    def once(self, name: str, make: Callable[..., Kept]) -> tuple[Kept, str]:
        """Something that is made of less than all that the step looks at, and so kept while only the rest changes; and its
        key. make: a method of the step's class that takes the part and what is given, as `apply` does."""
        ...


class SolveInputs(Protocol):
    """What a step is given to solve something once for all moments: nothing of any one moment but the first. What it looks
    at is what its solution depends on."""

    def at_frame(self, frame: int) -> SolveInputs:
        """The same, with a frame in place of the shot's first one in all that is asked about the start."""
        ...

    def at_second(self, seconds: float) -> SolveInputs:
        """The same, with a second in place of that of the first frame."""
        ...

    def begins(self) -> float:
        """The second of the shot's first frame."""
        ...

    def lasts(self) -> float:
        """The second of the shot's last frame."""
        ...

    def at_start(self) -> Subject:
        """The subject at the shot's first frame, before any step."""
        ...

    def stance_at_start(self) -> Stance:
        """How the subject stands at the shot's first frame."""
        ...

    def placement_at_start(self, item: str) -> Matrix:
        """(4, 4) matrix from an item's space to the world, at the shot's first frame."""
        ...

    def course_at_start(self, path: str) -> Course:
        """The curve of a path then, in its own space."""
        ...

    def shape_at_start(self, shape: str) -> FinishedShape:
        """A shape as its recipe leaves it at the shot's first frame, in the world."""
        ...

    def model_at_start(self, shape: str) -> Model:
        """The same in its own space, stretched as it is."""
        ...

    def bodies(self) -> Bodies:
        """The pieces or copies of the part, as and where they rest."""
        ...

    def mesh(self) -> Mesh:
        """The mesh of the part as it rests: its places, faces and numbers and nothing else."""
        ...

    def is_driven(self) -> bool:
        """Whether a field drives the step."""
        ...

    def weigh_at_start(self, elements: Callable[[Matrix, Subject], Elements]) -> Values:
        """(n,) the weight of what drives the step, at the shot's first frame. elements: made for the subject there."""
        ...

    def excess_at_start(self, field: str, elements: Callable[[Matrix, Subject], Elements]) -> Values:
        """(n,) how far a field is over its level there, at the shot's first frame; elements as for `weigh_at_start`."""
        ...

    def reached(self) -> Values:
        """(k,) the second at which the step's field first comes to the middle of each body where that rests, infinite
        where it does not."""
        ...

    def reached_at(self, places: Values) -> Values:
        """(k,) the second at which what drives the step first comes to places, (k, 3), in and about the subject as it rests, in its own space;
        infinite where it does not, or where nothing drives it."""
        ...

    def beats(self, every: int) -> Iterator[Beat]:
        """The shot's seconds, so many moments in each: what drives the step at the points of the subject at rest then."""
        ...

    def carried(self, seconds: Values) -> Values:
        """(k, 4, 4) the subject's placement at each second."""
        ...

    def carried_at(self, seconds: float) -> Matrix:
        """(4, 4) the same at one."""
        ...

    def taken(self) -> Iterator[tuple[float, Part, Matrix]]:
        """The part that the step takes, as it enters the step at each tick of the shot: the second, the part, and (4, 4) from its space to
        the world."""
        ...

    def movers(self, group: str) -> list[Mover]:
        """The shapes of a group after their recipes, every part of them, as they move; without the subject."""
        ...

    def span(self) -> Span:
        """The seconds of the shot, and the ticks at which what moves is looked at."""
        ...

    def travelled_until(self, setting: str, seconds: Values) -> Values:
        """(k,) the integral of a speed, one of the step's own settings by name, from the shot's first frame to each second."""
        ...

    def is_draft(self) -> bool:
        """Whether volumes have larger voxels than they will have, as while a value is dragged."""
        ...

    def over_time(self, parameter: NumberParameter, seconds: Values) -> Values:
        """(k,) what a parameter is at each second."""
        ...

    @property
    def flag(self) -> NDArray[np.uint8]:
        """(1,) not 0 once the work is no longer wanted: for kernels, which stop then, so that `check` can raise."""
        ...

    def check(self, share: float) -> None:
        """Tell how much of a long work is done; raises where it is cancelled."""
        ...
