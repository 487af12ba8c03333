"""Simplex noise: the published construction, its range, and gradients that turn."""

from __future__ import annotations

from itertools import product

import numpy as np
from scipy.stats import kstest

from windsock.core.kernels.simplex import SIMPLEX_NOISE_PEAK, _corner, simplex_noise

U = np.uint32


def corners_within(place: np.ndarray) -> list[np.ndarray]:
    """Every lattice point of the skewed lattice within sqrt(0.5) of a place, by trying all about it."""
    skewed = np.floor(place + place.sum() / 3)
    found = []
    for step in product(range(-2, 4), repeat=3):
        lattice = skewed + step
        if ((place - (lattice - lattice.sum() / 6)) ** 2).sum() < 0.5:
            found.append(lattice)
    return found


def test_it_is_the_sum_of_the_four_corners_of_its_simplex():
    """Gustavson (2005): no other lattice point is within sqrt(0.5), where the kernel ends."""
    for place in np.random.default_rng(1).uniform(-40, 40, (200, 3)):
        all_within = sum(
            _corner(*(place - (at - at.sum() / 6)), *(int(c) for c in at), 0.3, U(5), False)
            for at in corners_within(place)
        )
        four = simplex_noise(place[None], 0.3, 5)[0]
        assert abs(four - all_within / SIMPLEX_NOISE_PEAK) < 1e-9


def test_range_mean_and_symmetry():
    values = simplex_noise(np.random.default_rng(2).uniform(-500, 500, (1_000_000, 3)), 0.0, 3)
    assert np.abs(values).max() <= 1
    assert abs(values.mean()) < 2e-3
    assert values.std() > 0.3
    assert kstest(values[:20_000], -values[20_000:40_000]).pvalue > 1e-3


def test_it_is_smooth_and_ties_between_coordinates_do_no_harm():
    line = np.linspace(0, 3, 60_001)[:, None] * np.array([1.0, 1.0, 1.0])
    assert np.abs(np.diff(simplex_noise(line, 0.0, 1))).max() < 1e-3
    flat = np.linspace(0, 3, 60_001)[:, None] * np.array([1.0, 1.0, 0.0])
    assert np.abs(np.diff(simplex_noise(flat, 0.0, 1))).max() < 1e-3


def test_whole_turns_bring_it_back_and_others_do_not():
    places = np.random.default_rng(4).uniform(-20, 20, (2000, 3))
    first = simplex_noise(places, 0.0, 7, whole_turns=True)
    np.testing.assert_allclose(simplex_noise(places, 3.0, 7, whole_turns=True), first, atol=1e-9)
    assert np.abs(simplex_noise(places, 0.5, 7, whole_turns=True) - first).mean() > 0.05
    assert np.abs(simplex_noise(places, 3.0, 7) - simplex_noise(places, 0.0, 7)).mean() > 0.05
