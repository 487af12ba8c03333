"""Pair morph: the shape and another one change places from the foot up, cross-faded, with a swell on the way."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, rounded
from windsock.demo.starters.other_shape import other_shape

FRAMES = 13
"""What is common practice for each point at 24 frames a second; those that go last begin when the first are there."""


def lay(laying: Laying) -> None:
    """With another shape of the shot, else with a new one that is as large, a third of the way into the shot; its foot goes first."""
    size, height = laying.bounds.largest, laying.bounds.size[1]
    x, y, z = laying.bounds.centre
    begins = laying.shot.moment(laying.frame(0.35)).seconds
    target, makes = other_shape(laying), laying.add_part("Other")
    last = laying.add_item("Goes last", {"kind": "controller", "place": [x, rounded(y + height / 2), z]})
    across = {
        "kind": "across", "rank": 0, "controller": last, "axis": "y", "soft": rounded(max(height, size * 0.1)),
        "measured": "rest",
    }  # fmt: skip
    laying.field_id = laying.add_field("Goes first", {"level": 0.5, "band": 0.5, "sources": {"across": across}})
    laying.add_step(
        "pair",
        {
            "target": target, "makes": makes, "field": laying.field_id, "zone": "value", "way": "rays", "laid": "boxes",
            "begins_at": rounded(begins), "lasts": rounded(2 * FRAMES / 24), "bulge": rounded(size * 0.08), "smoothing": 4,
        },
    )  # fmt: skip


PAIR_MORPH = Starter(
    "Pair morph",
    "changes places with another shape from its foot up, cross-faded",
    "the shape that it changes places with; then when it begins, how long it takes, and the place of the controller Goes last",
    "Turn it into another",
    lay,
)
