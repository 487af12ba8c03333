"""Damped springs against the closed form of the damped harmonic oscillator, and scipy's solver as second route."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from windsock.core.kernels.springs import spring_factors, spring_step

SWINGS = 1.7
OMEGA = 2 * np.pi * SWINGS


def stepped(damping: float, seconds: np.ndarray, looseness: float = 1.0) -> np.ndarray:
    """The answer to a step of the drawing place from 0 to 1, at each second, from one to the next."""
    place, velocity = np.zeros((1, 3)), np.zeros((1, 3))
    there, loose = np.ones((1, 3)), np.full(1, looseness)
    found = []
    for passed in np.diff(seconds, prepend=0.0):
        factors = spring_factors(loose, SWINGS, damping, passed)
        place, velocity = spring_step(place, velocity, there, there, passed, factors, loose)
        found.append(place[0, 0])
    return np.array(found)


@pytest.mark.parametrize("damping", [0.05, 0.2, 0.5, 0.8])
def test_overshoot_period_and_decrement(damping):
    turning = OMEGA * np.sqrt(1 - damping**2)
    peaks = np.pi * np.arange(1, 6) / turning
    away = stepped(damping, peaks) - 1
    # Overshoot exp(-z pi / sqrt(1 - z^2)); each half swing is that much smaller than the one before (any textbook).
    overshoot = np.exp(-damping * np.pi / np.sqrt(1 - damping**2))
    np.testing.assert_allclose(away, overshoot ** np.arange(1, 6) * np.array([1, -1, 1, -1, 1]), rtol=1e-9, atol=1e-12)
    decrement = np.log(away[0] / away[2])
    assert decrement == pytest.approx(2 * np.pi * damping / np.sqrt(1 - damping**2))


@pytest.mark.parametrize("damping", [0.0, 0.3, 1.0, 1.8])
def test_a_moving_place_against_a_solver(damping):
    def drawing(t: float) -> float:
        return np.interp(t, [0, 0.3, 0.8, 1.5], [0, 1.2, -0.4, 0.1])

    def slope(t: float, state: np.ndarray) -> list[float]:
        return [state[1], -2 * damping * OMEGA * state[1] + OMEGA**2 * (drawing(t) - state[0])]

    ticks = np.linspace(0, 1.5, 181)
    exact = solve_ivp(slope, (0, 1.5), [0.2, -1.0], t_eval=ticks, rtol=1e-10, atol=1e-12, max_step=0.01).y
    place, velocity = np.full((1, 3), 0.2), np.full((1, 3), -1.0)
    loose = np.ones(1)
    for before, now in pairwise(ticks):
        factors = spring_factors(loose, SWINGS, damping, now - before)
        start, end = np.full((1, 3), drawing(before)), np.full((1, 3), drawing(now))
        place, velocity = spring_step(place, velocity, start, end, now - before, factors, loose)
    assert place[0, 0] == pytest.approx(exact[0, -1], abs=1e-6)
    assert velocity[0, 0] == pytest.approx(exact[1, -1], abs=1e-5)


def test_one_step_is_as_many_small_ones():
    rng = np.random.default_rng(1)
    place, velocity, start, end = rng.normal(size=(4, 50, 3))
    loose = rng.random(50)
    factors = spring_factors(loose, SWINGS, 0.3, 0.4)
    once = spring_step(place, velocity, start, end, 0.4, factors, loose)
    small = spring_factors(loose, SWINGS, 0.3, 0.1)
    for part in range(4):
        low, high = start + (end - start) * part / 4, start + (end - start) * (part + 1) / 4
        place, velocity = spring_step(place, velocity, low, high, 0.1, small, loose)
    np.testing.assert_allclose(place, once[0], atol=1e-9)
    np.testing.assert_allclose(velocity, once[1], atol=1e-7)


def test_the_looser_the_slower_and_not_at_all_is_rigid():
    quarter = stepped(0.0, np.array([0.5 / (SWINGS / 2)]), looseness=0.25 * 4)
    assert quarter[0] == pytest.approx(1 - np.cos(2 * np.pi))
    # A quarter as loose swings twice as often.
    assert stepped(0.0, np.array([0.5 / (2 * SWINGS)]), 0.25)[0] == pytest.approx(2.0)
    assert stepped(0.2, np.array([0.01]), 0.0)[0] == 1.0
