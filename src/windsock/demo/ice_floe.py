"""Demo shot 10: a floe in pieces rides on a swell that runs through a cage about it, and is slowed where the swell is back at its start;
a mast on the floe rides on that."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import DARK, RED, WHITE, keyed, profile, sea

PERIOD = 96
"""Frames from crest to crest: 3.2 m at 0.8 m a second. From there on it goes at a quarter of its speed."""
LAST = 143
FLAT = -48
"""A frame before the swell begins, at which all is bound."""
BOUND: dict[str, JsonValue] = {"bound": "frame", "frame": FLAT}
SLOW: JsonValue = {
    "keys": {
        "a": {"frame": FLAT, "value": float(FLAT), "easing": {"kind": "linear"}},
        "b": {"frame": PERIOD, "value": float(PERIOD), "easing": {"kind": "linear"}},
        "c": {"frame": LAST, "value": PERIOD + (LAST - PERIOD) / 4},
    }
}


def ice_floe() -> JsonValue:
    """The document of the shot."""
    items: dict[str, JsonValue] = {
        "swell": {"kind": "controller", "name": "Swell", "rank": 0, "place": [0, 0, 0], "turn": [0, -18, 0]},
        "floe": {
            "kind": "shape", "name": "Floe", "rank": 1, "place": [0, 0.09, 0],
            "geometry": {"kind": "box", "width": 5.6, "height": 0.34, "depth": 3.9, "divisions": 2},
            "look": {"base_colour": "#E4F1F4", "roughness": 0.32, "backs": "hidden"},
            "recipe": _floe(),
        },
        "cage": {
            "kind": "shape", "name": "Cage", "rank": 2, "shown": 0.0, "place": [0, 0.0, 0],
            "geometry": {"kind": "box", "width": 6.4, "height": 1.0, "depth": 4.6, "divisions": 6},
            "recipe": _swelling(0.84),
        },
        "mast": _riding("Mast", 3, {
            "kind": "revolve", "segments": 20, "ring_height": 0.2,
            "profile": profile([(0.0, 0.0), (0.16, 0.0), (0.15, 0.05), (0.035, 0.09), (0.028, 1.3), (0.0, 1.32)]),
        }, DARK, 0.22),
        "lamp": _riding("Lamp", 4, {"kind": "sphere", "radius": 0.11, "subdivisions": 3}, RED, 1.62),
        "flag": _riding("Flag", 5, {"kind": "box", "width": 0.42, "height": 0.26, "depth": 0.012, "divisions": 4}, "#D9541E", 1.3, 0.24),
    }  # fmt: skip
    return {
        "name": "10 Ice floe",
        "frames": {"first": 0, "last": LAST},
        "rate": {"numerator": 24, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 34,
        "camera": "camera",
        "environment": {"kind": "day", "strength": 0.95},
        "finishing": film_look(white=6000, contrast=1.1),
        "items": items | _surroundings(),
        "fields": _fields(),
    }


def _fields() -> dict[str, JsonValue]:
    noise: dict[str, JsonValue] = {"kind": "noise", "rank": 0, "size": 0.9, "octaves": 3, "contrast": 30}
    return {
        "frost": {"letter": "A", "name": "Frost", "rank": 0, "level": 0.5, "band": 0.3, "sources": {"noise": noise}}
    }


def _floe() -> JsonValue:
    fracture: dict[str, JsonValue] = {
        "kind": "fracture", "rank": 0, "into": "cells", "count": 34, "gap": 0.035, "rounding": 0.05, "seed": 7,
        "inside": {"base_colour": "#8FC3D2", "roughness": 0.25},
    }  # fmt: skip
    frost: dict[str, JsonValue] = {
        "kind": "shade", "rank": 1, "field": "frost", "zone": "value", "channel": "base_colour",
        "ramp": {"kind": "smooth", "stops": {"s0": {"at": 0, "colour": "#C3DEE6"}, "s1": {"at": 1, "colour": "#F8FCFD"}}},
    }  # fmt: skip
    ride: dict[str, JsonValue] = {
        "kind": "ride",
        "rank": 2,
        "carrier": "cage",
        "by": "cage",
        "pieces": "whole",
        **BOUND,
    }
    return {
        "parts": {"body": {"name": "Body", "rank": 0}},
        "steps": {"break": fracture, "frost": frost, "ride": ride},
    }


def _swelling(full: float) -> JsonValue:
    """Flat at first, and in full from the shot's first frame on. What is in a cage moves less than its surface, which goes higher."""
    height: JsonValue = {"keys": {"a": {"frame": FLAT, "value": 0.0}, "b": {"frame": FLAT / 2, "value": full}}}
    wave: dict[str, JsonValue] = {
        "kind": "wave", "rank": 0, "form": "straight", "controller": "swell", "length": 3.2, "speed": 0.8, "height": height,
        "sharp": 0.35,
    }  # fmt: skip
    return {
        "parts": {"body": {"name": "Body", "rank": 0}},
        "steps": {"wave": wave},
        "retime": {"frame": SLOW},
    }


