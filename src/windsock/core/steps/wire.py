"""Wire: turns edges into tubes.

Every edge of the part becomes a prism of a few sides about it. A point of a tube lies beside the end of its edge and takes
everything from it: u,v, rest place (moved alike, so that noise is not the same all round) and what came before.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import PartId, Quantity
from windsock.core.fields.zones import Zone
from windsock.core.geometry.mesh import Descent, Floats, Mesh, derived_number, median_edge, places_of
from windsock.core.kernels.distinct import distinct_pairs
from windsock.core.look import Look
from windsock.core.parts.copies import Model
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.parts.part import Part
from windsock.core.steps.given import StepInputs
from windsock.core.steps.step import WeightedStep
from windsock.core.timing.parameter import NumberParameter

Values = NDArray[np.float64]


class Wire(WeightedStep):
    """Turn the edges into tubes of a width. The field's weight is how wide they are: where it is 0 there are none.

    `edges`: all; without the diagonals of four-sided cells; or only sharp ones and borders.
    """

    says = "Turns edges into tubes"
    wish = "Make more on it"

    begins: ClassVar[Mapping[str, JsonValue]] = {
        "look": Look(base_colour="#F3C27A", roughness=0.5, emission_colour="#FFB070", emission=2.0).model_dump(
            mode="json"
        )
    }

    kind: Literal["wire"] = "wire"
    zone: Zone = "value"
    width: Annotated[NumberParameter, Quantity("Width of the wires", unit="m", low=0.0001, high=10, drag=0.0005)] = 0.01
    sides: Annotated[int, Quantity("Sides of a wire", low=3, high=12, drag=0.05, whole=True)] = 4
    edges: Literal["all", "squares", "sharp"] = "squares"
    makes: Annotated[
        PartId | None, Field(description="The part that the wires are; None: they take the place of what they are of")
    ] = None
    look: Annotated[Look | None, Field(description="The look of the wires; None: that of what they are of")] = None

    def made(self) -> str | None:
        return self.makes

    def faces_after(self, faces: int, driven: bool) -> int:
        """Three edges to two faces, two without diagonals."""
        del driven
        return int(faces * (1.0 if self.edges == "squares" else 1.5) * (4 * self.sides - 4))

    def too_many(self, name: str, before: int, after: int, limit: int) -> str:
        return (
            f"The wires of {name} would have about {after:,} faces; the limit is {limit:,}. Nothing was changed. About "
            f"{int(before * limit / after):,} faces to lay them on would fit."
        )

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part as tubes about its edges, their widths in world metres. Of copies, those about the edges of their models;
        each has them as wide as is said whatever its own size, to a tenth, but no wider than half its edges are long."""
        mesh = part.mesh
        weight = self.weight(len(mesh.points), given)
        if isinstance(part, CopiesPart):
            return self._about_copies(part, weight, given)
        ends = edges_of(mesh, self.edges)
        ends = ends[(weight[ends] > 0).any(axis=1)]
        radius = 0.5 * given.at(self.width) * weight
        look = part.look if self.look is None else self.look
        return replace(
            part, mesh=_tubes(mesh, ends, radius, self.sides, given.stretch.stretch), look=look, backs="hidden"
        )

    def _about_copies(self, part: CopiesPart, weight: Values, given: StepInputs) -> CopiesPart:
        """Copies of wires, those that need about as thick ones of one model."""
        there = (weight > 0) & (part.copies.size.mean(axis=1) > 0)
        left = part.only(there)
        copies = left.copies
        radius = 0.5 * given.at(self.width) * weight[there] / copies.size.mean(axis=1)
        widest = np.array([_widest(model.mesh) for model in copies.models] or [1.0])
        fitting: Values = np.minimum(radius, widest[copies.kind])
        step: Values = np.rint(np.log(fitting) / np.log(ALIKE))
        needed, kind = np.unique(np.column_stack([copies.kind, step]), axis=0, return_inverse=True)
        thin = [self._wired(model) for model in copies.models]
        models = tuple(thin[int(one)].as_wide(ALIKE**power) for one, power in needed)
        return replace(left, copies=replace(copies, kind=kind.ravel().astype(np.int32), models=models))

    def _wired(self, model: Model) -> _Wires:
        ends = edges_of(model.mesh, self.edges)
        tubes = _tubes(model.mesh, ends, np.ones(len(model.mesh.points)), self.sides, np.eye(3))
        along = model.mesh.points[_sources(ends, self.sides)]
        return _Wires(tubes, tubes.points - along, model.look if self.look is None else self.look)


@dataclass(frozen=True, eq=False)
class _Wires:
    """Tubes of a radius of one metre about the edges of a model, and (n, 3) how far their points are off those."""

    tubes: Mesh
    off: Floats
    look: Look

    def as_wide(self, radius: float) -> Model:
        less = self.off * np.float32(1 - radius)
        mesh = replace(self.tubes, points=self.tubes.points - less, rest=self.tubes.rest - less)
        return Model(mesh, self.look, "hidden")


