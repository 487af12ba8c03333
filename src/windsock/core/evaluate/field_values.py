"""The values of fields at the points of what is drawn."""

from __future__ import annotations

from collections.abc import Iterable

from windsock.core.document.shot import Shot
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.measured import PosedMesh
from windsock.core.fields.elements import Values


def field_values(
    evaluator: Evaluator, shot: Shot, item: DrawItem, frame: float, fields: Iterable[str]
) -> dict[str, Values]:
    """(n,) the values of some fields of the shot at the points of what is drawn, by their ids, as the recipe has them: in its own
    time, with the placement of that time.

    At what were copies before they became plain meshes, each has its value where its points are.
    """
    scene = evaluator.scene(shot, frame).of_recipe(item.item)
    mesh = PosedMesh(item.body.mesh, item.key, scene.placement(item.item), item.subject)
    return {field: evaluator.field_on(scene, field, mesh) for field in fields}
