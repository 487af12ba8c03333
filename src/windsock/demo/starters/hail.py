"""Hail: balls fall on the shape, dent it and leave stains that dry."""

from __future__ import annotations

from math import sqrt

from pydantic import JsonValue

from windsock.demo.starters.laying import Laying, Starter, keyed, ramp, rounded

FALLS = ((-0.3, 0.2, 0.1), (0.22, -0.18, 0.24), (-0.05, 0.05, 0.4), (0.34, 0.22, 0.54), (-0.2, -0.24, 0.68))
"""Where the balls fall, as shares of width and depth from the middle, and when, as a share of the shot."""


def lay(laying: Laying) -> None:
    """Five balls fall on the top of what is flat, or on the front, and jump off; the group that they are in dents the shape and stains it."""
    (x, y, z), (width, height, depth) = laying.bounds.centre, laying.bounds.size
    size = laying.bounds.largest
    radius = rounded(size * 0.06)
    sunk = rounded(radius * 0.45)

    def way(across: float, along: float) -> tuple[JsonValue, JsonValue, JsonValue]:
        """Where a stone comes from, hits, and goes."""
        left = rounded(x + width * across)
        if laying.bounds.is_flat:
            low, high, ahead = rounded(y + height / 2 + sunk), rounded(y + height / 2 + size * 1.6), z + depth * along
            off = [rounded(x + width * across * 2), high, rounded(z + depth * along * 2)]
            return [left, high, rounded(ahead)], [left, low, rounded(ahead)], [*off]
        low, ahead = y - height * along, z + depth * sqrt(max(0.25 - across**2 - along**2, 0.04)) + sunk
        before = rounded(ahead + size * 1.2)
        return (
            [left, rounded(low + size * 1.2), before],
            [left, rounded(low), rounded(ahead)],
            [rounded(x + width * across * 3), rounded(y - size), before],
        )

    def stone(number: int, across: float, along: float, when: float) -> str:
        there, hit, on = way(across, along)
        frames = (max(when - 0.09, 0.0), when, when + 0.14)
        return laying.add_item(
            f"Hailstone {number}",
            {
                "kind": "shape",
                "place": keyed(
                    *zip(map(laying.frame, frames), (there, hit, on), strict=True),
                    easing="linear",
                ),
                "geometry": {"kind": "sphere", "radius": radius, "subdivisions": 3},
                "look": {"base_colour": "#E6EDF0", "roughness": 0.25},
            },
        )

    stones = [stone(number, *fall) for number, fall in enumerate(FALLS, 1)]
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
