"""Pair: each shape alone at its end, both on their way between, faded over one another; whatever comes before and after it."""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot, parts_of, recipe_shot

from windsock.core.kernels.surface_distance import Surface, nearest_on

BALL = {"kind": "sphere", "radius": 1.0, "subdivisions": 4}
BOX = {"kind": "box", "width": 1.6, "height": 1.2, "depth": 2.0, "divisions": 10}
BEGINS, LASTS = 1.0, 0.5
MIDDLE = (BEGINS + LASTS / 2) * 24


def pair_shot(step: dict | None = None, before: tuple[dict, ...] = (), after: tuple[dict, ...] = (), **other) -> dict:
    pair = {"kind": "pair", "target": "other", "makes": "more", "begins_at": BEGINS, "lasts": LASTS} | (step or {})
    document = recipe_shot(*before, pair, *after, geometry=BALL, parts=("more",))
    document["items"]["other"] = {"kind": "shape", "name": "Other", "rank": 7, "geometry": BOX, "shown": 0.0} | other
    return document


def both(document: dict, frame: float, one=None) -> dict:
    """What is drawn of the first shape, and where the other one is in its space."""
    made = (one or evaluator()).frame(parse_shot(document), frame).draw
    return {item.part: item.body.mesh for item in made if item.item == "ball"}


def surface_of(document: dict, frame: float) -> Surface:
    shown = document | {"items": document["items"] | {"other": document["items"]["other"] | {"shown": 1.0}}}
    made = next(item for item in evaluator().frame(parse_shot(shown), frame).draw if item.item == "other")
    points = made.body.mesh.points.astype(np.float64) @ made.matrix[:3, :3].T + made.matrix[:3, 3]
    return Surface(points, made.body.mesh.faces)


def test_before_there_is_this_one_alone_and_after_the_other_one_alone():
    document = pair_shot(place=[0.3, 0.1, -0.2], turn=[0.0, 30.0, 10.0], scale=[1.0, 1.2, 0.9])
    plain = parts_of(recipe_shot(geometry=BALL))["body"].mesh
    first = both(document, 24)
    assert first["body"].points.tobytes() == plain.points.tobytes()
    assert first["body"].normals.tobytes() == plain.normals.tobytes()
    assert "more" not in first or len(first["more"].faces) == 0
    last = both(document, 37)
    assert "body" not in last or len(last["body"].faces) == 0
    goal = surface_of(document, 37)
    assert last["more"].points == pytest.approx(goal.points, abs=1e-6)
    assert np.array_equal(last["more"].faces, goal.faces)


@pytest.mark.parametrize("way", ["nearest", "rays", "axis"])
def test_between_both_are_about_as_far_and_one_is_faded_in_before_the_other_is_faded_out(way):
    document, one = pair_shot({"way": way, "fade": 0.5}), evaluator()
    seen = []
    for frame in np.linspace(24.5, 35.5, 23):
        made = both(document, float(frame), one)
        shown = [made[part].opacity for part in ("body", "more") if part in made and len(made[part].faces)]
        opaque = [1.0 if opacity is None else float(opacity.min()) for opacity in shown]
        assert max(opaque) == 1.0, "one of the two is never seen through"
        seen.append(len(opaque))
    assert seen.count(2) > 4
    middle = both(document, MIDDLE, one)
    apart, _ = nearest_on(
        middle["more"].points.astype(np.float64), Surface(middle["body"].points.astype(float), middle["body"].faces)
    )
    assert np.median(apart) < 0.08


def test_equal_seconds_are_equal_shapes_and_any_order_is_the_same():
    fast = pair_shot() | {"rate": {"numerator": 60, "denominator": 1}, "frames": {"first": 0, "last": 300}}
    live = evaluator()
    for seconds in (1.25, 1.4, 1.1):
        one, other = both(pair_shot(), seconds * 24, live), both(fast, seconds * 60)
        fresh = both(pair_shot(), seconds * 24)
        for part, mesh in one.items():
            assert mesh.points == pytest.approx(other[part].points, abs=1e-5)
            assert mesh.points.tobytes() == fresh[part].points.tobytes()


def test_a_field_says_where_it_begins():
    document = pair_shot({"field": "front"})
    document["items"]["fog"]["place"] = [1.2, 0.0, 0.0]
    made = both(document, (BEGINS + 0.4 * LASTS) * 24)["body"]
    went = np.linalg.norm(made.points - made.rest, axis=1)
    assert went[made.rest[:, 0] > 0.8].max() > 0.1
    assert went[made.rest[:, 0] < -0.8].max() == 0
    assert "body" not in both(document, 40) or len(both(document, 40)["body"].faces) == 0


@pytest.mark.parametrize(
    "steps",
    [
        ((), ({"kind": "follow_through"},)),
        ((), ({"kind": "twist", "part": "more"}, {"kind": "wave"})),
        ((), ({"kind": "cut_away", "part": "more", "field": "front"}, {"kind": "shade", "field": "front"})),
        (({"kind": "cut_away", "field": "front"},), ()),
        (({"kind": "fracture", "count": 5},), ({"kind": "jumble", "part": "body"},)),
        (({"kind": "refine"},), ({"kind": "smooth", "part": "more"},)),
        ((), ({"kind": "follow_through", "part": "more"}, {"kind": "ride", "carrier": "other", "part": "more"})),
    ],
)
def test_it_goes_with_other_steps_warm_as_cold(steps):
    document = pair_shot(None, *steps)
    place = {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 40, "value": [1, 0.5, 0]}}
    document["items"]["ball"]["place"] = {"keys": place}
    document["items"]["other"]["place"] = {"keys": {key: one | {"value": [0, 0, 0]} for key, one in place.items()}}
    live = evaluator()
    for frame in (30, 24, 33.5, 45):
        warm, cold = both(document, frame, live), both(document, frame)
        assert warm.keys() == cold.keys()
        for part, mesh in warm.items():
            assert np.isfinite(mesh.points).all()
            assert mesh.points.tobytes() == cold[part].points.tobytes()


def test_an_edit_of_either_is_seen_at_once():
    live = evaluator()
    for other in (
        {},
        {"geometry": BOX | {"divisions": 6}},
        {"geometry": BOX | {"width": 2.0}},
        {"look": {"base_colour": "#FF0000"}},
    ):
        for step in ({}, {"lasts": 1.0}, {"amount": 0.0}, {"target": None}):
            document = pair_shot(step, **other)
            warm, cold = both(document, MIDDLE, live), both(document, MIDDLE)
            assert warm.keys() == cold.keys()
            for part, mesh in warm.items():
                assert mesh.points.tobytes() == cold[part].points.tobytes()
    assert len(both(pair_shot({"amount": 0.0}), MIDDLE)["more"].faces) == 0


def test_it_says_how_many_frames_it_takes():
    step = parse_shot(pair_shot()).items["ball"].recipe.steps["s1"]
    assert step.told(parse_shot(pair_shot()).moment(0), 24, 5) == "12 frames, from 24 to 36"
