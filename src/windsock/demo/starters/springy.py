"""Spring after: the shape swings behind its own motion, more the further it is from its foot."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.core.timing.parameter import KeyedVector
from windsock.demo.starters.laying import Laying, Starter, keyed, rounded


def lay(laying: Laying) -> None:
    """Held at its foot, loose at its top; a shape that stands still is given a jump to the side and back."""
    size, height = laying.bounds.largest, laying.bounds.size[1]
    x, y, z = laying.bounds.centre
    place = laying.shape_of(laying.item).place
    if not isinstance(place, KeyedVector):
        here: JsonValue = [*place]
        aside: JsonValue = [rounded(place[0] + size * 0.8), place[1], place[2]]
        stops = ((0.05, here), (0.14, aside), (0.5, aside), (0.59, here))
        laying.put(f"/items/{laying.item}/place", keyed(*((laying.frame(share), at) for share, at in stops)))
    foot = laying.add_item(
        "Foot", {"kind": "controller", "place": [x, rounded(y - height / 2), z], "turn": [180, 0, 0]}
    )
    across = {
        "kind": "across", "rank": 0, "controller": foot, "axis": "y", "at": 0.0, "soft": rounded(max(height, size * 0.1)),
        "measured": "posed",
    }  # fmt: skip
    laying.field_id = laying.add_field("Looseness", {"level": 0.5, "band": 0.3, "sources": {"height": across}})
    laying.add_step(
        "follow_through", {"field": laying.field_id, "zone": "value", "swings": 1.6, "damping": 0.16, "settled": 1.0}
    )


SPRINGY = Starter(
    "Spring after",
    "swings behind its own motion, loose at the top, held at the foot",
    "the swings and the damping of Follow through; then the keys of its place",
    "Let it move",
    lay,
)
