"""A shot: one timed scene, as one JSON document."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Annotated, Literal, Self, get_args, get_origin, get_type_hints

import numpy as np
from pydantic import Field as Limits
from pydantic import PrivateAttr, ValidationError, model_validator

from windsock.core.declarations import Colour, ContentHash, Declared, Id, ItemId, Name, Quantity, in_order
from windsock.core.document.complaints import complaints
from windsock.core.document.items import AnyItem, Controller, Group, Item, Path, Shape
from windsock.core.document.layers import PictureLayer, Role
from windsock.core.document.limits import refuse_large
from windsock.core.document.springs import AFTER, SWINGS, Swing
from windsock.core.fields import AnySource
from windsock.core.fields.field import Field
from windsock.core.finishing import FIRST, AnyFinish, Finish
from windsock.core.geometry.placement import Matrix, aimed, placement
from windsock.core.refusals import Refusal
from windsock.core.shapes import AnyGeometry
from windsock.core.steps import AnyStep
from windsock.core.timing.parameter import Moment, NumberParameter, travelled

SCHEMA_VERSION = 1


class FrameRange(Declared):
    """The frames of a shot, the last included."""

    first: Annotated[int, Quantity("First frame", low=-100_000, high=100_000, drag=0.25, whole=True)] = 0
    last: Annotated[int, Quantity("Last frame", low=-100_000, high=100_000, drag=0.25, whole=True)] = 119

    @model_validator(mode="after")
    def _forward(self) -> Self:
        if not 0 <= self.last - self.first <= 20_000:
            raise ValueError("the last frame must not be before the first, nor more than 20000 after it")
        return self


class FrameRate(Declared):
    """Frames per second as a ratio of whole numbers."""

    numerator: Annotated[int, Limits(ge=1, le=240_000)] = 24
    denominator: Annotated[int, Limits(ge=1, le=1001)] = 1

    @property
    def fps(self) -> float:
        return self.numerator / self.denominator


class PictureSize(Declared):
    """The size of the picture in pixels."""

    width: Annotated[int, Quantity("Width", unit="px", low=16, high=8192, drag=2, whole=True)] = 1280
    height: Annotated[int, Quantity("Height", unit="px", low=16, high=8192, drag=2, whole=True)] = 720


EnvironmentKind = Literal["day", "dusk", "storm", "night"]


class Environment(Declared):
    """The light from all round: a sky or an imported picture, turned about the vertical. It is seen behind all, or it only lights and a colour is behind."""

    kind: EnvironmentKind = "day"
    asset: Annotated[
        ContentHash | None, Limits(description="An imported picture of all round, in place of the sky of its kind")
    ] = None
    strength: Annotated[NumberParameter, Quantity("Strength of the surrounding light", low=0, high=20, drag=0.01)] = 1.0
    turn: Annotated[
        NumberParameter, Quantity("Turned about the vertical", unit="°", low=-36000, high=36000, drag=0.5)
    ] = 0.0
    seen: Annotated[bool, Limits(description="Whether it is seen behind all; it lights either way")] = True
    behind: Annotated[Colour, Limits(description="What is seen behind all where the surroundings are not")] = "#30363C"


ViewTransform = Literal["neutral", "plain", "aces_1_3", "aces_2_0"]
"""neutral: keeps the colours of what is not very bright. plain: sRGB, cut off where it is brighter than white. The others: those
of the Academy Color Encoding System."""


class Shot(Declared):
    """One timed scene: frame range, rate, picture size, items, fields, camera and environment, and how its picture is finished."""

    schema_version: Literal[1] = SCHEMA_VERSION
    name: Name
    frames: FrameRange = FrameRange()
    rate: FrameRate = FrameRate()
    picture: PictureSize = PictureSize()
    opening_frame: Annotated[float, Limits(ge=-100_000, le=100_000)] = 0.0
    environment: Environment = Environment()
    camera: ItemId | None = None
    items: Annotated[dict[Id, Item], Limits(max_length=256)] = {}
    fields: Annotated[dict[Id, Field], Limits(max_length=64)] = {}
    groups: Annotated[dict[Id, Group], Limits(max_length=64)] = {}
    finishing: Annotated[
        dict[Id, Finish], Limits(max_length=32, description="Steps on the finished picture, in order")
    ] = FIRST
    layers: Annotated[
        dict[Id, PictureLayer],
        Limits(max_length=16, description="Items that are pictured together, apart from the rest"),
    ] = {}
    pictured: Annotated[
        Id | None, Limits(description="The layer that finished pictures show; None: they show everything")
    ] = None
    view: Annotated[
        ViewTransform, Limits(description="How linear light becomes what a display shows, in pictures and film alike")
    ] = "neutral"

    _swings: dict[str, Swing] = PrivateAttr(default_factory=dict[str, Swing])

    def moment(self, frame: float) -> Moment:
        """The point in time of a frame: frame 0 is at 0 seconds."""
        return Moment(frame=frame, seconds=frame * self.rate.denominator / self.rate.numerator)

    @property
    def lasts(self) -> float:
        """Its seconds, the last frame's duration included."""
        return (self.frames.last + 1 - self.frames.first) / self.rate.fps

    def role_of(self, item: str) -> Role | Literal["unseen"]:
        """How an item is seen in finished pictures."""
        if self.pictured is None:
            return "shown"
        member = self.layers[self.pictured].items.get(item)
        return "unseen" if member is None else member.role

    def placement(self, item: str, at: Moment) -> Matrix:
        """(4, 4) matrix from an item's space to the world."""
        thing = self.items[item]
        placed = self.carrying(item, at)
        if not isinstance(thing, (Shape, Controller, Path)):
            return placed
        x, y, z = (max(abs(factor), 1e-6) for factor in at(thing.scale))
        matrix = placed @ np.diag([x, y, z, 1.0])
        matrix[:3, 3] -= matrix[:3, :3] @ np.array(at(thing.pivot))
        return matrix

    def carrying(self, item: str, at: Moment) -> Matrix:
        """(4, 4) matrix from the space in which an item carries others to the world: moved and turned, not stretched."""
        stiff = self.standing(item, at)
        return stiff if self.items[item].springs is None else self._swing(item).standing(at.seconds, stiff)

    def standing(self, item: str, at: Moment) -> Matrix:
        """(4, 4) the same without springs of its own."""
        thing = self.items[item]
        own = placement(at(thing.place), at(thing.turn), (1.0, 1.0, 1.0))
        placed = self.space_of(item, at) @ own
        if thing.aim is not None:
            target = self.carrying(thing.aim, at)[:3, 3]
            placed[:3, :3] = aimed(placed[:3, 3], target) @ own[:3, :3]
        return placed

    def space_of(self, item: str, at: Moment) -> Matrix:
        """(4, 4) matrix from the space that an item's place and turn are in to the world: that of what carries it, or of where it
        is along the path that it goes on."""
        thing = self.items[item]
        if thing.parent is None:
            return np.eye(4)
        path = self.items[thing.parent]
        if thing.along is None or not isinstance(path, Path):
            return self.carrying(thing.parent, at)
        travel, first = thing.along, self.frames.first
        course = path.course(at).moved(self.placement(thing.parent, at))

        def come(later: float) -> float:
            """Metres along the path, so many seconds later."""
            then = self.moment(at.frame + later * self.rate.fps)
            gone = travelled(travel.speed, first, then.frame) / self.rate.fps
            return then(travel.share) * course.length + gone

        return travel.standing(course, come, at(travel.bank))

    def _swing(self, item: str) -> Swing:
        """The motion of an item on its springs."""
        if item not in self._swings:
            self._swings[item] = SWINGS.of(self._standing_defined(item), lambda: self._new_swing(item))
        return self._swings[item]

    def _new_swing(self, item: str) -> Swing:
        springs, fps = self.items[item].springs, self.rate.fps
        assert springs is not None

        def stiff(seconds: float) -> Matrix:
            return self.standing(item, self.moment(seconds * fps))

        def now(seconds: float) -> tuple[float, float]:
            at = self.moment(seconds * fps)
            return at(springs.swings), at(springs.damping)

        start = self.moment(self.frames.first).seconds - springs.settled
        return Swing(springs, start, self.moment(self.frames.last).seconds + AFTER, stiff, now)

    def _standing_defined(self, item: str) -> str:
        """All that the document says of how an item stands: itself, what it leans on, and time."""
        found, left = [item], [item]
        while left:
            thing = self.items[left.pop()]
            new = [other for other in (thing.parent, thing.aim) if other is not None and other not in found]
            found, left = found + new, left + new
        told = [self.items[one].model_dump_json(exclude={"recipe", "geometry", "look"}) for one in found]
        return "\n".join([*found, *told, self.frames.model_dump_json(), self.rate.model_dump_json()])

    def smaller(self, part: int) -> Shot:
        """The shot with a picture that is one part of as many as wide, and as high."""
        sides = {name: max(16, round(side / part)) for name, side in self.picture.model_dump().items()}
        return self if part == 1 else self.model_copy(update={"picture": PictureSize(**sides)})

    def shapes_of(self, group: str) -> list[str]:
        """The ids of a group's shapes, in order."""
        members = [item for item, _ in in_order(self.groups[group].members)]
        return [item for item in members if isinstance(self.items[item], Shape)]

    @model_validator(mode="after")
    def _references_hold(self) -> Self:
        for complaint in complaints(self):
            raise ValueError(complaint)
        return self

    def fields_behind(self, field: str) -> set[str]:
        """A field and those that it measures from, by themselves or through others."""
        found: set[str] = set()
        waiting = [field]
        while waiting:
            one = waiting.pop()
            if one not in found and one in self.fields:
                found.add(one)
                waiting += self.fields[one].fields()
        return found

    def shape_needs(self) -> dict[str, set[str]]:
        """The shapes whose finished recipes each shape's recipe needs."""
        needs: dict[str, set[str]] = {}
        for item_id, item in self.items.items():
            if not isinstance(item, Shape):
                continue
            steps = item.recipe.steps.values()
            used = [field for step in steps for field in item.recipe.listened(step)]
            behind = {one for field_id in used for one in self.fields_behind(field_id)}
            groups = {group for one in behind for group in self.fields[one].groups()}
            groups |= {group for step in steps for group in step.groups()}
            needs[item_id] = {shape for group in groups for shape in self.shapes_of(group)} - {item_id}
            needs[item_id] |= {shape for step in steps for shape in step.shapes()}
            eaten = {front.shape for one in behind for front in self.fields[one].fronts_of() if front.shape is not None}
            needs[item_id] |= eaten - {item_id}
        return needs


