"""Gradient noise in four dimensions against a slow twin, and its statistics."""

from __future__ import annotations

import math
from itertools import product

import numpy as np
import pytest

from windsock.core.kernels.evolving import _direction, evolving_noise, hashed_cell, spread_at
from windsock.core.kernels.noise import GRADIENT_NOISE_PEAK, gradient_noise

U = np.uint32


def slow(place, along: float, seed: int, period_along=0, period_up=0) -> float:
    """Perlin's method in four dimensions, corner by corner."""
    fade = [t * t * t * (t * (t * 6 - 15) + 10) for t in (c - math.floor(c) for c in (*place, along))]
    total = 0.0
    for corner in product((0, 1), repeat=4):
        cell = [math.floor(c) + step for c, step in zip((*place, along), corner, strict=True)]
        offset = [c - at for c, at in zip((*place, along), cell, strict=True)]
        weight = math.prod(f if step else 1 - f for f, step in zip(fade, corner, strict=True))
        if period_up:
            cell[1] %= period_up
        mixed = 0
        for at, factor in zip(cell[:3], (0x8DA6B343, 0xD8163841, 0xCB1AB31F), strict=True):
            mixed ^= (at & 0xFFFFFFFF) * factor & 0xFFFFFFFF
        direction = int(_direction(U(mixed), U(hashed_cell(cell[3], period_along, seed))))
        edge, sign = direction >> 1, 1 - 2 * (direction & 1)
        first, second = ((0, 1), (0, 2), (1, 2))[edge >> 2]
        one, two = 1 - 2 * (edge & 1), 1 - (edge & 2)
        total += weight * (one * offset[first] + two * offset[second] + sign * offset[3])
    return total / (GRADIENT_NOISE_PEAK * spread_at(along - math.floor(along)))


@pytest.mark.parametrize(("period_along", "period_up"), [(0, 0), (3, 0), (2, 5)])
def test_it_agrees_with_the_method_corner_by_corner(period_along, period_up):
    places = np.random.default_rng(4).uniform(-20, 20, (60, 3))
    for along in (-2.3, 0.0, 1.75):
        fast = evolving_noise(places, along, 9, period_along, period_up)
        twin = [slow(place, along, 9, period_along, period_up) for place in places]
        np.testing.assert_allclose(fast, twin, atol=2e-6)  # single precision within a cell


@pytest.mark.parametrize("seed", [0, 77])
def test_it_begins_with_the_noise_in_space_and_spreads_as_far_at_every_moment(seed):
    places = np.random.default_rng(6).uniform(-300, 300, (200_000, 3))
    still = gradient_noise(places, seed, 1)
    np.testing.assert_allclose(evolving_noise(places, 0.0, seed), still, atol=2e-6)
    np.testing.assert_allclose(evolving_noise(places, 1e-5, seed), still, atol=1e-4)
    for along in (0.1, 0.25, 0.5, 3.8):
        assert evolving_noise(places, along, seed).std() == pytest.approx(still.std(), rel=0.01)


def test_it_is_zero_at_lattice_points_and_stays_in_its_range():
    lattice = np.array(list(product(range(-3, 4), repeat=3)), dtype=float)
    np.testing.assert_allclose(evolving_noise(lattice, 2.0, 1), 0, atol=1e-7)
    values = evolving_noise(np.random.default_rng(1).uniform(-500, 500, (1_000_000, 3)), 0.37, 5)
    assert np.abs(values).max() <= 1
    assert abs(values.mean()) < 2e-3
    assert values.std() > 0.15


def test_every_direction_is_as_likely():
    mixed = np.random.default_rng(2).integers(0, 2**32, 200_000, dtype=np.uint32)
    counts = np.bincount([int(_direction(bits, U(7))) for bits in mixed], minlength=24)
    fair = 200_000 / 24
    assert ((counts - fair) ** 2 / fair).sum() < 49.7  # chi-squared, 23 degrees of freedom, one in a thousand


def test_it_looks_alike_along_every_axis_and_in_time():
    """Correlation over half a cell: X, Y, Z and the fourth coordinate."""
    places = np.random.default_rng(3).uniform(-300, 300, (400_000, 3))
    here = evolving_noise(places, 0.0 + 0.4, 3)
    shifted = [evolving_noise(places + 0.5 * axis, 0.4, 3) for axis in np.eye(3)]
    along = [np.corrcoef(here, other)[0, 1] for other in shifted]
    assert max(along) - min(along) < 0.02


def test_it_comes_back_after_its_period_and_not_before():
    places = np.random.default_rng(5).uniform(-9, 9, (500, 3))
    first = evolving_noise(places, 0.2, 1, 4)
    assert (evolving_noise(places, 4.2, 1, 4) == first).all() or np.allclose(evolving_noise(places, 4.2, 1, 4), first)
    assert np.abs(evolving_noise(places, 2.2, 1, 4) - first).max() > 0.2