def _riding(
    name: str, rank: float, geometry: JsonValue, colour: str, height: float, aside: float = 0.0
) -> dict[str, JsonValue]:
    ride: dict[str, JsonValue] = {
        "kind": "ride",
        "rank": 0,
        "carrier": "floe",
        "by": "surface",
        "pieces": "whole",
        **BOUND,
    }
    return {
        "kind": "shape", "name": name, "rank": rank, "place": [0.75 + aside, height, -0.35], "geometry": geometry,
        "look": {"base_colour": colour, "roughness": 0.5},
        "recipe": {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": {"ride": ride}},
    }  # fmt: skip


def _surroundings() -> dict[str, JsonValue]:
    berg = [(1.9, -0.6), (1.7, 0.3), (1.1, 0.9), (0.75, 1.5), (0.3, 1.9), (0.0, 2.0)]
    placed = [(-6.5, -9.0, 1.0, 20), (5.5, -12.0, 1.4, 70), (12.0, -18.0, 1.9, 130)]
    bergs: dict[str, JsonValue] = {
        f"berg-{place + 1}": {
            "kind": "shape", "name": f"Berg {place + 1}", "rank": 40 + place, "place": [x, -0.2, z], "turn": [0, turn, 0],
            "scale": [1.5 * size, 0.8 * size, size],
            "geometry": {"kind": "revolve", "profile": profile(berg), "segments": 7, "ring_height": 2.0},
            "look": {"base_colour": "#DCEBEF", "roughness": 0.5},
        }
        for place, (x, z, size, turn) in enumerate(placed)
    }  # fmt: skip
    made: dict[str, JsonValue] = {
        "water": {
            "kind": "shape", "name": "Water", "rank": 50, "place": [0, -0.08, 0],
            "geometry": {"kind": "plane", "width": 34, "depth": 26, "columns": 170, "rows": 130},
            "look": {"base_colour": "#28515E", "roughness": 0.16},
            "recipe": _swelling(0.4),
        },
        "sea": {**sea(51), "place": [0, -0.42, 0], "look": {"base_colour": "#28515E", "roughness": 0.25}},
        "buoy": {
            "kind": "shape", "name": "Buoy", "rank": 52, "place": [-3.9, 0.0, 1.2],
            "geometry": {"kind": "revolve", "segments": 40, "ring_height": 0.08, "profile": profile(
                [(0.0, -0.3), (0.26, -0.2), (0.32, 0.0), (0.2, 0.24), (0.06, 0.5), (0.0, 0.62)], smooth=True)},
            "look": {"base_colour": WHITE, "roughness": 0.5},
            "recipe": {
                "parts": {"body": {"name": "Body", "rank": 0}},
                "steps": {"ride": {"kind": "ride", "rank": 0, "carrier": "water", "by": "surface", "pieces": "whole", **BOUND}},
            },
        },
        "key-light": {
            "kind": "light", "name": "Key light", "rank": 64, "turn": [-26, 52, 0], "colour": "#FFE9CC", "strength": 2.7,
        },
        "camera": {
            "kind": "camera", "name": "Camera", **lens("floe", 1.4), "rank": 65, "angle": 31,
            "place": keyed((0, [-1.5, 2.9, 8.6]), (LAST, [1.3, 2.7, 8.2])), "turn": keyed((0, [-14, -9, 0]), (LAST, [-13, 8, 0])),
        },
    }  # fmt: skip
    return bergs | made
