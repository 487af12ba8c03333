"""Demo shot 01: a lighthouse is dissolved by a passing fog bank."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import DARK, RED, STONE, WHITE, keyed, quay, sea, stones


def fog_over_the_light() -> JsonValue:
    """The document of the shot."""
    return {
        "name": "01 Fog over the light",
        "frames": {"first": 0, "last": 119},
        "rate": {"numerator": 24, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 58,
        "camera": "camera",
        "environment": {"kind": "day", "strength": 0.9},
        "finishing": film_look(white=6900, glow=1.1),
        "items": {
            "lighthouse": {
                "kind": "shape",
                "name": "Lighthouse",
                "rank": 0,
                "place": [0, 0.42, 0],
                "geometry": {"kind": "revolve", "profile": _tower(), "segments": 128, "ring_height": 0.06},
                "look": {"base_colour": WHITE, "roughness": 0.62},
                "recipe": {
                    "parts": {
                        "body": {"name": "Body", "rank": 0},
                        "flakes": {"name": "Flakes", "rank": 1},
                        "outlines": {"name": "Outlines", "rank": 2},
                    },
                    "steps": {
                        "flakes": {
                            "kind": "scatter",
                            "rank": -3,
                            "field": "fraying",
                            "zone": "band",
                            "makes": "flakes",
                            "what": "flakes",
                            "by": "spacing",
                            "spacing": 0.05,
                            "size": 0.125,
                            "vary": 0.4,
                            "tilt": 14,
                            "soft": 0.8,
                            "lift": 0.012,
                            "look": {"base_colour": "#D8CFBC", "roughness": 0.7},
                        },
                        "curl": {
                            "kind": "jumble",
                            "rank": -2,
                            "part": "flakes",
                            "field": "fog-front",
                            "zone": "inside",
                            "move": [0.05, 0.12, 0.05],
                            "turn": [50, 60, 50],
                            "axes": "own",
                        },
                        "outlines": {
                            "kind": "wire",
                            "rank": -1,
                            "part": "flakes",
                            "makes": "outlines",
                            "width": 0.006,
                            "sides": 3,
                            "edges": "sharp",
                            "look": {"base_colour": "#FFD9A0", "emission_colour": "#FFB45E", "emission": 2.6},
                        },
                        "cut": {
                            "kind": "cut_away",
                            "rank": 0,
                            "field": "fog-front",
                            "back_look": {"base_colour": "#B48C6C", "roughness": 0.95},
                        },
                    },
                },
            },
            "fog": {
                "kind": "controller",
                "name": "Fog bank",
                "rank": 1,
                "place": keyed((6, [5.2, 4.4, 1.6]), (58, [1.75, 3.75, 0.75]), (112, [-0.6, 1.3, 0.1])),
                "turn": [0, 0, 14],
                "scale": keyed((6, [1.15, 0.9, 1.0]), (112, [1.7, 1.55, 1.5])),
            },
            "lamp": {
                "kind": "shape",
                "name": "Lamp",
                "rank": 2,
                "place": [0, 5.34, 0],
                "scale": [1, 1.35, 1],
                "geometry": {"kind": "sphere", "radius": 0.17, "subdivisions": 4},
                "look": {"base_colour": "#FFE2A8", "emission_colour": "#FFC163", "emission": 2.4, "roughness": 0.3},
            },
            "quay": quay(3),
            "hut": {
                "kind": "shape",
                "name": "Hut",
                "rank": 4,
                "place": [-2.05, 0.62, 0.35],
                "turn": [0, 24, 0],
                "geometry": {"kind": "box", "width": 0.95, "height": 0.75, "depth": 0.7, "divisions": 8},
                "look": {"base_colour": "#D9D2C0", "roughness": 0.8},
            },
            "hut-roof": {
                "kind": "shape",
                "name": "Hut roof",
                "rank": 5,
                "place": [-2.05, 1.03, 0.35],
                "turn": [0, 24, 0],
                "geometry": {"kind": "box", "width": 1.08, "height": 0.09, "depth": 0.84, "divisions": 4},
                "look": {"base_colour": RED, "roughness": 0.7},
            },
            **stones(),
            "sea": sea(6),
            "key-light": {
                "kind": "light",
                "name": "Key light",
                "rank": 7,
                "place": [-6, 9, 7],
                "turn": [-38, -44, 0],
                "colour": "#FFE6C4",
                "strength": 2.6,
            },
            "camera": {
                "kind": "camera",
                "name": "Camera",
                **lens("lighthouse", 1.4),
                "rank": 8,
                "place": keyed((0, [1.0, 2.1, 13.2]), (119, [0.1, 2.3, 12.2])),
                "turn": [4.2, 2.5, 0],
                "angle": 32,
            },
        },
        "fields": {
            "fraying": {
                "letter": "B",
                "name": "Fraying edge",
                "rank": 1,
                "level": 0.5,
                "band": 0.34,
                "sources": {"front": {"kind": "another", "rank": 0, "field": "fog-front"}},
            },
            "fog-front": {
                "letter": "A",
                "name": "Fog front",
                "rank": 0,
                "level": 0.46,
                "band": 0.08,
                "sources": {
                    "around": {
                        "kind": "around",
                        "rank": 0,
                        "controller": "fog",
                        "reach": 2.5,
                        "soft": 1.7,
                        "fall": "smooth",
                    },
                    "grain": {
                        "kind": "noise",
                        "rank": 1,
                        "word": "roughened by",
                        "size": 0.62,
                        "octaves": 5,
                        "contrast": 55,
                    },
                },
            },
        },
    }


def _tower() -> JsonValue:
    outline: list[tuple[float, float, str]] = [
        (1.30, -0.1, STONE), (1.30, 0.24, STONE), (1.20, 0.32, STONE), (1.04, 0.32, RED),
    ]  # fmt: skip
    bands = 7
    for band in range(1, bands):
        share = band / bands
        outline.append((0.60 + 0.42 * (1 - share) ** 1.7, 0.32 + 3.9 * share, WHITE if band % 2 else RED))
    outline += [
        (0.60, 4.22, STONE), (0.70, 4.34, STONE), (0.90, 4.42, STONE), (0.90, 4.54, STONE), (0.52, 4.54, WHITE),
        (0.52, 4.70, DARK), (0.47, 4.70, DARK), (0.47, 5.28, DARK), (0.66, 5.28, DARK), (0.66, 5.34, RED),
        (0.14, 5.86, DARK), (0.07, 5.90, DARK), (0.07, 5.98, RED), (0.11, 6.03, RED), (0.11, 6.09, RED), (0.0, 6.2, RED),
    ]  # fmt: skip
    return {
        f"p{index:02}": {"rank": index, "radius": radius, "height": height, "colour": colour}
        for index, (radius, height, colour) in enumerate(outline)
    }
