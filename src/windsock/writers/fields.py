"""The values of fields as they are written with the points of a file."""

from __future__ import annotations

from windsock.core.document.shot import Shot
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.field_values import field_values
from windsock.core.evaluate.frame import Evaluator
from windsock.core.fields.elements import Values
from windsock.core.fields.field import Field


def named_values(evaluator: Evaluator, shot: Shot, item: DrawItem, frame: float) -> dict[str, Values]:
    """The values of every field of the shot at the points of what is drawn, as `field_A` and so on."""
    values = field_values(evaluator, shot, item, frame, shot.fields)
    return {property_name(shot.fields[key]): told for key, told in values.items()}


def property_name(field: Field) -> str:
    """The name under which a field's values are written."""
    return f"field_{field.letter}"
