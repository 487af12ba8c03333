"""Sweep: a glowing edge passes over the shape and takes it away."""

from __future__ import annotations

from windsock.demo.starters.laying import EMBER, Laying, Starter, keyed, rounded


def lay(laying: Laying) -> None:
    """A controller goes through the shape from left to right; a wavering plane across it cuts, its band glows."""
    (x, y, z), (width, _, _) = laying.bounds.centre, laying.bounds.size
    size, reach = laying.bounds.largest, width / 2 + laying.bounds.largest * 0.12
    controller = laying.add_item(
        "Sweep",
        {
            "kind": "controller",
            "place": keyed((laying.frame(0.1), [x - reach, y, z]), (laying.frame(0.9), [x + reach, y, z])),
            "turn": [0, 0, -8],
        },
    )
    across = {
        "kind": "across", "rank": 0, "controller": controller, "axis": "x", "soft": rounded(size * 0.1), "edge": "wavering",
        "wave": rounded(size * 0.03), "wave_size": rounded(size * 0.16), "evolution": 0.6,
    }  # fmt: skip
    laying.field_id = laying.add_field("Sweep", {"level": 0.5, "band": 0.5, "sources": {"across": across}})
    laying.add_step("cut_away", {"field": laying.field_id})
    laying.add_step(
        "shade",
        {"field": laying.field_id, "channel": "emission", "zone": "band", "strength": 5.0, "ramp": EMBER},
    )


SWEEP = Starter(
    "Sweep",
    "a glowing edge passes over it and takes it away",
    "the controller Sweep: move its keys for the timing, turn it to tilt the edge; then the band, for a wider glow",
    "Take it away",
    lay,
)
