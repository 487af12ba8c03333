"""Needle coat: needles cover the shape; a noise carried across it rules how long they are."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, keyed, rounded


def lay(laying: Laying) -> None:
    """Thirty thousand needles, a twelfth of the shape's size long, in cells of a third of it."""
    size, (x, y, z) = laying.bounds.largest, laying.bounds.centre
    start, end = [x - size * 0.6, y, z], [x + size * 0.6, y + size * 0.3, z]
    carrier = laying.add_item(
        "Cold air",
        {
            "kind": "controller",
            "place": keyed((laying.frame(0.0), start), (laying.frame(1.0), end)),  # type: ignore[arg-type]
        },
    )
    noise = {
        "kind": "noise", "rank": 0, "space": "controller", "controller": carrier, "size": rounded(size / 3), "octaves": 3,
        "contrast": 60,
    }  # fmt: skip
    laying.field_id = laying.add_field("Cold", {"band": 0.3, "sources": {"noise": noise}})
    needles = laying.add_part("Needles")
    laying.add_step(
        "scatter",
        {
            "field": laying.field_id, "zone": "inside", "makes": needles, "what": "needles", "by": "count", "count": 30_000,
            "size": rounded(size / 12), "vary": 0.5, "tilt": 32, "soft": 0.6,
            "length_by": {"field": laying.field_id, "zone": "value"}, "look": {"base_colour": "#DCEAF2", "roughness": 0.35},
        },
    )  # fmt: skip


NEEDLE_COAT = Starter(
    "Needle coat",
    "is covered with needles whose length a moving noise rules",
    "how many needles there are and how long; then the size of the noise",
    "Make more on it",
    lay,
)
