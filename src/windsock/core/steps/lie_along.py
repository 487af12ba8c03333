"""Lie along: the shape is bent along a path, from one place of it to another."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.declarations import ItemId, Quantity
from windsock.core.fields.across import AXES
from windsock.core.fields.elements import Values
from windsock.core.geometry.course import Course, frames, unit_rows
from windsock.core.geometry.mesh import Floats
from windsock.core.geometry.placement import Matrix, moved
from windsock.core.parts.part import Part
from windsock.core.steps.deforming import BESIDE, Axis, PointStep, placed, placed_whole
from windsock.core.steps.given import StepInputs
from windsock.core.timing.curve import Curve
from windsock.core.timing.parameter import NumberParameter


class LieAlong(PointStep):
    """Lay an axis of the shape on a path, wherever the shape itself stands: its low end at one place of the path, its high end
    at another, or as far on as it is long.

    What is across the axis stays across the path, by frames that do not twist (Wang and others, 2008). Thickness and turn may
    change along the shape, by curves from its low end to its high end. Past the ends of an open path it goes on straight;
    on a closed one it goes round. By a field, points go straight from where they are to their place on the path.
    """

    says = "Lays it along a path"
    wish = "Bend and turn it"

    kind: Literal["lie_along"] = "lie_along"
    path: Annotated[ItemId | None, Field(description="The path that it lies along")] = None
    axis: Annotated[Axis, Field(description="Which axis of the shape lies on the path")] = "y"
    start: Annotated[NumberParameter, Quantity("Share of the path where it begins", low=-100, high=100, drag=0.002)] = (
        0.0
    )
    end: Annotated[NumberParameter, Quantity("Share of the path where it ends", low=-100, high=100, drag=0.002)] = 1.0
    length: Annotated[
        Literal["stretched", "kept"],
        Field(description="Whether it reaches from start to end, or stays as long as it is"),
    ] = "stretched"
    thickness: Annotated[NumberParameter, Quantity("How many times as thick", unit="×", low=0, high=1000)] = 1.0
    thick_along: Annotated[Curve | None, Field(description="How thick it is from its low end to its high end")] = None
    turn: Annotated[NumberParameter, Quantity("Turned about the path", unit="°", low=-36000, high=36000, drag=0.5)] = (
        0.0
    )
    turn_along: Annotated[Curve | None, Field(description="How far it is turned from its low end to its high end")] = (
        None
    )

    @classmethod
    def referring(cls, shapes: list[str], paths: list[str]) -> dict[str, JsonValue]:
        return {"path": next(iter(paths), None)}

    def items(self) -> tuple[str, ...]:
        return self.paths()

    def paths(self) -> tuple[str, ...]:
        return () if self.path is None else (self.path,)

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part on the path."""
        mesh = part.mesh
        weight = self.weight(len(mesh.points), given)
        if self.path is None or len(mesh.points) == 0 or not weight.any():
            return part
        line = _Line(given.course(self.path), given.placement(self.path))
        axis, beside = AXES[self.axis], AXES[BESIDE[self.axis]]
        third = 3 - axis - beside
        stance, matrix = given.stance, given.matrix
        extent = stance.level(given.subject.mesh.points)[:, axis]
        low, high = float(extent.min(initial=np.inf)), float(extent.max(initial=-np.inf))
        if line.length <= 0 or not high > low:
            return part
        begins = given.at(self.start) * line.length
        ends = given.at(self.end) * line.length
        thickness, turned = given.at(self.thickness), np.radians(given.at(self.turn))
        # Right-handed, however the axes of the shape follow on one another.
        hand = 1.0 if (beside + 1) % 3 == axis else -1.0
        back = np.asarray(np.linalg.inv(matrix), dtype=np.float64)

        def lie(points: Floats) -> Floats:
            level = stance.level(points)
            share = (level[:, axis] - low) / (high - low)
            along = begins + (share * (ends - begins) if self.length == "stretched" else level[:, axis] - low)
            inner = np.clip(share, 0, 1)
            thick = thickness * (1 if self.thick_along is None else self.thick_along(inner))
            turn = turned * (1 if self.turn_along is None else self.turn_along(inner))
            one, other = level[:, beside] * thick, hand * level[:, third] * thick
            cosine, sine = np.cos(turn), np.sin(turn)
            there = line.at(along, one * cosine - other * sine, one * sine + other * cosine)
            here = moved(points, matrix)
            own = moved(here + (there - here) * weight[:, None], back).astype(np.float32)
            return np.where((weight == 0)[:, None], points, own)

        if part.points_are_middles:
            return placed_whole(part, stance, lie(mesh.points), lie)
        return placed(part, lie(mesh.points))


class _Line:
    """A path in the world, with frames along it."""

    def __init__(self, course: Course, matrix: Matrix) -> None:
        self.course = course.moved(matrix)
        self.length = self.course.length

    def at(self, along: Values, one: Values, other: Values) -> Values:
        """(n, 3) places in the world so many metres along, and beside the line: one along up, other along across."""
        course = self.course
        on = np.mod(along, self.length) if course.closed else np.clip(along, 0, self.length)
        place, ahead = course.stand(on)
        of = frames(course.places, course.closed)[2]
        up = np.stack([np.interp(on, course.along, of[:, axis]) for axis in range(3)], axis=1)
        across = unit_rows(np.cross(up, ahead))
        beyond = np.zeros_like(along) if course.closed else along - on
        return place + ahead * beyond[:, None] + np.cross(ahead, across) * one[:, None] + across * other[:, None]
