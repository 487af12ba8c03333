"""Shots whose fields have a past, and what is asked of them in tests."""

from __future__ import annotations

import numpy as np
from shots import evaluator, parsed

from windsock.core.evaluate.frame import Evaluator
from windsock.core.fields.elements import rest_elements

MOVING = {
    "keys": {
        "k1": {"frame": 0, "value": [-2.0, 0.0, 0.0], "easing": {"kind": "linear"}},
        "k2": {"frame": 96, "value": [2.0, 0.0, 0.0]},
    }
}


def subject_shot(geometry: dict, fields: dict, place: object = (0.0, 0.0, 0.0), **shot) -> dict:
    """A shape, a controller, and fields by id; the letters follow their order. No steps."""
    told = {
        name: {"letter": chr(65 + rank), "name": name, "rank": rank, "level": 0.5, "band": 0.1} | field
        for rank, (name, field) in enumerate(fields.items())
    }
    return {
        "name": "A subject",
        "frames": {"first": 0, "last": 96},
        "items": {
            "it": {"kind": "shape", "name": "It", "rank": 0, "geometry": geometry},
            "fog": {"kind": "controller", "name": "Fog", "rank": 1, "place": place},
        },
        "fields": told,
    } | shot


def around(reach: float, soft: float = 0.0, **more) -> dict:
    return {"sources": {"s": {"kind": "around", "controller": "fog", "reach": reach, "soft": soft} | more}}


def values_at(document: dict, field: str, frame: float, one: Evaluator | None = None) -> np.ndarray:
    """(m,) a field's values at the rest points of the shape."""
    shot = parsed(document)
    one = one or evaluator()
    scene = one.scene(shot, frame)
    return one.field_values(scene, field, rest_elements(one.at_rest(scene, "it").value, scene.placement("it")))


def points_of(document: dict) -> np.ndarray:
    one, shot = evaluator(), parsed(document)
    return one.at_rest(one.scene(shot, 0), "it").value.mesh.points.astype(float)
