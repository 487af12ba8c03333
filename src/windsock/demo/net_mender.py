"""Demo shot 09: a float appears behind a leading edge of tiny knots."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import RED, keyed, profile, quay, sea, stones

CORD = "#D9B26A"


def net_mender() -> JsonValue:
    """The document of the shot."""
    return {
        "name": "09 Net mender",
        "frames": {"first": 0, "last": 107},
        "rate": {"numerator": 30, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 52,
        "camera": "camera",
        "environment": {"kind": "day", "strength": 0.9},
        "finishing": film_look(white=6800),
        "items": {
            "float": {
                "kind": "shape",
                "name": "Glass float",
                "rank": 0,
                "place": [0, 1.78, 0.4],
                "turn": keyed((0, [10, -30, 8]), (107, [10, 22, 8])),
                "geometry": {"kind": "sphere", "radius": 1.05, "subdivisions": 5},
                "look": {"base_colour": "#2E7F78", "roughness": 0.18},
                "recipe": _recipe(),
            },
            "knot": {
                "kind": "shape",
                "name": "Knot",
                "rank": 1,
                "place": [0, -3, 0],
                "shown": 0,
                "geometry": {"kind": "ring", "radius": 0.5, "thickness": 0.2, "segments": 12, "sides": 6},
                "look": {"base_colour": CORD, "roughness": 0.8},
            },
            "needle": {
                "kind": "controller",
                "name": "Netting needle",
                "rank": 2,
                "place": [-0.55, 2.6, 0.95],
            },
            "quay": quay(3),
            **stones(),
            "sea": sea(4),
            "post": {
                "kind": "shape",
                "name": "Mooring post",
                "rank": 5,
                "place": [-2.1, 0.35, -0.4],
                "geometry": {
                    "kind": "revolve", "segments": 48,
                    "profile": profile([(0.26, 0.0), (0.24, 1.1), (0.32, 1.16), (0.32, 1.3), (0.0, 1.4)]),
                },
                "look": {"base_colour": "#5C5347", "roughness": 0.95},
            },
            "cork": {
                "kind": "shape",
                "name": "Cork float",
                "rank": 6,
                "place": [1.9, 0.68, 0.9],
                "turn": [0, 30, 90],
                "geometry": {"kind": "tube", "radius": 0.26, "height": 0.5},
                "look": {"base_colour": RED, "roughness": 0.85},
            },
            "key-light": {
                "kind": "light", "name": "Key light", "rank": 7, "turn": [-36, -40, 0], "colour": "#FFEBD2", "strength": 2.9,
            },
            "camera": {
                "kind": "camera", "name": "Camera", **lens("float", 1.2), "rank": 8, "angle": 33,
                "place": keyed((0, [0.9, 1.95, 6.0]), (107, [-0.3, 2.05, 5.5])), "turn": keyed((0, [-1, 8, 0]), (107, [-2, -3, 0])),
            },
        },
        "fields": _fields(),
    }  # fmt: skip


def _recipe() -> JsonValue:
    return {
        "parts": {
            "body": {"name": "Body", "rank": 0},
            "knots": {"name": "Knots", "rank": 1},
            "cords": {"name": "Cords", "rank": 2},
        },
        "steps": {
            "knots": {
                "kind": "scatter", "rank": 0, "field": "edge", "zone": "band", "makes": "knots", "what": "shapes",
                "shapes_of": {"knot": {"rank": 0, "shape": "knot"}}, "by": "spacing", "spacing": 0.05, "times": 0.085,
                "vary": 0.35, "turn": 180, "tilt": 28, "lift": 0.012, "soft": 0.7,
            },
            "rise": {
                "kind": "jumble", "rank": 1, "part": "knots", "field": "edge", "zone": "band", "move": [0.0, 0.05, 0.0],
                "turn": [40, 90, 40], "axes": "normal",
            },
            "cords": {
                "kind": "wire", "rank": 2, "field": "cords", "zone": "inside", "makes": "cords", "width": 0.012, "sides": 5,
                "edges": "all", "look": {"base_colour": CORD, "roughness": 0.9},
            },
            "grow": {
                "kind": "cut_away", "rank": 3, "field": "edge", "zone": "outside",
                "back_look": {"base_colour": "#174641", "roughness": 0.4},
            },
            "lead": {
                "kind": "shade", "rank": 4, "field": "edge", "zone": "band", "channel": "emission", "strength": 1.6,
                "ramp": {"stops": {"s1": {"at": 0.2, "colour": "#0A2C28"}, "s2": {"at": 1, "colour": "#FFD98A"}}},
            },
        },
    }  # fmt: skip


def _fields() -> dict[str, JsonValue]:
    seed: dict[str, JsonValue] = {"kind": "around", "rank": 0, "controller": "needle", "reach": 0.2, "soft": 0.05}
    front: dict[str, JsonValue] = {
        "kind": "spread", "rank": 0, "seeds": "seed", "soft": 0.55,
        "speed": {
            "keys": {
                "k1": {"frame": 4, "value": 0.7, "easing": {"kind": "ease"}},
                "k2": {"frame": 70, "value": 1.35, "easing": {"kind": "ease"}},
                "k3": {"frame": 104, "value": 1.35},
            }
        },
    }  # fmt: skip
    weave: dict[str, JsonValue] = {
        "kind": "noise",
        "rank": 1,
        "word": "roughened by",
        "size": 0.34,
        "octaves": 3,
        "contrast": 40,
        "amount": 0.8,
    }
    return {
        "seed": {"letter": "A", "name": "First knot", "rank": 0, "level": 0.5, "band": 0.1, "sources": {"around": seed}},
        "edge": {
            "letter": "B", "name": "Mended edge", "rank": 1, "level": 0.5, "band": 0.62, "sources": {"front": front, "weave": weave},
        },
        "cords": {
            "letter": "C", "name": "Cords ahead", "rank": 2, "level": 0.5, "band": 0.3,
            "sources": {
                "ahead": {
                    "kind": "another", "rank": 0, "field": "edge", "zone": "value",
                    "curve": {"points": {"p1": {"x": 0.0, "y": 0.0}, "p2": {"x": 0.35, "y": 1.0}, "p3": {"x": 0.7, "y": 0.0}}},
                }
            },
        },
    }  # fmt: skip
