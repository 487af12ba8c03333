"""Numbers and pairs told apart without sorting, against numpy's sorting."""

from __future__ import annotations

import numpy as np
import pytest

from windsock.core.kernels.distinct import distinct, distinct_pairs


@pytest.mark.parametrize("count", [0, 1, 7, 5000])
def test_numbers_are_told_apart_as_numpy_does(count):
    rng = np.random.default_rng(count)
    numbers = rng.integers(-(2**62), 2**62, max(count // 3, 1))[rng.integers(0, max(count // 3, 1), count)]
    first, which, often = distinct(numbers)
    named, at, counts = np.unique(numbers, return_index=True, return_counts=True)
    order = np.argsort(numbers[first])
    assert numbers[first][which].tolist() == numbers.tolist()
    assert (numbers[first][order].tolist(), first[order].tolist()) == (named.tolist(), at.tolist())
    assert often[order].tolist() == counts.tolist()
    # In the order in which they come first.
    assert (np.diff(first) > 0).all()


def test_pairs_are_the_same_either_way_round():
    rng = np.random.default_rng(3)
    pairs = rng.integers(0, 40, (2000, 2))
    first, which, often = distinct_pairs(pairs[:, 0], pairs[:, 1], 40)
    sides = np.sort(pairs, axis=1)
    named, counts = np.unique(sides, axis=0, return_counts=True)
    assert len(first) == len(named)
    assert (sides[first][which] == sides).all()
    listed = {tuple(pair): int(count) for pair, count in zip(named.tolist(), counts, strict=True)}
    assert [listed[tuple(pair)] for pair in sides[first].tolist()] == often.tolist()
