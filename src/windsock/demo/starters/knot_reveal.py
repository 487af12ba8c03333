"""Knot reveal: the shape appears behind a leading edge of small rings that spreads over it."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, ramp, rounded


def lay(laying: Laying) -> None:
    """Grows over the surface from its top, across the shape in four fifths of the shot."""
    size, (x, y, z) = laying.bounds.largest, laying.bounds.centre
    seed = laying.add_item("First knot", {"kind": "controller", "place": [x, y + laying.bounds.size[1] / 2, z]})
    around = {
        "kind": "around", "rank": 0, "controller": seed, "reach": rounded(size / 10), "soft": rounded(size / 40),
    }  # fmt: skip
    seeds = laying.add_field("Where it begins", {"level": 0.5, "band": 0.1, "sources": {"around": around}})
    front = {
        "kind": "spread", "rank": 0, "seeds": seeds, "soft": rounded(size / 4),
        "speed": rounded(size * 2.1 / (laying.seconds * 0.8)),
    }  # fmt: skip
    weave = {
        "kind": "noise", "rank": 1, "word": "roughened by", "size": rounded(size / 6), "octaves": 3, "contrast": 40,
        "amount": 0.7,
    }  # fmt: skip
    laying.field_id = laying.add_field(
        "Mended edge", {"level": 0.5, "band": 0.6, "sources": {"front": front, "weave": weave}}
    )
    ring = laying.add_item(
        "Knot",
        {
            "kind": "shape", "shown": 0, "place": [x, y - 2 * size, z],
            "geometry": {"kind": "ring", "radius": 0.5, "thickness": 0.2, "segments": 12, "sides": 6},
            "look": {"base_colour": "#D9B26A", "roughness": 0.8},
        },
    )  # fmt: skip
    knots = laying.add_part("Knots")
    laying.add_step(
        "scatter",
        {
            "field": laying.field_id, "zone": "band", "makes": knots, "what": "shapes", "by": "spacing",
            "shapes_of": {"knot": {"rank": 0, "shape": ring}}, "spacing": rounded(size / 45), "times": rounded(size / 26),
            "vary": 0.35, "turn": 180, "tilt": 28, "soft": 0.7,
        },
    )  # fmt: skip
    laying.add_step("cut_away", {"field": laying.field_id, "zone": "outside"})
    laying.add_step(
        "shade",
        {
            "field": laying.field_id, "zone": "band", "channel": "emission", "strength": 1.5,
            "ramp": ramp((0.2, "#0A2C28"), (1.0, "#FFD98A")),
        },
    )  # fmt: skip


KNOT_REVEAL = Starter(
    "Knot reveal",
    "appears behind a leading edge of small rings that spreads from its top",
    "the speed of the spread; then the spacing and size of the rings",
    "Let it appear",
    lay,
)
