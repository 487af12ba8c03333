"""Fracture: parts the subject into pieces.

Cells are those of G. Voronoi (1908): the places nearer to one site than to any other. A closed mesh is cut as a solid
(kernels/solids.py); an open one as a shell, along the same planes (kernels/clipping.py).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import ItemId, Quantity, about
from windsock.core.fields.about import elements_about
from windsock.core.fields.elements import Values
from windsock.core.geometry.breaking import (
    Pattern,
    Triangles,
    broken,
    islands,
    of_faces,
    of_shards,
    of_sheets,
    pattern,
    thickened,
)
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.mesh import Floats, Mesh, are_triangles, smooth_normals
from windsock.core.geometry.placement import moved
from windsock.core.geometry.rounding import with_rounding
from windsock.core.geometry.sites import Accept, blocks, sites_along, sites_on, sites_within, slabs
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.stance import Stance
from windsock.core.kernels.cells import cell_corners
from windsock.core.kernels.clipping import parted
from windsock.core.kernels.solids import shards, solid_of
from windsock.core.look import Look
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.parts.pieces_part import PiecesPart
from windsock.core.refusals import TooMuch
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.steps.step import Leaves, SolvedStep, WeightedStep
from windsock.core.timing.parameter import NumberParameter, Vector

At = Callable[[NumberParameter], float]
PIECE_LIMIT = 4_000
"""Cells of a step: a solid cut takes about a hundredth of a second for each."""

SECONDS_A_CELL = 5e-3
"""Measured on two cores, on a mesh of 50,000 faces."""

FACE_PIECES = 300_000
PIECE_BYTES = 900
"""For each face that is broken: what is made of it on the way."""
SPARSEST = 0.02
"""The density of sites where the field that makes them denser is 0, against where it is 1."""
AXES = {"x": 0, "y": 1, "z": 2}
INSIDE_LOOK = Look(base_colour="#8A7F70", roughness=0.85)


class Fracture(WeightedStep, SolvedStep):
    """Part the mesh into pieces: its faces, its islands, cells about sites, slabs along an axis, or blocks.

    Pieces stay where they are until a later step moves them. Sites lie in the shape by chance, on its surface, or along a
    path; a field that drives the step makes them denser where its weight is, as it is at the first frame. `gap` is left
    out between two cells. The edges of pieces that close are rounded over `rounding`, once they or those they touch have
    moved. Pieces of an open mesh are sheets; `thickness` gives them a back. Pieces are found on the shape
    at rest, so that they stay the same ones while it moves. Copies stay as they are.
    """

    says = "Breaks the shape into pieces"
    wish = "Break it"

    kind: Literal["fracture"] = "fracture"
    solution: ClassVar[type[Solution]] = Pattern
    zone: Literal["value", "inside", "band", "outside"] = "value"
    into: Literal["faces", "islands", "cells", "slabs", "blocks"] = "cells"
    sites: Annotated[Literal["inside", "surface", "path"], Field(description="Where cells have their sites")] = "inside"
    path: Annotated[ItemId | None, Field(description="The path that sites lie along")] = None
    spread: Annotated[float, Quantity("How far sites lie off the path", unit="m", low=0, high=1e4)] = 0.2
    count: Annotated[int, Quantity("How many cells or slabs", low=1, high=PIECE_LIMIT, drag=0.25, whole=True)] = 60
    axis: Literal["x", "y", "z"] = "y"
    uneven: Annotated[float, Quantity("How uneven the slabs are", low=0, high=1, drag=0.005)] = 0.5
    block: Annotated[Vector, Quantity("Size of a block", unit="m", low=0.001, high=1e4)] = (0.25, 0.25, 0.25)
    gap: Annotated[float, Quantity("Left out between two pieces", unit="m", low=0, high=1e3, drag=0.001)] = 0.0
    rounding: Annotated[float, Quantity("Width of the rounded edges", unit="m", low=0, high=1e3, drag=0.001)] = 0.0
    thickness: Annotated[float, Quantity("How thick the pieces of a sheet are", unit="m", low=0, high=1e3)] = 0.0
    inside: Annotated[Look, Field(description="The look of the faces inside")] = INSIDE_LOOK
    seed: Annotated[int, Quantity("Which of the chances", low=0, high=999_999, drag=0.1, whole=True)] = 1

    @property
    def makes_bodies(self) -> bool:
        return True

    def held(self, faces: int) -> tuple[int, float]:
        return faces * PIECE_BYTES, 0.0

    def solving(self, mesh: Mesh, lasts: float) -> float:
        del lasts
        if self.into in ("faces", "islands"):
            return 0.0
        size = np.ptp(mesh.points, axis=0) if len(mesh.points) else np.zeros(3)
        cells = float(np.maximum(size / np.array(self.block), 1).prod()) if self.into == "blocks" else self.count
        return SECONDS_A_CELL * min(cells, PIECE_LIMIT)

    def items(self) -> tuple[str, ...]:
        return (self.path,) if self.into == "cells" and self.sites == "path" and self.path else ()

    def paths(self) -> tuple[str, ...]:
        return self.items()

    @property
    def leaves(self) -> Leaves:
        return "points"

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"block": [about(size, 0.2), about(size, 0.2), about(size, 0.2)]}

    @property
    def follows_faces(self) -> bool:
        return False

    def solve(self, given: SolveInputs) -> Pattern:
        """The pattern of the pieces, which depends on the shape at rest and not on how it is moved."""
        mesh, stance = given.mesh(), given.stance_at_start()

        def accept(places: Values) -> Values:
            weight = given.weigh_at_start(lambda matrix, subject: elements_about(stance.own(places), matrix, subject))
            return np.maximum(weight, SPARSEST)

        level, faces = stance.level(mesh.rest), mesh.faces
        if self.into in ("faces", "islands") or len(faces) == 0:
            triangles, solid = self._faces(mesh), False
        else:
            line = self._line(given, stance)
            dense = self.into == "cells" and line is None and given.is_driven()
            triangles, solid = self._cells(mesh, level, line, accept if dense else None, given.check)
        if not solid and self.thickness > 0 and len(faces):
            normals = smooth_normals(level.astype(np.float32), faces, mesh.number).astype(np.float64)
            triangles = thickened(triangles, level, normals, faces, self.thickness)
        return pattern(_own(triangles, stance), mesh.rest.astype(np.float64), faces, solid)

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part in pieces."""
        if not isinstance(part, MeshPart):
            return part
        found = cast(Pattern, given.solution)
        mesh, pieces = broken(part.mesh, found)
        mesh = _looking(mesh, np.isfinite(found.facing[:, 0]), part.look, self.inside, given.at)
        largest = float(np.linalg.svd(given.stretch.stretch, compute_uv=False)[0])
        solid, rounded = bool(found.solid), None
        if self.rounding > 0 and (solid or self.thickness > 0):
            mesh, rounded = with_rounding(mesh, self.rounding / largest)
        pieces = replace(
            pieces,
            radius=(pieces.radius * largest).astype(np.float32),
            touching=None if self.gap > 0 and self.into not in ("faces", "islands") else pieces.touching,
        )
        backs = "hidden" if solid or self.thickness > 0 else part.backs
        return PiecesPart(mesh, part.look, backs, part.alpha, pieces=pieces, solid=solid, rounded=rounded)

    def _line(self, given: SolveInputs, stance: Stance) -> Values | None:
        """(p, 3) places of the path in the level space, as it lies at the shot's first frame."""
        if self.path is None or not self.items():
            return None
        places = moved(given.course_at_start(self.path).places, given.placement_at_start(self.path))
        return (places - stance.place) @ stance.turn

    def _faces(self, mesh: Mesh) -> Triangles:
        """Its faces, or its islands, as pieces."""
        faces = mesh.faces
        if len(faces) > FACE_PIECES and self.into == "faces":
            raise TooMuch(
                f"The shape has {len(faces):,} faces; up to {FACE_PIECES:,} can be pieces of their own. Nothing was "
                "changed. Take cells, or a coarser shape."
            )
        own = np.arange(len(faces)) if self.into == "faces" else islands(faces, mesh.number)
        return of_faces(own, faces, mesh.number)

    def _cells(
        self, mesh: Mesh, level: Values, line: Values | None, accept: Accept | None, check: Callable[[float], None]
    ) -> tuple[Triangles, bool]:
        """The pieces within cells, in the level space, and whether they are solid."""
        _, first, place = np.unique(mesh.number, return_index=True, return_inverse=True)
        points, faces = level[first], place[mesh.faces].astype(np.int32)
        proper = are_triangles(faces)
        sites = self._sites(points, faces, line, accept)
        body = solid_of(points, faces[proper])
        if body is None:
            return of_sheets(*parted(level, mesh.faces, sites, self.gap), level, mesh.faces), False
        pad = 0.01 * max(float(np.ptp(points, axis=0).max()), 1e-9)
        cells = cell_corners(sites, points.min(axis=0) - pad, points.max(axis=0) + pad, self.gap)
        return of_shards(shards(body, cells, np.flatnonzero(proper), check), level, mesh.faces), True

    def _sites(self, points: Values, faces: NDArray[np.int32], line: Values | None, accept: Accept | None) -> Values:
        low, high = points.min(axis=0), points.max(axis=0)
        if self.into == "slabs":
            return slabs(low, high, AXES[self.axis], self.count, self.uneven, self.seed)
        if self.into == "blocks":
            counts = np.maximum((high - low) / np.array(self.block), 1)
            if counts.prod() > PIECE_LIMIT:
                raise TooMuch(
                    f"Blocks of this size would be {counts.prod():,.0f}; the limit is {PIECE_LIMIT:,}. Nothing was changed. "
                    "Take larger ones."
                )
            return blocks(low, high, np.array(self.block))
        if line is not None:
            return sites_along(line, self.count, self.seed, self.spread)
        if self.sites == "inside":
            found = sites_within(points, faces, self.count, self.seed, accept)
            if len(found) == self.count:
                return found
        found = sites_on(points, faces, self.count, self.seed, accept)
        return found if len(found) else ((low + high) / 2)[None]


