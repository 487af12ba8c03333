"""A front that goes from body to body, against networkless brute force and along a row."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.distance import cdist

from windsock.core.kernels.stepping import NEIGHBOURS, travel_between


def slowly(middles: np.ndarray, entered: np.ndarray, pace: np.ndarray) -> np.ndarray:
    """Bellman and Ford's rounds over the same neighbours, with plain loops."""
    apart = cdist(middles, middles)
    near = np.argsort(apart, axis=1)[:, 1 : NEIGHBOURS + 1]
    best = entered.copy()
    for _ in range(len(middles)):
        for one in range(len(middles)):
            for other in near[one]:
                slow = (pace[one] + pace[other]) / 2
                if slow > 0:
                    step = apart[one, other] / slow
                    best[other] = min(best[other], best[one] + step)
                    best[one] = min(best[one], best[other] + step)
    return best


@pytest.mark.parametrize("count", [25, 60])
def test_agrees_with_the_slow_way(count):
    rng = np.random.default_rng(count)
    middles, pace = rng.uniform(0, 2, (count, 3)), rng.uniform(0.2, 1, count)
    entered = np.full(count, np.inf)
    entered[[0, 7]] = [0.0, 0.4]
    assert travel_between(middles, entered, pace) == pytest.approx(slowly(middles, entered, pace), abs=1e-6)


def test_along_a_row_it_is_the_distance_and_nothing_comes_from_nothing():
    row = np.stack([np.arange(40) * 0.5, np.zeros(40), np.zeros(40)], axis=1)
    entered = np.full(40, np.inf)
    assert np.isinf(travel_between(row, entered, np.ones(40))).all()
    entered[3] = 0.0
    assert travel_between(row, entered, np.ones(40)) == pytest.approx(np.abs(row[:, 0] - 1.5), abs=1e-6)
    walled = np.ones(40)
    walled[10:24] = 0.0
    assert np.isinf(travel_between(row, entered, walled)[30:]).all()
