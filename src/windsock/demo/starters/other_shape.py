"""The shape that a starter has another one turn into."""

from __future__ import annotations

from windsock.core.declarations import in_order
from windsock.core.document.items import Shape
from windsock.core.document.relations import needed_for, scenery
from windsock.core.shapes.sphere import Sphere
from windsock.demo.starters.laying import Laying, rounded


def other_shape(laying: Laying) -> str:
    """The first other shape that can be seen to be one, else a new one that is as large; it is hidden."""
    standing = scenery(laying.shot)
    others = [
        key
        for key, item in in_order(laying.shot.items)
        if isinstance(item, Shape) and key != laying.item and key not in standing
        and laying.item not in needed_for(laying.shot, key)
    ]  # fmt: skip
    if not others:
        return _new_shape(laying)
    laying.put(f"/items/{others[0]}/shown", 0.0)
    return others[0]


def _new_shape(laying: Laying) -> str:
    """A hidden shape of the same box: a ball, or a box where the shape itself is a ball."""
    shape = laying.shape_of(laying.item)
    ball = isinstance(shape.geometry, Sphere)
    geometry = {"kind": "box", "divisions": 24} if ball else {"kind": "sphere", "radius": 0.5, "subdivisions": 5}
    return laying.add_item(
        "Other shape",
        {
            "kind": "shape", "shown": 0.0, "place": [*laying.bounds.centre], "geometry": geometry,
            "scale": [max(rounded(side), 0.001) for side in laying.bounds.size],
            "look": shape.look.model_dump(mode="json") | {"base_colour": "#B5552B"},
        },
    )  # fmt: skip
