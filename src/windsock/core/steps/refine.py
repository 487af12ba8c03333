"""Refine: splits faces into finer ones, flat or smoothed, everywhere or where a field is."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from windsock.core.declarations import Quantity
from windsock.core.fields.zones import Zone
from windsock.core.geometry.catmull_clark import squared
from windsock.core.geometry.mesh import FACE_LIMIT
from windsock.core.geometry.subdivision import refined
from windsock.core.refusals import TooMuch
from windsock.core.shapes.fineness import Fineness, Way
from windsock.core.steps.part import Drive, Part
from windsock.core.steps.step import Here, WeightedStep


class Refine(WeightedStep):
    """Split every face in four, so many times; driven, only faces with the zone's weight at a corner.

    flat: the shape stays as it is, its faces are finer. smooth: points go to the surface that Loop's subdivision leads to,
    as far as the weight says. squares: to that of Catmull and Clark; all faces are split. Copies stay as they are.
    """

    kind: Literal["refine"] = "refine"
    zone: Zone = "band"
    times: Annotated[int, Quantity("How often faces are split", low=1, high=5, drag=0.02, whole=True)] = 1
    way: Annotated[Way, Field(description="Whether the shape is smoothed as it is split")] = "flat"

    def apply(self, part: Part, drive: Drive | None, here: Here) -> Part:
        """The part with finer faces. Points that are made carry their parents; u,v, rest place and look lie between."""
        mesh = part.mesh
        if part.copies is not None:
            return part
        weight = self.weight(len(mesh.points), drive, here.at)
        if self.way == "squares":
            if Fineness(times=self.times, way=self.way).faces(len(mesh.faces)) > FACE_LIMIT:
                raise TooMuch(
                    f"Splitting faces {self.times} times would make more than {FACE_LIMIT:,} of them. Nothing was changed. "
                    "Split fewer times."
                )
            return replace(part, mesh=squared(mesh, weight, self.times)[0])
        for time in range(self.times):
            whole = int((weight > 0)[mesh.faces].any(axis=1).sum())
            if len(mesh.faces) + 3 * whole > FACE_LIMIT:
                raise TooMuch(
                    f"Splitting faces for the {time + 1}. time would make more than {FACE_LIMIT:,} of them. Nothing was "
                    f"changed. Split {time} times, or let a narrower field drive it."
                )
            mesh, weight = refined(mesh, weight, self.way == "smooth")
        return replace(part, mesh=mesh)
