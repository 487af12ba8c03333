"""Slice: a solid is cut by a slab, by another shape, or where a field is inside; with a cap.

Closed meshes are cut as solids (kernels/solids.py), so that the cut is exact; others are made anew from their volume first
(geometry/slicing.py).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, ClassVar, Literal

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import ItemId, PartId, Quantity, about
from windsock.core.fields.elements import Elements, Values
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.mesh import LOOKS, Floats, Mesh
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.slicing import (
    Apart,
    Closed,
    Sliced,
    closed,
    closes,
    slab_about,
    sliced,
    solid_about,
    solid_where,
)
from windsock.core.geometry.stance import stance_of
from windsock.core.geometry.volume import volume_in_words
from windsock.core.kernels.nearest import nearest_points
from windsock.core.look import Look
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.steps.deforming import BESIDE, rigid_frame
from windsock.core.steps.drive import Drive
from windsock.core.steps.given import StepInputs
from windsock.core.steps.step import Region, StepBase
from windsock.core.timing.parameter import Moment, NumberParameter

CAP = Look(base_colour="#C96F3B", roughness=0.6)


class Slice(StepBase):
    """Cut the shape as a solid and take away what is within a slab, within another shape or where the driving field is inside; or keep
    only that.

    The cap, and as much of the surface beside the cut as is said, are a part of their own; or the cap stays with the shape, which is then
    still closed, so that other steps find a solid, and shows in its colours. The slab lies between two places along an axis
    of a controller, or of the shape itself. A shape that does not close is made anew from its volume, in voxels of a size; so is the
    solid where a field is inside, whose surface is exact on the edges of the voxels.
    """

    says = "Cut as a solid, with a cap"
    wish = "Take it away"

    begins: ClassVar[Mapping[str, JsonValue]] = {"look": CAP.model_dump(mode="json")}

    kind: Literal["slice"] = "slice"
    by: Annotated[Literal["slab", "shape", "field"], Field(description="What cuts it")] = "slab"
    zone: Annotated[Literal["inside", "outside"], Field(description="What of it goes")] = "inside"
    controller: Annotated[ItemId | None, Field(description="In whose axes the slab lies; None: the shape's own")] = None
    axis: Annotated[Literal["x", "y", "z"], Field(description="Along which axis")] = "x"
    start: Annotated[NumberParameter, Quantity("Where along the axis it begins", unit="m", low=-1e4, high=1e4)] = -0.1
    end: Annotated[NumberParameter, Quantity("Where along the axis it ends", unit="m", low=-1e4, high=1e4)] = 0.1
    cutter: Annotated[ItemId | None, Field(description="The shape that cuts it")] = None
    beside: Annotated[
        NumberParameter, Quantity("How much of the surface beside the cut is with the cap", unit="m", low=0, high=1e4)
    ] = 0.0
    voxel: Annotated[float, Quantity("Size of a voxel", unit="m", low=1e-5, high=1e4, drag=0.0005)] = 0.03
    makes: Annotated[PartId | None, Field(description="The part that the cap is; None: it stays with the shape")] = (
        "cap"
    )
    look: Annotated[Look | None, Field(description="Its look; None: that of the part")] = CAP

    def made(self) -> str | None:
        return self.makes

    def items(self) -> tuple[str, ...]:
        return () if self.controller is None or self.by != "slab" else (self.controller,)

    def shapes(self) -> tuple[str, ...]:
        return () if self.cutter is None or self.by != "shape" else (self.cutter,)

    @classmethod
    def referring(cls, shapes: list[str], paths: list[str]) -> dict[str, JsonValue]:
        return {"cutter": shapes[0]} if shapes else {}

    @property
    def follows_faces(self) -> bool:
        return False

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"start": -about(size, 0.1), "end": about(size, 0.1), "voxel": about(size, 0.02)}

    def region(self, at: Moment) -> Region | None:
        return Region(self.controller, self.axis, at(self.start), at(self.end)) if self.by == "slab" else None

    def weighed(self, mesh: Mesh, matrix: Matrix) -> str:
        if len(mesh.faces) == 0:
            return ""
        stretch = stance_of(matrix)
        if not closes(mesh):
            size = volume_in_words(stretch.level(mesh.points), self.voxel)
            return f"it does not close and is made anew from its volume, {size}; a single sheet has no inside and stays whole"
        return volume_in_words(stretch.level(mesh.points), self.voxel) if self.by == "field" else ""

    def remains(self, part: Part, given: StepInputs) -> Part:
        """What is left of the surface."""
        if not isinstance(part, MeshPart):
            return part
        cut = self._made(part, given)
        return (
            part
            if cut is None or cut.kept is part.mesh
            else MeshPart(_whole(cut.kept), part.look, part.backs, part.alpha)
        )

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The cap, with the surface beside it, or all that is left with the cap. Of copies there is no cap."""
        if self.makes is None:
            return self._with_cap(part, given)
        look = part.look if self.look is None else self.look
        backs = part.backs if self.look is None else "hidden"
        cut = self._made(part, given) if isinstance(part, MeshPart) else None
        cap = part.mesh.emptied() if cut is None else cut.cap
        if self.look is not None:
            cap = replace(cap, pictures=None, **dict.fromkeys(LOOKS))
        return MeshPart(_whole(cap), look, backs, part.alpha)

    def _with_cap(self, part: Part, given: StepInputs) -> Part:
        """What is left, closed by the cap."""
        cut = self._made(part, given) if isinstance(part, MeshPart) else None
        if cut is None or cut.whole is part.mesh:
            return part
        mesh = cut.whole
        if self.look is not None and cut.capped.any():
            mesh = _coloured(mesh, cut.capped, part.look, self.look, given)
        return MeshPart(_whole(mesh), part.look, part.backs, part.alpha)

    def _made(self, part: MeshPart, given: StepInputs) -> Sliced | None:
        """What is left and what is cut, None where nothing can cut it."""
        if len(part.mesh.faces) == 0 or (self.by == "shape" and self.cutter is None):
            return None
        if self.by == "field" and given.drive is None:
            return None
        made, _ = given.once("cut", Slice._cut)
        return made

    def _cut(self, part: Part, given: StepInputs) -> Sliced:
        whole, _ = given.once("solid", Slice._closed)
        mesh, stretch = whole.mesh, given.stretch
        within = self.zone == "outside"
        if whole.solid is None:
            return Sliced.without_cap(part.mesh)
        cutter, apart = self._cutter(mesh, given)
        if cutter is None:
            return Sliced.without_cap(part.mesh.emptied() if within else part.mesh)
        return sliced(whole, stretch, cutter, within, 0.0 if self.makes is None else given.at(self.beside), apart)

    def _closed(self, part: Part, given: StepInputs) -> Closed:
        return closed(part.mesh, given.stretch, self.voxel)

    def _framed(self, given: StepInputs) -> tuple[Matrix, float]:
        """(4, 4) from the level space to the slab's frame, Y across it, and how much longer than a metre its axis is."""
        if self.controller is None:
            return rigid_frame(given.stretch.own_to_world(), self.axis, BESIDE[self.axis])
        frame, long = rigid_frame(given.placement(self.controller), self.axis, BESIDE[self.axis])
        return frame @ given.stance.level_to_world(), long

    def _cutter(self, mesh: Mesh, given: StepInputs) -> tuple[Manifold | None, Apart | None]:
        """What cuts, in the level space, None where it is nowhere; and how far places are from the cut, None where the cap tells."""
        level = given.stretch.level(mesh.points)
        if self.by == "slab":
            frame, long = self._framed(given)
            start, end = sorted((given.at(self.start) * long, given.at(self.end) * long))
            if end - start < 1e-9:
                return None, None

            def to_slab(places: Values) -> Values:
                along = places @ frame[1, :3] + frame[1, 3]
                return np.minimum(np.abs(along - start), np.abs(along - end))

            return slab_about(level, frame, start, end), to_slab
        if self.by == "shape":
            assert self.cutter is not None
            surface = given.shape(self.cutter).surface
            to_level = np.asarray(np.linalg.inv(given.stance.level_to_world()), dtype=np.float64)
            points = moved(surface.points, to_level)
            return solid_about(points, surface.faces, _by_place(points), self.voxel), None
        drive = given.drive
        assert drive is not None
        amount = given.at(self.amount)

        def excess(places: Values) -> Values:
            elements = _elements(given.stretch.own(places), mesh, drive, given)
            return drive.lowered_at(elements) * amount - drive.level

        return solid_where(level, self.voxel, excess), None


