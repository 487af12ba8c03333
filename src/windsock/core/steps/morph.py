"""Morph: each point goes to its place on another shape."""

from __future__ import annotations

from dataclasses import replace
from typing import ClassVar, Literal, cast

import numpy as np

from windsock.core.fields.zones import Zone
from windsock.core.geometry.pairing import Pairing, harm, order_pairs
from windsock.core.geometry.placement import moved
from windsock.core.geometry.solution import Solution
from windsock.core.parts.part import Part
from windsock.core.steps.deforming import PointStep
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.steps.morphing import MorphingStep, goal_of


class Morph(PointStep, MorphingStep):
    """Move each point to its place on another shape, as far as the field's weight says: 0 is this shape, 1 is on the other."""

    says = "Turns it into another shape"
    wish = "Turn it into another"

    kind: Literal["morph"] = "morph"
    solution: ClassVar[type[Solution]] = Pairing
    zone: Zone = "inside"

    @property
    def wants_front(self) -> bool:
        return True

    def solve(self, given: SolveInputs) -> Pairing:
        """The place of each point of the shape, before its recipe, on the other one after its own, at the first frame."""
        subject = given.at_start()
        if self.target is None:
            return order_pairs(len(subject.mesh.points), np.zeros((0, 3), dtype=np.int64))
        points = moved(subject.mesh.points, given.stance_at_start().own_to_world())
        surface = given.shape_at_start(self.target).surface
        there = given.model_at_start(self.target).mesh if self.way in ("uv", "marks") else None
        stands = given.stance_at_start().own_to_world()
        marks = None if there is None else self.marks_on(subject.mesh, stands, there, surface)
        from_ = self.from_where()
        pairs = self.paired(
            points, subject.mesh, surface, there, None if from_ is None else given.placement_at_start(from_), marks
        )
        return replace(pairs, harm=harm(points, subject.mesh.faces, pairs, surface))

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part on its way to the other shape."""
        mesh = part.mesh
        weight = self.weight(len(mesh.points), given)
        if self.target is None or len(mesh.points) == 0 or not weight.any():
            return part
        goal, matrix, subject = goal_of(self.target, given), given.matrix, given.subject.mesh
        pairs = cast(Pairing, given.solution)
        if int(pairs.faces[0]) != len(goal.mesh.faces) or len(pairs.face) != len(subject.points):
            from_, surface = self.from_where(), given.shape(self.target).surface
            points = moved(subject.points, matrix)
            ray = None if from_ is None else given.placement(from_)
            marks = self.marks_on(subject, matrix, goal.mesh, surface)
            pairs = self.paired(points, subject, surface, goal.mesh, ray, marks)
        return self.turned_into(part, matrix, pairs, goal, weight, given)
