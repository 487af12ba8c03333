"""Where things stand: the box about them in the world."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import JsonValue

from windsock.core.document.items import Path, Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.coverage import entering_listener, first_listener
from windsock.core.evaluate.frame import SHOWN, Evaluator
from windsock.core.evaluate.reads import Reads
from windsock.core.evaluate.scene import SceneAt
from windsock.core.geometry.placement import moved
from windsock.core.refusals import Refusal

Points = NDArray[np.float64]
Box = dict[str, JsonValue]


def standing_box(evaluator: Evaluator, shot: Shot, frame: float, items: list[str]) -> Box:
    """The `centre` and `size` of the box about shapes before their recipes at a frame, in world metres; about all that are
    shown where none is named. What has no geometry counts with its place. Raises Refusal."""
    evaluator.refuse_too_much(shot)
    scene = evaluator.scene(shot, frame)
    named = items or _shown(scene)
    found: list[Points] = []
    for name in named:
        item = shot.items.get(name)
        if item is None:
            raise Refusal("The item is no longer in the shot. Nothing was changed.")
        placement = scene.placement(name)
        if isinstance(item, Shape):
            found.append(moved(evaluator.at_rest(scene, name).value.mesh.points, placement))
        elif isinstance(item, Path):
            found.append(moved(item.course(scene.at).places, placement))
        else:
            found.append(placement[:3, 3] + np.array([[-0.5, -0.5, -0.5], [0.5, 0.5, 0.5]]))
    points = np.concatenate(found) if found else np.zeros((0, 3))
    if len(points) == 0:
        raise Refusal("The shape has no points. Nothing was changed. Give it a size first.")
    return _box(points)


def band_box(evaluator: Evaluator, shot: Shot, frame: float, field_id: str, items: list[str]) -> Box:
    """The `centre` and `size` of the box about where a field is in its band at a frame, in world metres: on the named shapes
    that listen to it, or on all that do, or on all; of those that are shown. Between points the field counts as linear.
    Raises Refusal where its band is nowhere."""
    evaluator.refuse_too_much(shot)
    field = shot.fields.get(field_id)
    if field is None:
        raise Refusal("The field is no longer in the shot. Nothing was changed. Choose another one.")
    now = evaluator.scene(shot, frame)
    shown = _shown(now)
    listening = [key for key in shown if first_listener(shot, field_id, key) is not None]
    on = [key for key in listening if key in items] or listening or shown
    found = [_banded(evaluator, now, field_id, key) for key in on]
    points = np.concatenate(found) if found else np.zeros((0, 3))
    if len(points) == 0:
        raise Refusal(
            f"The band of {field.letter} {field.name} is on no shape at frame {frame:g}: each is wholly inside or outside. "
            "Nothing was changed. Go to another frame, or change the field's level."
        )
    return _box(points)


def _shown(scene: SceneAt) -> list[str]:
    shapes = [(key, item) for key, item in scene.shot.items.items() if isinstance(item, Shape)]
    return [key for key, shape in shapes if scene.at(shape.shown) >= SHOWN]


def _banded(evaluator: Evaluator, now: SceneAt, field_id: str, item_id: str) -> Points:
    """(n, 3) the places in the world, of a shape as the field's listener there gets it, that lie about a field's band."""
    scene, reads = now.of_recipe(item_id), Reads()
    listener = first_listener(scene.shot, field_id, item_id)
    posed = entering_listener(evaluator, scene, item_id, listener, reads)
    values = evaluator.field_at(scene, field_id, posed.elements()).value.values
    level, half = scene.field_edge(field_id)[0], np.asarray(evaluator.band_on(scene, field_id, posed, reads)) / 2
    # A retimed recipe is seen where the shape stands now.
    points = moved(posed.mesh.points, now.placement(item_id))
    away = values - level
    there = points[np.abs(away) <= half]
    if posed.middles:
        return there
    edges = posed.mesh.faces[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2)
    return np.concatenate([there, *(_at_zero(points, edges, away + side * half) for side in (-1, 1))])


def _at_zero(points: Points, edges: NDArray[np.integer], values: NDArray[np.float64]) -> Points:
    """(m, 3) where (n,) values at points come through zero along (e, 2) edges."""
    ends = values[edges]
    through = (ends[:, 0] < 0) != (ends[:, 1] < 0)
    ends, edges = ends[through], edges[through]
    along = (ends[:, 0] / (ends[:, 0] - ends[:, 1]))[:, None]
    return points[edges[:, 0]] * (1 - along) + points[edges[:, 1]] * along


def _box(points: Points) -> Box:
    low, high = points.min(axis=0), points.max(axis=0)
    return {"centre": ((low + high) / 2).round(4).tolist(), "size": (high - low).round(4).tolist()}
