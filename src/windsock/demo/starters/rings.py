"""Rings from what touches it: crests run out over the shape from a ball that goes over it."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, keyed, ramp, rounded


def lay(laying: Laying) -> None:
    """A ball goes across the top, half sunk in; the rings of the group that it is in raise the shape and make it paler."""
    (x, y, z), (width, height, depth) = laying.bounds.centre, laying.bounds.size
    size = laying.bounds.largest
    top, radius = rounded(y + height / 2), rounded(size * 0.06)
    ball = laying.add_item(
        "Floating ball",
        {
            "kind": "shape",
            "place": keyed(
                (laying.frame(0.04), [rounded(x - width * 0.32), top, rounded(z + depth * 0.16)]),
                (laying.frame(0.5), [x, top, rounded(z - depth * 0.1)]),
                (laying.frame(0.96), [rounded(x + width * 0.32), top, rounded(z + depth * 0.16)]),
            ),
            "geometry": {"kind": "sphere", "radius": radius, "subdivisions": 4},
            "look": {"base_colour": "#C2542A", "roughness": 0.45},
        },
    )
    group = laying.add_group("Floating", [ball])
    length = rounded(size * 0.09)
    crests = {
        "kind": "crests", "rank": 0, "group": group, "length": length, "speed": length, "reach": rounded(size * 0.5),
        "soft": rounded(size * 0.45), "hard": 0.5, "breaks": 0.7, "dash": 34.0, "across": length * 1.5,
        "gap": rounded(size * 0.05),
    }  # fmt: skip
    laying.field_id = laying.add_field("Rings", {"level": 0.5, "band": 0.3, "sources": {"crests": crests}})
    laying.add_step(
        "shade",
        {
            "field": laying.field_id, "channel": "base_colour", "zone": "value", "laid": "by the field",
            "ramp": ramp((0.0, "#7FA9A6"), (1.0, "#F1F4E8")),
        },
    )  # fmt: skip
    laying.add_step(
        "push",
        {"field": laying.field_id, "zone": "value", "along": "outward", "distance": rounded(size * 0.004)},
    )


RINGS = Starter(
    "Rings from what floats",
    "rings run out over it from a ball that goes across",
    "the length and the dashes of the field; then let shapes of your own join the group Floating, and take the ball out",
    "Change how it looks",
    lay,
)
