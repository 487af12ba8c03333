"""Dissolve with flakes: a soft, noisy front crosses the shape; flakes lie along its edge, curl and shrink away from it."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, crossing, rounded


def lay(laying: Laying) -> None:
    """The front is about half as soft as the shape is large; flakes as large as a thirtieth of it hide its edge."""
    size = laying.bounds.largest
    front = crossing(laying, "Fog", soft=0.45, grain=0.14)
    laying.field_id = laying.add_field("Dissolving", {"level": 0.5, "band": 0.12, "sources": front})
    edge = laying.add_field(
        "Fraying edge",
        {"level": 0.42, "band": 0.5, "sources": {"front": {"kind": "another", "rank": 0, "field": laying.field_id}}},
    )
    flakes = laying.add_part("Flakes")
    spacing = rounded(size / 55)
    laying.add_step(
        "scatter",
        {
            "field": edge, "zone": "band", "makes": flakes, "what": "flakes", "by": "spacing", "spacing": spacing,
            "size": rounded(size / 24), "vary": 0.4, "tilt": 16, "soft": 0.7, "lift": rounded(size / 300),
            "look": {"base_colour": laying.shape_of(laying.item).look.base_colour, "roughness": 0.7},
        },
    )  # fmt: skip
    reach = rounded(size / 20)
    laying.add_step(
        "jumble",
        {
            "part": flakes, "field": laying.field_id, "zone": "inside", "move": [reach, reach, reach], "turn": [60, 90, 60],
            "axes": "own",
        },
    )  # fmt: skip
    laying.add_step("cut_away", {"field": laying.field_id, "zone": "inside"})


FLAKING_DISSOLVE = Starter(
    "Dissolve with flakes",
    "dissolves along a noisy front whose edge is covered with curling flakes",
    "the size of the flakes and how far apart they are; then the band of the fraying edge, for more of them",
    "Take it away",
    lay,
)
