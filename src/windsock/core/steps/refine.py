"""Refine: splits faces into finer ones, flat or smoothed, everywhere or where a field is."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal, Self

from pydantic import Field

from windsock.core.declarations import Quantity
from windsock.core.fields.zones import Zone
from windsock.core.geometry.catmull_clark import squared
from windsock.core.geometry.mesh import FACE_LIMIT
from windsock.core.geometry.subdivision import refined
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.refusals import TooMuch
from windsock.core.shapes.fineness import Fineness, Way
from windsock.core.steps.given import StepInputs
from windsock.core.steps.step import Leaves, WeightedStep

MOST_TIMES = 5
"""So often split, a shape has a thousand times as many faces."""


class Refine(WeightedStep):
    """Split every face in four, so many times; driven, only faces with the zone's weight at a corner.

    flat: the shape stays as it is, its faces are finer. smooth: points go to the surface that Loop's subdivision leads to,
    as far as the weight says. squares: to that of Catmull and Clark; all faces are split. Copies stay as they are.
    """

    says = "Splits faces where it matters"
    wish = "Make it finer"

    undriven = (
        "No field drives this, so every face is split. "
        "Choose a field in place of “everywhere” to split where it matters."
    )

    kind: Literal["refine"] = "refine"
    zone: Zone = "band"
    times: Annotated[int, Quantity("How often faces are split", low=1, high=MOST_TIMES, drag=0.02, whole=True)] = 1
    way: Annotated[Way, Field(description="Whether the shape is smoothed as it is split")] = "flat"

    @property
    def leaves(self) -> Leaves:
        return "points" if self.field is None and self.way == "flat" else "nothing"

    @property
    def follows_faces(self) -> bool:
        return False

    @property
    def halvings(self) -> int:
        return self.times

    @classmethod
    def halving(cls, rank: float, field: str | None, zone: Zone, times: int) -> Self | None:
        return cls(rank=rank, field=field, zone=zone, times=times) if times <= MOST_TIMES else None

    def faces_after(self, faces: int, driven: bool) -> int:
        """Driven, it depends on the field: the step itself refuses what would be too many."""
        if self.way == "squares":
            return Fineness(times=self.times, way=self.way).faces(faces)
        return min(faces * 4**self.times, 2 * faces + 100_000) if driven else faces * 4**self.times

    def too_many(self, name: str, before: int, after: int, limit: int) -> str:
        fits = max(n for n in range(6) if before * 4**n <= max(limit, before))
        return (
            f"Refine would split {name} into {after:,} faces; the limit is {limit:,}. Nothing was changed. Splitting {fits} "
            "times would fit, or a field that drives it."
        )

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part with finer faces. Points that are made carry their parents; u,v, rest place and look lie between. Raises
        TooMuch for more faces than a shape may have."""
        mesh = part.mesh
        if not isinstance(part, MeshPart):
            return part
        weight = self.weight(len(mesh.points), given)
        if self.way == "squares":
            if Fineness(times=self.times, way=self.way).faces(len(mesh.faces)) > FACE_LIMIT:
                raise TooMuch(
                    f"Splitting faces {self.times} times would make more than {FACE_LIMIT:,} of them. Nothing was changed. "
                    "Split fewer times."
                )
            return replace(part, mesh=squared(mesh, weight, self.times)[0])
        for time in range(self.times):
            splitting = int((weight > 0)[mesh.faces].any(axis=1).sum())
            if len(mesh.faces) + 3 * splitting > FACE_LIMIT:
                raise TooMuch(
                    f"Splitting faces for the {time + 1}. time would make more than {FACE_LIMIT:,} of them. Nothing was "
                    f"changed. Split {time} times, or let a narrower field drive it."
                )
            mesh, weight = refined(mesh, weight, self.way == "smooth")
        return replace(part, mesh=mesh)
