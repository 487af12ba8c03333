"""Sweep of light: a plane of light goes through the shape as a solid and takes it away, with a glowing cut."""

from __future__ import annotations

from windsock.demo.starters.laying import EMBER, Laying, Starter, keyed, rounded

GLOW = {"base_colour": "#FFB070", "emission_colour": "#FF9240", "emission": 5.0, "roughness": 0.9}


def lay(laying: Laying) -> None:
    """A controller goes through the shape from left to right; all behind it is cut away, the surface ahead of it glows."""
    (x, y, z), (width, _, _) = laying.bounds.centre, laying.bounds.size
    size = laying.bounds.largest
    reach = width / 2 + size * 0.15
    controller = laying.add_item(
        "Light",
        {
            "kind": "controller",
            "place": keyed((laying.frame(0.1), [x - reach, y, z]), (laying.frame(0.9), [x + reach, y, z])),
            "turn": [0, 0, -10],
        },
    )
    cut = laying.add_part("Cut")
    laying.add_step(
        "slice",
        {
            "by": "slab", "zone": "inside", "controller": controller, "axis": "x", "start": rounded(-4 * size), "end": 0.0,
            "beside": rounded(size * 0.012), "makes": cut, "look": GLOW,
        },
    )  # fmt: skip
    across = {"kind": "across", "rank": 0, "controller": controller, "axis": "x", "soft": rounded(size * 0.3)}
    laying.field_id = laying.add_field("Light on it", {"level": 0.5, "band": 0.9, "sources": {"across": across}})
    laying.add_step(
        "shade",
        {"field": laying.field_id, "channel": "emission", "zone": "band", "strength": 1.6, "ramp": EMBER},
    )


LIGHT_SWEEP = Starter(
    "Sweep of light",
    "cut away as a solid by a plane of light, with a glowing cut",
    "the controller Light: move its keys for the timing, turn it to tilt the cut; then how much beside the cut glows",
    "Take it away",
    lay,
)