class BadDocument(Refusal):
    """A document that is not a valid shot. `places` says where, each as a JSON Pointer with what is wrong there."""

    def __init__(self, places: list[tuple[str, str]]) -> None:
        self.places = places
        first = "; ".join(f"{_spoken(where)}: {what}" if where else what for where, what in places[:3])
        super().__init__(f"{first}. Nothing was changed.")


def _spoken(pointer: str) -> str:
    """The end of a pointer as people read it: `ball, geometry, radius`."""
    return ", ".join(pointer.strip("/").replace("_", " ").split("/")[-3:])


def parse_shot(data: object) -> Shot:
    """The shot that plain data (as JSON reads it) describes; raises BadDocument, and TooMuch for one that is too large."""
    try:
        text = json.dumps(data)
    except (ValueError, TypeError, RecursionError):
        raise BadDocument([("", "The shot is not readable as JSON")]) from None
    refuse_large(text)
    try:
        return Shot.model_validate_json(text)
    except ValidationError as error:
        faults = [(*_place(fault["loc"], fault["msg"]), fault["type"]) for fault in error.errors()[:20]]
        raise BadDocument(_telling(faults)[:10]) from None
    except (ValueError, TypeError):
        raise BadDocument([("", "The shot is not readable as JSON")]) from None


KINDS = {
    kind.kind_name() for union in (AnyItem, AnyGeometry, AnyStep, AnySource, AnyFinish) for kind in get_args(union)
}


