"""What the steps that move things whole share: pieces, copies, or a part that is in no pieces as one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from windsock.core.fields.elements import Values
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.stance import Stance, stance_of
from windsock.core.kernels.bodies import displaced, facing_turns
from windsock.core.parts.part import Part, Relocation
from windsock.core.steps.step import Axes


@dataclass(frozen=True, eq=False)
class Movement:
    """What is done to k bodies, at full weight. move: metres; angles: degrees; factor: sizes; (k, 3) or (3,) each. about: a
    place in the world that they go round and away from."""

    move: Values
    angles: Values
    factor: Values
    axes: Axes
    about: Values | None = None


def moved_by(part: Part, weight: Values, movement: Movement, matrix: Matrix) -> Part:
    """The part with each body moved, turned and sized as far as its weight, (k,), says. matrix: from its space to the world."""
    bodies, stance = part.bodies(), stance_of(matrix)
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

    def growth() -> Values:
        return np.maximum(1 + (np.broadcast_to(movement.factor, size.shape) - 1) * weight[:, None], 0.0)

    return part.relocated(bodies, Relocation(stance.own(places), turn, size, weight != 0, growth), stance)


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
