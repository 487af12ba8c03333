"""Shells: layers as far out, as large, as thin and as faint as said; the fields before them are measured once."""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot, parts_of, recipe_shot

from windsock.core.geometry.mesh import Mesh

BALL = {"kind": "sphere", "radius": 1.0, "subdivisions": 4}


def layers(step: dict | None = None, *before: dict, geometry: dict | None = None, **shape) -> Mesh:
    document = recipe_shot(
        *before,
        {"kind": "shells", "count": 3, "apart": 0.1} | (step or {}),
        geometry=geometry or BALL,
        parts=("shells",),
    )
    item = next(iter(document["items"].values()))
    item.update(shape)
    return parts_of(document)["shells"].mesh


def test_each_lies_so_far_outside_the_one_before():
    mesh = layers()
    away = np.linalg.norm(mesh.points, axis=1).reshape(3, -1)
    for layer, far in enumerate((1.1, 1.2, 1.3)):
        assert away[layer] == pytest.approx(far, abs=2e-3)
    assert len(mesh.faces) == 3 * 5120
    assert len(np.unique(mesh.number)) == len(mesh.points)


def test_each_is_so_many_times_as_large():
    mesh = layers({"by": "scale", "larger": 1.5})
    away = np.linalg.norm(mesh.points, axis=1).reshape(3, -1)
    assert away.mean(axis=1) == pytest.approx([1.5, 2.25, 3.375], rel=1e-4)


def test_they_are_thinner_and_fainter_from_layer_to_layer():
    glowing = {"emission": 2.0, "emission_colour": "#FFFFFF", "opacity": 0.8}
    mesh = layers({"thinner": 0.5, "fainter": 0.25}, look=glowing)
    assert mesh.opacity is not None
    assert mesh.emission is not None
    assert mesh.opacity.reshape(3, -1)[:, 0] == pytest.approx([0.4, 0.2, 0.1])
    assert mesh.emission.reshape(3, -1, 3)[:, 0, 0] == pytest.approx([1.5, 1.125, 0.84375])


def test_a_box_stays_a_box_and_a_stretched_shape_has_layers_in_metres_of_the_world():
    mesh = layers(geometry={"kind": "box", "width": 1.0, "height": 1.0, "depth": 1.0})
    out = np.abs(mesh.points).max(axis=1).reshape(3, -1)
    assert out == pytest.approx(np.repeat([[0.6], [0.7], [0.8]], out.shape[1], axis=1), abs=1e-5)
    wide = layers(geometry={"kind": "box", "width": 1.0, "height": 1.0, "depth": 1.0}, scale=[2.0, 1.0, 1.0])
    assert wide.points[:, 0].max() * 2 == pytest.approx(1.3, abs=1e-4)


def test_colours_of_the_part_are_theirs_and_the_part_stays():
    fields = {
        "up": {
            "letter": "A",
            "name": "Up",
            "rank": 0,
            "sources": {"s": {"kind": "surface", "rank": 0, "reading": "height", "low": -1, "high": 1}},
        }
    }
    shade = {"kind": "shade", "field": "up", "channel": "opacity"}
    document = recipe_shot(shade, {"kind": "shells", "count": 2}, geometry=BALL, parts=("shells",), fields=fields)
    engine = evaluator()
    made = engine.parts(engine.scene(parse_shot(document), 0), next(iter(document["items"])))
    body, shells = made["body"].value.mesh, made["shells"].value.mesh
    assert body.opacity is not None
    assert shells.opacity is not None
    assert shells.opacity.reshape(2, -1)[0] == pytest.approx(0.75 * body.opacity, abs=1e-6)
    assert len(body.faces) * 2 == len(shells.faces)


def test_copies_have_none():
    steps = ({"kind": "scatter", "count": 5, "makes": "copies"}, {"kind": "shells", "part": "copies"})
    found = parts_of(recipe_shot(*steps, geometry=BALL, parts=("copies", "shells")))
    assert "shells" not in found or len(found["shells"].mesh.faces) == 0
