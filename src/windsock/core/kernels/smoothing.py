"""Points drawn to the middle of those about them, again and again."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Reals = NDArray[np.float64]

DRAWN, BACK = 0.5, -0.5263
"""Shares of the way to the mean of its neighbours that a point goes and, to keep the volume, goes back: 1 / 0.5 - 1 / 0.5263 is
a pass band of 0.1, as Taubin has it."""

MOST_TERMS = 120
"""Terms of the polynomial of `without_bumps`, each of which is a look at all neighbours."""


def without_bumps(places: Reals, edges: NDArray[np.int64], border: NDArray[np.bool_], width: float) -> Reals:
    """(n, 3) places without what goes up and down within less than a width in metres; what is wider stays, and so does the size.

    edges, border: as for `smoothed`. Method: G. Taubin, T. Zhang, G. Golub, "Optimal surface smoothing as filter design" (1996): an ideal low pass
    over the frequencies of the mesh, as a sum of Chebyshev polynomials, windowed after Hamming. What waves once over a length of w edges has about
    pi^2 / w^2 as its frequency there.
    """
    if len(edges) == 0:
        return places
    long = float(np.linalg.norm(places[edges[:, 0]] - places[edges[:, 1]], axis=1).mean())
    passes = float(np.arccos(1 - min((np.pi * long / max(width, 1e-12)) ** 2, 2.0)))
    terms = int(np.clip(np.ceil(2.5 * np.pi / max(passes, 1e-9)), 2, MOST_TERMS))
    count = np.arange(1, terms + 1)
    shares = 2 * np.sin(count * passes) / (count * np.pi) * (0.54 + 0.46 * np.cos(count * np.pi / (terms + 1)))
    whole = passes / np.pi + shares.sum()
    before, now = places, _middles(places, edges, border)
    made = passes / np.pi * before + shares[0] * now
    for share in shares[1:]:
        before, now = now, 2 * _middles(now, edges, border) - before
        made += share * now
    return made / whole


def _middles(places: Reals, edges: NDArray[np.int64], border: NDArray[np.bool_]) -> Reals:
    """(n, 3) the mean of the neighbours of each place; of one without any, the place itself."""
    sums, count = np.zeros_like(places), np.zeros(len(places))
    _neighbours(places, edges, border, sums, count)
    return np.where(count[:, None] > 0, sums / np.maximum(count, 1)[:, None], places)


def smoothed(
    places: Reals, edges: NDArray[np.int64], border: NDArray[np.bool_], steps: list[float], weight: Reals
) -> Reals:
    """(n, d) places, or other values, after so many steps, each of which takes every place the step's share of the way to the mean of its
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
            for axis in range(places.shape[1]):
                sums[one, axis] += places[other, axis]
            count[one] += 1


@compiled
def _draw(places: Reals, sums: Reals, count: Reals, share: float, weight: Reals):  # pragma: no cover - compiled
    for place in range(len(places)):
        if count[place] == 0 or weight[place] == 0:
            continue
        part = share * weight[place]
        for axis in range(places.shape[1]):
            places[place, axis] += part * (sums[place, axis] / count[place] - places[place, axis])
