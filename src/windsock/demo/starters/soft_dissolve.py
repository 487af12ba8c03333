"""Soft dissolve: the shape fades away in soft patches."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, keyed, rounded


def lay(laying: Laying) -> None:
    """A noise as large as a fifth of the shape; its level sinks from above all values to below them."""
    size = rounded(laying.bounds.largest / 5)
    noise = {
        "kind": "noise",
        "rank": 0,
        "pattern": "gradient",
        "size": size,
        "octaves": 4,
        "contrast": 20,
        "evolution": 0.3,
    }
    laying.field_id = laying.add_field(
        "Patches",
        {
            "level": keyed((laying.frame(0.1), 0.9), (laying.frame(0.9), 0.1)),
            "band": 0.22,
            "sources": {"noise": noise},
        },
    )
    laying.add_step("cut_away", {"field": laying.field_id, "edge": "fading", "backs": "hidden"})


SOFT_DISSOLVE = Starter(
    "Soft dissolve",
    "fades away in soft patches",
    "the size of the noise, for coarser or finer patches; then the band, for a softer or harder edge",
    "Take it away",
    lay,
)
