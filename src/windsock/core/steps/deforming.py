"""What the steps share that deform a shape in the space of a controller, or in its own."""

from __future__ import annotations

from collections.abc import Callable
from math import inf
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.declarations import ItemId, Quantity, about
from windsock.core.fields.across import AXES
from windsock.core.fields.elements import Values
from windsock.core.geometry.binding import nearest_turns
from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.stance import Stance
from windsock.core.kernels.bodies import NO_TURN, facing_turns, product
from windsock.core.kernels.deforming import Way, deformed
from windsock.core.parts.part import Part, Relocation
from windsock.core.steps.given import StepInputs
from windsock.core.steps.step import Leaves, Region, WeightedStep
from windsock.core.timing.parameter import Moment, NumberParameter

Axis = Literal["x", "y", "z"]

BESIDE: dict[Axis, Axis] = {"x": "y", "y": "x", "z": "y"}
"""The axis that lies across each, towards which a shape bends when it is turned no way."""


def rigid_frame(matrix: Matrix, axis: Axis, side: Axis, across: float = 0.0) -> tuple[Matrix, float]:
    """(4, 4) from the world to a frame of metres at a placement: Y along an axis of it, X across, nearest to another, and Z; and
    how much longer than a metre that first axis is. across: degrees that X is turned by about it. A stretch of the placement
    changes only that length."""
    ahead = matrix[:3, AXES[axis]]
    length = float(np.linalg.norm(ahead))
    ahead = ahead / max(length, 1e-12)
    beside = matrix[:3, AXES[side]]
    beside = beside - ahead * float(beside @ ahead)
    beside = beside / max(float(np.linalg.norm(beside)), 1e-12)
    up = np.cross(beside, ahead)
    cosine, sine = np.cos(np.radians(across)), np.sin(np.radians(across))
    rows = np.stack([cosine * beside + sine * up, ahead, -sine * beside + cosine * up])
    frame = np.eye(4)
    frame[:3, :3], frame[:3, 3] = rows, -rows @ matrix[:3, 3]
    return frame, length


SMOOTH_DEGREES = 20.0
"""So far the faces along a bend may turn against each other until it shows corners."""


def longest_turned(degrees: float, long: float) -> float:
    """How long faces may be in metres where a region of a length turns by an angle from end to end."""
    return inf if degrees == 0 else long * SMOOTH_DEGREES / abs(degrees)


LEAST_BESIDE = 1e-3
"""Metres beside the middle of a copy, at least, over which it is looked how space is turned there."""


class PointStep(WeightedStep):
    """A step that moves points and leaves all else of a part."""

    @property
    def leaves(self) -> Leaves:
        return "points"


class DeformingStep(PointStep):
    """A step that deforms what lies between two places along an axis of a controller, and carries along what lies beyond.

    Without a controller that is the shape's own axis. The controller's stretch makes the region longer; the deformation
    itself is in metres of the world.
    """

    controller: Annotated[ItemId | None, Field(description="In whose space; None: the shape's own")] = None
    axis: Annotated[Axis, Field(description="Along which axis of that space")] = "y"
    start: Annotated[NumberParameter, Quantity("Where along the axis it begins", unit="m", low=-1e4, high=1e4)] = -1.0
    end: Annotated[NumberParameter, Quantity("Where along the axis it ends", unit="m", low=-1e4, high=1e4)] = 1.0

    def items(self) -> tuple[str, ...]:
        return () if self.controller is None else (self.controller,)

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"start": -about(size, 0.5), "end": about(size, 0.5)}

    def region(self, at: Moment) -> Region:
        return Region(self.controller, self.axis, at(self.start), at(self.end))

    def framed(self, given: StepInputs, across: float) -> tuple[Matrix, float, float]:
        """(4, 4) from the subject's space to the frame in which it deforms, and from where to where along Y of it. In its own space it
        is the same wherever the subject stands."""
        own = given.stretch.own_to_world() if self.controller is None else given.matrix
        matrix = own if self.controller is None else given.placement(self.controller)
        frame, length = rigid_frame(matrix, self.axis, BESIDE[self.axis], across)
        ends = given.at(self.start) * length, given.at(self.end) * length
        return np.ascontiguousarray(frame @ own), min(ends), max(ends)

    def deformed_by(self, part: Part, given: StepInputs, way: Way, most: float, across: float = 0.0) -> Part:
        """The part deformed. most: radians, or a factor, at weight 1; across: degrees about the axis. Where the weight is the
        same all over, normals are those of the deformation itself; else they turn as the faces do."""
        weight = self.weight(len(part.mesh.points), given)
        if len(weight) == 0 or not weight.any():
            return part
        to_frame, start, end = self.framed(given, across)
        mesh = part.mesh
        points, normals = deformed(way, mesh.points, mesh.normals, to_frame, start, end, most, weight)
        if not part.points_are_middles:
            return placed(part, points, normals if even(weight) else None)

        def move(places: Floats) -> Floats:
            return deformed(way, places, mesh.normals, to_frame, start, end, most, weight)[0]

        return placed_whole(part, given.stretch, points, move)


def placed(part: Part, points: Floats, normals: Floats | None = None) -> Part:
    """The part with its points elsewhere. normals: (n, 3), None where they turn as the faces do."""

    def moved(mesh: Mesh) -> Floats:
        del mesh
        return points

    def facing(mesh: Mesh) -> Floats:
        return mesh.normals if normals is None else normals

    changes = not np.array_equal(points, part.mesh.points)
    return part.deformed(moved, changes, None if normals is None else facing) if changes else part


def placed_whole(part: Part, stance: Stance, points: Floats, move: Callable[[Floats], Floats]) -> Part:
    """Copies with their middles elsewhere, each turned as the space about its middle is.

    points: (k, 3) where the middles go; move: gives the new places of (k, 3) places beside the middles, all in the subject's space.
    The turn is the one nearest to the derivative, which is taken over the radius of each copy."""
    middles = part.mesh.points
    moves = (points != middles).any(axis=1)
    if not moves.any():
        return part
    bodies = part.bodies()
    beside = np.maximum(bodies.radius.astype(np.float64) * bodies.size.max(axis=1), LEAST_BESIDE)
    level, there = stance.level(middles), stance.level(points)
    linear = np.empty((len(middles), 3, 3))
    for axis in range(3):
        asked = stance.own(level + beside[:, None] * np.eye(3)[axis]).astype(np.float32)
        linear[:, :, axis] = (stance.level(move(asked)) - there) / beside[:, None]
    size = bodies.size.copy()
    turn = turned_by(nearest_turns(linear), bodies.turn, np.ones(len(middles)))
    to = Relocation(points.astype(np.float64), turn, size, moves, lambda: np.ones(size.shape))
    return part.relocated(bodies, to, stance)


def turned_by(turns: Values, own: Floats, weight: Values) -> Floats:
    """(k, 4) quaternions after (k, 3, 3) turns that count as far as (k,) weights say."""
    full = facing_turns(np.ascontiguousarray(turns[:, :, 1]), np.ascontiguousarray(turns[:, :, 0]))
    full = np.where(full[:, 3:] < 0, -full, full)
    share = NO_TURN + (full - NO_TURN) * weight[:, None]
    share /= np.linalg.norm(share, axis=1, keepdims=True)
    return product(share, own.astype(np.float64)).astype(np.float32)


def even(weight: Values) -> bool:
    """Whether a weight is the same all over."""
    return len(weight) == 0 or bool((weight == weight[0]).all())
