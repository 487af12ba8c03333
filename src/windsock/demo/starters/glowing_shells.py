"""Glowing shells: rings of light run over layers about the shape from where another one touches it."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, keyed, ramp, rounded

LIGHT = ramp((0.0, "#00131C"), (0.5, "#1679A8"), (1.0, "#D8F6FF"))


def lay(laying: Laying) -> None:
    """A small ball goes over the front; the rings of the group that it is in are light, on the shape and on layers outside it."""
    (x, y, z), (width, height, depth) = laying.bounds.centre, laying.bounds.size
    size = laying.bounds.largest
    front = rounded(z + depth / 2)
    ball = laying.add_item(
        "Spark",
        {
            "kind": "shape",
            "place": keyed(
                (laying.frame(0.04), [rounded(x - width * 0.22), rounded(y - height * 0.12), front]),
                (laying.frame(0.5), [x, rounded(y + height * 0.18), front]),
                (laying.frame(0.96), [rounded(x + width * 0.22), rounded(y - height * 0.12), front]),
            ),
            "geometry": {"kind": "sphere", "radius": rounded(size * 0.04), "subdivisions": 3},
            "look": {"base_colour": "#D8F6FF", "emission_colour": "#BDEBFF", "emission": 3.0},
        },
    )
    group = laying.add_group("Sparks", [ball])
    length = rounded(size * 0.1)
    crests = {
        "kind": "crests", "rank": 0, "group": group, "length": length, "speed": rounded(length * 1.2),
        "reach": rounded(size * 0.9), "soft": rounded(size * 0.8), "hard": 0.55, "breaks": 0.6, "dash": 40.0,
        "across": rounded(length * 1.5), "gap": rounded(size * 0.15),
    }  # fmt: skip
    laying.field_id = laying.add_field("Rings of light", {"level": 0.5, "band": 0.3, "sources": {"crests": crests}})
    for channel, settings in (
        ("emission", {"strength": 2.5, "ramp": LIGHT}),
        ("opacity", {"ramp": ramp((0.0, "#1C1C1C"), (1.0, "#FFFFFF"))}),
    ):
        laying.add_step("shade", {"field": laying.field_id, "channel": channel, "zone": "value"} | settings)
    shells = laying.add_part("Shells")
    laying.add_step(
        "shells",
        {"makes": shells, "count": 5, "apart": rounded(size * 0.018), "thinner": 0.3, "fainter": 0.2},
    )


GLOWING_SHELLS = Starter(
    "Glowing rings on a shell",
    "rings of light run over layers about it from where a ball touches it",
    "the length of the rings and how many layers there are; then let shapes of your own join the group Sparks",
    "Change how it looks",
    lay,
)
