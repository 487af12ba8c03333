"""Growing reveal: the shape grows from its foot over its own surface."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.starters.laying import EMBER, Laying, Starter, rounded


def lay(laying: Laying) -> None:
    """A seed at the foot; a front spreads from it over the surface, everything outside it is cut away, its edge glows."""
    (x, y, z), (_, height, _) = laying.bounds.centre, laying.bounds.size
    size = laying.bounds.largest
    foot: JsonValue = [x, y - height / 2, z]
    controller = laying.add_item("Seed", {"kind": "controller", "place": foot})
    around = {
        "kind": "around",
        "rank": 0,
        "controller": controller,
        "reach": rounded(size * 0.22),
        "soft": rounded(size * 0.1),
    }
    seed = laying.add_field("Seed", {"level": 0.5, "band": 0.1, "sources": {"around": around}})
    # The way over a surface is longer than the straight one: more so on round things.
    speed = rounded(1.1 * sum(length**2 for length in laying.bounds.size) ** 0.5 / (0.85 * laying.seconds))
    spread = {"kind": "spread", "rank": 0, "seeds": seed, "speed": speed, "soft": rounded(size * 0.14)}
    laying.field_id = laying.add_field("Growth", {"level": 0.5, "band": 0.4, "sources": {"spread": spread}})
    laying.add_step("cut_away", {"field": laying.field_id, "zone": "outside"})
    laying.add_step(
        "shade",
        {"field": laying.field_id, "channel": "emission", "zone": "band", "strength": 4.0, "ramp": EMBER},
    )


GROWING_REVEAL = Starter(
    "Growing reveal",
    "grows from its foot over its own surface",
    "the speed of the spread, in metres a second; then move the controller Seed to where it should begin",
    "Let it appear",
    lay,
)
