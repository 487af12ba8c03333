"""Strands: the shape trails strands as it goes, all under one skin."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.core.timing.parameter import KeyedVector
from windsock.demo.starters.laying import Laying, Starter, keyed, rounded


def lay(laying: Laying) -> None:
    """Seven points of it draw their ways behind them; a shape that stands still is sent round first."""
    size = laying.bounds.largest
    place = laying.shape_of(laying.item).place
    if not isinstance(place, KeyedVector):
        x, y, z = place
        turns: tuple[tuple[float, list[JsonValue]], ...] = (
            (0.05, [x, y, z]), (0.28, [rounded(x + size * 1.1), rounded(y + size * 0.2), z]),
            (0.5, [x, rounded(y + size * 0.4), z]), (0.72, [rounded(x - size * 1.1), rounded(y + size * 0.2), z]),
            (0.95, [x, y, z]),
        )  # fmt: skip
        laying.put(f"/items/{laying.item}/place", keyed(*((laying.frame(share), at) for share, at in turns)))
    uneven = {"kind": "noise", "rank": 0, "space": "rest", "size": rounded(size * 0.3), "octaves": 1, "contrast": 20}
    laying.field_id = laying.add_field("Thickness", {"level": 0.5, "band": 0.3, "sources": {"uneven": uneven}})
    strands, skin = laying.add_part("Strands"), laying.add_part("Skin")
    laying.add_step(
        "trail",
        {
            "field": laying.field_id, "zone": "value", "of": "points", "count": 7, "lasts": 0.4, "width": rounded(size * 0.14),
            "thinner": 0.9, "spacing": rounded(size * 0.05), "makes": strands,
        },
    )  # fmt: skip
    laying.add_step(
        "meld",
        {
            "part": strands, "also": "body", "radius": rounded(size * 0.035), "blend": 2.4, "cell": rounded(size * 0.02),
            "makes": skin, "look": {"base_colour": "#D8571C", "roughness": 0.25},
        },
    )  # fmt: skip


STRANDS = Starter(
    "Strands",
    "trails strands behind it as it goes, all under one skin",
    "how many seconds the trail lasts, and of how many points; then the radius of the skin and how far it flows together",
    "Let it move",
    lay,
)
