"""The coverage strip of a field: its shares of a subject at every frame of the shot."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import in_order
from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.measured import Laid
from windsock.core.evaluate.reading import read_coverage
from windsock.core.refusals import Refusal
from windsock.core.steps.follow_through import FollowThrough

Row = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Strip:
    """For each frame asked for, (k,): the shares by area inside and in the band, and the least and the most value."""

    frames: Row
    inside: Row
    band: Row
    least: Row
    most: Row


def cover(evaluator: Evaluator, shot: Shot, field_id: str, item_id: str, step_by: int = 1) -> Strip:
    """The coverage of a shape by a field at each `step_by`-th frame, as its first listener there gets it.

    The points are those of the shape before its recipe, where earlier steps have moved them to; what a cut took away
    before counts too. It is solved once and kept under the hash of all that it depends on, as defined over the whole shot.
    """
    if field_id not in shot.fields or not isinstance(shot.items.get(item_id), Shape):
        raise Refusal("The field or the shape is no longer in the shot. Nothing was changed.")
    evaluator.refuse_too_much(shot)
    first = evaluator.scene(shot, shot.frames.first)
    told = shot.fields[field_id].model_dump(mode="json", include={"level", "band", "band_in"})
    shape = shot.items[item_id]
    retimed = shape.recipe.retime.model_dump(mode="json") if isinstance(shape, Shape) and shape.recipe.retime else None
    listener = _moved_listener(shot, field_id, item_id)
    moved = None if listener is None else first.plan.recipe_definition(item_id, listener)
    key = first.key("strip", first.plan.definition(field_id, item_id), told, step_by, moved, retimed)
    named = evaluator.solved(
        f"strip {field_id} {item_id}", key, lambda: _covered(evaluator, shot, field_id, item_id, step_by, listener)
    )
    return Strip(**named)


def _moved_listener(shot: Shot, field_id: str, item_id: str) -> str | None:
    """The first step of a shape that a field drives, where a step before it moves points; otherwise None."""
    shape = shot.items[item_id]
    assert isinstance(shape, Shape)
    moves = False
    for step_id, step in in_order(shape.recipe.steps):
        if step.on and field_id in shape.recipe.listened(step):
            return step_id if moves else None
        moves = moves or (step.on and isinstance(step, FollowThrough))
    return None


def _covered(
    evaluator: Evaluator, shot: Shot, field_id: str, item_id: str, step_by: int, listener: str | None
) -> Mapping[str, Row]:
    rows: list[tuple[float, ...]] = []
    for frame in range(shot.frames.first, shot.frames.last + 1, step_by):
        evaluator.watch.check()
        done = (frame - shot.frames.first) / (shot.frames.last - shot.frames.first + 1)
        evaluator.watch.progress("Looking over the whole shot", done)
        scene = evaluator.scene(shot, frame).of_recipe(item_id)
        subject = evaluator.at_rest(scene, item_id)
        matrix = scene.placement(item_id)
        if listener is None:
            laid = Laid(subject.mesh, subject.key, matrix, subject)
            values, band = evaluator.field_on(scene, field_id, laid), evaluator.band_on(scene, field_id, laid)
        else:
            elements = evaluator.entering(scene, item_id, listener)
            values = scene.field_values(field_id, elements)
            band = scene.field_band(field_id, elements, values)
        areas = evaluator.areas(scene, subject.mesh, subject.key, matrix)
        shares = read_coverage(values, areas, scene.field_edge(field_id)[0], band)
        rows.append((frame, shares.inside, shares.band, float(values.min(initial=1)), float(values.max(initial=0))))
    table = np.array(rows).T
    return dict(zip(("frames", "inside", "band", "least", "most"), table, strict=True))