def _own(triangles: Triangles, stance: Stance) -> Triangles:
    """What lies inside taken from the level space to the subject's own."""
    places = stance.own(triangles.places.reshape(-1, 3)).reshape(-1, 3, 3)
    facing = triangles.facing @ stance.stretch
    facing /= np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-300)
    return replace(triangles, places=places, facing=facing)


def _number(look: Look, name: str, at: At) -> float:
    parameter: NumberParameter = getattr(look, name)
    return at(parameter)


def _looking(mesh: Mesh, inner: NDArray[np.bool_], look: Look, inside: Look, at: At) -> Mesh:
    """The mesh with the points inside looking as `inside` says; those of the surface keep their own."""
    if not inner.any():
        return mesh
    count = len(mesh.points)
    colour = np.full((count, 3), np.nan, dtype=np.float32) if mesh.colour is None else mesh.colour.copy()
    colour[inner] = linear_from_hex(inside.base_colour)
    changed = replace(mesh, colour=colour)
    for name in ("roughness", "metallic", "transmission"):
        own, other = _number(look, name, at), _number(inside, name, at)
        values: Floats | None = getattr(mesh, name)
        if values is None and own == other:
            continue
        values = np.full(count, own, dtype=np.float32) if values is None else values.copy()
        values[inner] = other
        changed = replace(changed, **{name: values})
    glow, own_glow = at(inside.emission), at(look.emission)
    if glow > 0 or own_glow > 0 or mesh.emission is not None:
        own_light = np.array(linear_from_hex(look.emission_colour)) * own_glow
        light = np.tile(own_light, (count, 1)).astype(np.float32) if mesh.emission is None else mesh.emission.copy()
        light[inner] = np.array(linear_from_hex(inside.emission_colour)) * glow
        changed = replace(changed, emission=light)
    return changed
