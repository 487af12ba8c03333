"""What is chosen once for a shot is chosen as at its first frame; what is weighed is weighed in the world, in its own time."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial import KDTree
from shots import cut_ball, evaluator, parsed, recipe_shot

from windsock.core.document.shot import BadDocument, parse_shot
from windsock.core.evaluate.coverage import cover
from windsock.core.evaluate.probe import probe
from windsock.core.kernels.winding import lies_within
from windsock.core.parts.pieces_part import PiecesPart
from windsock.core.refusals import TooMuch
from windsock.core.shapes.box import Box, build_box
from windsock.core.timing.parameter import Moment
from windsock.writers.fields import named_values

LINEAR = {"kind": "linear"}


def keyed(first: list[float], last: list[float], frame: int = 100) -> dict:
    return {"keys": {"a": {"frame": 0, "value": first, "easing": LINEAR}, "b": {"frame": frame, "value": last}}}


STEPS = {
    "spacing": {"kind": "scatter", "by": "spacing", "spacing": 0.12, "makes": "copies"},
    "spacing inside": {"kind": "scatter", "by": "spacing", "spacing": 0.3, "on_what": "volume", "makes": "copies"},
    "edges": {"kind": "scatter", "on_what": "edges", "count": 300, "makes": "copies"},
    "cells": {"kind": "fracture", "count": 12},
    "blocks": {"kind": "fracture", "into": "blocks", "block": [0.5, 0.5, 0.5]},
    "cells along a path": {"kind": "fracture", "count": 12, "sites": "path", "path": "line"},
}


@pytest.mark.parametrize("name", STEPS)
@pytest.mark.parametrize("what", ["scale", "turn", "place"])
def test_places_and_pieces_are_those_of_the_first_frame(name, what):
    document = recipe_shot(STEPS[name], parts=("copies",))
    document["items"]["ball"][what] = (
        keyed([1, 1, 1], [1.6, 0.7, 2.0]) if what == "scale" else keyed([0] * 3, [9, 5, 3])
    )
    points = {f"p{one}": {"rank": one, "place": [one - 1, 0, 0]} for one in range(3)}
    line = {"kind": "path", "name": "Line", "rank": 5, "points": points, "place": keyed([0, 0, 0], [0, 3, 0])}
    document["items"]["line"] = line
    part = "body" if STEPS[name]["kind"] == "fracture" else "copies"
    found = []
    for frame in (0, 35, 100):
        body = next(one.body for one in evaluator().frame(parsed(document), frame).draw if one.part == part)
        bodies = body.pieces.places if isinstance(body, PiecesPart) else body.mesh
        found.append((bodies.number.tolist(), bodies.rest.tolist()))
    assert found[0] == found[1] == found[2]


@pytest.mark.parametrize("scale", [[1.0, 4.0, 1.0], [3.0, 0.4, 3.0]])
def test_coverage_and_histogram_weigh_by_area_in_the_world(scale):
    """Against the exact share of a stretched box's faces that lie on one side of a plane through it."""
    shape = {"kind": "box", "divisions": 40}
    plane = {
        "level": 0.5,
        "band": 0.0,
        "sources": {"s": {"kind": "across", "controller": "fog", "axis": "x", "at": 0.25, "soft": 0}},
    }
    document = cut_ball(geometry=shape, field=plane)
    document["items"]["ball"]["scale"] = scale
    document["items"]["fog"]["place"] = [0, 0, 0]
    x, y, z = scale
    inside = ((x / 2 + 0.25) / x, 1.0, 0.0)  # of the four sides along X, of the near end, of the far end
    sides = 2 * (x * z + x * y)
    known = (inside[0] * sides + y * z) / (sides + 2 * y * z)
    one, shot = evaluator(), parsed(document)
    assert one.frame(shot, 0).steps[0].reading.coverage.inside == pytest.approx(known, abs=0.02)  # type: ignore[union-attr]
    assert cover(one, shot, "front", "ball").inside[0] == pytest.approx(known, abs=0.02)


def test_a_retimed_moving_item_is_measured_where_its_recipe_has_it():
    """At the cut's edge the exported field has its level, and so has the probe."""
    document = cut_ball(frames={"first": 0, "last": 100})
    document["items"]["ball"]["place"] = keyed([0, 0, 0], [2, 1, 0])
    document["items"]["ball"]["recipe"]["retime"] = {"frame": 55}
    one, shot = evaluator(), parsed(document)
    for frame in (20, 80):
        item = one.frame(shot, frame).draw[0]
        values = named_values(one, shot, item, frame)["field_A"]
        assert values.max() == pytest.approx(0.5, abs=1e-5)
        edge = int(values.argmax())
        place = tuple(item.body.mesh.points[edge].tolist())
        assert probe(one, shot, frame, "front", "ball", place).value == pytest.approx(0.5, abs=1e-4)


