"""Easing against CSS Easing Functions Level 1 (W3C), with a scipy root-finder as second route."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq

from windsock.core.timing.easing import EASE_HANDLES, Bezier, Ease, Hold, Linear, cubic_bezier, eased

SHARES = st.floats(0, 1)
# The named curves of the specification, section 2.2: ease, ease-in, ease-out, ease-in-out.
NAMED = [(0.25, 0.1, 0.25, 1.0), (0.42, 0.0, 1.0, 1.0), (0.0, 0.0, 0.58, 1.0), (0.42, 0.0, 0.58, 1.0)]


def bernstein(first: float, second: float, t: float) -> float:
    return 3 * (1 - t) ** 2 * t * first + 3 * (1 - t) * t**2 * second + t**3


def by_root_finder(handles: tuple[float, float, float, float], share: float) -> float:
    x1, y1, x2, y2 = handles
    t = brentq(lambda t: bernstein(x1, x2, t) - share, 0, 1, xtol=1e-15)
    return bernstein(y1, y2, float(t))


@pytest.mark.parametrize("handles", [*NAMED, (0.0, 1.5, 1.0, -0.5), (1.0, 0.0, 0.0, 1.0), (0.9, 0.0, 0.1, 1.0)])
def test_the_curve_is_the_one_of_the_specification(handles):
    for share in np.linspace(0, 1, 101):
        assert cubic_bezier(handles, float(share)) == pytest.approx(by_root_finder(handles, float(share)), abs=2e-5)


@given(SHARES, SHARES, st.floats(-2, 3), st.floats(-2, 3), SHARES)
def test_the_curve_agrees_with_a_root_finder_anywhere(x1, x2, y1, y2, share):
    # Where x is nearly flat in t a small error of x is a larger one of y: the residual in x is what both must meet.
    found = cubic_bezier((x1, y1, x2, y2), share)
    t = np.linspace(0, 1, 20001)
    x, y = bernstein(x1, x2, t), bernstein(y1, y2, t)
    near = np.abs(x - share) < 1e-3
    assert y[near].min() - 1e-2 <= found <= y[near].max() + 1e-2


@given(st.tuples(SHARES, st.floats(-2, 3), SHARES, st.floats(-2, 3)))
def test_ends_are_exact(handles):
    assert cubic_bezier(handles, 0.0) == 0.0
    assert cubic_bezier(handles, 1.0) == 1.0


@given(SHARES, SHARES, SHARES, SHARES)
def test_a_curve_with_y_within_0_and_1_never_falls_where_its_handles_do_not(x1, x2, one, other):
    values = [cubic_bezier((x1, 0.0, x2, 1.0), share) for share in sorted((one, other))]
    assert values[0] <= values[1] + 1e-9


def test_a_value_may_overshoot():
    assert max(cubic_bezier((0.3, 1.8, 0.6, 1.4), share) for share in np.linspace(0, 1, 50)) > 1.05


def test_the_kinds():
    assert eased(Hold(), 0.9) == 0.0
    assert eased(Linear(), 0.3) == 0.3
    assert eased(Ease(), 0.2) == cubic_bezier(EASE_HANDLES, 0.2)
    assert eased(Bezier(handles=(0.1, 0.7, 0.2, 1.0)), 0.5) == cubic_bezier((0.1, 0.7, 0.2, 1.0), 0.5)
    # ease-in-out is symmetric about its middle (a derivation: the handles are).
    assert eased(Ease(), 0.5) == pytest.approx(0.5, abs=1e-12)
