"""Ramps: stops, steps, and blending in linear light."""

from __future__ import annotations

import numpy as np
import pytest

from windsock.core.ramp import Ramp, Stop


def encoded(linear: np.ndarray) -> np.ndarray:
    """IEC 61966-2-1, the other way."""
    return np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055)


def ramp(kind="smooth", **stops) -> Ramp:
    return Ramp(kind=kind, stops={name: Stop(**stop) for name, stop in stops.items()})


def test_the_middle_of_black_and_white_is_half_the_light():
    """Half the light of white is sRGB 188, not 128 (IEC 61966-2-1)."""
    middle = ramp(a={"at": 0, "colour": "#000000"}, b={"at": 1, "colour": "#FFFFFF"}).colours(np.array([0.5]))
    np.testing.assert_allclose(middle, 0.5)
    assert np.round(encoded(middle[0, 0]) * 255) == 188


def test_stops_count_by_their_place_not_by_their_name_and_the_ends_are_level():
    made = ramp(z={"at": 0.25, "value": 0.2}, a={"at": 0.75, "value": 1.0})
    np.testing.assert_allclose(made.values(np.array([0, 0.25, 0.5, 0.75, 1])), [0.2, 0.2, 0.6, 1, 1])


def test_a_stepped_ramp_holds_each_stop_up_to_the_next():
    made = ramp("stepped", a={"at": 0.2, "value": 0.1}, b={"at": 0.6, "value": 0.9})
    np.testing.assert_array_equal(made.values(np.array([0, 0.2, 0.59, 0.6, 1])), [0.1, 0.1, 0.1, 0.9, 0.9])


@pytest.mark.parametrize("places", [5, 50])
def test_a_ramp_of_one_stop_is_that_everywhere(places):
    assert (ramp(a={"at": 0.5, "value": 0.3}).values(np.linspace(0, 1, places)) == 0.3).all()
