"""Demo shot 14: a wave of flakes bursts from a wall, falls and bounces off the quay, turning."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import DARK, RED, keyed, sea, stones

TILE, GROUT = "#E4DCC8", "#8F8474"


def spray() -> JsonValue:
    """The document of the shot."""
    return {
        "name": "14 Spray",
        "frames": {"first": 0, "last": 107},
        "rate": {"numerator": 30, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 50,
        "camera": "camera",
        "environment": {"kind": "day", "strength": 0.9},
        "finishing": film_look(white=6300, saturation=1.12),
        "items": {
            "wall": {
                "kind": "shape",
                "name": "Harbour wall",
                "rank": 0,
                "place": [0, 1.4, -0.5],
                "geometry": {"kind": "box", "width": 5.2, "height": 2.0, "depth": 0.5, "divisions": 40},
                "look": {"base_colour": GROUT, "roughness": 0.95},
                "recipe": _recipe(),
            },
            "wave": {
                "kind": "controller",
                "name": "Wave",
                "rank": 1,
                "place": keyed((6, [-3.1, 1.5, 0.4]), (84, [3.3, 1.2, 0.4])),
                "turn": [0, 0, -84],
            },
            "breath": {"kind": "controller", "name": "Behind the wall", "rank": 2, "place": [-0.4, 1.0, -2.2]},
            "floor": {
                "kind": "shape",
                "name": "Quay",
                "rank": 3,
                "place": [0, 0.2, 1.2],
                "geometry": {"kind": "box", "width": 9.0, "height": 0.4, "depth": 5.4, "divisions": 8},
                "look": {"base_colour": "#77736A", "roughness": 0.9},
            },
            "bollard": {
                "kind": "shape",
                "name": "Bollard",
                "rank": 4,
                "place": [2.35, 0.72, 1.5],
                "geometry": {"kind": "tube", "radius": 0.17, "height": 0.64},
                "look": {"base_colour": DARK, "roughness": 0.5, "metallic": 0.4},
            },
            "crate": {
                "kind": "shape",
                "name": "Crate",
                "rank": 5,
                "place": [-2.55, 0.68, 1.3],
                "turn": [0, 24, 0],
                "geometry": {"kind": "box", "width": 0.7, "height": 0.56, "depth": 0.6, "divisions": 6},
                "look": {"base_colour": RED, "roughness": 0.8},
            },
            "sea": sea(6),
            **stones(),
            "key-light": {
                "kind": "light", "name": "Key light", "rank": 7, "turn": [-40, 32, 0], "colour": "#FFEBCF", "strength": 3.0,
            },
            "camera": {
                "kind": "camera", "name": "Camera", **lens("wall", 1.4, shutter=180.0), "rank": 8, "angle": 34,
                "place": keyed((0, [-2.3, 1.75, 6.2]), (107, [1.5, 1.55, 6.4])), "turn": keyed((0, [-3, -19, 0]), (107, [-2, 13, 0])),
            },
        },
        "fields": _fields(),
    }  # fmt: skip


def _recipe() -> JsonValue:
    return {
        "parts": {"body": {"name": "Body", "rank": 0}, "tiles": {"name": "Flakes", "rank": 1}},
        "steps": {
            "tiles": {
                "kind": "scatter", "rank": 0, "field": "front-side", "zone": "inside", "makes": "tiles", "what": "flakes",
                "by": "spacing", "spacing": 0.055, "size": 0.11, "vary": 0.45, "tilt": 16, "soft": 0.0, "lift": 0.004,
                "look": {"base_colour": TILE, "roughness": 0.55},
            },
            "paint": {
                "kind": "shade", "rank": 1, "part": "tiles", "field": "bands", "zone": "inside",
                "ramp": {"stops": {"s1": {"at": 0, "colour": TILE}, "s2": {"at": 1, "colour": "#1D6C74"}}},
            },
            "rattle": {
                "kind": "jumble", "rank": 2, "part": "tiles", "field": "wave", "zone": "band", "move": [0.02, 0.05, 0.02],
                "turn": [24, 40, 24], "axes": "own",
            },
            "burst": {
                "kind": "release", "rank": 3, "part": "tiles", "field": "wave", "speed": 4.4, "way": "away", "source": "breath",
                "stray": 0.5, "wait": 0.12, "pull": 9.81, "drag": 0.35, "spin": 900, "floor": "height", "height": 0.4,
                "bounce": 0.42, "friction": 0.3,
            },
            "stone": {
                "kind": "shade", "rank": 3.5, "field": "stone", "zone": "value", "laid": "everywhere",
                "ramp": {"stops": {"s1": {"at": 0.2, "colour": "#6F6352"}, "s2": {"at": 0.8, "colour": "#A39683"}}},
            },
            "damp": {
                "kind": "shade", "rank": 4, "field": "wave", "zone": "inside",
                "amount": 0.62,
                "ramp": {"stops": {"s1": {"at": 0, "colour": GROUT}, "s2": {"at": 1, "colour": "#3E372E"}}},
            },
        },
    }  # fmt: skip


def _fields() -> dict[str, JsonValue]:
    across: dict[str, JsonValue] = {
        "kind": "across", "rank": 0, "controller": "wave", "axis": "y", "soft": 0.6, "fall": "smooth", "measured": "rest",
        "edge": "wavering", "wave": 0.25, "wave_size": 0.7, "seed": 3,
    }  # fmt: skip
    grain: dict[str, JsonValue] = {
        "kind": "noise",
        "rank": 1,
        "word": "roughened by",
        "size": 0.3,
        "octaves": 3,
        "contrast": 35,
    }
    facing: dict[str, JsonValue] = {
        "kind": "surface",
        "rank": 0,
        "reading": "axis",
        "axis": "z",
        "low": 60,
        "high": 20,
        "measured": "rest",
    }
    bands: dict[str, JsonValue] = {
        "kind": "noise", "rank": 0, "pattern": "gradient", "size": 0.9, "octaves": 2, "contrast": 75, "stretch": [2.2, 0.5, 1.0],
        "seed": 12,
    }  # fmt: skip
    stone: dict[str, JsonValue] = {
        "kind": "noise", "rank": 0, "pattern": "billow", "size": 0.34, "octaves": 4, "contrast": 45, "stretch": [1.8, 0.7, 1.0],
        "seed": 31,
    }  # fmt: skip
    return {
        "stone": {"letter": "D", "name": "Stone", "rank": 3, "sources": {"noise": stone}},
        "wave": {"letter": "A", "name": "Wave", "rank": 0, "level": 0.5, "band": 0.46, "sources": {"edge": across, "grain": grain}},
        "front-side": {"letter": "B", "name": "Front of the wall", "rank": 1, "sources": {"facing": facing}},
        "bands": {"letter": "C", "name": "Glaze", "rank": 2, "level": 0.55, "band": 0.06, "sources": {"noise": bands}},
    }  # fmt: skip
