"""Push: points go along the surface's normal, an axis, away from a controller, or where the field rises."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.declarations import ItemId, Quantity, about
from windsock.core.fields.elements import Elements, Values
from windsock.core.geometry.mesh import Mesh, places_of
from windsock.core.geometry.outward import outward
from windsock.core.geometry.placement import moved, turned_normals
from windsock.core.kernels.deforming import shifted
from windsock.core.parts.part import Part
from windsock.core.steps.deforming import PointStep, placed
from windsock.core.steps.drive import Drive
from windsock.core.steps.given import StepInputs
from windsock.core.timing.parameter import NumberParameter, VectorParameter

NEAR = 1e-3
"""How far apart, as a share of the shape, places are at which the field is asked to see where it rises."""


class Push(PointStep):
    """Move points, as far as the field's weight says.

    outward: along the surface's normal; at a sharp edge so that both its faces go as far, and no crack opens. axis: along
    a direction in the world's space, the shape's or a controller's. controller: away from one, or for a distance below 0
    towards it, never beyond. rising: where the field that drives the step rises most, in space, else over the surface.
    """

    says = "Pushes points out, along an axis, or away from a controller"
    wish = "Bend and turn it"

    kind: Literal["push"] = "push"
    distance: Annotated[NumberParameter, Quantity("How far points go", unit="m", low=-1e4, high=1e4)] = 0.1
    along: Annotated[Literal["outward", "axis", "controller", "rising"], Field(description="Which way points go")] = (
        "outward"
    )
    direction: Annotated[VectorParameter, Quantity("The direction", low=-1e4, high=1e4)] = (0.0, 1.0, 0.0)
    space: Annotated[Literal["world", "own", "controller"], Field(description="Whose axes the direction is along")] = (
        "world"
    )
    controller: Annotated[ItemId | None, Field(description="The controller; None: the shape's own middle and axes")] = (
        None
    )

    def items(self) -> tuple[str, ...]:
        return () if self.controller is None else (self.controller,)

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"distance": about(size, 0.1)}

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part with its points pushed."""
        mesh, matrix = part.mesh, given.matrix
        distance = self.weight(len(mesh.points), given) * given.at(self.distance)
        if not distance.any():
            return part
        even = bool((distance == distance[0]).all())
        match self.along:
            case "outward":
                place, count = places_of(mesh.number)
                ways = outward(turned_normals(mesh.normals, matrix), place, count)
            case "axis":
                ways = np.broadcast_to(self._direction(given), mesh.points.shape)
            case "controller":
                ways, distance = self._away(mesh, given, distance)
                even = False
            case "rising":
                drive = given.drive
                if drive is None:
                    return part
                ways, even = _rising(mesh, drive, matrix), False
        points = shifted(mesh.points, matrix, ways * distance[:, None])
        return placed(part, points, mesh.normals if even else None)

    def _direction(self, given: StepInputs) -> Values:
        """(3,) in the world, of length 1; nothing where it has no length."""
        way = np.array(given.at(self.direction), dtype=np.float64)
        if self.space == "own" or (self.space == "controller" and self.controller is None):
            way = given.matrix[:3, :3] @ way
        elif self.space == "controller" and self.controller is not None:
            way = given.placement(self.controller)[:3, :3] @ way
        length = float(np.linalg.norm(way))
        return way / length if length > 1e-12 else np.zeros(3)

    def _away(self, mesh: Mesh, given: StepInputs, distance: Values) -> tuple[Values, Values]:
        """(n, 3) ways from the controller, and how far points go along them: towards it no further than to it."""
        from_ = given.matrix if self.controller is None else given.placement(self.controller)
        ways = moved(mesh.points, given.matrix) - from_[:3, 3]
        far = np.linalg.norm(ways, axis=1)
        ways /= np.maximum(far, 1e-12)[:, None]
        return ways, np.maximum(distance, -far)


def _rising(mesh: Mesh, drive: Drive, matrix: Values) -> Values:
    """(n, 3) of length 1 in the world: where the field rises most, by differences in space; where it does not change there, by
    its gradient over the faces; nothing where it does not change at all."""
    about_all = drive.elements
    size = float(np.ptp(about_all.posed, axis=0).max(initial=0)) or 1.0
    step, to_own = size * NEAR, np.asarray(np.linalg.inv(matrix[:3, :3]), dtype=np.float64)
    rise = np.zeros((len(about_all), 3))
    for axis in range(3):
        way = np.eye(3)[axis] * step
        for sign in (1.0, -1.0):
            rise[:, axis] += sign * drive.lowered_at(_beside(about_all, sign * way, to_own))
    flat = ~(np.linalg.norm(rise, axis=1) > 1e-9)
    if flat.any() and len(mesh.faces):
        rise[flat] = _over_faces(mesh, drive.lowered(), matrix)[flat]
    length = np.linalg.norm(rise, axis=1, keepdims=True)
    return np.where(length > 1e-12, rise / np.maximum(length, 1e-12), 0.0)


def _beside(elements: Elements, way: Values, to_own: Values) -> Elements:
    """The same elements, all moved by (3,) metres of the world."""
    return replace(
        elements.base,
        posed=elements.posed + way,
        rest=elements.rest + to_own @ way,
        are_rest_points=False,
        resting=False,
        rest_name="",
        rest_reads={},
        posed_reads={},
    )


def _over_faces(mesh: Mesh, values: Values, matrix: Values) -> Values:
    """(n, 3) the gradient at points of values that are linear over each face, in the world: the mean over the faces about each
    place, weighted by area."""
    points = moved(mesh.points, matrix)
    start = points[mesh.faces[:, 0]]
    a, b = points[mesh.faces[:, 1]] - start, points[mesh.faces[:, 2]] - start
    base = values[mesh.faces[:, 0]]
    p, q = (values[mesh.faces[:, corner]] - base for corner in (1, 2))
    normal = np.cross(a, b)
    # The gradient times the face's area squared is p (b x n) + q (n x a); by the area once it is weighted by area.
    square = np.einsum("ij,ij->i", normal, normal)[:, None]
    weighted = p[:, None] * np.cross(b, normal) + q[:, None] * np.cross(normal, a)
    weighted = np.divide(weighted, np.sqrt(square), out=np.zeros_like(weighted), where=square > 1e-24)
    place, count = places_of(mesh.number)
    corners = place[mesh.faces].ravel()
    sums = [np.bincount(corners, weights=np.repeat(weighted[:, axis], 3), minlength=count) for axis in range(3)]
    return np.stack(sums, axis=1).astype(np.float64)[place]
