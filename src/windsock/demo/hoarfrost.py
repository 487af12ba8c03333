"""Demo shot 03: needles of frost on a bell buoy; a noise that a controller carries across rules their length and lift."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import DARK, RED, keyed, sea, stones

FROST = "#DCEAF2"


def hoarfrost() -> JsonValue:
    """The document of the shot."""
    return {
        "name": "03 Hoarfrost",
        "frames": {"first": 0, "last": 119},
        "rate": {"numerator": 24, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 60,
        "camera": "camera",
        "environment": {"kind": "day", "strength": 0.85},
        "finishing": film_look(white=5900, contrast=1.1, vignette=0.7),
        "items": {
            "buoy": {
                "kind": "shape",
                "name": "Bell buoy",
                "rank": 0,
                "place": [0, -0.25, 0],
                "turn": keyed((0, [2, 0, -4]), (40, [-2, 4, 4]), (80, [2, 2, -3]), (119, [1, 0, 3])),
                "geometry": {"kind": "revolve", "profile": _outline(), "segments": 72, "ring_height": 0.05},
                "look": {"base_colour": RED, "roughness": 0.5},
                "recipe": _recipe(),
            },
            "cold": {
                "kind": "controller",
                "name": "Cold air",
                "rank": 1,
                "place": keyed((0, [-2.6, 0.6, 0.8]), (119, [2.4, 1.9, -0.4])),
                "turn": keyed((0, [0, 0, 0]), (119, [40, 70, 20])),
            },
            "gust": {
                "kind": "controller",
                "name": "Gust",
                "rank": 2,
                "place": [0.2, 1.2, 0.6],
            },
            "sea": sea(3),
            **stones(),
            "key-light": {
                "kind": "light", "name": "Key light", "rank": 7, "turn": [-26, -52, 0], "colour": "#FFE9CF", "strength": 3.0,
            },
            "camera": {
                "kind": "camera", "name": "Camera", **lens("buoy", 2.8), "rank": 8, "angle": 34,
                "place": keyed((0, [1.8, 1.3, 6.1]), (119, [0.6, 1.5, 5.5])), "turn": keyed((0, [-1.5, 16, 0]), (119, [-3, 6, 0])),
            },
        },
        "fields": _fields(),
    }  # fmt: skip


def _recipe() -> JsonValue:
    return {
        "parts": {"body": {"name": "Body", "rank": 0}, "needles": {"name": "Needles", "rank": 1}},
        "steps": {
            "needles": {
                "kind": "scatter", "rank": 0, "field": "frost", "zone": "value", "makes": "needles", "what": "needles",
                "by": "count", "count": 200_000, "size": 0.1, "vary": 0.55, "tilt": 34, "turn": 180, "soft": 0.5,
                "length_by": {"field": "cold", "zone": "value"}, "lift": 0.05, "lift_by": {"field": "burst", "zone": "value"},
                "look": {"base_colour": FROST, "roughness": 0.35},
            },
            "fling": {
                "kind": "jumble", "rank": 1, "part": "needles", "field": "burst", "zone": "value",
                "move": [0.05, 0.16, 0.05], "turn": [55, 0, 55], "axes": "normal",
            },
            "rime": {
                "kind": "shade", "rank": 2, "field": "cold", "zone": "value",
                "ramp": {"stops": {"s1": {"at": 0.15, "colour": RED}, "s2": {"at": 0.8, "colour": "#C7D3DA"}}},
            },
        },
    }  # fmt: skip


def _fields() -> dict[str, JsonValue]:
    cold: dict[str, JsonValue] = {
        "kind": "noise",
        "rank": 0,
        "space": "controller",
        "controller": "cold",
        "size": 0.62,
        "octaves": 3,
        "contrast": 62,
    }
    down: dict[str, JsonValue] = {
        "kind": "surface",
        "rank": 1,
        "word": "times",
        "reading": "height",
        "low": -0.05,
        "high": 0.35,
    }
    floor: dict[str, JsonValue] = {"kind": "surface", "rank": 0, "reading": "height", "low": -0.2, "high": 0.04}
    gust: dict[str, JsonValue] = {
        "kind": "around", "rank": 0, "controller": "gust", "soft": 1.0, "fall": "smooth",
        "reach": {
            "keys": {
                "k1": {"frame": 52, "value": 0.0, "easing": {"kind": "bezier", "handles": [0.1, 0.6, 0.3, 1.0]}},
                "k2": {"frame": 62, "value": 2.6, "easing": {"kind": "ease"}},
                "k3": {"frame": 96, "value": 0.0},
            }
        },
    }  # fmt: skip
    return {
        "cold": {"letter": "A", "name": "Cold", "rank": 0, "sources": {"noise": cold, "down": down}},
        "frost": {"letter": "B", "name": "Where frost grows", "rank": 1, "sources": {"floor": floor}},
        "burst": {"letter": "C", "name": "Burst", "rank": 2, "sources": {"gust": gust}},
    }


def _outline() -> JsonValue:
    """Open under water, where nobody sees it: what is laid on it lies where it is seen."""
    outline: list[tuple[float, float, str]] = [
        (1.02, 0.06, RED), (1.05, 0.18, RED), (0.98, 0.42, RED), (0.72, 0.52, RED),
        (0.30, 0.58, DARK), (0.24, 0.9, DARK), (0.22, 1.1, DARK), (0.5, 1.16, "#B08A3C"), (0.46, 1.3, "#B08A3C"),
        (0.36, 1.62, "#B08A3C"), (0.2, 1.82, "#B08A3C"), (0.08, 1.9, DARK), (0.08, 2.1, DARK), (0.17, 2.16, RED),
        (0.17, 2.3, RED), (0.0, 2.4, RED),
    ]  # fmt: skip
    return {
        f"p{index:02}": {
            "rank": index, "radius": radius, "height": height, "colour": colour,
            "joint": "smooth" if index in (0, 1, 2, 8, 9, 10) else "corner",
        }
        for index, (radius, height, colour) in enumerate(outline)
    }  # fmt: skip
