"""Items: the things in a shot."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Annotated, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import Colour, Declared, FieldId, Id, ItemId, Name, Quantity, Rank, in_order
from windsock.core.document.springs import Springs
from windsock.core.document.travel import Travel
from windsock.core.finishing.finish import Glass
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.course import Course, course_of
from windsock.core.geometry.temperature import linear_of_temperature
from windsock.core.look import Look
from windsock.core.shapes import Geometry
from windsock.core.shapes.fineness import Fineness
from windsock.core.steps import AnyStep, Step
from windsock.core.timing.parameter import Moment, NumberParameter, Vector, VectorParameter


class ItemBase(Declared):
    """What every item has: a name, a place in the order, where it stands and how it is turned.

    `parent` carries it: place and turn are then in the parent's space, as that is moved and turned; how the parent is
    stretched does not matter. With `along` an item that a path carries goes along that. With `springs` it follows on springs.
    `aim` turns its -Z axis towards another item, its +Y axis up; `turn` comes on top of that.
    """

    begins: ClassVar[Mapping[str, JsonValue]] = {
        "mark": "#8A3FA0",
        "along": Travel(speed=0.5).model_dump(mode="json"),
        "springs": Springs().model_dump(mode="json"),
    }

    name: Name
    rank: Rank
    parent: Annotated[ItemId | None, Field(description="The item that carries it")] = None
    along: Annotated[Travel | None, Field(description="How it goes along the path that carries it")] = None
    springs: Annotated[Springs | None, Field(description="How it lags behind its own motion and springs past it")] = (
        None
    )
    mark: Annotated[Colour | None, Field(description="A colour of its own in lists and in the view")] = None
    aim: Annotated[ItemId | None, Field(description="The item that its own -Z axis points at")] = None
    locked: Annotated[bool, Field(description="Not chosen by a press in the view, and without handles there")] = False
    place: Annotated[VectorParameter, Quantity("Where the item stands", unit="m", low=-1e5, high=1e5)] = (0.0, 0.0, 0.0)
    turn: Annotated[
        VectorParameter, Quantity("Turned about X, then Y, then Z", unit="°", low=-36000, high=36000, drag=0.5)
    ] = (0.0, 0.0, 0.0)


class ScaledItem(ItemBase):
    """An item that can be stretched. `pivot`, in its own space, is what stands at its place: it is turned and stretched
    about there."""

    pivot: Annotated[VectorParameter, Quantity("The place in it that it turns about", unit="m", low=-1e5, high=1e5)] = (
        0.0,
        0.0,
        0.0,
    )
    scale: Annotated[VectorParameter, Quantity("Stretched along its own axes", unit="×", low=0.0001, high=10000)] = (
        1.0,
        1.0,
        1.0,
    )


class Member(Declared):
    """An item's place in a group."""

    rank: Rank = 0.0


class Group(Declared):
    """A named set of items, by their ids, that a field refers to together."""

    name: Name
    rank: Rank
    members: Annotated[dict[ItemId, Member], Field(max_length=256)] = {}


class PartName(Declared):
    """A named outcome of a recipe."""

    name: Name
    rank: Rank


class Retime(Declared):
    """Another time for a recipe: keys that fall run it backwards, level ones hold it."""

    frame: Annotated[
        NumberParameter, Quantity("The frame of its own that it is shown at", low=-100_000, high=100_000, drag=0.25)
    ] = 0.0


class Recipe(Declared):
    """What is done to one shape: steps in order. At first there is one part, the body."""

    parts: Annotated[dict[Id, PartName], Field(max_length=32)] = {"body": PartName(name="Body", rank=0)}
    steps: Annotated[dict[Id, Step], Field(max_length=64)] = {}
    overall: Annotated[FieldId | None, Field(description="A field that every step counts by")] = None
    retime: Annotated[
        Retime | None, Field(description="Another time for all that is evaluated for it; None: the shot's own")
    ] = None

    def driving(self, step: AnyStep) -> tuple[str | None, str | None]:
        """The field that drives a step, and the overall field on top. A step without a field listens to the overall one."""
        return (self.overall, None) if step.field is None else (step.field, self.overall)

    def listened(self, step: AnyStep) -> list[str]:
        """The fields that a step depends on."""
        return [field for field in (*self.driving(step), *step.fields()) if field is not None]


class Shape(ScaledItem):
    """An item with geometry, its look and its recipe."""

    kind: Literal["shape"] = "shape"
    shown: Annotated[
        NumberParameter, Quantity("Shown from 1/2 on, hidden below", low=0, high=1, drag=0.01, whole=True)
    ] = 1.0
    geometry: Geometry
    fineness: Fineness = Fineness()
    look: Look = Look()
    recipe: Recipe = Recipe()


class Controller(ScaledItem):
    """An item without geometry, moved and keyed to steer fields and steps."""

    kind: Literal["controller"] = "controller"


