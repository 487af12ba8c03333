"""The probe: how a field's value at one place came about, clause by clause."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import SceneAt
from windsock.core.fields.field import explain
from windsock.core.fields.source import Elements
from windsock.core.fields.zones import zone_weight
from windsock.core.geometry.placement import moved
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


def probe(shot: Shot, frame: float, field_id: str, item_id: str, place: tuple[float, float, float]) -> Probed:
    """The field at a place given in the space of a shape (its rest place), in metres."""
    if field_id not in shot.fields or not isinstance(shot.items.get(item_id), Shape):
        raise Refusal("The field or the shape is no longer in the shot. Nothing was changed.")
    scene = SceneAt(shot, frame)
    rest = np.array([place], dtype=np.float64)
    told = shot.fields[field_id]
    clauses = [
        Clause(*told_clause)
        for told_clause in explain(told, Elements(moved(rest, scene.placement(item_id)), rest), scene)
    ]
    value = clauses[-1].result if clauses else 0.0
    level, band = scene.at(told.level), scene.at(told.band)
    return Probed(clauses, value, level, float(zone_weight("inside", np.array([value]), level, band)[0]))
