"""Demo shot 04: an anchor is eaten in from its surface by the sea, fast and slow by a coarse and a fine noise, islands of paint are left;
then the same is played back as growth."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import keyed, profile, stones, stops

PAINT = {"base_colour": "#2F6A74", "roughness": 0.4, "metallic": 0.15}
RUST = {"base_colour": "#7C3D1D", "roughness": 0.78, "metallic": 0.35}
TURN = 60
"""The frame at which it turns back."""


def years_under_water() -> JsonValue:
    """The document of the shot."""
    return {
        "name": "04 Years under water",
        "frames": {"first": 0, "last": 119},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 44,
        "camera": "camera",
        "environment": {"kind": "storm", "strength": 0.9},
        "finishing": film_look(white=5700, contrast=1.08, vignette=1.0),
        "items": {**_anchor(), **_surroundings()},
        "fields": _fields(),
    }


def _anchor() -> dict[str, JsonValue]:
    """Its parts, each eaten from its own surface; they hang on one controller."""
    shank = [
        (0.0, -1.0), (0.12, -0.99), (0.155, -0.9), (0.13, -0.74), (0.1, -0.4), (0.085, 0.4), (0.09, 0.72), (0.125, 0.8),
        (0.125, 0.92), (0.09, 0.98), (0.0, 1.0),
    ]  # fmt: skip
    stock = [(0.0, -0.7), (0.06, -0.69), (0.085, -0.63), (0.06, -0.57), (0.052, 0.57), (0.085, 0.63), (0.06, 0.69), (0.0, 0.7)]  # fmt: skip
    arms = [(-0.82, -0.2), (-0.66, -0.62), (-0.3, -0.86), (0.0, -0.92), (0.3, -0.86), (0.66, -0.62), (0.82, -0.2)]
    bow: dict[str, JsonValue] = {
        f"p{place}": {"rank": place, "place": [x, y, 0.0], "joint": "smooth"} for place, (x, y) in enumerate(arms)
    }
    made: dict[str, JsonValue] = {
        "anchor": {
            "kind": "controller", "name": "Anchor", "rank": 0, "place": [0.0, 0.98, 0.0], "turn": [0, 24, -9],
        },
        "shank": _eaten("Shank", 1, _turned(shank)),
        "bow": {
            "kind": "path", "name": "Bow", "rank": 2, "parent": "anchor", "points": bow, "closed": False,
        },
        "arms": _eaten(
            "Arms", 3,
            {
                "kind": "sweep", "path": "bow", "section": "round", "width": 0.2, "height": 0.2, "spacing": 0.02, "sides": 40,
                "start": 0.0, "end": 1.0,
            },
            parent="bow",
        ),
        "stock": _eaten("Stock", 4, _turned(stock), place=[0, 0.62, 0], turn=[90, 0, 0]),
        "shackle": _eaten(
            "Shackle", 5,
            {"kind": "ring", "radius": 0.15, "thickness": 0.055, "segments": 64, "sides": 20},
            place=[0, 1.1, 0], turn=[90, 0, 0],
        ),
    }  # fmt: skip
    for place, side in enumerate((-1, 1)):
        made[f"fluke-{place + 1}"] = _eaten(
            f"Fluke {place + 1}", 6 + place, {"kind": "sphere", "radius": 0.2, "subdivisions": 5},
            place=[side * 0.8, -0.3, 0], turn=[0, 0, side * 22], scale=[0.36, 1.25, 1.15],
        )  # fmt: skip
    return made


def _turned(outline: list[tuple[float, float]]) -> JsonValue:
    return {"kind": "revolve", "profile": profile(outline, smooth=True), "segments": 56, "ring_height": 0.03}


def _eaten(name: str, rank: float, geometry: JsonValue, parent: str = "anchor", **placed: JsonValue) -> JsonValue:
    erode: dict[str, JsonValue] = {
        "kind": "erode", "rank": 0, "field": "pace", "zone": "value", "speed": 0.05, "voxel": 0.0075, "smooth": 0.005,
        "makes": "rust", "look": RUST, "least": 0.00002,
    }  # fmt: skip
    shade: dict[str, JsonValue] = {
        "kind": "shade", "rank": 1, "part": "rust", "field": "grain", "zone": "value", "channel": "base_colour",
        "ramp": stops("smooth", (0.25, "#2A1710"), (0.5, "#8A421C"), (0.75, "#C9823F")),
    }  # fmt: skip
    stain: dict[str, JsonValue] = {
        "kind": "shade", "rank": 2, "field": "stain", "zone": "value", "channel": "base_colour",
        "ramp": stops("smooth", (0.0, "#9C7A4E"), (0.6, "#8A421C"), (1.0, "#43200F")),
    }  # fmt: skip
    parts: dict[str, JsonValue] = {"body": {"name": "Paint", "rank": 0}, "rust": {"name": "Rust", "rank": 1}}
    back: JsonValue = {
        "keys": {
            "k1": {"frame": 4, "value": 0.0, "easing": {"kind": "linear"}},
            "k2": {"frame": TURN, "value": 47.0, "easing": {"kind": "linear"}},
            "k3": {"frame": 116, "value": 0.0},
        }
    }
    recipe = {"parts": parts, "steps": {"erode": erode, "shade": shade, "stain": stain}, "retime": {"frame": back}}
    return {
        "kind": "shape", "name": name, "rank": rank, "parent": parent, "geometry": geometry, "look": PAINT, "recipe": recipe,
        **placed,
    }  # fmt: skip


def _fields() -> dict[str, JsonValue]:
    """How fast the sea eats, in the world's places so that it is the same for all parts; the grain of the rust; and where it stains the paint."""
    coarse: dict[str, JsonValue] = {
        "kind": "noise", "rank": 0, "size": 0.42, "octaves": 2, "contrast": 78, "space": "world", "measured": "rest", "seed": 7,
    }  # fmt: skip
    fine: dict[str, JsonValue] = {
        "kind": "noise", "pattern": "billow", "rank": 1, "word": "roughened by", "size": 0.09, "octaves": 3, "contrast": 55, "space": "world",
        "measured": "rest", "seed": 3,
    }  # fmt: skip
    grain: dict[str, JsonValue] = {"kind": "noise", "rank": 0, "size": 0.09, "octaves": 3, "contrast": 45, "seed": 5}
    return {
        "pace": {
            "letter": "A", "name": "How fast the sea eats", "rank": 0, "level": 0.5, "band": 0.2,
            "sources": {"coarse": coarse, "fine": fine},
        },
        "stain": {
            "letter": "C", "name": "Eaten until now", "rank": 2, "level": 0.5, "band": 0.2,
            "sources": {"eaten": {"kind": "eaten", "rank": 0, "soft": 0.035}},
        },
        "grain": {"letter": "B", "name": "Grain of the rust", "rank": 1, "level": 0.5, "band": 0.2, "sources": {"grain": grain}},
    }  # fmt: skip


