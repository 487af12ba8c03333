"""Items: the things in a shot."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from windsock.core.declarations import Colour, Declared, Id, Name, Quantity, Rank
from windsock.core.look import Look
from windsock.core.shapes import Geometry
from windsock.core.steps import AnyStep, Step
from windsock.core.timing.parameter import NumberParameter, VectorParameter


class ItemBase(Declared):
    """What every item has: a name, a place in the order, where it stands and how it is turned.

    `parent` carries it: place and turn are then in the parent's space, as that is moved and turned; how the parent is
    stretched does not matter.
    """

    name: Name
    rank: Rank
    parent: Annotated[Id | None, Field(description="The item that carries it")] = None
    place: Annotated[VectorParameter, Quantity("Where the item stands", unit="m", low=-1e5, high=1e5)] = (0.0, 0.0, 0.0)
    turn: Annotated[
        VectorParameter, Quantity("Turned about X, then Y, then Z", unit="°", low=-36000, high=36000, drag=0.5)
    ] = (0.0, 0.0, 0.0)


class Scaled(ItemBase):
    """An item that can be stretched."""

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
    members: Annotated[dict[Id, Member], Field(max_length=256)] = {}


class PartName(Declared):
    """A named outcome of a recipe."""

    name: Name
    rank: Rank


class Recipe(Declared):
    """What is done to one shape: steps in order. At first there is one part, the body."""

    parts: Annotated[dict[Id, PartName], Field(max_length=32)] = {"body": PartName(name="Body", rank=0)}
    steps: Annotated[dict[Id, Step], Field(max_length=64)] = {}
    overall: Annotated[Id | None, Field(description="A field that every step counts by")] = None

    def driving(self, step: AnyStep) -> tuple[str | None, str | None]:
        """The field that drives a step, and the overall field on top. A step without a field listens to the overall one."""
        return (self.overall, None) if step.field is None else (step.field, self.overall)

    def listened(self, step: AnyStep) -> list[str]:
        """The fields that a step depends on."""
        return [field for field in self.driving(step) if field is not None]


class Shape(Scaled):
    """An item with geometry, its look and its recipe."""

    kind: Literal["shape"] = "shape"
    shown: Annotated[
        NumberParameter, Quantity("Shown from 1/2 on, hidden below", low=0, high=1, drag=0.01, whole=True)
    ] = 1.0
    geometry: Geometry
    look: Look = Look()
    recipe: Recipe = Recipe()


class Controller(Scaled):
    """An item without geometry, moved and keyed to steer fields and steps."""

    kind: Literal["controller"] = "controller"


class Light(ItemBase):
    """The key light: parallel light that shines along the item's -Z axis."""

    kind: Literal["light"] = "light"
    colour: Colour = "#FFF1DC"
    strength: Annotated[NumberParameter, Quantity("Strength of the light", low=0, high=100, drag=0.02)] = 3.0


class Camera(ItemBase):
    """Looks along the item's -Z axis."""

    kind: Literal["camera"] = "camera"
    angle: Annotated[
        NumberParameter, Quantity("Angle of view from bottom to top", unit="°", low=1, high=150, drag=0.1)
    ] = 35.0


Item = Annotated[Shape | Controller | Light | Camera, Field(discriminator="kind")]
AnyItem = Shape | Controller | Light | Camera
