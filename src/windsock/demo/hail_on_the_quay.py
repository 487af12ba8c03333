"""Demo shot 13: hailstones dent a tin roof, stain it, and set ripples going on a puddle."""

from __future__ import annotations

from math import cos, radians, sin

from pydantic import JsonValue

from windsock.demo.finishing import film_look
from windsock.demo.shore import profile, sea, stops

WATER = "#2B4650"
TIN, STAIN = "#9FB0B8", "#6B5A4A"
PAVING = "#77746A"
STONES = (
    (-1.05, 0.42, 6, 0.085), (0.12, 0.12, 14, 0.07), (0.95, 0.5, 22, 0.09), (-0.4, -0.25, 30, 0.075), (0.55, -0.42, 37, 0.08),
    (-0.95, -0.38, 45, 0.09), (1.25, -0.1, 52, 0.07), (-0.15, 0.55, 58, 0.085), (0.35, 0.3, 66, 0.09), (-0.65, 0.1, 74, 0.08),
)  # fmt: skip
"""Stones on the roof: where along and across it, the frame at which they hit it, and how large they are."""
SPLASHES = (
    (-0.55, 2.25, 18, 0.09),
    (0.7, 2.7, 33, 0.1),
    (-0.1, 2.95, 49, 0.08),
    (1.15, 2.2, 61, 0.09),
    (-1.1, 2.75, 70, 0.085),
)
"""Stones in the puddle: where, when, and how large."""
SLOPE = 24.0
PULL = 9.81
FALL = 9.0
"""Metres a second that hail falls."""
FPS = 24


