"""Demo shot 12: a slab of light passes a weathervane and takes it away; its wires show in the light and are wiped after it."""

from __future__ import annotations

import math

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import DARK, RED, WHITE, keyed, profile, sea, stops

BRASS = {"base_colour": "#B98A3E", "metallic": 0.85, "roughness": 0.34}
GLOW = stops("smooth", (0.0, "#FF5A14"), (0.45, "#FF9A3C"), (1.0, "#FFF1C8"))
TOP = 2.2
"""Height of the vane's spindle."""


def beacon_sweep() -> JsonValue:
    """The document of the shot."""
    items: dict[str, JsonValue] = {"beam": _beam_controller(), "light-slab": _light_slab()}
    for place, (name, shape) in enumerate(_vane().items()):
        items[name] = shape | {"rank": 10 + place, "recipe": _recipe()}
    return {
        "name": "12 Beacon sweep",
        "frames": {"first": 0, "last": 95},
        "rate": {"numerator": 30, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 46,
        "camera": "camera",
        "environment": {"kind": "dusk", "strength": 1.0},
        "finishing": film_look(white=7200, glow=1.2, vignette=0.8),
        "items": items | _surroundings(),
        "fields": _fields(),
    }


def _beam_controller() -> dict[str, JsonValue]:
    return {
        "kind": "controller",
        "name": "Beam",
        "rank": 0,
        "place": keyed((6, [-2.6, TOP, 0.0]), (88, [2.9, TOP, 0.0])),
        "turn": [0, 0, -9],
    }


def _light_slab() -> dict[str, JsonValue]:
    """What is seen of the beam: as wide as the wires behind it are."""
    return {
        "kind": "shape",
        "name": "Slab of light",
        "rank": 1,
        "place": keyed((6, [-2.96, TOP, 0.0]), (88, [2.54, TOP, 0.0])),
        "turn": [0, 0, -9],
        "geometry": {"kind": "box", "width": 0.68, "height": 9.0, "depth": 5.0, "divisions": 1},
        "look": {
            "base_colour": "#FFD9A0",
            "emission_colour": "#FFB060",
            "emission": 0.22,
            "opacity": 0.07,
            "backs": "hidden",
        },
    }


def _fields() -> dict[str, JsonValue]:
    sweep = {
        "kind": "across", "rank": 0, "controller": "beam", "axis": "x", "at": 0.0, "soft": 0.24,
        "edge": "wavering", "wave": 0.045, "wave_size": 0.22, "evolution": 0.9,
    }  # fmt: skip
    return {
        "sweep": {"letter": "A", "name": "Sweep", "rank": 0, "level": 0.5, "band": 0.55, "sources": {"across": sweep}},
        "after": {
            "letter": "B",
            "name": "Sweep, a moment later",
            "rank": 1,
            "level": 0.5,
            "band": 0.44,
            "sources": {"sweep": {"kind": "another", "rank": 0, "field": "sweep", "lag": 0.34}},
        },
    }


def _recipe() -> JsonValue:
    """The wires are laid on the whole shape, shown behind the light and wiped after it; the shape itself is taken away."""
    return {
        "parts": {
            "body": {"name": "Body", "rank": 0}, "wires": {"name": "Wires", "rank": 1}, "cut": {"name": "Cut", "rank": 2},
        },
        "steps": {
            "wire": {
                "kind": "wire", "rank": 0, "makes": "wires", "width": 0.008, "sides": 3,
                "look": {"base_colour": "#2B1A10", "emission_colour": "#FF8A3A", "emission": 2.2},
            },
            "not-yet": {
                "kind": "cut_away", "rank": 1, "part": "wires", "field": "sweep", "zone": "outside", "backs": "hidden",
            },
            "wiped": {"kind": "cut_away", "rank": 2, "part": "wires", "field": "after", "backs": "hidden"},
            "wires-glow": {
                "kind": "shade", "rank": 3, "part": "wires", "field": "after", "channel": "emission", "zone": "band",
                "strength": 7.0, "ramp": GLOW,
            },
            "cut": {
                "kind": "slice", "rank": 4, "makes": "cut", "by": "field", "field": "sweep", "beside": 0.012, "voxel": 0.03,
                "look": {"base_colour": "#FFB070", "emission_colour": "#FF8A38", "emission": 5.0, "roughness": 0.9},
            },
            "glow": {
                "kind": "shade", "rank": 5, "field": "sweep", "channel": "emission", "zone": "band",
                "strength": 5.0, "ramp": GLOW,
            },
        },
    }  # fmt: skip


def _vane() -> dict[str, dict[str, JsonValue]]:
    """A fish on an arrow, above two arms that end in balls."""
    fish = [
        (0.0, -0.62),
        (0.055, -0.5),
        (0.2, -0.2),
        (0.245, 0.1),
        (0.19, 0.42),
        (0.08, 0.68),
        (0.055, 0.78),
        (0.15, 0.98),
        (0.21, 1.12),
        (0.0, 1.06),
    ]
    arrow = [(0.0, -1.34), (0.13, -1.02), (0.028, -1.02), (0.028, 1.2), (0.0, 1.2)]
    spindle = [(0.0, -0.62), (0.045, -0.62), (0.036, 0.5), (0.0, 0.5)]
    return {
        "fish": _part("Fish", profile(fish, smooth=True), [0.12, TOP + 0.52, 0.0], [0, 0, -90], [1.0, 1.0, 0.34], rings=0.055, around=44),
        "arrow": _part("Arrow", profile(arrow), [0.0, TOP + 0.52, 0.0], [0, 0, -90], rings=0.06, around=16),
        "spindle": _part("Spindle", profile(spindle), [0.0, TOP, 0.0], [0, 0, 0], rings=0.09, around=16),
        "arm-x": _part("Arm east to west", _arm(), [0.0, TOP, 0.0], [0, 0, 90], rings=0.05, around=14),
        "arm-z": _part("Arm north to south", _arm(), [0.0, TOP, 0.0], [90, 0, 0], rings=0.05, around=14),
    }  # fmt: skip


def _arm() -> JsonValue:
    """A rod with a ball at each end."""
    ball, rod, end = 0.085, 0.02, 0.7
    turns = [math.radians(degrees) for degrees in range(0, 180, 20)]
    half = [(ball * math.sin(turn), ball * math.cos(turn) + end) for turn in turns]
    half.append((rod, end - math.sqrt(ball * ball - rod * rod)))
    return profile([(radius, -height) for radius, height in half] + half[::-1])


def _part(
    name: str,
    outline: JsonValue,
    place: list[float],
    turn: list[float],
    scale: list[float] | None = None,
    rings: float = 0.1,
    around: int = 24,
) -> dict[str, JsonValue]:
    return {
        "kind": "shape",
        "name": name,
        "place": list(place),
        "turn": list(turn),
        "scale": list(scale or [1, 1, 1]),
        "geometry": {"kind": "revolve", "profile": outline, "segments": around, "ring_height": rings},
        "look": BRASS,
    }


def _surroundings() -> dict[str, JsonValue]:
    roof = [(1.75, 0.0), (1.7, 0.08), (0.75, 0.75), (0.3, 1.22), (0.16, 1.5), (0.2, 1.56), (0.12, 1.66), (0.0, 1.68)]
    wall = [(1.5, -3.0), (1.5, 0.0), (0.0, 0.0)]
    return {
        "roof": {
            "kind": "shape", "name": "Roof", "rank": 60, "place": [0, 0, 0],
            "geometry": {"kind": "revolve", "profile": profile(roof, smooth=True), "segments": 96, "ring_height": 0.1},
            "look": {"base_colour": RED, "roughness": 0.5, "metallic": 0.1},
        },
        "wall": {
            "kind": "shape", "name": "Wall", "rank": 61, "place": [0, 0, 0],
            "geometry": {"kind": "revolve", "profile": profile(wall), "segments": 96, "ring_height": 0.3},
            "look": {"base_colour": WHITE, "roughness": 0.8},
        },
        "rail": {
            "kind": "shape", "name": "Rail", "rank": 62, "place": [0, -0.02, 0],
            "geometry": {"kind": "revolve", "profile": profile([(1.72, -0.12), (1.84, -0.12), (1.84, 0.02), (1.72, 0.02)]), "segments": 96},
            "look": {"base_colour": DARK, "roughness": 0.5},
        },
        "sea": {**sea(63), "place": [0, -9, 0], "scale": [7, 1, 7]},
        "key-light": {
            "kind": "light", "name": "Key light", "rank": 64, "turn": [-20, 34, 0], "colour": "#FFC58A", "strength": 2.4,
        },
        "camera": {
            "kind": "camera", "name": "Camera", **lens("spindle", 1.4), "rank": 65, "angle": 30,
            "place": keyed((0, [0.45, 2.2, 5.3]), (95, [-0.3, 2.35, 5.0])), "turn": keyed((0, [2.5, 4.0, 0]), (95, [1.0, -3.0, 0])),
        },
    }  # fmt: skip
