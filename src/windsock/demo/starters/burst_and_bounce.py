"""Burst and bounce: the shape breaks into pieces that a front lets go; they fall, bounce and come to rest."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, crossing, rounded


def lay(laying: Laying) -> None:
    """Ninety solid pieces; the floor is where the shape stands."""
    size, (_, y, _) = laying.bounds.largest, laying.bounds.centre
    front = crossing(laying, "Shock", soft=0.3, grain=0.2, until=0.55)
    laying.field_id = laying.add_field("Letting go", {"level": 0.5, "band": 0.2, "sources": front})
    laying.add_step("fracture", {"into": "cells", "count": 90})
    laying.add_step(
        "release",
        {
            "field": laying.field_id, "speed": rounded(size * 0.9), "way": "normal", "stray": 0.5, "pull": rounded(size * 3.5),
            "drag": 0.2, "spin": 260, "floor": "height", "height": round(y - laying.bounds.size[1] / 2, 4), "bounce": 0.38,
            "friction": 0.3,
        },
    )  # fmt: skip


BURST_AND_BOUNCE = Starter(
    "Burst and bounce",
    "breaks into pieces that a front lets go; they fall, bounce and come to rest",
    "the speed and the pull of Release; then how many pieces Fracture makes",
    "Break it",
    lay,
)
