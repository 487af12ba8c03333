"""The values of fields as they are written with the points of a file."""

from __future__ import annotations

from windsock.core.document.shot import Shot
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.measured import PosedMesh
from windsock.core.fields.field import Field
from windsock.core.fields.source import Values


def field_values(evaluator: Evaluator, shot: Shot, item: DrawItem, frame: float) -> dict[str, Values]:
    """The values of every field of the shot at the points of what is drawn, as `field_A` and so on, as the recipe has them:
    in its own time, with the placement of that time.

    At what were copies before they became plain meshes, each has its value where its points are.
    """
    scene = evaluator.scene(shot, frame).of_recipe(item.item)
    mesh = PosedMesh(item.body.mesh, item.key, scene.placement(item.item), item.subject)
    return {property_name(field): evaluator.field_on(scene, key, mesh) for key, field in shot.fields.items()}


def property_name(field: Field) -> str:
    """The name under which a field's values are written."""
    return f"field_{field.letter}"
