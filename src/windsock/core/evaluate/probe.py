"""The probe: how a field's value at one place came about, clause by clause."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator
from windsock.core.fields.field import explain
from windsock.core.fields.source import Elements, Values
from windsock.core.fields.zones import zone_weight
from windsock.core.geometry.placement import moved, turned_normals
from windsock.core.kernels.nearest import nearest_place
from windsock.core.refusals import Refusal


@dataclass(frozen=True)
class Clause:
    """One source at the place: its own value, and the field's value up to and including it."""

    source: str
    value: float
    result: float


@dataclass(frozen=True)
class Probed:
    """A field at a place: the clauses in order, the value, the level and the weight of the inside."""

    clauses: list[Clause]
    value: float
    level: float
    inside: float


def probe(
    evaluator: Evaluator, shot: Shot, frame: float, field_id: str, item_id: str, place: tuple[float, float, float]
) -> Probed:
    """The field at the place of a finished shape that is nearest to one given in the shape's own space, in metres."""
    if field_id not in shot.fields or not isinstance(shot.items.get(item_id), Shape):
        raise Refusal("The field or the shape is no longer in the shot. Nothing was changed.")
    scene = evaluator.scene(shot, frame)
    drawn = next((item for item in evaluator.frame(shot, frame).draw if item.item == item_id), None)
    if drawn is None:
        raise Refusal("The shape is hidden at this frame. Show it, or go to another frame.")
    mesh = drawn.body.mesh
    if len(mesh.faces) == 0:
        raise Refusal("Nothing is left of the shape at this frame. Go to another frame.")
    corners, weights = nearest_place(np.array(place), mesh.points.astype(np.float64), mesh.faces)

    def carry(values: Values) -> Values:
        return np.tensordot(weights, mesh.from_rest(values)[corners], axes=1)[None]

    def between(values: NDArray[np.floating]) -> Values:
        return (weights @ values[corners].astype(np.float64))[None]

    def facing() -> Values:
        return turned_normals(between(mesh.normals), drawn.matrix)

    elements = Elements(moved(between(mesh.points), drawn.matrix), between(mesh.rest), drawn.subject, carry, facing)
    told = shot.fields[field_id]
    clauses = [Clause(*clause) for clause in explain(told, elements, scene)]
    value = float(scene.field_values(field_id, elements)[0])
    level, _, _ = scene.field_edge(field_id)
    band = scene.field_band(field_id, elements, np.array([value]))
    return Probed(clauses, value, level, float(zone_weight("inside", np.array([value]), level, band)[0]))
