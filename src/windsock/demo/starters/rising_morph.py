"""Rising morph: the shape turns into another one from its foot up, swelling on the way."""

from __future__ import annotations

from windsock.core.declarations import in_order
from windsock.core.document.items import Shape
from windsock.core.document.relations import needed_for, scenery
from windsock.core.shapes.sphere import Sphere
from windsock.demo.starters.laying import Laying, Starter, keyed, rounded


def lay(laying: Laying) -> None:
    """Into the first other shape that can be seen to be one, else into a new one that is as large; that one is hidden."""
    size, height = laying.bounds.largest, laying.bounds.size[1]
    x, y, z = laying.bounds.centre
    standing = scenery(laying.shot)
    others = [
        key
        for key, item in in_order(laying.shot.items)
        if isinstance(item, Shape) and key != laying.item and key not in standing
        and laying.item not in needed_for(laying.shot, key)
    ]  # fmt: skip
    target = others[0] if others else _new_target(laying)
    if others:
        laying.put(f"/items/{target}/shown", 0.0)
    # Its bounds may lie further up or down than those of the shape.
    reach = rounded(height / 2 + size * 0.5)
    front = laying.add_item(
        "Front",
        {
            "kind": "controller",
            "place": keyed((laying.frame(0.1), [x, y - reach, z]), (laying.frame(0.85), [x, y + reach, z])),
        },
    )
    across = {
        "kind": "across", "rank": 0, "controller": front, "axis": "y", "soft": rounded(size * 0.6), "fall": "smooth",
        "measured": "rest",
    }  # fmt: skip
    laying.field_id = laying.add_field("Front", {"level": 0.5, "band": 1.0, "sources": {"across": across}})
    laying.add_step(
        "morph",
        {
            "target": target, "field": laying.field_id, "zone": "value", "way": "rays", "laid": "boxes",
            "bulge": rounded(size * 0.12), "smoothing": 4,
        },
    )  # fmt: skip


def _new_target(laying: Laying) -> str:
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


RISING_MORPH = Starter(
    "Rising morph",
    "turns into another shape from its foot up, swelling on the way",
    "the shape that Morph turns it into; then the keys of the controller Front, and the swelling",
    "Turn it into another",
    lay,
)
