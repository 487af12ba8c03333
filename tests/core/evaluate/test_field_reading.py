"""What is told of a field at a moment: shares by area, and a histogram, against numpy's own."""

from __future__ import annotations

import numpy as np
import pytest

from windsock.core.evaluate.reading import BINS, MOST_READ, read, read_coverage, read_histogram


@pytest.mark.parametrize("seed", range(4))
def test_the_histogram_is_numpys(seed):
    rng = np.random.default_rng(seed)
    # Also on the borders of intervals, at both ends, and outside of 0..1.
    values = np.concatenate([rng.uniform(-0.2, 1.2, 3000), np.arange(BINS + 1) / BINS, [0.0, 1.0]])
    areas = rng.uniform(0, 2, len(values))
    counts, _ = np.histogram(values, bins=BINS, range=(0.0, 1.0), weights=areas)
    np.testing.assert_allclose(read_histogram(values, areas), counts / counts.sum(), atol=1e-3)
    inside = np.concatenate([rng.uniform(0, 1, 3000), [0.0, 1.0]])
    counts, _ = np.histogram(inside, bins=BINS, range=(0.0, 1.0))
    np.testing.assert_allclose(read_histogram(inside, np.ones(len(inside))), counts / counts.sum(), atol=2e-6)


@pytest.mark.parametrize(("level", "band"), [(0.5, 0.0), (0.5, 0.2), (0.0, 0.1), (1.0, 0.0)])
def test_shares_are_by_area_and_sum_to_one(level, band):
    rng = np.random.default_rng(9)
    values, areas = rng.uniform(0, 1, 500), rng.uniform(0, 3, 500)
    told = read_coverage(values, areas, level, band)
    inside = sum(a for v, a in zip(values, areas, strict=True) if v >= level + band / 2) / areas.sum()
    outside = sum(a for v, a in zip(values, areas, strict=True) if v < level - band / 2) / areas.sum()
    assert told.inside == pytest.approx(inside)
    assert told.outside == pytest.approx(outside)
    assert told.inside + told.band + told.outside == pytest.approx(1)


def test_nothing_has_no_shares():
    none = np.zeros(0)
    told = read("front", none, none, 0.5, 0.1)
    assert (told.coverage.inside, told.coverage.band, told.coverage.outside) == (0, 0, 0)
    assert told.histogram == (0.0,) * BINS


def test_of_very_many_some_are_read_evenly():
    values = np.linspace(0, 1, 5 * MOST_READ)
    told = read("front", values, np.ones(len(values)), 0.25, np.full(len(values), 0.1))
    assert told.coverage.inside == pytest.approx(0.7, abs=1e-3)
    assert told.band == pytest.approx(0.1)
