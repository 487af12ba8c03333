"""Cellular noise against Worley (1996): the nearest of a Poisson process."""

from __future__ import annotations

from itertools import product

import numpy as np
import pytest
from scipy.spatial import cKDTree
from scipy.stats import kstest

from windsock.core.kernels.cellular import CELL, MEAN_DISTANCE, nearest_strewn, strewn_in


@pytest.mark.parametrize("turned", [0.0, 0.37])
@pytest.mark.parametrize("size", [300, 2000])
def test_it_is_the_nearest_of_all_strewn_points(turned, size):
    """By brute force: every point of every cell about, and a search tree over them."""
    places = np.random.default_rng(size).uniform(-4, 4, (size, 3))
    cells = range(int(-8 / CELL), int(8 / CELL) + 1)
    strewn = np.concatenate([strewn_in(cell, turned, 11) for cell in product(cells, repeat=3)])
    nearest, _ = cKDTree(strewn).query(places)
    np.testing.assert_allclose(nearest_strewn(places, turned, 11), nearest, atol=1e-9)


@pytest.mark.parametrize("turned", [0.0, 2.6])
def test_its_distribution_is_that_of_a_poisson_process_however_it_has_moved(turned):
    """P(F1 > r) = exp(-4/3 pi r^3) for one point in a unit cube (Worley 1996); its mean is Gamma(4/3) (3/4pi)^(1/3)."""
    places = np.random.default_rng(8).uniform(-2000, 2000, (20_000, 3))
    found = nearest_strewn(places, turned, 2)
    assert kstest(found, lambda r: 1 - np.exp(-4 / 3 * np.pi * r**3)).pvalue > 1e-3
    assert found.mean() == pytest.approx(MEAN_DISTANCE, rel=0.01)


def test_whole_turns_bring_it_back():
    places = np.random.default_rng(9).uniform(-9, 9, (500, 3))
    first = nearest_strewn(places, 0.0, 3, whole_turns=True)
    np.testing.assert_allclose(nearest_strewn(places, 2.0, 3, whole_turns=True), first, atol=1e-9)
    assert np.abs(nearest_strewn(places, 0.5, 3, whole_turns=True) - first).max() > 0.1
