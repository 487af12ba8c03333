"""Points drawn to the middle of those about them, again and again."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Reals = NDArray[np.float64]


def smoothed(
    places: Reals, edges: NDArray[np.int64], border: NDArray[np.bool_], steps: list[float], weight: Reals
) -> Reals:
    """(n, 3) places after so many steps, each of which takes every place the step's share of the way to the mean of its
    neighbours.

    edges: (k, 2) pairs of neighbours; border: (n,) places at an open edge, that only have edges between such places as
    neighbours and so stay on its line. weight: (n,) how much of each step counts at a place. G. Taubin, "A signal processing
    approach to fair surface design" (1995): with steps that go in turn by 0 < a and by -b, b > a, what changes slowly over the
    surface keeps its size.
    """
    now = places.copy()
    for share in steps:
        sums, count = np.zeros_like(now), np.zeros(len(now))
        _neighbours(now, edges, border, sums, count)
        _draw(now, sums, count, share, weight)
    return now


@compiled
def _neighbours(
    places: Reals, edges: NDArray[np.int64], border: NDArray[np.bool_], sums: Reals, count: Reals
):  # pragma: no cover - compiled
    for edge in range(len(edges)):
        for end in range(2):
            one, other = edges[edge, end], edges[edge, 1 - end]
            if border[one] and not border[other]:
                continue
            for axis in range(3):
                sums[one, axis] += places[other, axis]
            count[one] += 1


@compiled
def _draw(places: Reals, sums: Reals, count: Reals, share: float, weight: Reals):  # pragma: no cover - compiled
    for place in range(len(places)):
        if count[place] == 0 or weight[place] == 0:
            continue
        part = share * weight[place]
        for axis in range(3):
            places[place, axis] += part * (sums[place, axis] / count[place] - places[place, axis])
