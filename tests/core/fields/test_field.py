"""Fields: sources, sentences and zones."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shots import cut_ball, evaluator, parsed, points_as_elements

from windsock.core.evaluate.probe import probe
from windsock.core.fields.zones import zone_weight
from windsock.core.geometry.placement import placement

PLACES = np.random.default_rng(5).uniform(-3, 3, (400, 3))


def values(document: dict, frame: float = 0.0, places: np.ndarray = PLACES) -> np.ndarray:
    shot = parsed(document)
    return evaluator().field_values(evaluator().scene(shot, frame), "front", points_as_elements(places))


def test_around_falls_in_a_straight_line_from_1_to_0():
    x = np.linspace(-3, 3, 61)
    places = np.stack([x, 0 * x, 0 * x], axis=1)
    document = cut_ball()
    document["items"]["fog"]["place"] = [0, 0, 0]
    np.testing.assert_allclose(values(document, 0, places), np.clip(1.5 - np.abs(x), 0, 1), atol=1e-12)


def test_around_measures_in_the_controllers_own_space():
    """The distance is that of the place taken back through move, turn and stretch, by a plain inverse."""
    document = cut_ball(source={"reach": 2.0, "soft": 1.5})
    document["items"]["fog"] |= {"place": [0.3, -0.2, 0.5], "turn": [20, 40, -70], "scale": [0.5, 2.0, 1.25]}
    matrix = placement((0.3, -0.2, 0.5), (20, 40, -70), (0.5, 2.0, 1.25))
    own = (np.linalg.inv(matrix) @ np.c_[PLACES, np.ones(len(PLACES))].T).T[:, :3]
    expected = np.clip((2.0 - np.linalg.norm(own, axis=1)) / 1.5, 0, 1)
    np.testing.assert_allclose(values(document), expected, atol=1e-9)


def test_turning_is_about_x_then_y_then_z():
    matrix = placement((0, 0, 0), (90, 90, 0), (1, 1, 1))[:3, :3]
    np.testing.assert_allclose(matrix @ [0, 1, 0], [1, 0, 0], atol=1e-12)


def test_without_softness_around_is_a_step():
    assert set(values(cut_ball(source={"soft": 0.0, "reach": 2.5}), 60)) == {0.0, 1.0}


@pytest.mark.parametrize("fall", ["straight", "smooth"])
@pytest.mark.parametrize("level", [0.0, 0.2, 0.5, 0.9, 1.0])
def test_the_reach_that_is_drawn_is_where_the_value_is_the_level(fall, level):
    document = cut_ball(source={"fall": fall})
    document["items"]["fog"]["place"] = [0, 0, 0]
    shot = parsed(document)
    source = shot.fields["front"].sources["s"]
    radius = source.outline(level, shot.moment(0))["radius"]
    assert values(document, 0, np.array([[0, radius, 0]]))[0] == pytest.approx(level, abs=1e-6)


def two_sources(**second) -> dict:
    noise = {"kind": "noise", "rank": 1, "word": "times", "size": 0.7} | second
    document = cut_ball()
    document["fields"]["front"]["sources"]["n"] = noise
    return document


def test_a_clause_counts_by_its_amount():
    plain, full, half = values(cut_ball(), 50), values(two_sources(), 50), values(two_sources(amount=0.5), 50)
    np.testing.assert_allclose(half, 0.5 * (plain + full), atol=1e-12)


def test_not_turns_a_clause_round():
    kept = values(two_sources(word="plus"), 50)
    turned = values(two_sources(word="less", inverted=True), 50)
    # b + v and b - (1 - v) differ by 1 where neither is clamped
    assert np.all((turned <= kept) & (turned >= 0) & (kept <= 1))


def test_noise_at_rest_does_not_mind_where_the_subject_stands():
    document = two_sources(word="or", space="rest")
    del document["fields"]["front"]["sources"]["s"]
    shot = parsed(document)
    scene = evaluator().scene(shot, 0)
    there = points_as_elements(PLACES)
    one = evaluator().field_values(scene, "front", there)
    moved = evaluator().field_values(scene, "front", replace(there, posed=PLACES + 10))
    np.testing.assert_array_equal(one, moved)
    assert one.std() > 0.05


def test_the_probe_tells_the_same_value_clause_by_clause():
    document = two_sources(word="roughened by")
    shot = parsed(document)
    one = evaluator()
    drawn = one.frame(shot, 50).draw[0].body.mesh
    corners = drawn.points[drawn.faces[200]].astype(np.float64)
    place = corners.mean(axis=0) * 1.001
    told = probe(one, shot, 50, "front", "ball", tuple(place))
    assert told.value == pytest.approx(values(document, 50, corners.mean(axis=0)[None])[0], abs=1e-5)
    assert [clause.source for clause in told.clauses] == ["s", "n"]
    assert told.clauses[-1].result == told.value


# The zones as the definitions say, each written out anew.
@given(st.floats(0, 1), st.floats(0, 1), st.floats(0.001, 1))
def test_zones(value, level, band):
    v = np.array([value])
    inside = min(1.0, max(0.0, (value - level) / band + 0.5))
    assert zone_weight("inside", v, level, band)[0] == pytest.approx(inside)
    assert zone_weight("outside", v, level, band)[0] == pytest.approx(1 - inside)
    assert zone_weight("band", v, level, band)[0] == pytest.approx(max(0.0, 1 - 2 * abs(value - level) / band))
    assert zone_weight("value", v, level, band)[0] == value


def test_without_a_band_the_inside_begins_at_the_level_itself():
    v = np.array([0.3999, 0.4, 0.4001])
    assert zone_weight("inside", v, 0.4, 0.0).tolist() == [0, 1, 1]
    assert zone_weight("outside", v, 0.4, 0.0).tolist() == [1, 0, 0]
