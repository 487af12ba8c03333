"""What the steps that move things whole share: pieces, copies, or a part that is in no pieces as one."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from windsock.core.fields.source import Values
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.stance import Stance, stance_of
from windsock.core.kernels.bodies import NO_TURN, carried_points, displaced, facing_turns, linear_parts, product
from windsock.core.steps.part import Part
from windsock.core.steps.step import Axes

MOST_CORNERS = 64
"""Points that the field's value on a part in one piece is the mean of."""


@dataclass(frozen=True, eq=False)
class Movement:
    """What is done to k bodies, at full weight. move: metres; angles: degrees; factor: sizes; (k, 3) or (3,) each. about: a
    place in the world that they go round and away from."""

    move: Values
    angles: Values
    factor: Values
    axes: Axes
    about: Values | None = None


def bodies_of(part: Part) -> Bodies:
    """What a step moves whole in a part."""
    if part.copies is not None:
        copies = part.copies
        return Bodies(part.mesh, copies.turn, copies.size, copies.radius)
    return part.pieces or whole(part.mesh)


def whole(mesh: Mesh) -> Bodies:
    """A mesh that is in no pieces as one body about the middle of its box."""
    if len(mesh.points) == 0:
        none = np.zeros((0, 1), dtype=np.int64)
        nothing = np.zeros((0, 4), dtype=np.float32)
        return Bodies(mesh.mixed(none, none.astype(np.float64), none[:, 0]), nothing, nothing[:, :3], nothing[:, 0])
    corners = np.linspace(0, len(mesh.points) - 1, min(MOST_CORNERS, len(mesh.points))).astype(np.int64)[None]
    place = mesh.mixed(corners, np.full(corners.shape, 1 / corners.shape[1]), np.zeros(1, dtype=np.int64))
    middle = (mesh.points.min(axis=0) + mesh.points.max(axis=0)) / 2
    rest = (mesh.rest.min(axis=0) + mesh.rest.max(axis=0)) / 2
    up = np.array([[0, 1, 0]], dtype=np.float32)
    place = replace(place, points=middle[None], rest=rest[None], normals=up)
    radius = np.linalg.norm(mesh.points - middle, axis=1).max(keepdims=True).astype(np.float32)
    return Bodies(place, NO_TURN.astype(np.float32)[None], np.ones((1, 3), dtype=np.float32), radius)


def moved_by(part: Part, weight: Values, movement: Movement, matrix: Matrix) -> Part:
    """The part with each body moved, turned and sized as far as its weight, (k,), says. matrix: from its space to the world."""
    bodies, stance = bodies_of(part), stance_of(matrix)
    if len(bodies) == 0 or not weight.any():
        return part
    places, turn, size = displaced(
        stance.level(bodies.places.points),
        bodies.turn,
        bodies.size,
        _axes(movement.axes, bodies, stance),
        movement.move,
        movement.angles,
        movement.factor,
        np.asarray(weight, dtype=np.float64),
        None if movement.about is None else (movement.about - stance.place) @ stance.turn,
    )

    def factor() -> Values:
        return np.maximum(1 + (np.broadcast_to(movement.factor, size.shape) - 1) * weight[:, None], 0.0)

    return stood(part, bodies, stance.own(places), turn, size, stance, factor, weight != 0)


def stood(
    part: Part,
    bodies: Bodies,
    places: Values,
    turn: Floats,
    size: Floats,
    stance: Stance,
    factor: Callable[[], Values],
    moves: NDArray[np.bool_],
) -> Part:
    """The part with its bodies at (k, 3) places of the subject's space, so turned and so large. The arrays are taken over.

    factor: gives (k, 3) how many times as large they are as before, along own axes. moves: (k,) the others stay as they are.
    """
    stays = np.flatnonzero(~moves)
    places[stays], turn[stays], size[stays] = bodies.places.points[stays], bodies.turn[stays], bodies.size[stays]
    if part.copies is not None:
        # A copy's normal is that of the surface where it was laid.
        mesh = replace(part.mesh, points=places.astype(np.float32))
        return replace(part, mesh=mesh, copies=replace(part.copies, turn=turn, size=size))
    spun = product(turn.astype(np.float64), bodies.turn.astype(np.float64) * np.array([-1.0, -1, -1, 1]))
    sized = factor()
    linear = linear_parts(spun.astype(np.float32), np.ones_like(sized)) @ _along_own(bodies.turn, sized)
    back = np.linalg.inv(stance.stretch)
    linear = np.ascontiguousarray(back @ linear @ stance.stretch)
    piece = part.mesh.piece if part.mesh.piece is not None else np.zeros(len(part.mesh.points), dtype=np.int32)
    points, normals = carried_points(
        part.mesh.points, part.mesh.normals, piece, bodies.places.points.astype(np.float64), places, linear, moves
    )
    mesh = replace(part.mesh, points=points, normals=normals)
    if part.pieces is None:
        return replace(part, mesh=mesh)
    standing = replace(bodies.places, points=places.astype(np.float32))
    moved = moves if bodies.moved is None else moves | bodies.moved
    return replace(part, mesh=mesh, pieces=replace(bodies, places=standing, turn=turn, size=size, moved=moved))


def _along_own(turn: Floats, factor: Values) -> Values:
    """(k, 3, 3) sizing by (k, 3) factors along the axes of (k, 4) turns."""
    frame = linear_parts(turn, np.ones((len(turn), 3)))
    return (frame * factor[:, None, :]) @ frame.transpose(0, 2, 1)


def _axes(axes: Axes, bodies: Bodies, stance: Stance) -> Values:
    """(k, 4) quaternions of the axes in the level space."""
    if axes == "own":
        return bodies.turn.astype(np.float64)
    if axes == "world":
        return np.broadcast_to(_quaternion(stance.turn.T), bodies.turn.shape)
    return facing_turns(stance.level_directions(bodies.places.normals))


def _quaternion(rotation: Values) -> Values:
    """(4,) of a (3, 3) rotation."""
    return facing_turns(rotation[:, 1][None], rotation[:, 0][None])[0]
