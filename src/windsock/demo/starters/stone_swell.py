"""Swell in stones: the shape is cut into blocks, and a swell runs through them from a controller."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, rounded


def lay(laying: Laying) -> None:
    """Blocks are moved whole; the swell closes with the shot, and is calm far from the controller."""
    size, (x, y, z) = laying.bounds.largest, laying.bounds.centre
    width = laying.bounds.size[0]
    source = laying.add_item("Swell", {"kind": "controller", "place": [rounded(x - width / 2), y, z]})
    length = rounded(size * 0.7)
    # As near to half its length a second as lets it come a whole number of times.
    lasts = laying.shot.lasts
    speed = max(1, round(lasts * 0.5)) * length / lasts
    block = rounded(size / 7)
    around = {
        "kind": "around", "rank": 0, "controller": source, "reach": rounded(size * 1.6), "soft": rounded(size * 1.5),
        "fall": "smooth", "measured": "rest",
    }  # fmt: skip
    laying.field_id = laying.add_field("Swell", {"level": 0.5, "band": 0.3, "sources": {"near": around}})
    laying.add_step("fracture", {"into": "blocks", "block": [block, block, block], "gap": rounded(size * 0.002)})
    laying.add_step(
        "wave",
        {
            "field": laying.field_id, "zone": "value", "form": "round", "controller": source, "length": length, "speed": speed,
            "height": rounded(size * 0.16), "sharp": 0.5, "pieces": "whole",
        },
    )  # fmt: skip


STONE_SWELL = Starter(
    "Swell in stones",
    "cut into blocks, a swell runs through them and closes with the shot",
    "the height and the length of Wave; then the controller Swell, from where it comes",
    "Let it move",
    lay,
)
