"""Hail: balls fall on the shape, dent it and leave stains that dry."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, keyed, ramp, rounded

FALLS = ((-0.3, 0.2, 0.1), (0.22, -0.18, 0.24), (-0.05, 0.05, 0.4), (0.34, 0.22, 0.54), (-0.2, -0.24, 0.68))
"""Where the balls fall, as shares of width and depth from the middle, and when, as a share of the shot."""


def lay(laying: Laying) -> None:
    """Five balls fall on the top and jump off; the group that they are in dents the shape and stains it."""
    (x, y, z), (width, height, depth) = laying.bounds.centre, laying.bounds.size
    size = laying.bounds.largest
    radius = rounded(size * 0.06)
    low, high = rounded(y + height / 2 + radius * 0.45), rounded(y + height / 2 + size * 1.6)
    stones = [
        laying.add_item(
            f"Hailstone {number}",
            {
                "kind": "shape",
                "place": keyed(
                    (
                        laying.frame(max(when - 0.09, 0.0)),
                        [rounded(x + width * across), high, rounded(z + depth * along)],
                    ),
                    (laying.frame(when), [rounded(x + width * across), low, rounded(z + depth * along)]),
                    (
                        laying.frame(when + 0.14),
                        [rounded(x + width * across * 2), high, rounded(z + depth * along * 2)],
                    ),
                    easing="linear",
                ),
                "geometry": {"kind": "sphere", "radius": radius, "subdivisions": 3},
                "look": {"base_colour": "#E6EDF0", "roughness": 0.25},
            },
        )
        for number, (across, along, when) in enumerate(FALLS, 1)
    ]
    group = laying.add_group("Hail", stones)
    touched = {
        "kind": "contact", "rank": 0, "group": group, "reading": "touched", "spreads": radius,
        "recovers": rounded(laying.seconds * 0.6), "margin": rounded(size * 0.002),
    }  # fmt: skip
    laying.field_id = laying.add_field("Stains", {"level": 0.5, "band": 0.4, "sources": {"touched": touched}})
    laying.add_step(
        "shade",
        {
            "field": laying.field_id, "channel": "base_colour", "zone": "value", "laid": "by the field",
            "ramp": ramp((0.0, "#8FA0A8"), (1.0, "#4A545C")),
        },
    )  # fmt: skip
    laying.add_step(
        "imprint",
        {
            "group": group, "soft": rounded(radius * 0.15), "rim": "height", "rim_height": rounded(radius * 0.15),
            "rim_width": rounded(radius * 0.9), "margin": rounded(size * 0.001), "finest": rounded(radius * 0.2),
        },
    )  # fmt: skip


HAIL = Starter(
    "Hail",
    "balls fall on it, dent it and leave stains that dry",
    "where and when the balls fall; then let shapes of your own join the group Hail, and take the balls out",
    "Bend and turn it",
    lay,
)
