"""Demo shot 07: the wind sock lags and springs as its mast swings, and streamers trail from its end."""

from __future__ import annotations

from math import cos, radians, sin

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import DARK, RED, WHITE, keyed, quay, sea, stones

HEAD: list[JsonValue] = [0.0, 4.05, 0.0]
"""The top of the mast, which the sock turns about."""

ORANGE = "#D8571C"
STREAMERS = ((20.0, 1.25, RED), (140.0, 1.5, WHITE), (260.0, 1.1, ORANGE))
"""Where each is sewn on round the end, in degrees; how long it is in metres, and its colour."""
END, RADIUS = 3.08, 0.2
"""Where the sock's cloth ends along it, and how wide it is there."""
SWINGS = ((0, 62.0), (14, 62.0), (40, -48.0), (66, 34.0), (88, -12.0), (104, -4.0))
"""Frames, and degrees about the mast."""


def the_sock_itself() -> JsonValue:
    """The document of the shot."""
    turning = keyed(*((frame, [98.0, yaw, 0.0]) for frame, yaw in SWINGS))
    return {
        "name": "07 The sock itself",
        "frames": {"first": 0, "last": 124},
        "rate": {"numerator": 25, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 42,
        "camera": "camera",
        "environment": {"kind": "day", "strength": 0.95},
        "finishing": film_look(white=6600, saturation=1.12),
        "items": _items(turning),
        "fields": {
            "free-end": {
                "letter": "A",
                "name": "Free end",
                "rank": 0,
                "level": 0.5,
                "band": 0.2,
                "sources": _away_from_head(3.1, 2.75, "straight"),
            },
            "flutter": {
                "letter": "B",
                "name": "Flutter",
                "rank": 1,
                "level": 0.5,
                "band": 0.2,
                "sources": _away_from_head(4.4, 1.3, "smooth"),
            },
        },
    }


def _away_from_head(reach: float, soft: float, fall: str) -> JsonValue:
    """A field's source: 0 at the top of the mast, 1 from `reach` metres away on, rising over the last `soft` metres before that."""
    around: JsonValue = {"kind": "around", "rank": 0, "controller": "head", "inverted": True}
    return {"away": around | {"reach": reach, "soft": soft, "fall": fall}}


FOLLOW: dict[str, JsonValue] = {"kind": "follow_through", "field": "free-end", "swings": 1.15, "damping": 0.24}
"""The cloth swings as one, so that the streamers stay sewn on."""


def _streamers(turning: JsonValue) -> dict[str, JsonValue]:
    """Ribbons that lie along paths from the sock's end, swing with it and flutter."""
    made: dict[str, JsonValue] = {}
    for number, (degrees, long, colour) in enumerate(STREAMERS, 1):
        x, z = cos(radians(degrees)), sin(radians(degrees))
        # Along the sock, a little apart, and hanging: down is its own Z.
        way = [(RADIUS + 0.1 * share, END + long * share, 0.22 * share**2) for share in (0.0, 0.33, 0.66, 1.0)]
        made[f"way-{number}"] = {
            "kind": "path",
            "name": f"Way {number}",
            "rank": 10 + number,
            "place": HEAD,
            "turn": turning,
            "points": {
                f"p{rank}": {"rank": rank, "place": [round(x * out, 4), round(along, 4), round(z * out + down, 4)]}
                for rank, (out, along, down) in enumerate(way)
            },
        }
        made[f"streamer-{number}"] = {
            "kind": "shape",
            "name": f"Streamer {number}",
            "rank": 20 + number,
            "geometry": {"kind": "plane", "width": 0.17, "depth": long, "columns": 3, "rows": 48},
            "look": {"base_colour": colour, "roughness": 0.85},
            "recipe": {
                "steps": {
                    "lie": {
                        "kind": "lie_along", "rank": 0, "path": f"way-{number}", "axis": "z", "turn": 90.0 + degrees,
                        "thick_along": {"points": {"a": {"x": 0.0, "y": 1.0}, "b": {"x": 1.0, "y": 0.45}}},
                    },
                    "ripple": {
                        "kind": "wave", "rank": 1, "field": "flutter", "zone": "value", "form": "path",
                        "path": f"way-{number}", "length": 0.55, "speed": 1.1 + 0.15 * number, "height": 0.17,
                        "raises": "normal",
                    },
                    "follow": FOLLOW | {"rank": 2},
                }
            },
        }  # fmt: skip
    return made


def _tail(turning: JsonValue) -> dict[str, JsonValue]:
    """A cord about the sock's end; the ways that places of it go are strands under one skin."""
    tail: JsonValue = {
        "kind": "shape",
        "name": "Tail",
        "rank": 30,
        "place": HEAD,
        "turn": turning,
        "geometry": {"kind": "revolve", "profile": _cord(), "segments": 48, "ring_height": 0.02},
        "look": {"base_colour": RED, "roughness": 0.6},
        "recipe": {
            "parts": {
                "body": {"name": "Body", "rank": 0}, "strands": {"name": "Strands", "rank": 1}, "skin": {"name": "Skin", "rank": 2},
            },
            "steps": {
                "follow": FOLLOW | {"rank": 0},
                "ways": {
                    "kind": "trail", "rank": 1, "makes": "strands", "of": "points", "count": 6, "lasts": 0.11, "width": 0.08,
                    "thinner": 0.92, "spacing": 0.04,
                },
                "skin": {
                    "kind": "meld", "rank": 2, "part": "strands", "also": "body", "makes": "skin", "radius": 0.035,
                    "blend": 2.4, "cell": 0.028, "look": {"base_colour": ORANGE, "roughness": 0.28},
                },
            },
        },
    }  # fmt: skip
    return {"tail": tail}


def _cord() -> JsonValue:
    outline = [
        (RADIUS - 0.02, END - 0.03),
        (RADIUS + 0.02, END - 0.03),
        (RADIUS + 0.02, END + 0.01),
        (RADIUS - 0.02, END + 0.01),
    ]
    return {f"p{index}": {"rank": index, "radius": r, "height": h} for index, (r, h) in enumerate(outline)}


def _items(turning: JsonValue) -> dict[str, JsonValue]:
    return {
        "sock": {
            "kind": "shape",
            "name": "Sock",
            "rank": 0,
            "place": HEAD,
            "turn": turning,
            "geometry": {"kind": "revolve", "profile": _sock(), "segments": 72, "ring_height": 0.05},
            "look": {"base_colour": WHITE, "roughness": 0.85},
            "recipe": {
                "parts": {"body": {"name": "Body", "rank": 0}},
                "steps": {"follow": FOLLOW | {"rank": 0}},
            },
        },
        **_streamers(turning),
        **_tail(turning),
        "head": {"kind": "controller", "name": "Mast head", "rank": 1, "place": HEAD},
        "hoop": {
            "kind": "shape",
            "name": "Hoop",
            "rank": 2,
            "place": HEAD,
            "turn": turning,
            "geometry": {"kind": "revolve", "profile": _hoop(), "segments": 72, "ring_height": 0.05},
            "look": {"base_colour": DARK, "roughness": 0.4, "metallic": 0.6},
        },
        "arm": {
            "kind": "shape",
            "name": "Arm",
            "rank": 3,
            "place": HEAD,
            "turn": turning,
            "scale": [1, 1, 1],
            "geometry": {"kind": "box", "width": 0.06, "height": 0.8, "depth": 0.06, "divisions": 4},
            "look": {"base_colour": DARK, "roughness": 0.4, "metallic": 0.6},
        },
        "mast": {
            "kind": "shape",
            "name": "Mast",
            "rank": 4,
            "place": [0, 0.35, 0],
            "geometry": {"kind": "revolve", "profile": _mast(), "segments": 40, "ring_height": 0.25},
            "look": {"base_colour": WHITE, "roughness": 0.5},
        },
        "quay": quay(5),
        **stones(),
        "sea": sea(7),
        "key-light": {
            "kind": "light",
            "name": "Key light",
            "rank": 8,
            "place": [-6, 9, 7],
            "turn": [-40, -38, 0],
            "colour": "#FFE9CB",
            "strength": 2.7,
        },
        "camera": {
            "kind": "camera",
            "name": "Camera",
            **lens("sock", 1.4, shutter=180.0),
            "rank": 9,
            "place": keyed((0, [0.4, 2.9, 9.6]), (124, [0.2, 2.95, 9.1])),
            "turn": [2.2, 1.5, 0],
            "angle": 39,
        },
    }


def _sock() -> JsonValue:
    """Bands of cloth from the hoop to the open end, a little bellied."""
    bands, begin, length = 6, 0.4, 2.7
    return {
        f"p{band}": {
            "rank": band,
            "radius": 0.5 - 0.29 * (band / bands) ** 1.15,
            "height": begin + length * band / bands,
            "joint": "smooth" if 0 < band < bands else "corner",
            "colour": WHITE if band % 2 else ORANGE,
        }
        for band in range(bands + 1)
    }


def _hoop() -> JsonValue:
    outline = [(0.49, 0.37), (0.54, 0.37), (0.54, 0.43), (0.49, 0.43)]
    return {f"p{index}": {"rank": index, "radius": r, "height": h} for index, (r, h) in enumerate(outline)}


def _mast() -> JsonValue:
    outline = [
        (0.42, 0.0, DARK), (0.42, 0.16, DARK), (0.2, 0.22, WHITE), (0.1, 0.9, RED), (0.095, 1.5, WHITE),
        (0.09, 2.1, RED), (0.085, 2.7, WHITE), (0.08, 3.3, DARK), (0.08, 3.82, DARK), (0.13, 3.86, DARK),
        (0.13, 3.92, DARK), (0.06, 3.98, RED), (0.1, 4.06, RED), (0.0, 4.18, RED),
    ]  # fmt: skip
    return {
        f"p{index:02}": {"rank": index, "radius": radius, "height": height, "colour": colour}
        for index, (radius, height, colour) in enumerate(outline)
    }
