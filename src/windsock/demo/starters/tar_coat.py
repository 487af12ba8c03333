"""Tar coat: a thick coat with a bulging edge runs over the shape from its left end."""

from __future__ import annotations

from windsock.demo.starters.laying import Laying, Starter, keyed, rounded

TAR = {"base_colour": "#1F1915", "roughness": 0.18}


def lay(laying: Laying) -> None:
    """A controller at the left end says which way it runs; a noise makes its edge uneven; some of it drips."""
    (x, y, z), (width, _, _) = laying.bounds.centre, laying.bounds.size
    size = laying.bounds.largest
    brush = laying.add_item("Brush", {"kind": "controller", "place": [rounded(x - width / 2), y, z]})
    pace = {"kind": "noise", "rank": 0, "space": "rest", "size": rounded(size * 0.2), "octaves": 2, "contrast": 30}
    laying.field_id = laying.add_field("How fast it runs", {"level": 0.5, "band": 0.3, "sources": {"patches": pace}})
    tar = laying.add_part("Tar")
    far = keyed((laying.frame(0.05), 0.0), (laying.frame(0.95), 1.0), easing="linear")
    laying.add_step(
        "coat",
        {
            "field": laying.field_id, "zone": "value", "begins_at": "back", "controller": brush, "axis": "x", "end": "low",
            "by": "share", "share": far, "thick": rounded(size * 0.012), "bulge": rounded(size * 0.012),
            "width": rounded(size * 0.04), "drips": 0.35, "drip_length": rounded(size * 0.12),
            "drip_width": rounded(size * 0.05), "finest": rounded(size * 0.018), "makes": tar, "look": TAR,
        },
    )  # fmt: skip


TAR_COAT = Starter(
    "Tar coat",
    "a thick dark coat with a bulging edge runs over it, and drips",
    "how much is covered, by its keys; then the width of its edge and how much it bulges; turn Brush to send it another way",
    "Make more on it",
    lay,
)
