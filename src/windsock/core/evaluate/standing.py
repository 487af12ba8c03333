"""Where a shape stands: the box about it in the world."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator
from windsock.core.geometry.placement import moved
from windsock.core.refusals import Refusal


def standing_box(evaluator: Evaluator, shot: Shot, frame: float, item: str) -> dict[str, JsonValue]:
    """The `centre` and `size` of the box about a shape before its recipe at a frame, in world metres. Raises Refusal."""
    if not isinstance(shot.items.get(item), Shape):
        raise Refusal("The shape is no longer in the shot. Nothing was changed.")
    evaluator.refuse_too_much(shot)
    scene = evaluator.scene(shot, frame)
    points = moved(evaluator.at_rest(scene, item).mesh.points, scene.placement(item))
    if len(points) == 0:
        raise Refusal("The shape has no points. Nothing was changed. Give it a size first.")
    low, high = points.min(axis=0), points.max(axis=0)
    return {"centre": ((low + high) / 2).round(4).tolist(), "size": (high - low).round(4).tolist()}