class Light(ItemBase):
    """Shines along the item's -Z axis: parallel like the sun, from a point all round, or from an area to one side. From a point and an
    area it is half as strong, or a quarter, where it is that much further: the strength is that at one metre."""

    begins: ClassVar[Mapping[str, JsonValue]] = {**ItemBase.begins, "temperature": 4000.0}

    kind: Literal["light"] = "light"
    shines: Annotated[Literal["parallel", "point", "area"], Field(description="How its light goes out")] = "parallel"
    colour: Colour = "#FFF1DC"
    temperature: Annotated[
        NumberParameter | None,
        Quantity("Temperature of its light, on top of its colour", unit="K", low=1700, high=25_000, drag=10),
    ] = None
    strength: Annotated[NumberParameter, Quantity("Strength of the light", low=0, high=10_000, drag=0.02)] = 3.0
    width: Annotated[
        NumberParameter,
        Quantity(
            "How wide it is in the sky: a finished picture's shadows are as soft", unit="°", low=0, high=45, drag=0.05
        ),
    ] = 0.5
    radius: Annotated[
        NumberParameter,
        Quantity("Radius of a point: a finished picture's shadows are as soft", unit="m", low=0, high=100, drag=0.005),
    ] = 0.05
    wide: Annotated[NumberParameter, Quantity("Width of the area", unit="m", low=0, high=1000, drag=0.01)] = 1.0
    high: Annotated[NumberParameter, Quantity("Height of the area", unit="m", low=0, high=1000, drag=0.01)] = 1.0

    def light(self, at: Moment) -> Vector:
        """Red, green and blue of it at a moment, linear: what falls on a face square to it, one metre away where it is near."""
        warm = (1.0, 1.0, 1.0) if self.temperature is None else linear_of_temperature(at(self.temperature))
        strength = at(self.strength)
        red, green, blue = (
            one * other * strength for one, other in zip(linear_from_hex(self.colour), warm, strict=True)
        )
        return red, green, blue


class Camera(ItemBase):
    """Looks along the item's -Z axis."""

    kind: Literal["camera"] = "camera"
    angle: Annotated[
        NumberParameter, Quantity("Angle of view from bottom to top", unit="°", low=1, high=150, drag=0.1)
    ] = 35.0
    sensor: Annotated[
        float, Quantity("Width of the sensor that focal lengths are told for", unit="mm", low=1, high=200)
    ] = 36.0
    aperture: Annotated[
        NumberParameter,
        Quantity(
            "F-number: the less, the more of a finished picture is out of focus; 0 has all sharp",
            low=0,
            high=64,
            drag=0.05,
        ),
    ] = 0.0
    focus: Annotated[NumberParameter, Quantity("How far off is sharp", unit="m", low=0.01, high=10_000, drag=0.02)] = (
        5.0
    )
    focus_on: Annotated[ItemId | None, Field(description="The item that is kept sharp, in place of a distance")] = None
    shutter: Annotated[
        NumberParameter,
        Quantity(
            "Shutter angle: what moves is blurred over this part of a frame's 360°", unit="°", low=0, high=360, drag=1
        ),
    ] = 0.0
    exposure: Annotated[NumberParameter, Quantity("Exposure of the picture, in stops", low=-10, high=10, drag=0.02)] = (
        0.0
    )

    def glass(self, at: Moment, aspect: float) -> Glass:
        """Its lens at a moment. aspect: the picture's height over its width."""
        height = self.sensor / 1000 * aspect
        focal = height / 2 / float(np.tan(np.radians(at(self.angle)) / 2))
        return Glass(focal, height, at(self.aperture))


class PathPoint(Declared):
    """A point of a path. The curve turns sharply there (corner) or flows through (smooth).

    `before` and `after` are handles of cubic curves, relative to the point; where they are given, they rule.
    """

    rank: Rank
    place: Annotated[VectorParameter, Quantity("Where the point is", unit="m", low=-1e5, high=1e5)]
    joint: Literal["corner", "smooth"] = "smooth"
    before: Vector | None = None
    after: Vector | None = None


class Path(ScaledItem):
    """A curve through points, in its own space: shapes are swept along it."""

    kind: Literal["path"] = "path"
    points: Annotated[dict[Id, PathPoint], Field(min_length=2, max_length=400)]
    closed: bool = False

    def between(self, setting: str, key: str, at: Callable[[object], object]) -> Mapping[str, JsonValue] | None:
        """Half way to the next point; beyond the last one as far again as it is from the one before."""
        points = [one for one, _ in in_order(self.points)]
        if setting != "points" or key not in points:
            return None
        place = points.index(key)
        here = np.array(at(self.points[key].place), dtype=np.float64)
        rank = self.points[key].rank
        if place + 1 < len(points) or self.closed:
            after = points[(place + 1) % len(points)]
            there = (here + np.array(at(self.points[after].place), dtype=np.float64)) / 2
        else:
            there = 2 * here - np.array(at(self.points[points[place - 1]].place), dtype=np.float64)
        rank = (rank + self.points[points[place + 1]].rank) / 2 if place + 1 < len(points) else rank + 1
        return PathPoint(rank=rank, place=_vector_of(there)).model_dump(mode="json")

    def course(self, at: Moment) -> Course:
        """The curve at a moment, in the path's own space."""
        points = [point for _, point in in_order(self.points)]
        places = np.array([at(point.place) for point in points], dtype=np.float64)
        handles = [(_vector(point.before), _vector(point.after)) for point in points]
        return course_of(places, handles, [point.joint == "smooth" for point in points], self.closed)


def _vector_of(place: NDArray[np.float64]) -> Vector:
    x, y, z = (round(float(metres), 4) for metres in place)
    return x, y, z


def _vector(handle: Vector | None) -> NDArray[np.float64] | None:
    return None if handle is None else np.array(handle, dtype=np.float64)


Item = Annotated[Shape | Controller | Path | Light | Camera, Field(discriminator="kind")]
AnyItem = Shape | Controller | Path | Light | Camera
