"""Surface: how the surface lies, or an imported attribute."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import JsonValue

from windsock.core.declarations import ItemId, Name, Quantity
from windsock.core.fields.across import AXES
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.falloff import Fall, smoothstep
from windsock.core.fields.joining import Word
from windsock.core.fields.source import PlacedSource, Scene
from windsock.core.geometry.curvature import mean_curvature
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.strain import Strain
from windsock.core.timing.parameter import NumberParameter

Reading = Literal["height", "axis", "camera", "u", "v", "order", "curvature", "stretch", "fold", "attribute"]

BEGINS: dict[Reading, tuple[str, float, float]] = {
    "height": ("m", 0.0, 2.0),
    "axis": ("°", 90.0, 0.0),
    "camera": ("°", 0.0, 90.0),
    "u": ("", 0.0, 1.0),
    "v": ("", 0.0, 1.0),
    "order": ("", 0.0, 1.0),
    "curvature": ("/m", 0.0, 2.0),
    "stretch": ("", 1.0, 4.0),
    "fold": ("°", 45.0, 135.0),
    "attribute": ("", 0.0, 1.0),
}
"""For each reading its unit, and where the value is 0 and 1 to begin with."""


class Surface(PlacedSource):
    """A reading of the surface, 0 where it is `low` and 1 where it is `high` (which may be the smaller).

    height: metres above the world's origin. axis, camera: degrees between the normal and a direction, 0 where the surface
    faces it; the direction is an axis of the world or of a controller, or towards the camera. u, v; order: the place in
    the order of the shape's points, 0 to 1. curvature: the mean of the two principal ones in 1/m, positive where the
    surface bulges. attribute: a number that came with the points of an imported file, or a channel of their colour.
    stretch: how many times as long it is as it rests, where that is most; fold: degrees by which faces are bent against each other
    more than at rest, 180 where they are folded over. All but the first three and these two are those of the shape as it was made.
    """

    says = "Height, slope, curvature or what came with a file"
    wish = "From what is there"

    joins: ClassVar[Word] = "times"
    offered = "The surface"

    kind: Literal["surface"] = "surface"
    reading: Reading = "height"
    low: Annotated[NumberParameter, Quantity("Reading at which the value is 0", low=-1e6, high=1e6)] = 0.0
    high: Annotated[NumberParameter, Quantity("Reading at which the value is 1", low=-1e6, high=1e6)] = 1.0
    fall: Fall = "straight"
    axis: Literal["x", "y", "z"] = "y"
    controller: ItemId | None = None
    attribute: Name = "brightness"

    @classmethod
    def named(cls) -> str:
        return "the surface"

    @classmethod
    def in_words(cls) -> dict[str, JsonValue]:
        units: JsonValue = {reading: unit for reading, (unit, _, _) in BEGINS.items()}
        return super().in_words() | {"units": units}

    def chosen(self, setting: str, value: JsonValue) -> dict[str, JsonValue]:
        if setting != "reading" or value not in BEGINS:
            return super().chosen(setting, value)
        _, low, high = BEGINS[value]  # pyright: ignore[reportArgumentType]
        return {"reading": value, "low": low, "high": high}

    def items(self) -> tuple[str, ...]:
        return (self.controller,) if self.reading == "axis" and self.controller else ()

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        low, high = scene.at(self.low), scene.at(self.high)
        read = self._read(elements, scene)
        share = np.clip((read - low) / (high - low), 0, 1) if high != low else (read >= low).astype(np.float64)
        return share if self.fall == "straight" else smoothstep(share)

    def _read(self, elements: Elements, scene: Scene) -> Values:
        if self.reading == "height":
            return self.places(elements, scene)[:, 1]
        if self.reading == "axis":
            turned = scene.placement(self.controller)[:3, :3] if self.controller else np.eye(3)
            direction = turned[:, AXES[self.axis]]
            return _degrees(self.facing(elements, scene), direction / np.linalg.norm(direction))
        if self.reading == "camera":
            camera = scene.camera()
            if camera is None:
                return np.zeros(len(elements))
            towards = camera[:3, 3] - self.places(elements, scene)
            return _degrees(self.facing(elements, scene), towards / np.linalg.norm(towards, axis=1, keepdims=True))
        if self.reading in ("stretch", "fold"):
            strain = elements.strain if self.measured == "posed" else Strain.none(len(elements))
            return strain.stretch if self.reading == "stretch" else strain.fold
        if self.reading == "order" and elements.number is not None:
            return elements.number / max(int(elements.number.max(initial=0)), 1)
        return elements.carry(self._made(elements.subject.mesh))

    def _made(self, mesh: Mesh) -> Values:
        """(m,) a reading of the shape as it was made."""
        if self.reading == "order":
            return mesh.number / max(int(mesh.number.max(initial=0)), 1)
        if self.reading == "curvature":
            return mean_curvature(mesh)
        if self.reading == "attribute":
            return mesh.measure(self.attribute)
        if mesh.uv is None:
            return np.zeros(len(mesh.points))
        return mesh.uv[:, 0 if self.reading == "u" else 1].astype(np.float64)


def _degrees(normals: Values, direction: Values) -> Values:
    """(n,) degrees between (n, 3) normals and (3,) or (n, 3) directions, all of length 1."""
    return np.degrees(np.arccos(np.clip((normals * direction).sum(axis=1), -1, 1)))