def _surroundings() -> dict[str, JsonValue]:
    sand = [(0.0, 0.0), (2.0, 0.02), (4.0, -0.1), (7.0, -0.4), (12.0, -0.5)]
    bed: dict[str, JsonValue] = {
        "kind": "shape", "name": "Sea bed", "rank": 30, "geometry": {
            "kind": "revolve", "profile": profile(list(reversed(sand)), smooth=True), "segments": 96, "ring_height": 0.3,
        },
        "look": {"base_colour": "#6E7466", "roughness": 0.98},
    }  # fmt: skip
    return {
        "bed": bed,
        **stones(0.06),
        "key-light": {
            "kind": "light", "name": "Light from above", "rank": 64, "turn": [-58, -34, 0], "colour": "#BFE6E4", "strength": 3.0,
        },
        "fill-light": {
            "kind": "light", "name": "Light from the side", "rank": 65, "turn": [-8, 70, 0], "colour": "#FFC79A", "strength": 1.1,
        },
        "camera": {
            "kind": "camera", "name": "Camera", **lens("shank", 1.2), "rank": 66, "angle": 30,
            "place": keyed((0, [0.5, 1.42, 4.7]), (119, [-0.6, 1.25, 4.35])), "turn": keyed((0, [-3.0, 5.5, 0]), (119, [-0.6, -8.0, 0])),
        },
    }  # fmt: skip
