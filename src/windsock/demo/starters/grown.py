"""Grown: the shape comes into being from within, its front glowing."""

from __future__ import annotations

from windsock.demo.starters.eaten import eating
from windsock.demo.starters.laying import Laying, Starter, keyed


def lay(laying: Laying) -> None:
    """The run of an erosion from its end on, until the shape is whole; what grows has its own look, a little alight."""
    settings = eating(laying, "How fast it grows", 5)
    young = laying.add_part("Young")
    far = keyed((laying.frame(0.05), 0.0), (laying.frame(0.92), 1.0))
    look = {"base_colour": "#C9D8A0", "roughness": 0.6, "emission_colour": "#8FBF6A", "emission": 0.06}
    laying.add_step("erode", settings | {"share": far, "run": "backwards", "makes": young, "look": look})


GROWN = Starter(
    "Grown from within",
    "comes into being from its core outward, until its own surface is there",
    "when it is whole, by the keys of its share; then the size of the coarse noise",
    "Let it appear",
    lay,
)