def _coloured(mesh: Mesh, capped: NDArray[np.bool_], look: Look, cap: Look, given: StepInputs) -> Mesh:
    """A mesh some of whose points, (n,), show a look of their own."""
    at, count = given.at, len(capped)
    emitted = [np.array(linear_from_hex(one.emission_colour)) * at(one.emission) for one in (look, cap)]
    shows = {
        "colour": (np.full(3, np.nan), np.array(linear_from_hex(cap.base_colour))),
        "pictured": (np.ones(()), np.zeros(())),
        "emission": (emitted[0], emitted[1]),
        "roughness": (np.array(at(look.roughness)), np.array(at(cap.roughness))),
        "metallic": (np.array(at(look.metallic)), np.array(at(cap.metallic))),
        "transmission": (np.array(at(look.transmission)), np.array(at(cap.transmission))),
        "opacity": (np.array(at(look.opacity)), np.array(at(cap.opacity))),
    }
    made: dict[str, Floats] = {}
    for name, (own, of_cap) in shows.items():
        held = getattr(mesh, name)
        if held is None and (np.array_equal(own, of_cap) or (name == "pictured" and mesh.pictures is None)):
            continue
        held = np.broadcast_to(own, (count, *own.shape)) if held is None else held
        which = capped.reshape((count,) + (1,) * (held.ndim - 1))
        made[name] = np.where(which, of_cap, held).astype(np.float32)
    return replace(mesh, **made)


def _whole(mesh: Mesh) -> Mesh:
    return mesh if mesh.piece is None else replace(mesh, piece=None)


def _elements(places: Values, mesh: Mesh, drive: Drive, given: StepInputs) -> Elements:
    """Places in and about a mesh, (k, 3) in its space, as elements that take their values from its nearest points."""
    near = nearest_points(places, mesh.points)
    resting = mesh.rest[near] + (places - mesh.points[near])

    def carry(values: Values) -> Values:
        return drive.elements.carry(values)[near]

    def facing() -> Values:
        return turned_normals(mesh.normals[near].astype(np.float64), given.matrix)

    return Elements(moved(places, given.matrix), resting, drive.elements.subject, carry, facing)


def _by_place(points: Values) -> NDArray[np.int64]:
    """(n,) a number for each of (n, 3) points, the same for those at one place."""
    _, number = np.unique(np.round(points, 7), axis=0, return_inverse=True)
    return number.astype(np.int64).ravel()
