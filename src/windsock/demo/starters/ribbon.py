"""Ribbon along a path: the shape lies along a path that is drawn for it, and runs through it."""

from __future__ import annotations

from windsock.core.changing.adding import DrawnLine, DrawnPoint, add_path
from windsock.demo.starters.laying import Laying, Starter, keyed, rounded


def lay(laying: Laying) -> None:
    """The shape's longest axis lies on the path; it comes from one end of it and goes to the other, thin at both of its own."""
    size, (x, y, z) = laying.bounds.largest, laying.bounds.centre
    sizes = laying.bounds.size
    axis = "xyz"[sizes.index(max(sizes))]
    turns = ((-1.1, -0.2, 0.3), (-0.6, 0.3, -0.4), (0.0, -0.1, 0.4), (0.6, 0.25, 0.3), (1.1, -0.2, -0.4))
    points = [
        DrawnPoint(place=(rounded(x + size * a), rounded(y + size * b), rounded(z + size * c))) for a, b, c in turns
    ]
    path = add_path(laying, "Way", DrawnLine(points=points))
    # About as long as the shape is, on a way of three times that.
    begins = keyed((laying.frame(0.04), -0.2), (laying.frame(0.96), 0.9))
    ends = keyed((laying.frame(0.04), 0.15), (laying.frame(0.96), 1.2))
    noise = {
        "kind": "noise", "rank": 0, "size": rounded(size * 0.5), "contrast": 30, "evolution": 0.4,
        "measured": "posed",
    }  # fmt: skip
    laying.field_id = laying.add_field("Flutter", {"level": 0.5, "band": 0.3, "sources": {"wind": noise}})
    laying.add_step(
        "lie_along",
        {
            "path": path, "axis": axis, "start": begins, "end": ends,
            "thick_along": {
                "points": {
                    "a": {"x": 0.0, "y": 0.0, "easing": {"kind": "ease"}},
                    "b": {"x": 0.35, "y": 1.0, "easing": {"kind": "linear"}},
                    "c": {"x": 0.65, "y": 1.0, "easing": {"kind": "ease"}},
                    "d": {"x": 1.0, "y": 0.0},
                }
            },
            "turn": 160.0,
            "turn_along": {"points": {"a": {"x": 0.0, "y": 0.0}, "b": {"x": 1.0, "y": 1.0}}},
        },
    )  # fmt: skip
    laying.add_step(
        "push",
        {
            "field": laying.field_id, "zone": "value", "along": "axis", "direction": [0, 1, 0],
            "distance": rounded(size * 0.1),
        },
    )  # fmt: skip


RIBBON = Starter(
    "Ribbon along a path",
    "lies along a path and runs through it, fluttering",
    "the points of the path Way; then the keys of Start and End, for how fast it runs",
    "Let it move",
    lay,
)
