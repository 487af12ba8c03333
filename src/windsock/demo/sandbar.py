"""Demo shot 06: a sled drawn across a sandbar leaves its track."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look
from windsock.demo.shore import profile, sea, stops

SAND, DAMP = "#CDB98F", "#9A8660"
SUNK = -0.035
"""How far below the way the runners go, in metres."""


def sandbar() -> JsonValue:
    """The document of the shot."""
    return {
        "name": "06 Sandbar",
        "frames": {"first": 0, "last": 119},
        "rate": {"numerator": 24, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 96,
        "camera": "camera",
        "environment": {"kind": "day", "strength": 0.75},
        "finishing": film_look(white=7200, saturation=1.12),
        "items": _items(),
        "groups": {
            "runners": {
                "name": "Runners",
                "rank": 0,
                "members": {"left-runner": {"rank": 0}, "right-runner": {"rank": 1}},
            }
        },
        "fields": _fields(),
    }


def _fields() -> JsonValue:
    return {
        "track": {
            "letter": "A",
            "name": "Track",
            "rank": 0,
            "level": 0.5,
            "band": 0.3,
            "sources": {
                "touched": {
                    "kind": "contact", "rank": 0, "group": "runners", "reading": "touched", "spreads": 0.16, "margin": 0.01,
                },
                "grain": {
                    "kind": "noise", "rank": 1, "word": "roughened by", "space": "rest", "size": 0.12, "octaves": 3,
                    "contrast": 40, "amount": 0.6,
                },
            },
        },
        "ridges": {
            "letter": "B",
            "name": "Ridges of the wind",
            "rank": 1,
            "level": 0.5,
            "band": 0.4,
            "sources": {
                "wind": {
                    "kind": "noise", "rank": 0, "space": "rest", "size": 0.42, "octaves": 3, "contrast": 35,
                    "stretch": [2.6, 1.0, 0.75],
                },
                "pressed": {"kind": "another", "rank": 1, "word": "except", "field": "track", "zone": "value", "amount": 0.85},
            },
        },
        "shore": {
            "letter": "C",
            "name": "Waterline",
            "rank": 2,
            "level": 0.5,
            "band": 0.5,
            "sources": {
                "tide": {
                    "kind": "across", "rank": 0, "controller": "tide", "axis": "z", "at": 0.0, "soft": 2.6,
                    "edge": "wavering", "wave": 0.7, "wave_size": 2.4, "measured": "rest",
                }
            },
        },
    }  # fmt: skip


def _items() -> dict[str, JsonValue]:
    items: dict[str, JsonValue] = {
        "sand": {
            "kind": "shape",
            "name": "Sand",
            "rank": 0,
            "place": [0, -0.03, 0.5],
            "geometry": {"kind": "plane", "width": 15, "depth": 12, "columns": 140, "rows": 112},
            "look": {"base_colour": SAND, "roughness": 0.95},
            "recipe": {
                "parts": {"body": {"name": "Body", "rank": 0}},
                "steps": {
                    "press": {
                        "kind": "imprint", "rank": 0, "group": "runners", "rim": "kept", "rim_width": 0.17,
                        "packed": 0.35, "soft": 0.07, "finest": 0.045,
                    },
                    "wind": {
                        "kind": "push", "rank": 1, "field": "ridges", "zone": "value", "along": "axis",
                        "direction": [0, 1, 0], "distance": 0.07,
                    },
                    "beach": {
                        "kind": "push", "rank": 2, "field": "shore", "zone": "value", "along": "axis",
                        "direction": [0, -1, 0], "distance": 0.5,
                    },
                    "damp": {
                        "kind": "shade", "rank": 3, "field": "track", "zone": "value", "laid": "everywhere",
                        "ramp": stops("smooth", (0.0, SAND), (0.45, "#B9A479"), (1.0, DAMP)),
                    },
                    "wet": {
                        "kind": "shade", "rank": 4, "field": "shore", "zone": "value", "laid": "by the field",
                        "ramp": stops("smooth", (0.0, DAMP), (1.0, "#6E6248")),
                    },
                },
            },
        },
        "sea": {**sea(1), "place": [0, -0.28, 0]},
        "tide": {"kind": "controller", "name": "Waterline", "rank": 2, "place": [0, 0, -2.6]},
        "way": {
            "kind": "path",
            "name": "Way of the sled",
            "rank": 3,
            "points": {
                f"p{index}": {"rank": index, "place": [x, 0, z]}
                for index, (x, z) in enumerate(
                    ((-5.2, 2.6), (-3.0, 1.1), (-0.6, 0.3), (1.6, 1.2), (1.1, 2.6), (-0.6, 2.5), (-0.6, 0.9), (1.6, -0.6), (5.4, -1.3))
                )
            },
        },
        "sled": {
            "kind": "controller",
            "name": "Sled",
            "rank": 4,
            "parent": "way",
            "along": {
                "share": {
                    "keys": {
                        "a": {"frame": 0, "value": 0.06, "easing": {"kind": "ease"}},
                        "b": {"frame": 112, "value": 0.83},
                    }
                },
                "turning": "upright",
            },
        },
        "deck": {
            "kind": "shape",
            "name": "Deck",
            "rank": 5,
            "parent": "sled",
            "place": [0, 0.22, 0.05],
            "geometry": {"kind": "box", "width": 0.62, "height": 0.045, "depth": 1.05, "divisions": 2},
            "look": {"base_colour": "#8A6238", "roughness": 0.8},
        },
        "barrel": {
            "kind": "shape",
            "name": "Barrel",
            "rank": 6,
            "parent": "sled",
            "place": [-0.3, 0.47, 0.1],
            "turn": [0, 0, -90],
            "geometry": {
                "kind": "revolve", "segments": 48, "ring_height": 0.05,
                "profile": profile([(0.0, 0.0), (0.18, 0.0), (0.225, 0.3), (0.18, 0.6), (0.0, 0.6)], smooth=False),
            },
            "look": {"base_colour": "#A8341B", "roughness": 0.55},
        },
        "key-light": {
            "kind": "light",
            "name": "Key light",
            "rank": 12,
            "place": [-6, 5, -4],
            "turn": [-28, -125, 0],
            "colour": "#FFD9A8",
            "strength": 2.9,
        },
        "camera": {
            "kind": "camera",
            "name": "Camera",
            "rank": 13,
            "place": [0.2, 3.6, 6.2],
            "turn": [-31, 2, 0],
            "angle": 36,
        },
    }  # fmt: skip
    for side, x in (("left", -0.25), ("right", 0.25)):
        items[f"{side}-rail"] = {
            "kind": "path",
            "name": f"{side.capitalize()} rail",
            "rank": 7 if side == "left" else 9,
            "parent": "sled",
            "points": {
                f"p{index}": {"rank": index, "place": [0, y, z]}
                for index, (y, z) in enumerate(
                    ((0.0, 0.62), (-0.005, 0.3), (-0.005, -0.3), (0.05, -0.56), (0.2, -0.74), (0.33, -0.72))
                )
            },
            "place": [x, SUNK, 0],
        }
        items[f"{side}-runner"] = {
            "kind": "shape",
            "name": f"{side.capitalize()} runner",
            "rank": 8 if side == "left" else 10,
            "parent": "sled",
            "place": [x, SUNK, 0],
            "geometry": {
                "kind": "sweep",
                "path": f"{side}-rail",
                "section": "round",
                "width": 0.085,
                "height": 0.07,
                "sides": 16,
                "spacing": 0.05,
            },
            "look": {"base_colour": "#4A4038", "roughness": 0.5, "metallic": 0.4},
        }
        for number, z in enumerate((-0.33, 0.43), 1):
            items[f"{side}-post-{number}"] = {
                "kind": "shape",
                "name": f"{side.capitalize()} post {number}",
                "rank": 10.5,
                "parent": "sled",
                "place": [x, 0.1, z],
                "geometry": {"kind": "box", "width": 0.05, "height": 0.22, "depth": 0.06, "divisions": 1},
                "look": {"base_colour": "#6E4E2C", "roughness": 0.85},
            }
    return items
