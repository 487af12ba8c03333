"""Curves against the easings they are made of, and what they promise at their ends."""

from __future__ import annotations

import json

import numpy as np
import pytest
from pydantic import ValidationError

from windsock.core.timing.curve import Curve
from windsock.core.timing.easing import Bezier, Ease, Linear, eased
from windsock.core.timing.parameter import KeyedNumber, travelled


def curve(*points: tuple) -> Curve:
    told = {f"p{n}": {"x": x, "y": y} | ({"easing": e[0]} if e else {}) for n, (x, y, *e) in enumerate(points)}
    return Curve.model_validate_json(json.dumps({"points": told}))


def test_a_floor_is_exactly_zero_and_a_ceiling_exactly_one():
    told = curve((0.3, 0.0), (0.7, 1.0))
    values = told(np.array([0.0, 0.1, 0.3, 0.5, 0.7, 0.9, 1.0]))
    assert values.tolist() == [0, 0, 0, pytest.approx(0.5), 1, 1, 1]


@pytest.mark.parametrize("easing", [{"kind": "ease"}, {"kind": "bezier", "handles": [0.1, 0.9, 0.3, 1.0]}])
def test_between_two_points_it_goes_as_the_easing_does(easing):
    """Second route: the easing itself, found by bisection (tests/core/timing/test_easing.py holds it against the W3C)."""
    told = curve((0, 0, easing), (1, 1))
    exact = Ease() if easing["kind"] == "ease" else Bezier(handles=tuple(easing["handles"]))
    x = np.linspace(0, 0.999, 777)
    np.testing.assert_allclose(told(x), [eased(exact, float(v)) for v in x], atol=2e-6)
    np.testing.assert_allclose(curve((0, 0), (1, 1))(x), [eased(Linear(), float(v)) for v in x], atol=1e-12)


def test_two_points_at_one_value_are_refused():
    with pytest.raises(ValidationError, match="same value"):
        curve((0.5, 0), (0.5, 1))


def keyed(*keys: tuple) -> KeyedNumber:
    told = {f"k{n}": {"frame": f, "value": v, "easing": {"kind": e}} for n, (f, v, e) in enumerate(keys)}
    return KeyedNumber.model_validate({"keys": told})


def test_the_way_travelled_is_the_area_under_the_speed():
    ramp = keyed((0, 0.0, "linear"), (10, 4.0, "hold"), (20, 1.0, "linear"))
    assert travelled(ramp, 0, 10) == pytest.approx(20)
    assert travelled(ramp, 0, 25) == pytest.approx(20 + 40 + 5)
    assert travelled(ramp, 5, 12.5) == pytest.approx(15 + 10)
    assert travelled(ramp, 10, 0) == pytest.approx(-20)
    # Ease in and out is symmetric about its middle: on the whole it is worth its mean.
    assert travelled(keyed((0, 1.0, "ease"), (8, 3.0, "ease")), 0, 8) == pytest.approx(16, rel=1e-6)
    assert travelled(2.5, 4, 8) == pytest.approx(10)


def test_a_speed_below_nothing_counts_as_nothing():
    assert travelled(-3.0, 0, 10) == 0
    assert travelled(keyed((0, -2.0, "linear"), (20, 2.0, "hold")), 0, 20) == pytest.approx(10, rel=0.01)