def _collections(kind: type[Declared], seen: set[type[Declared]]) -> Iterator[str]:
    """The settings, of a kind and of all in it, that hold things by id."""
    seen.add(kind)
    for name, hint in get_type_hints(kind).items():
        if get_origin(hint) is dict:
            yield name
        for inner in _declared_in(hint) - seen:
            yield from _collections(inner, seen)


def _declared_in(hint: object) -> set[type[Declared]]:
    """The kinds that a type speaks of."""
    if isinstance(hint, type) and issubclass(hint, Declared):
        return {hint}
    return {kind for one in get_args(hint) for kind in _declared_in(one)}


COLLECTIONS = set(_collections(Shot, set()))
BRANCHES = {"KeyedNumber", "KeyedVector", "constrained-float", "float"}


def _place(location: tuple[int | str, ...], message: str) -> tuple[str, str]:
    """A place as JSON Pointer, without the names that the validator gives to the branches of a choice."""
    steps: list[str] = []
    for step in location:
        name = str(step)
        named = bool(steps) and steps[-1] in COLLECTIONS
        if not named and (name in KINDS or name in BRANCHES or "[" in name or "-" in name):
            continue
        steps.append(name)
    return "".join(f"/{step}" for step in steps), message.removeprefix("Value error, ").replace(
        "Input should", "it should"
    )


def _telling(faults: list[tuple[str, str, str]]) -> list[tuple[str, str]]:
    """One complaint for each place. faults: place, words and the validator's kind of fault.

    A value that may be of several types has a fault for each of them. That it is not of one type says nothing where there
    is another complaint at the place or below it.
    """
    kept: dict[str, tuple[str, str]] = {}
    for where, what, kind in faults:
        if where not in kept or kept[where][1].endswith("_type"):
            kept[where] = (what, kind)
    return [
        (where, what)
        for where, (what, kind) in kept.items()
        if not (kind.endswith("_type") and any(other.startswith(f"{where}/") for other in kept))
    ]
