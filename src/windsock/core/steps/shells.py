"""Shells: nested layers of a part, one outside the other, each thinner and fainter if wanted."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.declarations import PartId, Quantity, about
from windsock.core.fields.elements import Values
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.mesh import Floats, Mesh, Mixture, derived_number, places_of
from windsock.core.geometry.outward import outward
from windsock.core.geometry.placement import turned_normals
from windsock.core.look import Look
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.steps.deforming import even, placed
from windsock.core.steps.given import StepInputs
from windsock.core.steps.step import Leaves, WeightedStep
from windsock.core.timing.parameter import NumberParameter

MOST_LAYERS = 60


class Shells(WeightedStep):
    """Lay copies of the whole part about it, one outside the other, as a part of their own.

    out: each goes so far out along the surface's normals from the one before it, by the weight of what drives the step. scale: each is so
    many times as large about the middle of the part. Colour, light and opacity are those of the part where the step stands, so that
    fields before it are measured once for all layers. From layer to layer opacity and light are less by a share.
    """

    begins: ClassVar[Mapping[str, JsonValue]] = {"look": {"base_colour": "#7FA9C9", "opacity": 0.6}}

    says = "Nested layers, each outside the other"
    wish = "Make more on it"

    kind: Literal["shells"] = "shells"
    makes: Annotated[PartId, Field(description="The part that they are")] = "shells"
    count: Annotated[int, Quantity("How many layers", low=1, high=MOST_LAYERS, drag=0.05, whole=True)] = 5
    by: Annotated[Literal["out", "scale"], Field(description="How one lies outside the other")] = "out"
    apart: Annotated[NumberParameter, Quantity("From layer to layer", unit="m", low=-1e4, high=1e4)] = 0.05
    larger: Annotated[NumberParameter, Quantity("Times as large from layer to layer", unit="×", low=0.01, high=100)] = (
        1.05
    )
    thinner: Annotated[NumberParameter, Quantity("Share of its opacity that each loses", low=0, high=1, drag=0.005)] = (
        0.25
    )
    fainter: Annotated[NumberParameter, Quantity("Share of its light that each loses", low=0, high=1, drag=0.005)] = (
        0.25
    )
    look: Annotated[Look | None, Field(description="Their look; None: that of the part")] = None

    def made(self) -> str:
        return self.makes

    @property
    def leaves(self) -> Leaves:
        return "points"

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"apart": about(size, 0.03)}

    def faces_after(self, faces: int, driven: bool) -> int:
        del driven
        return faces * self.count

    def too_many(self, name: str, before: int, after: int, limit: int) -> str:
        return (
            f"The layers of {name} would have {after:,} faces; the limit is {limit:,}. Nothing was changed. "
            f"{max(1, limit // max(before, 1))} layers would fit."
        )

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The layers, the innermost first. Of copies there are none."""
        mesh = part.mesh
        if not isinstance(part, MeshPart) or len(mesh.faces) == 0:
            return part.without_bodies(np.ones(len(part.bodies()), dtype=bool))
        look = part.look if self.look is None else self.look
        layer = np.repeat(np.arange(1.0, self.count + 1), len(mesh.points))
        layers = self._fading(_layered(mesh, self.count), layer, look, given)
        made = MeshPart(layers, look, part.backs if self.look is None else look.backs, "blend")
        weight = self.weight(len(mesh.points), given)
        return placed(made, self._places(mesh, layer, weight, given), layers.normals if even(weight) else None)

    def _places(self, mesh: Mesh, layer: Values, weight: Values, given: StepInputs) -> Floats:
        """(n, 3) where the points of all layers go."""
        points = mesh.points.astype(np.float64)
        if self.by == "scale":
            middle = (points.min(axis=0) + points.max(axis=0)) / 2
            grown = given.at(self.larger) ** (layer * np.tile(weight, self.count))
            return (middle + np.tile(points - middle, (self.count, 1)) * grown[:, None]).astype(np.float32)
        place, places = places_of(mesh.number)
        ways = (
            outward(turned_normals(mesh.normals, given.matrix), place, places) @ np.linalg.inv(given.matrix[:3, :3]).T
        )
        step = ways * (weight * given.at(self.apart))[:, None]
        each = np.arange(1.0, self.count + 1)[:, None, None]
        return (points + step * each).astype(np.float32).reshape(-1, 3)

    def _fading(self, mesh: Mesh, layer: Values, look: Look, given: StepInputs) -> Mesh:
        """The layers with what is left of their opacity and light."""
        at = given.at
        opaque, bright = (1 - at(self.thinner)) ** layer, (1 - at(self.fainter)) ** layer
        changed: dict[str, Floats] = {}
        if at(self.thinner) > 0:
            own = np.full(len(layer), at(look.opacity)) if mesh.opacity is None else mesh.opacity
            changed["opacity"] = (own * opaque).astype(np.float32)
        if at(self.fainter) > 0 and (mesh.emission is not None or at(look.emission) > 0):
            light = np.array(linear_from_hex(look.emission_colour)) * at(look.emission)
            own = np.broadcast_to(light, (len(layer), 3)) if mesh.emission is None else mesh.emission
            changed["emission"] = (own * bright[:, None]).astype(np.float32)
        return replace(mesh, **changed)


def _layered(mesh: Mesh, count: int) -> Mesh:
    """A mesh so many times, one after the other, each with numbers of its own."""
    size = len(mesh.points)
    source = np.tile(np.arange(size), count)
    number = derived_number(mesh.number[source], -(np.repeat(np.arange(count), size) + 1))
    descent = (*mesh.descent, Mixture(source[:, None], np.ones((len(source), 1))))
    faces = (mesh.faces[None] + (np.arange(count) * size)[:, None, None]).reshape(-1, 3).astype(np.int32)
    made = replace(mesh.taken(source), number=number, descent=descent, piece=None)
    return replace(made, faces=faces, origin=np.tile(mesh.origins(), count))
