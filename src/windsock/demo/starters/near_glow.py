"""Near-glow: the shape lights up where another one comes near."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, keyed, ramp, rounded

GLOW = ramp((0.0, "#001A1C"), (0.5, "#1E9AA0"), (1.0, "#E8FFF6"))


def lay(laying: Laying) -> None:
    """A small ball goes past in front; what lies near the group that it is in gives off light."""
    (x, y, z), (width, height, depth) = laying.bounds.centre, laying.bounds.size
    size = laying.bounds.largest
    radius = rounded(size * 0.07)
    front = z + depth / 2 + radius * 1.6
    ball = laying.add_item(
        "Passing ball",
        {
            "kind": "shape",
            "place": keyed(
                (laying.frame(0.08), [x - width / 2 - size * 0.25, y - height * 0.2, front]),
                (laying.frame(0.5), [x, y + height * 0.22, front]),
                (laying.frame(0.92), [x + width / 2 + size * 0.25, y - height * 0.2, front]),
            ),
            "geometry": {"kind": "sphere", "radius": radius, "subdivisions": 4},
            "look": {"base_colour": "#DFF7F0", "emission_colour": "#9FF3E4", "emission": 2.5},
        },
    )
    group = laying.add_group("Passers", [ball])
    near = {"kind": "near", "rank": 0, "group": group, "reach": rounded(size * 0.45), "soft": rounded(size * 0.45)}
    laying.field_id = laying.add_field("Nearness", {"level": 0.5, "band": 0.3, "sources": {"near": near}})
    laying.add_step(
        "shade",
        {"field": laying.field_id, "channel": "emission", "zone": "value", "strength": 3.0, "ramp": GLOW},
    )


NEAR_GLOW = Starter(
    "Near-glow",
    "lights up where another shape comes near",
    "the reach of the field; then let shapes of your own join the group Passers, and take the ball out",
    "Change how it looks",
    lay,
)
