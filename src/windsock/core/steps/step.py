"""What every step of a recipe declares."""

from __future__ import annotations

from collections.abc import Mapping
from math import inf
from typing import Annotated, ClassVar, Literal, NamedTuple

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.declarations import Declared, FieldId, PartId, Quantity, Rank
from windsock.core.fields.elements import Values
from windsock.core.fields.source import SourceBase
from windsock.core.fields.zones import Zone
from windsock.core.geometry.eating import Front
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.solution import Solution
from windsock.core.parts.part import Part
from windsock.core.refusals import Refusal
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.timing.curve import Curve
from windsock.core.timing.parameter import Moment, NumberParameter, Vector

Axes = Literal["world", "own", "normal"]
Leaves = Literal["places", "points", "nothing"]
"""places: all points and where they are, so that only looks change. points: the same points and pieces, wherever they are.
nothing: no more than the shape had before its recipe."""


class Region(NamedTuple):
    """What lies between two places along an axis of an item, or of the subject where that is None; in its own metres."""

    item: str | None
    axis: Literal["x", "y", "z"]
    start: float
    end: float


class Marked(NamedTuple):
    """A place on a shape that a step goes by, as the shape rests, in its own metres. key: of the mark; item: the shape, the subject
    where that is None."""

    key: str
    item: str | None
    place: Vector


class StepBase(Declared):
    """A line of a recipe: it takes a part and is driven by a field, or by nothing."""

    undriven: ClassVar[str] = ""
    """In words, what it does where nothing drives it, for one that is hardly meant so."""

    rank: Rank
    on: Annotated[bool, Field(description="A step that is off is passed over")] = True
    part: PartId = "body"
    field: FieldId | None = None
    amount: Annotated[NumberParameter, Quantity("How much the step counts", low=0, high=1, drag=0.005)] = 1.0

    sends_front: ClassVar[bool] = False
    """Whether it lets a front through the shape, which fields can ask after: see `SolvedStep.front`."""

    lays_skin: ClassVar[bool] = False
    """Whether the part that it makes is one closed skin, whose parts and holes are meant to stay as many."""

    @property
    def at_middles(self) -> bool:
        """Whether it is driven at the middles of pieces and copies, not at points."""
        return False

    @property
    def leaves(self) -> Leaves:
        """What of a part is there at every moment after the step."""
        return "nothing"

    @property
    def wants_front(self) -> bool:
        """Whether it would do all at once where nothing drives it, so that it gets a field of its own when it is added."""
        return False

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        """Settings in metres that fit a shape that is so large."""
        del size
        return {}

    @classmethod
    def referring(cls, shapes: list[str], paths: list[str]) -> dict[str, JsonValue]:
        """What it refers to of the other shapes and the paths that there are, when it is added."""
        del shapes, paths
        return {}

    @property
    def follows_faces(self) -> bool:
        """Whether the edge of a zone can be no finer on what it makes than the faces that it takes."""
        return not self.at_middles

    @property
    def makes_copies(self) -> bool:
        """Whether the part that it adds is copies."""
        return False

    @property
    def makes_bodies(self) -> bool:
        """Whether there are pieces or copies after it, which steps can move that are driven at middles."""
        return self.makes_copies

    @property
    def halvings(self) -> int:
        """How often it halves the edges of faces where it counts in full."""
        return 0

    @classmethod
    def halving(cls, rank: float, field: str | None, zone: Zone, times: int) -> StepBase | None:
        """A step of this kind that halves the edges of faces so often where a zone is; None where the kind does not."""
        del rank, field, zone, times
        return None

    @classmethod
    def named(cls) -> str:
        """Its kind in words: `Cut away`."""
        return cls.kind_name().replace("_", " ").capitalize()

    @classmethod
    def in_words(cls) -> dict[str, JsonValue]:
        plain = cls(rank=0)
        return {
            "called": cls.named(),
            "says": cls.says,
            "undriven": cls.undriven,
            "driven_at": "middles" if plain.at_middles else "points",
            "makes": plain.made() or "",
            "leaves": plain.leaves,
            "wants_front": plain.wants_front,
            "sends_front": cls.sends_front,
        }

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part after the step."""
        raise NotImplementedError

    def remains(self, part: Part, given: StepInputs) -> Part:
        """What is left of the part that it takes, where it makes another one beside."""
        del given
        return part

    def changes_both(self) -> bool:
        """Whether it changes the part that it takes, beside one that it makes."""
        return type(self).remains is not StepBase.remains and self.made() is not None

    def faces_after(self, faces: int, driven: bool) -> int:
        """About how many faces it makes of so many. driven: a field rules how far it counts."""
        del driven
        return faces

    def too_many(self, name: str, before: int, after: int, limit: int) -> str:
        """In words: that it makes too many faces of a shape, and what would fit."""
        return (
            f"{name} would have {after:,} faces after a step; the limit is {limit:,}. Nothing was changed. Have it begin with "
            f"{int(before * limit / after):,} or fewer."
        )

    def held(self, faces: int) -> tuple[int, float]:
        """About how many bytes it needs beside the faces that it makes of so many, and seconds for each frame."""
        del faces
        return 0, 0.0

    def items(self) -> tuple[str, ...]:
        """The ids of the controllers and paths that it reads."""
        return ()

    def paths(self) -> tuple[str, ...]:
        """Those of the items that have to be paths."""
        return ()

    def shapes(self) -> tuple[str, ...]:
        """The ids of the shapes whose finished recipes it uses."""
        return ()

    def frames(self) -> tuple[float, ...]:
        """Frames that it looks at whichever is asked for, inside of the shot's range or not."""
        return ()

    def at_rate(self, factor: float) -> dict[str, JsonValue]:
        """Its settings that are frames, where the shot has so many times as many of them in a second."""
        del factor
        return {}

    def region(self, at: Moment) -> Region | None:
        """What it reaches at a moment, where that has ends."""
        del at
        return None

    def longest_faces(self, at: Moment, long: float) -> float:
        """How long faces may be, in metres, so that what it makes of them at a moment looks smooth; infinite where that is all the
        same. long: metres of the world between the ends of what it reaches, along which faces are then measured."""
        del at, long
        return inf

    def marked(self) -> tuple[Marked, ...]:
        """The places on shapes that it goes by."""
        return ()

    def groups(self) -> tuple[str, ...]:
        """The ids of the groups whose shapes it reads."""
        return ()

    def told(self, at: Moment, fps: float, lasts: float) -> str:
        """In words, what follows from its settings at a moment, nothing where that is plain. lasts: seconds of the shot, the last
        frame's duration included."""
        del at, fps, lasts
        return ""

    def weighed(self, mesh: Mesh, matrix: Matrix) -> str:
        """In words, how large what it works on is, where that goes by its settings; nothing where it does not. mesh: the part that it
        takes; matrix: (4, 4) from its space to the world."""
        del mesh, matrix
        return ""

    def closing(self, setting: str, lasts: float) -> float:
        """What a setting has to be for the step to be at the end of so many seconds as it was at their start, as near to what it is
        as can be. Raises Refusal where that cannot be."""
        del setting, lasts
        raise Refusal(f"{self.named()} does not repeat. Nothing was changed. Choose another step.")

    def copying(self, shapes: list[str]) -> tuple[str, dict[str, JsonValue]] | None:
        """The collection of it, and what is added to that, with which it copies one more of the shapes that there are; None
        where it can copy no other."""
        del shapes
        return None

    def fields(self) -> tuple[str, ...]:
        """The ids of the fields that rule settings of it, beside the one that drives it."""
        return ()

    def made(self) -> str | None:
        """The part that it adds, None where it changes the one it takes."""
        return None


