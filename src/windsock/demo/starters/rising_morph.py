"""Rising morph: the shape turns into another one from its foot up, swelling on the way."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, keyed, rounded
from windsock.demo.starters.other_shape import other_shape


def lay(laying: Laying) -> None:
    """Into another shape of the shot, else into a new one that is as large."""
    size, height = laying.bounds.largest, laying.bounds.size[1]
    x, y, z = laying.bounds.centre
    target = other_shape(laying)
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


RISING_MORPH = Starter(
    "Rising morph",
    "turns into another shape from its foot up, swelling on the way",
    "the shape that Morph turns it into; then the keys of the controller Front, and the swelling",
    "Turn it into another",
    lay,
)
