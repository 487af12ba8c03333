"""What a new shot starts with: a shape, a controller beside it, light and a camera, ready to be worked on."""

from __future__ import annotations

from pydantic import JsonValue


def blank_shot(name: str) -> JsonValue:
    """The document of a new shot."""
    return {
        "name": name,
        "camera": "camera",
        "items": {
            "ball": {"kind": "shape", "name": "Ball", "rank": 0, "place": [0, 1, 0], "geometry": {"kind": "sphere"}},
            "controller": {"kind": "controller", "name": "Controller", "rank": 1, "place": [1.6, 1, 0]},
            "key-light": {"kind": "light", "name": "Key light", "rank": 2, "place": [4, 6, 4], "turn": [-45, 40, 0]},
            "camera": {"kind": "camera", "name": "Camera", "rank": 3, "place": [0, 1.6, 7], "turn": [-5, 0, 0]},
        },
        "fields": {},
    }
