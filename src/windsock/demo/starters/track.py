"""Track: a ball rolls over the shape and leaves its track, damp and with raised edges."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.starters.laying import Laying, Starter, keyed, ramp, rounded


def lay(laying: Laying) -> None:
    """A ball goes across the top of what is flat, or across the front, partly sunk in; the group that it is in presses its track."""
    (x, y, z), (width, height, depth) = laying.bounds.centre, laying.bounds.size
    size = laying.bounds.largest
    radius = rounded(size * 0.09)
    if laying.bounds.is_flat:
        level = rounded(y + height / 2 + radius * 0.5)
        way: list[JsonValue] = [
            [rounded(x - width * 0.6), level, rounded(z + depth * 0.18)],
            [x, level, rounded(z - depth * 0.12)],
            [rounded(x + width * 0.6), level, rounded(z + depth * 0.18)],
        ]
    else:
        before, beside = rounded(z + depth / 2 + radius * 0.5), rounded(z + depth * 0.44 + radius * 0.5)
        way = [
            [rounded(x - width * 0.26), rounded(y - height * 0.06), beside],
            [x, rounded(y + height * 0.08), before],
            [rounded(x + width * 0.26), rounded(y - height * 0.06), beside],
        ]
    ball = laying.add_item(
        "Rolling ball",
        {
            "kind": "shape",
            "place": keyed(
                (laying.frame(0.04), way[0]),
                (laying.frame(0.5), way[1]),
                (laying.frame(0.96), way[2]),
            ),
            "geometry": {"kind": "sphere", "radius": radius, "subdivisions": 4},
            "look": {"base_colour": "#5A4632", "roughness": 0.6},
        },
    )
    group = laying.add_group("Rolling", [ball])
    touched = {
        "kind": "contact", "rank": 0, "group": group, "reading": "touched", "spreads": rounded(radius * 0.5),
        "margin": rounded(size * 0.002),
    }  # fmt: skip
    laying.field_id = laying.add_field("Track", {"level": 0.5, "band": 0.3, "sources": {"touched": touched}})
    laying.add_step(
        "shade",
        {
            "field": laying.field_id, "channel": "base_colour", "zone": "value", "laid": "by the field",
            "ramp": ramp((0.0, "#B7A176"), (1.0, "#7C6A4A")),
        },
    )  # fmt: skip
    laying.add_step(
        "imprint",
        {
            "group": group, "soft": rounded(radius * 0.12), "rim": "kept", "rim_width": rounded(radius * 0.8),
            "packed": 0.3, "margin": rounded(size * 0.001), "finest": rounded(radius * 0.16),
        },
    )  # fmt: skip


TRACK = Starter(
    "Track in sand",
    "a ball rolls over it and leaves a track with raised edges",
    "the way of the ball; then let shapes of your own join the group Rolling, and take the ball out",
    "Bend and turn it",
    lay,
)
