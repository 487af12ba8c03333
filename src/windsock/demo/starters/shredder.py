"""Shredder: the shape breaks into its faces behind one front and is carried off; a second one takes the shreds away."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, crossing, rounded


def lay(laying: Laying) -> None:
    """The second front is the first one, later by a seventh of the shot."""
    size = laying.bounds.largest
    front = crossing(laying, "Shredder", soft=0.4, grain=0.16)
    laying.field_id = laying.add_field("Shredding", {"level": 0.15, "band": 0.25, "sources": front})
    leaving = laying.add_field(
        "Clearing up",
        {
            "level": 0.6,
            "band": 0.5,
            "sources": {
                "later": {"kind": "another", "rank": 0, "field": laying.field_id, "lag": rounded(laying.seconds / 7)}
            },
        },
    )
    laying.add_step("fracture", {"into": "faces", "thickness": rounded(size / 250)})
    laying.add_step(
        "shift",
        {
            "field": laying.field_id, "zone": "value", "move": [0, rounded(size / 7), 0], "size": [0.75, 1, 0.75],
            "axes": "normal",
        },
    )  # fmt: skip
    reach = rounded(size / 8)
    laying.add_step(
        "jumble",
        {
            "field": laying.field_id, "zone": "value", "move": [reach, reach, reach], "turn": [240, 240, 240], "axes": "world",
            "smallest": 0.6, "largest": 1.1,
        },
    )  # fmt: skip
    laying.add_step(
        "shift",
        {"field": leaving, "zone": "inside", "move": [rounded(size / 3), rounded(size / 5), 0], "size": [0, 0, 0]},
    )


SHREDDER = Starter(
    "Shredder",
    "breaks into its faces behind a front; a second front takes the shreds away",
    "how far the shreds fly, in Shift and Jumble; then how much later they are cleared up",
    "Break it",
    lay,
)