def hail_on_the_quay() -> JsonValue:
    """The document of the shot."""
    stones = _stones()
    return {
        "name": "13 Hail on the quay",
        "frames": {"first": 0, "last": 95},
        "rate": {"numerator": FPS, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 76,
        "camera": "camera",
        "environment": {"kind": "day", "strength": 1.0},
        "finishing": film_look(white=6100, saturation=1.04),
        "items": _items() | stones,
        "groups": {
            "hail": {
                "name": "Hail",
                "rank": 0,
                "members": {name: {"rank": rank} for rank, name in enumerate(stones)},
            }
        },
        "fields": {
            "dents": {
                "letter": "A",
                "name": "Stains",
                "rank": 0,
                "level": 0.4,
                "band": 0.4,
                "sources": {
                    "touched": {"kind": "contact", "rank": 0, "group": "hail", "reading": "touched", "spreads": 0.12, "margin": 0.004},
                    "spots": {
                        "kind": "noise", "rank": 1, "word": "roughened by", "space": "rest", "size": 0.09, "octaves": 3, "contrast": 40,
                    },
                },
            },
            "slopes": {
                "letter": "B",
                "name": "Slopes of the waves",
                "rank": 1,
                "level": 0.5,
                "band": 0.4,
                "sources": {
                    "slope": {"kind": "surface", "rank": 0, "reading": "axis", "low": 2.0, "high": 26.0},
                },
            },
            "puddle": {
                "letter": "C",
                "name": "Puddle",
                "rank": 2,
                "level": 0.5,
                "band": 0.1,
                "sources": {
                    "middle": {"kind": "around", "rank": 0, "controller": "middle", "reach": 1.1, "soft": 0.35, "measured": "rest"},
                    "edge": {
                        "kind": "noise", "rank": 1, "word": "roughened by", "space": "rest", "size": 0.7, "octaves": 2, "contrast": 40,
                    },
                },
            },
            "cobbles": {
                "letter": "D",
                "name": "Joints of the paving",
                "rank": 3,
                "level": 0.6,
                "band": 0.3,
                "sources": {
                    "cells": {
                        "kind": "noise", "rank": 0, "pattern": "cellular", "space": "rest", "size": 0.36, "octaves": 1,
                        "contrast": 45, "stretch": [1.25, 4.0, 0.9],
                    },
                },
            },
            "damp": {
                "letter": "E",
                "name": "Damp about the puddle",
                "rank": 4,
                "level": 0.5,
                "band": 0.3,
                "sources": {
                    "middle": {"kind": "around", "rank": 0, "controller": "middle", "reach": 1.35, "soft": 0.55},
                    "edge": {
                        "kind": "noise", "rank": 1, "word": "roughened by", "space": "rest", "size": 0.5, "octaves": 3, "contrast": 40,
                    },
                },
            },
            "boards": {
                "letter": "F",
                "name": "Boards",
                "rank": 5,
                "level": 0.5,
                "band": 0.3,
                "sources": {
                    "grain": {
                        "kind": "noise", "rank": 0, "space": "rest", "size": 0.11, "octaves": 2, "contrast": 60,
                        "stretch": [9.0, 1.0, 9.0],
                    },
                },
            },
        },
    }  # fmt: skip


def _items() -> dict[str, JsonValue]:
    return {
        "roof": {
            "kind": "shape",
            "name": "Tin roof",
            "rank": 0,
            "place": [0, 1.35, 0],
            "turn": [SLOPE, 0, 0],
            "geometry": {"kind": "plane", "width": 3.4, "depth": 1.7, "columns": 114, "rows": 57},
            "look": {"base_colour": TIN, "roughness": 0.4, "metallic": 0.3},
            "recipe": {
                "parts": {"body": {"name": "Body", "rank": 0}},
                "steps": {
                    "corrugated": {
                        "kind": "wave", "rank": 3, "form": "straight", "length": 0.26, "speed": 0.0, "height": 0.045,
                    },
                    "dent": {
                        "kind": "imprint", "rank": 0, "group": "hail", "rim": "height", "rim_height": 0.02, "rim_width": 0.1,
                        "soft": 0.03, "finest": 0.024, "at_most": 0.07,
                    },
                    "stain": {
                        "kind": "shade", "rank": 1, "field": "dents", "zone": "value", "laid": "by the field",
                        "ramp": stops("smooth", (0.0, TIN), (0.5, "#8A7F74"), (1.0, STAIN)),
                    },
                    "dull": {
                        "kind": "shade", "rank": 2, "field": "dents", "zone": "value", "channel": "roughness", "laid": "everywhere",
                        "ramp": stops("smooth", (0.0, "#575757"), (1.0, "#E0E0E0")),
                    },
                },
            },
        },
        "wall": {
            "kind": "shape",
            "name": "Wall",
            "rank": 1,
            "place": [0, 0.45, -0.35],
            "geometry": {"kind": "box", "width": 3.0, "height": 1.1, "depth": 1.5, "divisions": 40},
            "look": {"base_colour": "#A9A08C", "roughness": 0.95},
            "recipe": {
                "parts": {"body": {"name": "Body", "rank": 0}},
                "steps": {
                    "weathered": {
                        "kind": "shade", "rank": 0, "field": "boards", "zone": "value", "laid": "everywhere",
                        "ramp": stops("smooth", (0.0, "#6F6655"), (0.45, "#A39A86"), (1.0, "#C9C1AC")),
                    },
                },
            },
        },
        "door": {
            "kind": "shape",
            "name": "Door",
            "rank": 2,
            "place": [-0.5, 0.34, 0.41],
            "geometry": {"kind": "box", "width": 0.55, "height": 0.86, "depth": 0.05, "divisions": 1},
            "look": {"base_colour": "#A8341B", "roughness": 0.6},
        },
        "puddle": {
            "kind": "shape",
            "name": "Puddle",
            "rank": 3,
            "place": [0, -0.075, 2.4],
            "geometry": {"kind": "plane", "width": 4.2, "depth": 2.2, "columns": 210, "rows": 110},
            "look": {"base_colour": WATER, "roughness": 0.08},
            "recipe": {
                "parts": {"body": {"name": "Body", "rank": 0}},
                "steps": {
                    "ring": {
                        "kind": "ripple", "rank": 0, "group": "hail", "speed": 0.8, "strength": 0.7, "damping": 1.5,
                        "walls": "swallow",
                    },
                    "glints": {
                        "kind": "shade", "rank": 1, "field": "slopes", "zone": "value", "laid": "by the field",
                        "ramp": stops("smooth", (0.0, WATER), (0.6, "#8FA9B0"), (1.0, "#DCE8EA")),
                    },
                    "shore": {"kind": "cut_away", "rank": 2, "field": "puddle", "zone": "outside"},
                },
            },
        },
        "middle": {
            "kind": "controller",
            "name": "Puddle",
            "rank": 9,
            "place": [0.0, 0, 2.35],
            "scale": [1.9, 1, 0.85],
        },
        "quay-stones": {
            "kind": "shape",
            "name": "Quay",
            "rank": 4,
            "place": [0.4, -0.085, 0.4],
            "geometry": {"kind": "plane", "width": 11, "depth": 9, "columns": 240, "rows": 190},
            "look": {"base_colour": PAVING, "roughness": 0.9},
            "recipe": {
                "parts": {"body": {"name": "Body", "rank": 0}},
                "steps": {
                    "joints": {
                        "kind": "push", "rank": 0, "field": "cobbles", "zone": "value", "along": "axis",
                        "direction": [0, -1, 0], "distance": 0.045,
                    },
                    "paved": {
                        "kind": "shade", "rank": 1, "field": "cobbles", "zone": "value", "laid": "everywhere",
                        "ramp": stops("smooth", (0.0, "#8B877B"), (0.5, PAVING), (0.85, "#3B3A36"), (1.0, "#2E2D2A")),
                    },
                    "damp": {
                        "kind": "shade", "rank": 2, "field": "damp", "zone": "value", "laid": "by the field",
                        "ramp": stops("smooth", (0.0, PAVING), (1.0, "#35373A")),
                    },
                    "wet": {
                        "kind": "shade", "rank": 3, "field": "damp", "zone": "value", "channel": "roughness", "laid": "everywhere",
                        "ramp": stops("smooth", (0.0, "#E6E6E6"), (1.0, "#4A4A4A")),
                    },
                },
            },
        },
        "sea": {**sea(5), "place": [0, -0.6, 0]},
        "bollard": {
            "kind": "shape",
            "name": "Bollard",
            "rank": 7,
            "place": [2.35, -0.09, 1.0],
            "geometry": {
                "kind": "revolve", "segments": 40,
                "profile": profile([(0.2, 0.0), (0.15, 0.1), (0.14, 0.5), (0.24, 0.58), (0.22, 0.68), (0.0, 0.72)]),
            },
            "look": {"base_colour": "#25323B", "roughness": 0.5, "metallic": 0.3},
        },
        "key-light": {
            "kind": "light",
            "name": "Key light",
            "rank": 50,
            "place": [-6, 5, 2.5],
            "turn": [-37, -67, 0],
            "colour": "#FFE3C2",
            "strength": 3.0,
        },
        "camera": {
            "kind": "camera",
            "name": "Camera",
            "rank": 51,
            "place": [0.85, 2.9, 6.3],
            "turn": [-24, 7, 0],
            "angle": 37,
        },
    }  # fmt: skip


def _stones() -> dict[str, JsonValue]:
    """Every stone of hail: it falls, hits the roof or the water, and goes on from there."""
    made: dict[str, JsonValue] = {}
    for number, (along, across, frame, radius) in enumerate(STONES, 1):
        made[f"stone-{number}"] = _stone(number, radius, _off_the_roof(along, across, frame, radius))
    for number, (x, z, frame, radius) in enumerate(SPLASHES, len(STONES) + 1):
        made[f"stone-{number}"] = _stone(number, radius, _into_the_puddle(x, z, frame))
    return made


def _stone(number: int, radius: float, keys: list[tuple[float, list[float]]]) -> JsonValue:
    return {
        "kind": "shape",
        "name": f"Hailstone {number}",
        "rank": 20 + number,
        "place": {
            "keys": {
                f"k{index:02}": {
                    "frame": frame,
                    "value": [round(one, 4) for one in place],
                    "easing": {"kind": "linear"},
                }
                for index, (frame, place) in enumerate(keys)
            }
        },
        "turn": [31 * number % 360, 67 * number % 360, 0],
        "scale": [1, 0.9, 1.08],
        "geometry": {"kind": "sphere", "radius": radius, "subdivisions": 3},
        "look": {"base_colour": "#E6EDF0", "roughness": 0.25},
    }


def _falling(place: list[float], frame: float) -> list[tuple[float, list[float]]]:
    """Keys of a fall at an even speed that comes to a place at a frame, from above the picture."""
    begins = max(frame - 18, 0)
    return [(begins, [place[0], place[1] + FALL * (frame - begins) / FPS, place[2]]), (frame, place)]


def _off_the_roof(along: float, across: float, frame: int, radius: float) -> list[tuple[float, list[float]]]:
    """It falls on the roof, dents it, and jumps off to the front."""
    slope = radians(SLOPE)
    up = [0.0, cos(slope), sin(slope)]
    hit = [along, 1.35 - across * sin(slope), across * cos(slope)]
    deepest = [hit[axis] + up[axis] * (radius * 0.45) for axis in range(3)]
    keys = _falling(deepest, frame)
    velocity = [0.25 * along, 1.5, 1.5]
    for later in range(1, 15, 2):
        seconds = later / FPS
        keys.append(
            (
                frame + later,
                [
                    deepest[0] + velocity[0] * seconds,
                    deepest[1] + velocity[1] * seconds - PULL / 2 * seconds**2,
                    deepest[2] + velocity[2] * seconds,
                ],
            )
        )
    keys.append((frame + 16, [deepest[0], -3.0, deepest[2] + 1.5]))
    return keys


def _into_the_puddle(x: float, z: float, frame: int) -> list[tuple[float, list[float]]]:
    """It falls into the water and comes up no more."""
    return [*_falling([x, -0.03, z], frame), (frame + 4, [x, -0.3, z])]
