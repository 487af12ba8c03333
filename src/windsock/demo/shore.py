"""The invented shore that the demo shots stand on."""

from __future__ import annotations

from pydantic import JsonValue

RED, WHITE, STONE, DARK = "#A8341B", "#E9E3D3", "#8B857A", "#25323B"


def keyed(*placed: tuple[float, list[float]]) -> JsonValue:
    """A keyed vector that goes gently from key to key: each a frame and a value."""
    return {
        "keys": {
            f"k{index}": {"frame": frame, "value": list(value), "easing": {"kind": "ease"}}
            for index, (frame, value) in enumerate(placed, 1)
        }
    }


def profile(outline: list[tuple[float, float]], smooth: bool = False) -> JsonValue:
    """A profile of a shape of revolution: each point a radius and a height, flowing through those between if wanted."""
    last = len(outline) - 1
    return {
        f"p{index:02}": {
            "rank": index,
            "radius": radius,
            "height": height,
            "joint": "smooth" if smooth and 0 < index < last else "corner",
        }
        for index, (radius, height) in enumerate(outline)
    }


def stops(kind: str, *placed: tuple[float, str]) -> JsonValue:
    """A ramp: each stop a place and a colour."""
    return {
        "kind": kind,
        "stops": {f"s{index}": {"at": at, "colour": colour} for index, (at, colour) in enumerate(placed)},
    }


def quay(rank: float) -> dict[str, JsonValue]:
    """The rock by the water."""
    return {
        "kind": "shape",
        "name": "Quay",
        "rank": rank,
        "geometry": {"kind": "revolve", "profile": _rock(), "segments": 96, "ring_height": 0.2},
        "place": [0, -0.3, 0],
        "scale": [1.25, 1, 0.9],
        "look": {"base_colour": "#84806F", "roughness": 0.95},
    }


def sea(rank: float) -> dict[str, JsonValue]:
    """The water, to the horizon."""
    return {
        "kind": "shape",
        "name": "Sea",
        "rank": rank,
        "geometry": {"kind": "plane", "width": 240, "depth": 240, "columns": 8, "rows": 8},
        "look": {"base_colour": "#2F4F5A", "roughness": 0.32},
    }


def stones(up: float = 0.0) -> dict[str, JsonValue]:
    """Boulders at the water's edge: stretched, turned spheres. up: metres that they lie higher."""
    placed = [
        (3.5, 0.05, 1.5, 0.55, 20), (2.7, 0.1, 2.5, 0.42, 70), (4.3, -0.05, 0.4, 0.7, 140), (-3.6, 0.0, 2.0, 0.62, 35),
        (-4.6, -0.1, 0.7, 0.5, 80), (-1.2, 0.0, 3.3, 0.36, 10), (0.9, -0.05, 3.6, 0.5, 115), (4.9, -0.1, 1.7, 0.34, 60),
    ]  # fmt: skip
    return {
        f"stone-{index}": {
            "kind": "shape",
            "name": f"Stone {index}",
            "rank": 20 + index,
            "place": [x, y + up, z],
            "turn": [turn / 3, turn, 12],
            "scale": [1.3, 0.62, 0.9],
            "geometry": {"kind": "sphere", "radius": radius, "subdivisions": 3},
            "look": {"base_colour": "#6B685C" if index % 2 else "#79766A", "roughness": 0.97},
        }
        for index, (x, y, z, radius, turn) in enumerate(placed, 1)
    }


def _rock() -> JsonValue:
    outline = [(4.5, -0.4), (4.2, 0.05), (3.5, 0.3), (3.1, 0.52), (2.7, 0.6), (0.0, 0.72)]
    return {
        f"p{index}": {
            "rank": index,
            "radius": radius,
            "height": height,
            "joint": "smooth" if 0 < index < 5 else "corner",
        }
        for index, (radius, height) in enumerate(outline)
    }