ALIKE = 1.2
"""Widths of wires of copies that differ by less than half of this factor are one width."""


def _widest(mesh: Mesh) -> float:
    """The radius of the widest wires that the edges of a mesh have room for."""
    return max(median_edge(mesh.points, mesh.faces) / 4, 1e-9)


def edges_of(mesh: Mesh, which: Literal["all", "squares", "sharp"]) -> NDArray[np.int64]:
    """(k, 2) points at the ends of the edges, each edge once by place.

    squares: without the diagonals that part four-sided cells, which are those whose two faces lie flat together and that
    are the longest side of both. sharp: those with one face, or whose faces meet at more than 30 degrees.
    """
    place, below = places_of(mesh.number)
    sides = mesh.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64)
    first, edge, count = distinct_pairs(place[sides[:, 0]], place[sides[:, 1]], below)
    ends = sides[first]
    if which == "all":
        return ends
    corners = mesh.points[mesh.faces].astype(np.float64)
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-300)
    length = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2)
    longest = (length >= length.max(axis=1, keepdims=True) * (1 - 1e-6)).ravel()
    total = np.zeros((len(ends), 3))
    for axis in range(3):
        total[:, axis] = np.bincount(edge, np.repeat(normal[:, axis], 3), len(ends))
    cosine = (np.einsum("ij,ij->i", total, total) - 2) / 2
    if which == "sharp":
        return ends[(count != 2) | (cosine < np.cos(np.radians(30)))]
    diagonal = (count == 2) & (cosine > 0.9) & (np.bincount(edge, longest, len(ends)) == 2)
    return ends[~diagonal]


def _tubes(mesh: Mesh, ends: NDArray[np.int64], radius: Values, sides: int, stretch: Values) -> Mesh:
    """Tubes about edges. ends: (k, 2); radius: (n,) in metres of the space that a (3, 3) stretch leads to."""
    start, end = (mesh.points[ends[:, one]].astype(np.float64) for one in (0, 1))
    along = (end - start) @ stretch.T
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-300)
    helper = np.where(np.abs(along[:, :1]) < 0.9, [[1.0, 0, 0]], [[0, 1.0, 0]])
    one = np.cross(along, helper)
    one /= np.maximum(np.linalg.norm(one, axis=1, keepdims=True), 1e-300)
    other = np.cross(along, one)
    angle = np.arange(sides) * 2 * np.pi / sides
    outward = np.cos(angle)[None, :, None] * one[:, None] + np.sin(angle)[None, :, None] * other[:, None]
    source = _sources(ends, sides)
    direction = np.concatenate([outward, outward], axis=1).reshape(-1, 3)
    shift = (direction * radius[source][:, None]) @ np.linalg.inv(stretch).T
    corner = np.tile(np.arange(2 * sides), len(ends))
    attributes = mesh.taken(source)
    across = mesh.number[np.repeat(ends[:, ::-1], sides, axis=1).reshape(-1)]
    number = derived_number(derived_number(mesh.number[source], across), corner)
    none = np.zeros(len(source))
    descent = (
        *mesh.descent,
        Descent(source, source, none, np.arange(len(mesh.points) + len(source)) >= len(mesh.points)),
    )
    return replace(
        attributes,
        points=(mesh.points[source] + shift).astype(np.float32),
        rest=(mesh.rest[source] + shift).astype(np.float32),
        normals=_normals(direction, stretch),
        faces=(faces := _tube_faces(len(ends), sides)),
        origin=np.full(len(faces), -1, dtype=np.int32),
        number=number,
        descent=descent,
    )


def _sources(ends: NDArray[np.int64], sides: int) -> NDArray[np.int64]:
    """(n,) the end of its edge that each point of the tubes lies beside."""
    return np.repeat(ends, sides, axis=1).reshape(-1)


def _normals(direction: Values, stretch: Values) -> Floats:
    normals = direction @ stretch
    return (normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-300)).astype(np.float32)


def _tube_faces(count: int, sides: int) -> NDArray[np.int32]:
    """Two faces for each side of a tube, and its two ends closed."""
    one = np.arange(sides)
    two = (one + 1) % sides
    around = np.concatenate([np.stack([one, two, two + sides], 1), np.stack([one, two + sides, one + sides], 1)])
    fan = np.arange(1, sides - 1)
    low = np.stack([0 * fan, fan + 1, fan], axis=1)
    high = np.stack([0 * fan, fan, fan + 1], axis=1) + sides
    faces = np.concatenate([around, low, high])
    return (faces[None] + (np.arange(count) * 2 * sides)[:, None, None]).reshape(-1, 3).astype(np.int32)
