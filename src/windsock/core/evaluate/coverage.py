"""The coverage strip of a field: its shares of a subject at every frame of the shot."""

from __future__ import annotations

from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.reading import Coverage, read_coverage
from windsock.core.refusals import Refusal


def cover(evaluator: Evaluator, shot: Shot, field_id: str, item_id: str, step_by: int = 1) -> list[Coverage]:
    """The coverage of a shape by a field at each `step_by`-th frame, measured on the shape before its recipe."""
    if field_id not in shot.fields or not isinstance(shot.items.get(item_id), Shape):
        raise Refusal("The field or the shape is no longer in the shot. Nothing was changed.")
    evaluator.refuse_too_much(shot)
    told = shot.fields[field_id]
    strip: list[Coverage] = []
    for frame in range(shot.frames.first, shot.frames.last + 1, step_by):
        evaluator.watch.check()
        scene = evaluator.scene(shot, frame)
        subject = evaluator.at_rest(scene, item_id)
        values = evaluator.field_on(scene, field_id, subject.mesh, subject.key, scene.placement(item_id), subject)
        areas = evaluator.areas(scene, subject.mesh, subject.key)
        strip.append(read_coverage(values, areas, scene.at(told.level), scene.at(told.band)))
    return strip
