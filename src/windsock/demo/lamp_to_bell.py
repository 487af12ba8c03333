"""Demo shot 08: a ship's lamp becomes a bell as a controller rises, swelling on the way; beside it a bell and a lamp change places,
cross-faded."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import DARK, RED, STONE, keyed, profile, quay, sea, stones

FOOT = 0.75
"""Height of the plinths."""
BRASS = {"base_colour": "#C08A35", "metallic": 0.9, "roughness": 0.28}
LIT = {
    "base_colour": "#F6E7C4", "roughness": 0.35, "metallic": 0.1, "emission_colour": "#FFB45A", "emission": 0.34,
}  # fmt: skip
LAMP = [
    (0.0, 0.0), (0.36, 0.0), (0.38, 0.05), (0.34, 0.12), (0.2, 0.2), (0.22, 0.27), (0.34, 0.4), (0.4, 0.6), (0.37, 0.82),
    (0.26, 0.98), (0.3, 1.02), (0.31, 1.08), (0.2, 1.18), (0.07, 1.26), (0.06, 1.32), (0.09, 1.37), (0.0, 1.42),
]  # fmt: skip
BELL = [
    (0.0, 0.02), (0.5, 0.0), (0.58, 0.03), (0.54, 0.12), (0.42, 0.3), (0.35, 0.55), (0.32, 0.8), (0.28, 0.98), (0.16, 1.1),
    (0.07, 1.14), (0.07, 1.2), (0.13, 1.27), (0.13, 1.33), (0.07, 1.4), (0.0, 1.42),
]  # fmt: skip


def lamp_to_bell() -> JsonValue:
    """The document of the shot."""
    items: dict[str, JsonValue] = {
        "rise": {
            "kind": "controller", "name": "Rise", "rank": 0,
            "place": keyed((10, [-0.95, FOOT - 0.35, 0.0]), (66, [-0.95, FOOT + 2.05, 0.0])),
        },
        "lamp": _turned("Lamp", 1, LAMP, [-0.95, FOOT, 0.0], LIT) | {"recipe": _rising()},
        "bell": _turned("Bell", 2, BELL, [-0.95, FOOT, 0.0], BRASS) | {"shown": 0.0},
        "small-bell": _turned("Small bell", 3, BELL, [0.95, FOOT, 0.0], BRASS) | {"recipe": _changing()},
        "small-lamp": _turned("Small lamp", 4, LAMP, [0.95, FOOT, 0.0], LIT) | {"shown": 0.0},
    }  # fmt: skip
    return {
        "name": "08 Lamp to bell",
        "frames": {"first": 0, "last": 119},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 42,
        "camera": "camera",
        "environment": {"kind": "dusk", "strength": 0.9},
        "finishing": film_look(white=7400, glow=1.2, vignette=0.9),
        "items": items | _surroundings(),
        "fields": _fields(),
    }


def _turned(
    name: str, rank: float, outline: list[tuple[float, float]], place: list[float], look: JsonValue
) -> dict[str, JsonValue]:
    small = name.startswith("Small")
    geometry: dict[str, JsonValue] = {
        "kind": "revolve",
        "profile": profile(outline, smooth=True),
        "segments": 96,
        "ring_height": 0.03,
    }
    size = 0.72 if small else 1.0
    return {
        "kind": "shape", "name": name, "rank": rank, "place": list(place), "scale": [size, size, size], "geometry": geometry,
        "look": look,
    }  # fmt: skip


def _fields() -> dict[str, JsonValue]:
    rising: dict[str, JsonValue] = {
        "kind": "across", "rank": 0, "controller": "rise", "axis": "y", "at": 0.0, "soft": 0.7, "fall": "smooth",
        "measured": "rest",
    }  # fmt: skip
    return {
        "rising": {"letter": "A", "name": "Rising", "rank": 0, "level": 0.5, "band": 1.0, "sources": {"rise": rising}}
    }


def _rising() -> JsonValue:
    morph: dict[str, JsonValue] = {
        "kind": "morph", "rank": 0, "target": "bell", "field": "rising", "zone": "value", "way": "axis", "laid": "standing",
        "bulge": 0.11, "smoothing": 6,
    }  # fmt: skip
    glow: dict[str, JsonValue] = {
        "kind": "shade", "rank": 1, "field": "rising", "zone": "band", "channel": "emission", "strength": 0.9,
        "ramp": {"kind": "smooth", "stops": {"s0": {"at": 0, "colour": "#7A2A08"}, "s1": {"at": 1, "colour": "#FFC27A"}}},
    }  # fmt: skip
    return {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": {"morph": morph, "glow": glow}}


def _changing() -> JsonValue:
    """To the lamp and, later, the lamp's part stays: what was the bell is gone."""
    pair: dict[str, JsonValue] = {
        "kind": "pair", "rank": 0, "target": "small-lamp", "makes": "other", "way": "uv", "laid": "standing",
        "begins_at": 2.9, "lasts": 0.6, "fade": 0.4, "bulge": 0.06, "smoothing": 6,
    }  # fmt: skip
    parts: dict[str, JsonValue] = {"body": {"name": "Bell", "rank": 0}, "other": {"name": "Lamp", "rank": 1}}
    return {"parts": parts, "steps": {"pair": pair}}


def _surroundings() -> dict[str, JsonValue]:
    plinth = [
        (0.0, -0.45),
        (0.62, -0.45),
        (0.62, -0.36),
        (0.5, -0.3),
        (0.47, 0.6),
        (0.58, 0.68),
        (0.58, FOOT),
        (0.0, FOOT),
    ]
    made: dict[str, JsonValue] = {}
    for place, x in enumerate((-0.95, 0.95)):
        made[f"plinth-{place + 1}"] = {
            "kind": "shape", "name": f"Plinth {place + 1}", "rank": 20 + place, "place": [x, 0, 0],
            "geometry": {"kind": "revolve", "profile": profile(plinth), "segments": 64, "ring_height": 0.2},
            "look": {"base_colour": STONE, "roughness": 0.9},
        }  # fmt: skip
        made[f"band-{place + 1}"] = {
            "kind": "shape", "name": f"Band {place + 1}", "rank": 22 + place, "place": [x, 0.62, 0],
            "geometry": {"kind": "ring", "radius": 0.555, "thickness": 0.02},
            "look": {"base_colour": RED if place == 0 else DARK, "roughness": 0.5},
        }  # fmt: skip
    return made | {
        "quay": {**quay(30), "place": [0, -0.95, 0]},
        "sea": {**sea(31), "place": [0, -1.2, 0]},
        **stones(-0.65),
        "key-light": {
            "kind": "light", "name": "Key light", "rank": 64, "turn": [-32, -38, 0], "colour": "#FFE2B8", "strength": 2.6,
        },
        "camera": {
            "kind": "camera", "name": "Camera", **lens("lamp", 1.2), "rank": 65, "angle": 29,
            "place": keyed((0, [-0.5, 1.55, 5.9]), (119, [0.55, 1.5, 5.6])), "turn": keyed((0, [-3.0, -4.0, 0]), (119, [-2.5, 5.0, 0])),
        },
    }  # fmt: skip
