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
from windsock.core.evaluate.measured import PosedMesh
from windsock.core.evaluate.reading import read_coverage
from windsock.core.evaluate.reads import Reads
from windsock.core.evaluate.scene import SceneAt
from windsock.core.refusals import Refusal

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
    Raises Refusal where the field or the shape is not there.
    """
    if field_id not in shot.fields or not isinstance(shot.items.get(item_id), Shape):
        raise Refusal("The field or the shape is no longer in the shot. Nothing was changed.")
    evaluator.refuse_too_much(shot)
    first = evaluator.scene(shot, shot.frames.first)
    name = f"strip {field_id} {item_id} {step_by}"
    made = evaluator.results.solved(
        name, first.answer, lambda reads: _covered(evaluator, shot, field_id, item_id, step_by, reads)
    )
    return Strip(**made.value.named)


def first_listener(shot: Shot, field_id: str, item_id: str) -> str | None:
    """The first step of a shape that is on and listens to a field."""
    shape = shot.items[item_id]
    assert isinstance(shape, Shape)
    for step_id, step in in_order(shape.recipe.steps):
        if step.on and field_id in shape.recipe.listened(step):
            return step_id
    return None


def _covered(
    evaluator: Evaluator, shot: Shot, field_id: str, item_id: str, step_by: int, reads: Reads
) -> Mapping[str, Row]:
    rows: list[tuple[float, ...]] = []
    listener = first_listener(shot, field_id, item_id)
    first = evaluator.scene(shot, shot.frames.first)
    for leaf in (("timing",), ("retime", item_id), ("steps", item_id), ("level", field_id), ("band", field_id)):
        reads.leaves[leaf] = None
    for frame in range(shot.frames.first, shot.frames.last + 1, step_by):
        evaluator.watch.check()
        done = (frame - shot.frames.first) / (shot.frames.last - shot.frames.first + 1)
        evaluator.watch.progress("Looking over the whole shot", done)
        scene = first.at_frame(frame).of_recipe(item_id)
        posed = entering_listener(evaluator, scene, item_id, listener, reads)
        made, read = evaluator.field_at(scene, field_id, posed.elements()), Reads()
        band, values = evaluator.band_on(scene, field_id, posed, read), made.value.values
        reads.leaves.update(made.reads.leaves)
        reads.leaves.update(read.leaves)
        areas = evaluator.areas(posed.mesh, posed.key, posed.matrix)
        shares = read_coverage(values, areas, scene.field_edge(field_id)[0], band)
        rows.append((frame, shares.inside, shares.band, float(values.min(initial=1)), float(values.max(initial=0))))
    table = np.array(rows).T
    return dict(zip(("frames", "inside", "band", "least", "most"), table, strict=True))


def entering_listener(
    evaluator: Evaluator, scene: SceneAt, item_id: str, listener: str | None, reads: Reads
) -> PosedMesh:
    """What a field is measured on for a shape: what enters the step that listens to it, or the shape at rest."""
    subject = evaluator.at_rest(scene, item_id)
    reads.leaves.update(subject.reads.leaves)
    reads.leaves[("placement", item_id)] = None
    matrix = scene.placement(item_id)
    if listener is None:
        return PosedMesh(subject.value.mesh, subject.key, matrix, subject.value)
    place, read = evaluator.place_of_entering(scene, item_id, listener, reads), Reads()
    if scene.shape(item_id).recipe.steps[listener].part != "body":
        # Copies are looked over by the shape that they are on.
        return PosedMesh(place.part.value.mesh, place.part.key, matrix, place.subject)
    mesh, key, middles = place.given(read).measured()
    reads.leaves.update(read.leaves)
    return PosedMesh(mesh, key, matrix, place.subject, middles)
