"""Demo shot 02: the letters KP shredded from one corner; one front breaks them to flakes, a second takes the flakes away."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import DARK, keyed, quay, sea, stones

INK, PAPER, EDGE = "#C8420B", "#EFE7D4", "#3A1A0C"


def sign_off() -> JsonValue:
    """The document of the shot."""
    return {
        "name": "02 Sign-off",
        "frames": {"first": 0, "last": 95},
        "rate": {"numerator": 24, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 47,
        "camera": "camera",
        "environment": {"kind": "dusk", "strength": 1.0},
        "finishing": film_look(white=7000, glow=1.3, vignette=0.9),
        "items": {
            "letters": {
                "kind": "shape",
                "name": "Letters",
                "rank": 0,
                "place": [0, 0.78, 0],
                "geometry": {
                    "kind": "text", "words": "KP", "font": "slab", "size": 2.3, "depth": 0.42, "bevel": 0.0,
                    "face_size": 0.105, "tracking": 0.04,
                },
                "look": {"base_colour": INK, "roughness": 0.42},
                "recipe": _recipe(),
            },
            "corner": {
                "kind": "controller",
                "name": "Shredding corner",
                "rank": 1,
                "place": keyed((4, [2.3, 3.2, 0.3]), (78, [-2.9, 0.1, 0.3])),
                "turn": [0, 0, 118],
            },
            "quay": quay(3),
            **stones(),
            "sea": sea(4),
            "lamp": {
                "kind": "shape",
                "name": "Quay lamp",
                "rank": 5,
                "place": [-2.75, 0.55, 0.9],
                "geometry": {"kind": "tube", "radius": 0.05, "height": 1.5},
                "look": {"base_colour": DARK, "roughness": 0.5, "metallic": 0.4},
            },
            "lamp-head": {
                "kind": "shape",
                "name": "Lamp head",
                "rank": 6,
                "place": [-2.75, 1.4, 0.9],
                "geometry": {"kind": "sphere", "radius": 0.13},
                "look": {"base_colour": "#FFE2A8", "emission_colour": "#FFC163", "emission": 2.2},
            },
            "key-light": {
                "kind": "light", "name": "Key light", "rank": 7, "turn": [-30, -38, 0], "colour": "#FFD9A8", "strength": 2.8,
            },
            "camera": {
                "kind": "camera", "name": "Camera", **lens("letters", 1.2), "rank": 8, "angle": 33,
                "place": keyed((0, [-0.7, 1.9, 7.6]), (95, [0.5, 2.05, 7.0])), "turn": keyed((0, [-1, -4, 0]), (95, [-2, 4, 0])),
            },
        },
        "fields": _fields(),
    }  # fmt: skip


def _recipe() -> JsonValue:
    return {
        "steps": {
            "break": {
                "kind": "fracture", "rank": 0, "into": "faces", "thickness": 0.012,
                "inside": {"base_colour": PAPER, "roughness": 0.9},
            },
            "lift": {
                "kind": "shift", "rank": 1, "field": "breaking", "zone": "value", "move": [0.0, 0.34, 0.0],
                "turn": [0, 0, 0], "size": [0.72, 1.0, 0.72], "axes": "normal",
            },
            "drift": {
                "kind": "shift", "rank": 2, "field": "leaving", "zone": "value", "move": [0.75, 0.5, 0.35], "axes": "world",
            },
            "tumble": {
                "kind": "jumble", "rank": 3, "field": "breaking", "zone": "value", "move": [0.3, 0.28, 0.34],
                "turn": [260, 260, 260], "axes": "world", "smallest": 0.55, "largest": 1.15,
            },
            "go": {
                "kind": "shift", "rank": 4, "field": "leaving", "zone": "inside", "size": [0, 0, 0],
            },
            "singe": {
                "kind": "shade", "rank": 5, "field": "breaking", "zone": "band", "channel": "emission", "strength": 3.2,
                "ramp": {"stops": {"s1": {"at": 0, "colour": "#7A1502"}, "s2": {"at": 1, "colour": "#FFB347"}}},
            },
        }
    }  # fmt: skip


def _fields() -> dict[str, JsonValue]:
    across: dict[str, JsonValue] = {
        "kind": "across", "rank": 0, "controller": "corner", "axis": "y", "soft": 1.15, "fall": "smooth", "measured": "rest",
        "edge": "wavering", "wave": 0.2, "wave_size": 0.8, "seed": 6,
    }  # fmt: skip
    grain: dict[str, JsonValue] = {
        "kind": "noise",
        "rank": 1,
        "word": "roughened by",
        "size": 0.34,
        "octaves": 3,
        "contrast": 45,
    }
    return {
        "breaking": {
            "letter": "A", "name": "Breaking", "rank": 0, "level": 0.12, "band": 0.2, "sources": {"edge": across, "grain": grain},
        },
        "leaving": {
            "letter": "B", "name": "Leaving", "rank": 1, "level": 0.62, "band": 0.5,
            "sources": {"later": {"kind": "another", "rank": 0, "field": "breaking", "lag": 0.55}},
        },
    }  # fmt: skip