@pytest.mark.parametrize("spacing", [0.22, 0.1])
def test_in_a_volume_no_hole_is_larger_than_the_spacing(spacing):
    """Every place within has a copy within the spacing, and no two copies are nearer."""
    box = {"kind": "box", "width": 1.4, "height": 0.9, "divisions": 4}
    step = {"kind": "scatter", "on_what": "volume", "by": "spacing", "spacing": spacing, "makes": "copies"}
    shot = parsed(recipe_shot(step, geometry=box, parts=("copies",)))
    copies = next(one.body for one in evaluator().frame(shot, 0).draw if one.part == "copies")
    places = copies.mesh.points.astype(float)
    near, _ = KDTree(places).query(places, k=2)
    assert near[:, 1].min() >= spacing * (1 - 1e-5)
    mesh = build_box(Box(width=1.4, height=0.9, divisions=4), Moment(0, 0))
    assert lies_within(mesh.points.astype(float), mesh.faces, places).all()
    asked = np.random.default_rng(3).uniform(-0.499, 0.499, (200_000, 3)) * [1.4, 0.9, 1]
    hole, _ = KDTree(places).query(asked)
    assert hole.max() < 1.07 * spacing


def test_too_dense_a_volume_is_refused_in_words():
    step = {"kind": "scatter", "on_what": "volume", "by": "spacing", "spacing": 0.004, "makes": "copies"}
    with pytest.raises(TooMuch, match=r"Nothing was changed\. .* m apart would fit\.$"):
        evaluator().frame(parsed(recipe_shot(step, parts=("copies",))), 0)


def test_what_is_wrong_with_keys_is_said():
    two = {"keys": {"a": {"frame": 3, "value": [0, 0, 0]}, "b": {"frame": 3, "value": [1, 0, 0]}}}
    for place, says in ((two, "two keys of one parameter stand on the same frame"), ({"keys": {}}, "at least 1 item")):
        document = cut_ball()
        document["items"]["ball"]["place"] = place
        with pytest.raises(BadDocument, match=says) as refusal:
            parse_shot(document)
        assert "array" not in str(refusal.value)


SLOW = {
    "memory": ({"memory": {"kind": "hold"}}, {"kind": "cut_away", "field": "front"}),
    "shed": ({}, {"kind": "shed", "field": "front", "makes": "copies"}),
    "release": ({}, {"kind": "release", "field": "front"}),
    "follow": ({}, {"kind": "follow_through", "field": "front"}),
}


@pytest.mark.parametrize("name", SLOW)
def test_a_light_shape_with_many_frames_is_told_to_take_long_until_it_is_found(name):
    """Each tick costs something however few points there are: 20,000 frames are 100,000 ticks."""
    field, step = SLOW[name]
    geometry = {"kind": "sphere", "subdivisions": 1}
    shot = {"frames": {"first": 0, "last": 20_000}, "geometry": geometry, "parts": ("copies",)}
    document = recipe_shot(step, **shot)
    document["fields"]["front"] |= field
    one = evaluator()
    assert one.to_find(parsed(document), 19_000) > 8
    document["frames"]["last"] = 48
    short = parsed(document)
    assert 0 < one.to_find(short, 48) < 2
    one.frame(short, 48)
    assert one.to_find(short, 48) == 0


def test_fields_that_are_measured_through_too_many_others_are_refused_before_any_work():
    document = cut_ball(geometry={"kind": "sphere", "subdivisions": 3})
    before = "front"
    for place in range(40):
        sources = {f"s{one}": {"kind": "another", "field": before, "lag": 0.01 * one, "rank": one} for one in range(2)}
        name = f"f{place}"
        letter = f"{chr(66 + place // 26)}{chr(65 + place % 26)}"
        document["fields"][name] = {"letter": letter, "name": name, "rank": place + 1, "sources": sources}
        before = name
    document["items"]["ball"]["recipe"]["steps"]["cut"]["field"] = before
    with pytest.raises(TooMuch, match="Have fields measure from fewer others"):
        evaluator().frame(parsed(document), 0)
