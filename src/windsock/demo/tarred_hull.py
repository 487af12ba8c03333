"""Demo shot 11: tar spreads over a hull that rocks in its slings, from stern to bow."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import DARK, RED, WHITE, keyed, profile, quay, sea, stops

HIGH = 2.15
"""How high above the water the hull hangs."""

SLINGS = (-0.62, 0.72)
"""Where along the hull its slings are."""

OUTLINE = [(0.0, -1.72), (0.3, -1.66), (0.5, -1.1), (0.585, -0.3), (0.57, 0.35), (0.45, 1.0), (0.24, 1.55), (0.0, 1.9)]
"""The hull as a shape of revolution: radius and place along it, bow last."""


def tarred_hull() -> JsonValue:
    """The document of the shot."""
    return {
        "name": "11 Tarred hull",
        "frames": {"first": 0, "last": 119},
        "rate": {"numerator": 24, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 66,
        "camera": "camera",
        "environment": {"kind": "day", "strength": 1.0},
        "finishing": film_look(white=6800, contrast=1.1),
        "items": _items(),
        "fields": {
            "pace": {
                "letter": "A", "name": "How fast it runs", "rank": 0, "level": 0.5, "band": 0.4,
                "sources": {
                    "patches": {"kind": "noise", "rank": 0, "space": "rest", "size": 0.34, "octaves": 2, "contrast": 30},
                },
            },
            "grain": {
                "letter": "B", "name": "Grain of the wood", "rank": 1, "level": 0.5, "band": 0.4,
                "sources": {
                    "grain": {
                        "kind": "noise", "rank": 0, "space": "rest", "size": 0.09, "octaves": 3, "contrast": 35,
                        "stretch": [1.0, 9.0, 1.0],
                    },
                },
            },
        },
    }  # fmt: skip


def _items() -> dict[str, JsonValue]:
    planks = stops("smooth", (0.0, "#8A5F38"), (0.5, "#A97B4B"), (1.0, "#BE9160"))
    items: dict[str, JsonValue] = {
        "swing": {
            "kind": "controller",
            "name": "Swing of the slings",
            "rank": 0,
            "place": [0, HIGH, 0],
            "turn": keyed(
                (0, [5.0, 4.0, -1.5]), (24, [-6.0, 1.0, 1.0]), (48, [5.5, -2.0, -1.0]), (72, [-5.0, 0.0, 1.5]),
                (96, [4.5, 3.0, -0.5]), (119, [-3.0, 4.0, 0.5]),
            ),
        },
        "hull": {
            "kind": "shape",
            "name": "Hull",
            "rank": 1,
            "parent": "swing",
            "turn": [0, 0, -90],
            "geometry": {"kind": "revolve", "profile": profile(OUTLINE, smooth=True), "segments": 96, "ring_height": 0.05},
            "look": {"base_colour": "#A97B4B", "roughness": 0.75},
            "recipe": {
                "parts": {
                    "body": {"name": "Body", "rank": 0}, "deck": {"name": "Deck", "rank": 1}, "tar": {"name": "Tar", "rank": 2},
                },
                "steps": {
                    "sheer": {"kind": "bend", "rank": 0, "angle": 30.0, "toward": 180.0, "start": -1.7, "end": 1.9},
                    "stern": {
                        "kind": "slice", "rank": 1, "makes": None, "axis": "y", "start": -4.0, "end": -1.25,
                        "look": {"base_colour": RED, "roughness": 0.5},
                    },
                    "deck": {
                        "kind": "slice", "rank": 2, "makes": "deck", "start": -4.0, "end": 0.03,
                        "look": {"base_colour": "#C9B48C", "roughness": 0.8},
                    },
                    "planks": {
                        "kind": "shade", "rank": 3, "field": "grain", "zone": "value", "laid": "everywhere", "ramp": planks,
                    },
                    "tar": {
                        "kind": "coat", "rank": 4, "makes": "tar", "field": "pace", "zone": "value", "axis": "y", "by": "share",
                        "share": {
                            "keys": {
                                "a": {"frame": 4, "value": 0.02, "easing": {"kind": "linear"}},
                                "b": {"frame": 112, "value": 0.97},
                            }
                        },
                        "thick": 0.022, "bulge": 0.026, "width": 0.07, "drips": 0.4, "drip_length": 0.2, "drip_width": 0.1,
                        "finest": 0.022, "look": {"base_colour": "#1F1915", "roughness": 0.2},
                    },
                },
            },
        },
        "bucket": {
            "kind": "shape",
            "name": "Bucket",
            "rank": 2,
            "place": [-0.55, 0.4, 1.5],
            "geometry": {
                "kind": "revolve", "segments": 64, "ring_height": 0.05,
                "profile": profile([(0.0, 0.02), (0.2, 0.02), (0.26, 0.42), (0.275, 0.42), (0.215, 0.0), (0.0, 0.0)]),
            },
            "look": {"base_colour": "#6B7378", "roughness": 0.4, "metallic": 0.8},
        },
        "tar-in-it": {
            "kind": "shape",
            "name": "Tar in it",
            "rank": 3,
            "place": [-0.55, 0.4, 1.5],
            "geometry": {"kind": "revolve", "segments": 64, "profile": profile([(0.0, 0.04), (0.2, 0.04), (0.245, 0.34), (0.0, 0.35)])},
            "look": {"base_colour": "#17120F", "roughness": 0.16},
        },
        "quay": quay(4),
        "sea": sea(5),
        "key-light": {
            "kind": "light", "name": "Key light", "rank": 6, "place": [-5, 8, 6], "turn": [-34, -36, 0],
            "colour": "#FFE6C4", "strength": 3.0,
        },
        "camera": {
            "kind": "camera", "name": "Camera", **lens("hull", 1.4), "rank": 7, "angle": 32,
            "place": keyed((0, [1.3, 1.5, 5.0]), (119, [0.6, 1.55, 4.8])), "turn": keyed((0, [4.0, 12.0, 0]), (119, [4.0, 7.0, 0])),
        },
    }  # fmt: skip
    for number, along in enumerate(SLINGS, 1):
        items[f"sling-{number}"] = {
            "kind": "shape",
            "name": f"Sling {number}",
            "rank": 10 + number,
            "place": [along, HIGH + 1.55, 0],
            "geometry": {"kind": "box", "width": 0.045, "height": 3.0, "depth": 0.045, "divisions": 6},
            "look": {"base_colour": WHITE, "roughness": 0.9},
        }
    items["beam"] = {
        "kind": "shape",
        "name": "Beam",
        "rank": 20,
        "place": [0, HIGH + 1.4, 0],
        "geometry": {"kind": "box", "width": 4.4, "height": 0.16, "depth": 0.16, "divisions": 4},
        "look": {"base_colour": DARK, "roughness": 0.6},
    }
    return items
