"""Demo shot 05: crests run over the harbour's water, round posts and a dinghy that goes by."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look
from windsock.demo.shore import DARK, RED, WHITE, keyed, profile, stops

WATER = "#2B5560"
POSTS = ((-1.55, 0.1, 0.17, 1.05), (0.35, -0.95, 0.2, 1.3), (1.95, 0.75, 0.15, 0.8))
"""Each post: where it stands on the water, how thick it is, and how high above the water."""


def mooring_posts() -> JsonValue:
    """The document of the shot."""
    return {
        "name": "05 Mooring posts",
        "frames": {"first": 0, "last": 143},
        "rate": {"numerator": 24, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 70,
        "camera": "camera",
        "environment": {"kind": "day", "strength": 0.75},
        "finishing": film_look(white=6700, contrast=1.12),
        "items": _items(),
        "groups": {
            "in-the-water": {
                "name": "In the water",
                "rank": 0,
                "members": {name: {"rank": rank} for rank, name in enumerate(("dinghy", "post-1", "post-2", "post-3"))},
            },
            "moths": {"name": "Moths", "rank": 1, "members": {"moth": {"rank": 0}}},
        },
        "fields": {
            "rings": {
                "letter": "A",
                "name": "Rings",
                "rank": 0,
                "level": 0.5,
                "band": 0.3,
                "sources": {
                    "crests": {
                        "kind": "crests", "rank": 0, "group": "in-the-water", "length": 0.36, "speed": 0.34,
                        "reach": 2.1, "soft": 1.9, "hard": 0.4, "breaks": 0.85, "dash": 26.0, "across": 0.5,
                        "curve": {
                            "points": {
                                "a": {"x": 0.0, "y": 0.0, "easing": {"kind": "ease"}},
                                "b": {"x": 1.0, "y": 1.0},
                            }
                        },
                    }
                },
            },
            "lantern": {
                "letter": "B",
                "name": "Rings of light",
                "rank": 1,
                "level": 0.5,
                "band": 0.3,
                "sources": {
                    "crests": {
                        "kind": "crests", "rank": 0, "group": "moths", "length": 0.11, "speed": 0.13, "reach": 0.75,
                        "soft": 0.65, "hard": 0.5, "breaks": 0.5, "dash": 45.0, "across": 0.2, "gap": 0.12,
                    }
                },
            },
        },
    }  # fmt: skip


def _items() -> dict[str, JsonValue]:
    items: dict[str, JsonValue] = {
        "water": {
            "kind": "shape",
            "name": "Water",
            "rank": 0,
            "place": [0, 0, 0.4],
            "geometry": {"kind": "plane", "width": 13, "depth": 10, "columns": 240, "rows": 185},
            "look": {"base_colour": WATER, "roughness": 0.16},
            "recipe": {
                "parts": {"body": {"name": "Body", "rank": 0}},
                "steps": {
                    "raise": {
                        "kind": "push", "rank": 3, "field": "rings", "zone": "value", "along": "axis",
                        "direction": [0, 1, 0], "distance": 0.022,
                    },
                    "pale": {
                        "kind": "shade", "rank": 1, "field": "rings", "zone": "value", "laid": "by the field",
                        "ramp": stops("smooth", (0.0, WATER), (0.55, "#7FA9A6"), (1.0, "#EAF1E6")),
                    },
                    "rough": {
                        "kind": "shade", "rank": 2, "field": "rings", "zone": "value", "channel": "roughness",
                        "laid": "everywhere", "ramp": stops("smooth", (0.0, "#2A2A2A"), (1.0, "#D0D0D0")),
                    },
                },
            },
        },
        "far-water": {
            "kind": "shape",
            "name": "Far water",
            "rank": 1,
            "place": [0, -0.02, 0],
            "geometry": {"kind": "plane", "width": 240, "depth": 240, "columns": 8, "rows": 8},
            "look": {"base_colour": WATER, "roughness": 0.16},
        },
        "dinghy": {
            "kind": "shape",
            "name": "Dinghy",
            "rank": 2,
            "place": keyed((0, [-3.7, 0.02, 1.35]), (72, [0.1, 0.03, 0.75]), (143, [3.6, 0.02, -0.95])),
            "turn": keyed((0, [2.0, 6.0, 1.5]), (36, [-2.0, 10.0, -1.5]), (72, [2.5, 15.0, 1.0]), (108, [-2.0, 22.0, -2.0]), (143, [1.0, 27.0, 1.0])),
            "scale": [1.75, 1, 0.85],
            "geometry": {"kind": "revolve", "profile": _hull(), "segments": 56, "ring_height": 0.08},
            "look": {"base_colour": "#C9BFA6", "roughness": 0.6},
        },
        "thwart": {
            "kind": "shape",
            "name": "Thwart",
            "rank": 3,
            "parent": "dinghy",
            "place": [0.02, 0.19, 0],
            "geometry": {"kind": "box", "width": 0.16, "height": 0.03, "depth": 0.74, "divisions": 2},
            "look": {"base_colour": "#7A5A3C", "roughness": 0.8},
        },
        "globe": {
            "kind": "shape",
            "name": "Lantern",
            "rank": 4,
            "place": [0.35, 1.36, -0.95],
            "geometry": {"kind": "sphere", "radius": 0.2, "subdivisions": 5},
            "look": {"base_colour": "#F2D9A8", "roughness": 0.25},
            "recipe": {
                "parts": {"body": {"name": "Body", "rank": 0}, "shells": {"name": "Shells", "rank": 1}},
                "steps": {
                    "light": {
                        "kind": "shade", "rank": 0, "field": "lantern", "zone": "value", "channel": "emission",
                        "strength": 2.2, "ramp": stops("smooth", (0.0, "#140800"), (0.5, "#E07A1E"), (1.0, "#FFF0C8")),
                    },
                    "clear": {
                        "kind": "shade", "rank": 1, "field": "lantern", "zone": "value", "channel": "opacity",
                        "laid": "everywhere", "ramp": stops("smooth", (0.0, "#202020"), (1.0, "#FFFFFF")),
                    },
                    "layers": {
                        "kind": "shells", "rank": 2, "makes": "shells", "count": 5, "apart": 0.026, "thinner": 0.28,
                        "fainter": 0.18,
                    },
                },
            },
        },
        "moth": {
            "kind": "shape",
            "name": "Moth",
            "rank": 5,
            "place": keyed(
                (0, [0.35, 1.36, -0.73]), (48, [0.55, 1.44, -0.9]), (96, [0.41, 1.56, -0.89]), (143, [0.18, 1.39, -0.82]),
            ),
            "geometry": {"kind": "sphere", "radius": 0.028, "subdivisions": 3},
            "look": {"base_colour": "#FFF3D6", "emission_colour": "#FFDFA0", "emission": 3.0},
        },
        "key-light": {
            "kind": "light",
            "name": "Key light",
            "rank": 8,
            "place": [-6, 8, 5],
            "turn": [-36, -58, 0],
            "colour": "#FFDDB6",
            "strength": 2.4,
        },
        "camera": {
            "kind": "camera",
            "name": "Camera",
            "rank": 9,
            "place": keyed((0, [0.7, 3.5, 6.5]), (143, [0.2, 3.35, 6.3])),
            "turn": [-26, 4, 0],
            "angle": 33,
        },
    }  # fmt: skip
    for number, (x, z, thick, high) in enumerate(POSTS, 1):
        items[f"post-{number}"] = {
            "kind": "shape",
            "name": f"Post {number}",
            "rank": 10 + number,
            "place": [x, -0.5, z],
            "turn": [0, 40 * number, 2.0 - number],
            "geometry": {"kind": "revolve", "profile": _post(thick, high + 0.5), "segments": 36, "ring_height": 0.12},
            "look": {"base_colour": "#5B4836", "roughness": 0.9},
        }
    return items


def _hull() -> JsonValue:
    """A tub with a rail; its floor lies above the water."""
    outer = [(0.0, -0.13), (0.3, -0.11), (0.44, 0.04), (0.5, 0.26)]
    inner = [(0.46, 0.26), (0.4, 0.1), (0.28, 0.04), (0.0, 0.03)]
    return profile(outer + inner)


def _post(thick: float, high: float) -> JsonValue:
    outline = [
        (0.0, 0.0, DARK), (thick * 1.05, 0.0, DARK), (thick, high * 0.62, "#5B4836"), (thick * 1.12, high * 0.63, WHITE),
        (thick * 1.12, high * 0.72, WHITE), (thick * 0.98, high * 0.73, "#5B4836"), (thick * 0.95, high - 0.1, RED),
        (thick * 0.8, high - 0.03, RED), (0.0, high, RED),
    ]  # fmt: skip
    return {
        f"p{index:02}": {"rank": index, "radius": radius, "height": height, "colour": colour}
        for index, (radius, height, colour) in enumerate(outline)
    }
