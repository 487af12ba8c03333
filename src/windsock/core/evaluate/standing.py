"""Where things stand: the box about them in the world."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import JsonValue

from windsock.core.document.items import Path, Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator
from windsock.core.geometry.placement import moved
from windsock.core.refusals import Refusal


def standing_box(evaluator: Evaluator, shot: Shot, frame: float, items: list[str]) -> dict[str, JsonValue]:
    """The `centre` and `size` of the box about shapes before their recipes at a frame, in world metres; about all that are
    shown where none is named. What has no geometry counts with its place. Raises Refusal."""
    evaluator.refuse_too_much(shot)
    scene = evaluator.scene(shot, frame)
    named = items or [
        key for key, item in shot.items.items() if isinstance(item, Shape) and scene.at(item.shown) >= 0.5
    ]
    found: list[NDArray[np.float64]] = []
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
    low, high = points.min(axis=0), points.max(axis=0)
    return {"centre": ((low + high) / 2).round(4).tolist(), "size": (high - low).round(4).tolist()}
