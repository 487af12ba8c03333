"""Morph: against libigl's nearest places, rays on spheres, u,v, and both shapes themselves at the ends."""

from __future__ import annotations

import igl
import numpy as np
import pytest
from shots import evaluator, parse_shot, recipe_shot

from windsock.core.findings import find_all
from windsock.core.kernels.surface_distance import Surface, nearest_on

BALL = {"kind": "sphere", "radius": 1.0, "subdivisions": 4}
BOX = {"kind": "box", "width": 1.6, "height": 1.2, "depth": 2.0, "divisions": 10}


def morph_shot(step: dict, geometry: dict | None = None, target: dict | None = None, **other) -> dict:
    document = recipe_shot({"kind": "morph", "target": "other"} | step, geometry=geometry or BALL)
    document["items"]["other"] = {"kind": "shape", "name": "Other", "rank": 7, "geometry": target or BOX} | other
    return document


def drawn(document: dict, frame: float = 0, item: str = "ball", one=None):
    found = [one_ for one_ in (one or evaluator()).frame(parse_shot(document), frame).draw if one_.item == item]
    return found[0]


def world(document: dict, frame: float = 0, item: str = "ball", one=None) -> np.ndarray:
    made = drawn(document, frame, item, one)
    return made.body.mesh.points.astype(np.float64) @ made.matrix[:3, :3].T + made.matrix[:3, 3]


def off_target(document: dict, frame: float = 0) -> float:
    """How far the farthest point is from the surface of the other shape."""
    other = drawn(document, frame, "other")
    surface = Surface(world(document, frame, "other"), other.body.mesh.faces)
    return float(nearest_on(world(document, frame), surface)[0].max())


@pytest.mark.parametrize("way", ["nearest", "rays", "axis", "uv", "order"])
@pytest.mark.parametrize("laid", ["standing", "middles", "boxes"])
def test_amount_1_is_on_the_target_and_amount_0_is_itself(way, laid):
    step = {"way": way, "laid": laid}
    turned = {"place": [0.3, 0.4, -0.2], "turn": [20.0, 30.0, 0.0], "scale": [1.0, 1.5, 0.8]}
    assert off_target(morph_shot(step, **turned)) < 3e-6
    plain, none = drawn(morph_shot({"amount": 0})), drawn(recipe_shot(geometry=BALL))
    assert plain.body.mesh.points.tobytes() == none.body.mesh.points.tobytes()
    assert plain.body.mesh.normals.tobytes() == none.body.mesh.normals.tobytes()


@pytest.mark.parametrize("way", ["nearest", "rays", "uv", "order"])
@pytest.mark.parametrize("amount", [0.3, 1.0])
def test_equal_shapes_morph_to_themselves(way, amount):
    document = morph_shot({"way": way, "laid": "standing", "amount": amount}, target=BALL)
    assert world(document) == pytest.approx(world(recipe_shot(geometry=BALL)), abs=2e-6)


def test_the_nearest_place_is_libigl_s():
    document = morph_shot({"way": "nearest", "laid": "standing"})
    rest, other = world(recipe_shot(geometry=BALL)), drawn(document, item="other")
    box = np.ascontiguousarray(world(document, item="other"))
    found = igl.point_mesh_squared_distance(rest, box, other.body.mesh.faces.astype(np.int64))
    made = world(document)
    assert np.linalg.norm(made - rest, axis=1) ** 2 == pytest.approx(found[0], abs=1e-6)
    # Where two places are as near, either will do.
    alike = np.linalg.norm(made - found[2], axis=1) < 1e-5
    assert alike.mean() > 0.98


def test_rays_from_the_middle_keep_the_direction():
    """From a ball to a larger one whose middle is elsewhere: each point keeps its direction from the middle."""
    big = {"kind": "sphere", "radius": 2.5, "subdivisions": 5}
    document = morph_shot({"way": "rays", "laid": "middles"}, target=big, place=[4.0, 1.0, 0.0])
    made, rest = world(document) - [4.0, 1.0, 0.0], world(recipe_shot(geometry=BALL))
    assert made == pytest.approx(2.5 * rest, abs=0.012)
    # From the axis of a tube's middle the height stays.
    tube = {"kind": "tube", "radius": 1.5, "wall": 0.1, "height": 4.0, "segments": 128}
    round_ = world(morph_shot({"way": "axis", "laid": "standing"}, target=tube))
    assert round_[:, 1] == pytest.approx(rest[:, 1], abs=1e-5)
    beside = np.hypot(rest[:, 0], rest[:, 2]) > 1e-3
    assert np.hypot(round_[beside, 0], round_[beside, 2]) == pytest.approx(1.5, abs=2e-3)


def test_the_place_stays_the_same_one_while_both_move():
    """What is found at the first frame is carried along: a target that is moved and turned takes the morphed points with it."""
    keys = {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 48, "value": [0, 90, 0]}}
    places = {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 48, "value": [3, 1, 0]}}
    still = world(morph_shot({}))
    document = morph_shot({}, turn={"keys": keys}, place={"keys": places})
    turn = np.array([[0, 0, 1], [0, 1, 0], [-1, 0, 0]])
    assert world(document, 48) == pytest.approx(still @ turn.T + [3, 1, 0], abs=5e-6)
    live = evaluator()
    for frame in (48, 3, 30.5):
        assert world(document, frame, one=live).tobytes() == world(document, frame).tobytes()


