"""When fields come to their levels, read from values that are kept, and shapes that stand still."""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot, recipe_shot

from windsock.core.evaluate import over_time
from windsock.core.evaluate.over_time import first_over
from windsock.demo.net_mender import net_mender
from windsock.demo.spray import spray


def test_the_first_moment_is_that_of_a_plain_search():
    rng = np.random.default_rng(5)
    values = np.cumsum(rng.normal(0.01, 0.1, (60, 40)), axis=0).astype(np.float32)
    levels = np.linspace(0.2, 0.4, 60)
    found = first_over(values, levels, 2.0, 24)
    for point in range(40):
        over = values[:, point].astype(np.float64) - levels.astype(np.float32)
        there = np.flatnonzero(over >= 0)
        if len(there) == 0:
            assert found[point] == np.inf
        elif there[0] == 0:
            assert found[point] == 2.0
        else:
            row = there[0]
            share = over[row - 1] / (over[row - 1] - over[row])
            assert found[point] == pytest.approx(2.0 + (row - 1 + share) / 24, abs=1e-9)


@pytest.mark.parametrize("make", [net_mender, spray])
def test_where_values_do_not_fit_it_is_walked_to_the_same_end(make, monkeypatch):
    shot = parse_shot(make())
    frame = shot.opening_frame
    kept = evaluator().frame(shot, frame)
    monkeypatch.setattr(over_time, "ROWS_BYTES", 0)
    walked = evaluator().frame(shot, frame)
    for one, other in zip(kept.draw, walked.draw, strict=True):
        assert len(one.points) == pytest.approx(len(other.points), rel=1e-3)
        if len(one.points) == len(other.points):
            np.testing.assert_allclose(one.points, other.points, atol=2e-3)


def two_balls(place: object = (2.0, 0.0, 0.0), level: float = 0.5) -> dict:
    document = recipe_shot({"kind": "cut_away", "field": "front"})
    document["items"]["rock"] = {"kind": "shape", "name": "Rock", "rank": 9, "place": list(place)}  # type: ignore[call-overload]
    document["items"]["rock"]["geometry"] = {"kind": "sphere", "subdivisions": 2}
    around = {"kind": "around", "controller": "fog", "reach": 0.7, "soft": 0.4}
    document["items"]["fog"] = {
        "kind": "controller",
        "name": "Fog",
        "rank": 8,
        "place": {"keys": {"a": {"frame": 0, "value": [-1, 0, 0]}, "b": {"frame": 24, "value": [1, 0, 0]}}},
    }
    document["fields"] = {
        "front": {"letter": "A", "name": "Front", "rank": 0, "level": level, "sources": {"s": around}}
    }
    return document


def test_a_shape_that_stands_still_is_asked_nothing_at_the_next_frame():
    one, shot = evaluator(), parse_shot(two_balls())
    before = one.frame(shot, 3)
    asked: list[str] = []
    at_rest = one.at_rest
    one.at_rest = lambda scene, item: asked.append(item) or at_rest(scene, item)  # type: ignore[method-assign]
    after = one.frame(shot, 9)
    assert "rock" not in asked
    assert "ball" in asked
    rock = {frame: [item for item in frame.draw if item.item == "rock"] for frame in (before, after)}
    assert [item.points is other.points for item, other in zip(*rock.values(), strict=True)] == [True]
    assert [report.item for report in after.shapes] == [report.item for report in before.shapes]


def test_what_stood_still_follows_an_edit_and_moves_when_it_is_keyed():
    one = evaluator()
    for document in (two_balls(), two_balls(place=(0.0, 3.0, 0.0)), two_balls(level=0.7)):
        warm, cold = one.frame(parse_shot(document), 9), evaluator().frame(parse_shot(document), 9)
        for item, other in zip(warm.draw, cold.draw, strict=True):
            np.testing.assert_array_equal(item.matrix, other.matrix)
            np.testing.assert_array_equal(item.points, other.points)
    moving = two_balls()
    moving["items"]["rock"]["place"] = moving["items"]["fog"]["place"]
    shot = parse_shot(moving)
    places = [next(item.matrix[0, 3] for item in one.frame(shot, at).draw if item.item == "rock") for at in (0, 12)]
    assert places == [-1.0, 0.0]


def test_a_field_of_time_alone_comes_when_it_is_walked_to(monkeypatch):
    document = two_balls()
    document["fields"]["front"]["sources"] = {"s": {"kind": "time", "length": 0.5}}
    shot = parse_shot(document)
    one = evaluator()
    kept = one.crossed(one.scene(shot, 0), "front", "ball").value.named["second"]
    monkeypatch.setattr(over_time, "ROWS_BYTES", 0)
    one = evaluator()
    walked = one.crossed(one.scene(shot, 0), "front", "ball").value.named["second"]
    assert np.isfinite(walked).all()
    assert walked.min() > 0
    np.testing.assert_allclose(kept, walked, atol=1e-6)
