"""Chance: uniform, independent of its neighbours, and the same whoever asks."""

from __future__ import annotations

import numpy as np
from scipy.stats import chisquare, kstest

from windsock.core.kernels.chance import chance


def test_it_is_uniform_for_numbers_in_a_row_and_for_derived_ones():
    for numbers in (np.arange(200_000), -np.arange(1, 200_000) * 977):
        values = chance(numbers, 3)
        assert values.min() >= 0
        assert values.max() < 1
        assert chisquare(np.histogram(values, 64, (0, 1))[0]).pvalue > 1e-4
        assert kstest(values, "uniform").pvalue > 1e-4


def test_neighbours_and_seeds_have_nothing_to_do_with_each_other():
    one, other = chance(np.arange(100_000), 1), chance(np.arange(100_000), 2)
    assert abs(np.corrcoef(one[1:], one[:-1])[0, 1]) < 0.015
    assert abs(np.corrcoef(one, other)[0, 1]) < 0.015


def test_it_belongs_to_the_number_not_to_the_order():
    numbers = np.array([5, -3, 900, 5])
    values = chance(numbers, 7)
    assert values[0] == values[3]
    np.testing.assert_array_equal(chance(numbers[::-1], 7), values[::-1])
