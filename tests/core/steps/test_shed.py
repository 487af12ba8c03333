"""Shed: as many as said for each second and metre of the front, the same in any order, gone after their lives."""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot, parts_of, recipe_shot

SHEET = {"kind": "plane", "width": 4, "depth": 1, "columns": 80, "rows": 20}


def shedding(frames: list[int], field: dict | None = None, **step: object) -> list:
    """A sheet that a straight front crosses at 1 m/s along X, 1 m long."""
    document = recipe_shot(
        {"kind": "shed", "makes": "embers", "field": "front"} | step, geometry=SHEET, parts=("embers",)
    )
    linear = {"kind": "linear"}
    document["items"]["fog"] |= {
        "turn": [0, 0, -90],
        "place": {
            "keys": {
                "a": {"frame": 0, "value": [-1.5, 0, 0], "easing": linear},
                "b": {"frame": 72, "value": [1.5, 0, 0]},
            }
        },
    }
    document["fields"]["front"] |= {"band": 0.4} | (field or {})
    document["fields"]["front"]["sources"]["s"] = {
        "kind": "across",
        "controller": "fog",
        "axis": "y",
        "soft": 0.5,
        "at": 0,
    }
    one = evaluator()
    shot = parse_shot(document)
    return [next(item.body for item in one.frame(shot, frame).draw if item.part == "embers") for frame in frames]


@pytest.mark.parametrize(
    ("rate", "field"), [(200, {}), (200, {"band": 0.8}), (500, {}), (200, {"band": 0.2, "band_in": "metres"})]
)
def test_as_many_as_the_rate_says_for_each_second_and_metre(rate, field):
    """After a second of a front 1 m long there are `rate` of them, to what chance allows (four standard deviations)."""
    first, last = shedding([24, 48], field, rate=rate, life=60, vary=0)
    born = len(last.copies) - len(first.copies)
    assert born == pytest.approx(rate, abs=4 * rate**0.5)


def test_they_are_born_in_the_band():
    (embers,) = shedding([48], rate=600, life=0.2, speed=0, pull=0, vary=0)
    # At frame 48 the front stands at 0.5 m; the band is 0.2 m wide about 0.25 m behind it.
    along = embers.mesh.rest[:, 0]
    assert along.min() > 0.5 - 0.25 - 0.1 - 0.2 - 0.05
    assert along.max() < 0.5 - 0.25 + 0.1 + 0.05
    assert len(along) == pytest.approx(120, abs=45)


def test_the_same_in_any_order_and_gone_after_their_lives():
    forward = shedding([10, 40, 70], life=0.5)
    back = shedding([70, 40, 10], life=0.5)
    for one, other in zip(forward, reversed(back), strict=True):
        assert np.array_equal(one.mesh.number, other.mesh.number)
        assert np.array_equal(one.mesh.points, other.mesh.points)
    numbers = [set(one.mesh.number.tolist()) for one in forward]
    assert all(numbers)
    assert not numbers[0] & numbers[1]
    assert len(numbers[1]) == len(forward[1].copies)


def test_a_wider_band_or_a_higher_rate_leaves_the_others_where_they_are():
    (few,), (many,) = (shedding([40], rate=rate, life=60) for rate in (80, 240))
    assert set(few.mesh.number.tolist()) < set(many.mesh.number.tolist())


def test_they_fly_by_closed_form():
    early, late = shedding([40, 46], rate=100, life=60, speed=0.0, pull=-2.0, drag=0.5, whirl=0)
    rows = np.searchsorted(late.mesh.number, early.mesh.number)
    order = np.argsort(late.mesh.number)
    rows = order[np.searchsorted(late.mesh.number[order], early.mesh.number)]
    rise = late.mesh.points[rows, 1] - early.mesh.points[:, 1]
    # Rising from rest under 2 m/s² upward with drag k: (g / k) t - (g / k²)(1 - e^(-k t)).
    ages = np.linspace(0, 60, 200_001)
    height = 2 / 0.5 * ages - 2 / 0.25 * (1 - np.exp(-0.5 * ages))
    age = np.interp(early.mesh.points[:, 1], height, ages)
    assert rise == pytest.approx(np.interp(age + 0.25, ages, height) - early.mesh.points[:, 1], abs=1e-4)


def test_no_field_and_no_band_shed_nothing():
    for step in ({"field": None}, {}):
        document = recipe_shot({"kind": "shed", "makes": "embers"} | step, parts=("embers",))
        document["fields"]["front"]["band"] = 0.0
        document["items"]["ball"]["recipe"]["steps"]["s1"].setdefault("field", "front")
        assert len(parts_of(document, 50)["embers"].mesh.points) == 0


BLOCK = {"kind": "box", "width": 4, "height": 0.6, "depth": 1, "divisions": 20}


def from_solid(frame: float, item: dict | None = None, **step: object):
    """A block that a straight front goes through at 1 m/s along X; its level is 0.25 m behind the leading plane."""
    document = recipe_shot(
        {"kind": "shed", "makes": "embers", "field": "front", "born": "solid", "count": 2000, "life": 60, "vary": 0}
        | step,
        geometry=BLOCK,
        parts=("embers",),
    )
    linear = {"kind": "linear"}
    keys = {"a": {"frame": 0, "value": [-1.5, 0, 0], "easing": linear}, "b": {"frame": 72, "value": [1.5, 0, 0]}}
    document["items"]["fog"] |= {"turn": [0, 0, -90], "place": {"keys": keys}}
    across = {"kind": "across", "controller": "fog", "axis": "y", "soft": 0.5, "at": 0}
    document["fields"]["front"]["sources"]["s"] = across
    document["items"]["ball"] |= item or {}
    return next(one.body for one in evaluator().frame(parse_shot(document), frame).draw if one.part == "embers")


def test_from_the_solid_each_place_sheds_one_as_the_front_comes_to_it():
    """At a second the front is at -0.75 m, as it was at -1.75 m at the start: a quarter of the places are between."""
    parts = from_solid(24, speed=0.0, pull=0.0, whirl=0.0)
    born = parts.mesh.rest
    assert len(born) == pytest.approx(500, abs=4 * (2000 * 3 / 16) ** 0.5)
    assert born[:, 0].min() > -1.76
    assert born[:, 0].max() < -0.74
    assert np.abs(born[:, 1]).max() < 0.3
    # Not only at the surface: in the inner half of its height lie half of them.
    assert (np.abs(born[:, 1]) < 0.15).mean() == pytest.approx(0.5, abs=0.1)
    np.testing.assert_allclose(parts.mesh.points, born, atol=1e-5)


def test_those_of_the_solid_start_where_the_shape_has_carried_their_place():
    lift = {
        "keys": {
            "a": {"frame": 0, "value": [0, 0, 0], "easing": {"kind": "linear"}},
            "b": {"frame": 72, "value": [0, 3, 0]},
        }
    }
    parts = from_solid(24, {"place": lift}, speed=0.0, pull=0.0, whirl=0.0)
    # Born when the front was at its place along X, a metre in a second; so high the block had been lifted then.
    carried = parts.mesh.points[:, 1] + 1.0 - parts.mesh.rest[:, 1]
    np.testing.assert_allclose(carried, parts.mesh.rest[:, 0] + 1.75, atol=0.02)


def test_what_is_reached_from_the_start_or_never_sheds_nothing_and_the_same_are_there_at_any_frame():
    first, last = from_solid(40, speed=0.0), from_solid(60, speed=0.0)
    assert set(first.mesh.number) < set(last.mesh.number)
    assert last.mesh.rest[:, 0].min() > -1.76
    assert len(from_solid(0).mesh.points) == 0