def test_the_target_may_have_a_recipe_and_lose_faces():
    document = morph_shot({})
    bend = {"kind": "bend", "rank": 0, "angle": 50.0}
    cut = {"kind": "cut_away", "rank": 1, "field": "front"}
    parts = {"body": {"name": "Body", "rank": 0}}
    document["items"]["other"]["recipe"] = {"parts": parts, "steps": {"b": bend}}
    assert off_target(document) < 3e-6
    # The fog comes in the course of the shot: faces go, places are found again by themselves.
    document["items"]["other"]["recipe"]["steps"]["c"] = cut
    assert off_target(document, 0) < 3e-6
    assert off_target(document, 70) < 3e-6
    document["items"]["other"]["recipe"] = {"parts": parts, "steps": {"c": {"kind": "cut_away", "rank": 0}}}
    gone = world(document)
    assert gone == pytest.approx(world(recipe_shot(geometry=BALL)))


def test_a_front_goes_through_it_and_it_swells_on_the_way():
    step = {"field": "front", "zone": "value", "way": "rays"}
    plain, swollen = (world(morph_shot(step | more), 60) for more in ({}, {"bulge": 0.4}))
    rest, whole = world(recipe_shot(geometry=BALL)), world(morph_shot({"way": "rays"}))
    value = np.clip(1.5 - np.linalg.norm(rest - [0.6, 0, 0], axis=1), 0, 1)
    assert plain == pytest.approx(rest + (whole - rest) * value[:, None], abs=1e-4)
    apart = np.linalg.norm(swollen - plain, axis=1)
    assert apart == pytest.approx(0.4 * 4 * value * (1 - value), abs=1e-3)


def test_round_goes_about_the_middles():
    """From a ball to the same ball turned by a quarter: on the way no point comes nearer to the middle."""
    document = morph_shot({"way": "order", "going": "round", "amount": 0.5}, target=BALL, turn=[0.0, 120.0, 0.0])
    assert np.linalg.norm(world(document), axis=1) == pytest.approx(1.0, abs=0.02)
    straight = document["items"]["ball"]["recipe"]["steps"]["s1"] | {"going": "straight"}
    document["items"]["ball"]["recipe"]["steps"]["s1"] = straight
    assert np.linalg.norm(world(document), axis=1).min() < 0.6


def test_looks_cross_over_with_the_points():
    document = morph_shot({"amount": 0.25}, look={"base_colour": "#FFFFFF", "roughness": 0.9, "emission": 2.0})
    document["items"]["ball"]["look"] = {"base_colour": "#000000", "roughness": 0.1}
    mesh = drawn(document).body.mesh
    assert mesh.colour == pytest.approx(0.25, abs=1e-6)
    assert mesh.roughness == pytest.approx(0.3, abs=1e-6)
    assert mesh.emission.max() == pytest.approx(0.5, rel=1e-5)
    document["items"]["ball"]["recipe"]["steps"]["s1"]["look"] = "own"
    assert drawn(document).body.mesh.colour is None


def test_it_is_smoothed_half_way_only():
    step = {"way": "nearest", "laid": "standing", "smoothing": 20}
    assert off_target(morph_shot(step)) < 3e-6
    rough, smooth = (world(morph_shot(step | {"amount": 0.5, "smoothing": times})) for times in (0, 20))
    assert np.linalg.norm(rough - smooth, axis=1).max() > 1e-3


@pytest.mark.parametrize("step", [{"target": None}, {"target": "other", "way": "rays", "controller": "fog"}])
def test_pieces_and_copies_and_what_is_not_there(step):
    document = morph_shot(step)
    steps = document["items"]["ball"]["recipe"]["steps"]
    steps["s0"] = {"kind": "fracture", "rank": -1, "count": 8}
    assert np.isfinite(world(document)).all()
    steps["s0"] = {"kind": "scatter", "rank": -1, "count": 30, "makes": "copies"}
    document["items"]["ball"]["recipe"]["parts"]["copies"] = {"name": "Copies", "rank": 1}
    steps["s1"]["part"] = "copies"
    copies = [one for one in evaluator().frame(parse_shot(document), 0).draw if one.part == "copies"]
    assert np.isfinite(copies[0].body.mesh.points).all()


def test_faces_that_fold_over_are_found_and_equal_shapes_have_none():
    """A torus whose points go along rays from its middle: the inner half lies on the outer one, turned over."""
    ring = {"kind": "ring", "radius": 1.0, "thickness": 0.5}
    folded = morph_shot({"way": "rays", "laid": "standing"}, geometry=ring, target={"kind": "sphere", "radius": 2.0})
    told = [one for one in find_all(evaluator(), parse_shot(folded)) if one.kind == "doubtful"]
    assert [one.place for one in told] == ["/items/ball/recipe/steps/s1"]
    assert "% of its faces fold over" in told[0].says
    share = float(told[0].says.split(" %")[0].split()[-1])
    assert share == pytest.approx(50, abs=6)
    for way in ("nearest", "rays", "uv"):
        same = morph_shot({"way": way, "laid": "standing"}, target=BALL)
        assert all(one.kind != "doubtful" for one in find_all(evaluator(), parse_shot(same)))