class WeightedStep(StepBase):
    """A step that blends from no effect to its full effect by a weight: overall field x amount x curve(zone)."""

    zone: Zone = "value"
    curve: Annotated[Curve | None, Field(description="What becomes of the zone's weight")] = None

    def weight(self, count: int, given: StepInputs) -> Values:
        """(count,) the weight at what the step is driven at."""
        weight = np.full(count, given.at(self.amount))
        drive = given.drive
        return weight if drive is None else weight * drive.weight(self.zone, self.curve)


class SolvedStep(StepBase):
    """A step that solves something once for all moments. looks: how often in a second of the shot it looks at the field that
    drives it as it does so."""

    solution: ClassVar[type[Solution]]
    looks: ClassVar[int] = 0
    works: ClassVar[str] = "Breaking the shape into pieces"
    """What it does while it solves, in words."""

    def solve(self, given: SolveInputs) -> Solution:
        """The solution."""
        raise NotImplementedError

    def solving(self, mesh: Mesh, lasts: float) -> float:
        """About how many seconds it takes to solve, without what it reads of fields, for a shape at rest, with its points in metres, and
        a shot that lasts so many seconds."""
        del mesh, lasts
        return 0.0

    def refuse_too_much(self, mesh: Mesh) -> None:
        """Raise TooMuch, before any work, where more would have to be solved for a shape at rest, with its points in metres, than can be."""
        del mesh

    def asks(self, mesh: Mesh, lasts: float) -> float:
        """At about how many places, beside those at which it looks as time goes on, it measures the field that drives it."""
        del mesh, lasts
        return 0.0

    def front(self, given: StepInputs) -> Front:
        """Where the front is that it lets through the shape, for one that has such."""
        raise NotImplementedError

    def doubts(self, solution: Solution) -> str:
        """In words, what of its solution will hardly look as it is meant, and what would help; nothing where all is well."""
        del solution
        return ""

    def doubts_seen(self) -> Mapping[str, SourceBase]:
        """The sources of a field that is high where that is; none where no field shows it."""
        return {}
