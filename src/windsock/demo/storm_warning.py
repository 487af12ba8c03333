"""Demo shot 15: a sign dissolves from top to bottom along one tilted, wavering edge that scorches and glows."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.finishing import film_look, lens
from windsock.demo.shore import DARK, RED, WHITE, keyed, profile, quay, sea, stones, stops

PAINT = stops(
    "stepped",
    *((place / 8, RED if place % 2 else WHITE) for place in range(8)),
)
SCORCH = stops("smooth", (0.0, "#7A5230"), (0.4, "#2E1D12"), (0.75, "#0C0806"), (1.0, "#060404"))
EMBER = stops("smooth", (0.0, "#7A1502"), (0.4, "#FF5A10"), (0.8, "#FFB347"), (1.0, "#FFF3CF"))


def storm_warning() -> JsonValue:
    """The document of the shot."""
    shapes: dict[str, JsonValue] = {}
    for place, (name, shape) in enumerate(_sign().items()):
        recipe = _recipe(painted=name == "stripes-paint", shedding=name == "board")
        shapes[name] = shape | {"rank": 10 + place, "recipe": recipe}
    return {
        "name": "15 Storm warning",
        "frames": {"first": 0, "last": 119},
        "rate": {"numerator": 25, "denominator": 1},
        "picture": {"width": 1280, "height": 720},
        "opening_frame": 58,
        "camera": "camera",
        "environment": {"kind": "storm", "strength": 0.75},
        "finishing": film_look(white=5800, contrast=1.12, saturation=1.0, vignette=0.9),
        "items": {
            "edge": {
                "kind": "controller",
                "name": "Burning edge",
                "rank": 0,
                "place": keyed((4, [0.0, 4.25, 0.0]), (86, [0.0, 1.75, 0.0]), (117, [0.0, -0.5, 0.0])),
                "turn": [0, 0, 194],
            },
            "stripes": {
                "kind": "controller",
                "name": "Stripes",
                "rank": 1,
                "place": [1.5, 3.9, 0.0],
                "turn": [0, 0, -45],
            },
            **shapes,
            **_surroundings(),
        },
        "fields": _fields(),
    }


def _fields() -> dict[str, JsonValue]:
    edge = {
        "kind": "across", "rank": 0, "controller": "edge", "axis": "y", "at": 0.0, "soft": 0.5,
        "edge": "wavering", "wave": 0.14, "wave_size": 0.5, "evolution": 0.5, "seed": 4,
    }  # fmt: skip
    crumble = {
        "kind": "noise", "rank": 1, "word": "roughened by", "pattern": "ridged", "size": 0.16, "octaves": 4,
        "contrast": 20, "amount": 0.55,
    }  # fmt: skip
    ahead = edge | {"soft": 1.1, "at": 0.42, "fall": "smooth"}
    soot = {
        "kind": "noise", "rank": 1, "word": "roughened by", "pattern": "billow", "size": 0.3, "octaves": 3,
        "contrast": 2, "amount": 0.5,
    }  # fmt: skip
    diagonal = {"kind": "across", "rank": 0, "controller": "stripes", "axis": "y", "at": 0.0, "soft": 3.3}
    return {
        "heat": {"letter": "C", "name": "Heat ahead of it", "rank": 2, "sources": {"edge": ahead, "soot": soot}},
        "front": {
            "letter": "A", "name": "Burning edge", "rank": 0, "level": 0.62, "band": 0.2,
            "sources": {"edge": edge, "crumble": crumble},
        },
        "stripes": {"letter": "B", "name": "Stripes", "rank": 1, "sources": {"diagonal": diagonal}},
    }  # fmt: skip


def _recipe(painted: bool, shedding: bool) -> JsonValue:
    """Paint, embers, scorch ahead of the edge, cut, and the glow at the cut."""
    steps: dict[str, JsonValue] = {
        "scorch": {"kind": "shade", "rank": 1, "field": "heat", "zone": "value", "ramp": SCORCH},
        "dull": {
            "kind": "shade", "rank": 2, "field": "heat", "channel": "roughness", "zone": "value",
            "ramp": stops("smooth", (0.0, "#FFFFFF"), (1.0, "#FFFFFF")),
        },
        "cut": {
            "kind": "cut_away", "rank": 3, "field": "front",
            "back_look": {"base_colour": "#0C0806", "roughness": 0.95, "emission_colour": "#C23A06", "emission": 0.9},
        },
        "glow": {
            "kind": "shade", "rank": 4, "field": "front", "channel": "emission", "zone": "band", "strength": 7.0,
            "ramp": EMBER,
        },
    }  # fmt: skip
    if painted:
        steps["paint"] = {
            "kind": "shade",
            "rank": 0,
            "field": "stripes",
            "zone": "value",
            "laid": "everywhere",
            "ramp": PAINT,
        }
    parts: dict[str, JsonValue] = {"body": {"name": "Body", "rank": 0}}
    if shedding:
        parts["embers"] = {"name": "Embers", "rank": 1}
        steps["embers"] = {
            "kind": "shed", "rank": 0, "field": "front", "makes": "embers", "rate": 90.0, "life": 1.6, "size": 0.034,
            "speed": 0.5, "stray": 1.2, "pull": -0.9, "drag": 0.9, "whirl": 70.0, "glow": 4.0,
        }  # fmt: skip
    return {"parts": parts, "steps": steps}


def _sign() -> dict[str, dict[str, JsonValue]]:
    """A striped board on two posts, with two black cones on a plate."""
    paint = {"base_colour": WHITE, "roughness": 0.55}
    black = {"base_colour": "#15191C", "roughness": 0.5}
    cone = profile([(0.0, -0.3), (0.3, -0.3), (0.02, 0.3), (0.0, 0.3)])
    parts: dict[str, dict[str, JsonValue]] = {
        "board": _box("Board", [0, 2.75, 0], [2.5, 1.75, 0.1], 48, paint),
        "stripes-paint": {
            "kind": "shape", "name": "Striped paint", "place": [0, 2.75, 0.0515], "turn": [90, 0, 0],
            "geometry": {"kind": "plane", "width": 2.5, "depth": 1.75, "columns": 120, "rows": 84}, "look": paint,
        },
        "plate": _box("Plate", [0, 2.75, 0.06], [1.95, 1.2, 0.06], 48, {"base_colour": "#E8E2D0", "roughness": 0.6}),
        "post-left": _post("Left post", -0.95),
        "post-right": _post("Right post", 0.95),
    }  # fmt: skip
    for name, x, turn in (("cone-up", -0.42, 0), ("cone-down", 0.42, 180)):
        parts[name] = {
            "kind": "shape",
            "name": "Cone up" if turn == 0 else "Cone down",
            "place": [x, 2.75, 0.12],
            "turn": [0, 0, turn],
            "scale": [1.0, 1.25, 0.3],
            "geometry": {"kind": "revolve", "profile": cone, "segments": 64, "ring_height": 0.03},
            "look": black,
        }
    return parts


def _post(name: str, x: float) -> dict[str, JsonValue]:
    return {
        "kind": "shape",
        "name": name,
        "place": [x, 1.1, -0.09],
        "geometry": {
            "kind": "revolve",
            "profile": profile([(0.0, -1.8), (0.07, -1.8), (0.07, 1.8), (0.0, 1.8)]),
            "segments": 28,
            "ring_height": 0.03,
        },
        "look": {"base_colour": "#5C5347", "roughness": 0.9},
    }


def _box(name: str, place: list[float], size: list[float], cells: int, look: JsonValue) -> dict[str, JsonValue]:
    width, height, depth = size
    return {
        "kind": "shape",
        "name": name,
        "place": list(place),
        "geometry": {"kind": "box", "width": width, "height": height, "depth": depth, "divisions": cells},
        "look": look,
    }


def _surroundings() -> dict[str, JsonValue]:
    return {
        "quay": quay(60),
        **stones(),
        "lamp-foot": {
            "kind": "shape", "name": "Bollard", "rank": 61, "place": [2.3, 0.35, 1.1],
            "geometry": {"kind": "revolve", "profile": profile([(0.3, 0.0), (0.3, 0.12), (0.2, 0.2), (0.18, 0.62), (0.3, 0.7), (0.27, 0.84), (0.0, 0.9)]), "segments": 48},
            "look": {"base_colour": DARK, "roughness": 0.55, "metallic": 0.3},
        },
        "sea": sea(62),
        "key-light": {
            "kind": "light", "name": "Key light", "rank": 63, "turn": [-34, -38, 0], "colour": "#DCE6F0", "strength": 1.7,
        },
        "camera": {
            "kind": "camera", "name": "Camera", **lens("board", 1.2), "rank": 64, "angle": 33,
            "place": keyed((0, [-0.9, 2.0, 7.4]), (119, [0.5, 2.25, 6.6])), "turn": keyed((0, [3.0, -6.0, 0]), (119, [1.0, 3.5, 0])),
        },
    }  # fmt: skip
