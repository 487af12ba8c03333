"""Cellular noise: the distance to the nearest of points strewn in space.

Method: S. Worley, "A cellular texture basis function", SIGGRAPH 1996: the points are a Poisson process, found cell by cell
from a hash. Here they move: each on a circle of its own, which leaves them a Poisson process at every moment.
"""

from __future__ import annotations

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

CELL = 3.0 ** (1.0 / 3.0)
"""Side of a cell for a mean of three points in each, where there is one point in a cube of side 1."""

ORBIT = 0.22
"""Radius of the circles on which the points move."""

MEAN_DISTANCE = 0.5539602785
"""Mean distance to the nearest point of a Poisson process of density 1: Gamma(4/3) (3 / (4 pi))^(1/3)."""

POISSON = np.cumsum(np.exp(-3.0) * np.array([3.0**k / float(np.prod(np.arange(1, k + 1))) for k in range(12)]))
"""Chances of at most 0, 1, 2, … points in a cell with a mean of three."""

CHUNK = 256
U = np.uint32


def nearest_strewn(points: NDArray[np.float64], turned: float, seed: int, whole: bool = False) -> NDArray[np.float64]:
    """(n,) distance from (n, 3) points to the nearest strewn point, of which there is one in a unit cube on average.

    turned: how often the strewn points have gone round on average; whole: each by one or two times that.
    """
    values = np.empty(len(points), dtype=np.float64)
    places = np.ascontiguousarray(points, dtype=np.float64)
    _nearest(places, turned, U(seed & 0xFFFFFFFF), whole, POISSON, values)
    return values


def strewn_in(cell: tuple[int, int, int], turned: float, seed: int, whole: bool = False) -> NDArray[np.float64]:
    """(k, 3) the points that belong to one cell of side CELL, as they stand now."""
    found = np.empty((len(POISSON), 3))
    count = _strewn(cell[0], cell[1], cell[2], turned, U(seed & 0xFFFFFFFF), whole, POISSON, found)
    return found[:count]


@njit(cache=True, nogil=True, parallel=True)
def _nearest(points, turned, seed, whole, poisson, values):  # pragma: no cover - compiled
    for chunk in prange((len(points) + CHUNK - 1) // CHUNK):
        found = np.empty((len(poisson), 3))
        for index in range(chunk * CHUNK, min(len(points), (chunk + 1) * CHUNK)):
            values[index] = _distance(points[index], turned, seed, whole, poisson, found)


@njit(cache=True, nogil=True)
def _distance(place, turned, seed, whole, poisson, found):  # pragma: no cover - compiled
    """Rings of cells about the point's own, until nothing nearer can lie further out."""
    own = np.floor(place / CELL).astype(np.int64)
    best = np.inf
    ring = 0
    while True:
        for i in range(-ring, ring + 1):
            for j in range(-ring, ring + 1):
                for k in range(-ring, ring + 1):
                    if max(abs(i), abs(j), abs(k)) != ring:
                        continue
                    if _apart(place, own[0] + i, own[1] + j, own[2] + k) - ORBIT > np.sqrt(best):
                        continue
                    count = _strewn(own[0] + i, own[1] + j, own[2] + k, turned, seed, whole, poisson, found)
                    for one in range(count):
                        dx, dy, dz = found[one, 0] - place[0], found[one, 1] - place[1], found[one, 2] - place[2]
                        best = min(best, dx * dx + dy * dy + dz * dz)
        edge = np.inf
        for axis in range(3):
            low = place[axis] - (own[axis] - ring) * CELL
            edge = min(edge, low, (2 * ring + 1) * CELL - low)
        if np.sqrt(best) <= edge - ORBIT:
            return np.sqrt(best)
        ring += 1


@njit(cache=True, nogil=True)
def _apart(place, i, j, k):  # pragma: no cover - compiled
    """Distance from a place to a cell, 0 within."""
    total = 0.0
    for axis in range(3):
        cell = i if axis == 0 else (j if axis == 1 else k)
        low = cell * CELL - place[axis]
        high = place[axis] - (cell + 1) * CELL
        out = max(low, high, 0.0)
        total += out * out
    return np.sqrt(total)


@njit(cache=True, nogil=True)
def _strewn(i, j, k, turned, seed, whole, poisson, found):  # pragma: no cover - compiled
    bits = U(U(i & 0xFFFFFFFF) * U(0x8DA6B343)) ^ U(U(j & 0xFFFFFFFF) * U(0xD8163841))
    bits = _mixed(U(bits ^ U(U(k & 0xFFFFFFFF) * U(0xCB1AB31F)) ^ seed))
    share = bits / 4294967296.0
    count = 0
    while count < len(poisson) - 1 and share >= poisson[count]:
        count += 1
    for one in range(count):
        x, bits = _share(bits)
        y, bits = _share(bits)
        z, bits = _share(bits)
        height, bits = _share(bits)
        angle, bits = _share(bits)
        pace, bits = _share(bits)
        speed = (1.0 if pace < 0.5 else 2.0) if whole else 0.5 + pace
        angle = 2 * np.pi * (angle + speed * turned)
        height = 2 * height - 1
        flat = np.sqrt(max(0.0, 1 - height * height))
        found[one, 0] = (i + x) * CELL + ORBIT * np.cos(angle)
        found[one, 1] = (j + y) * CELL + ORBIT * np.sin(angle) * height
        found[one, 2] = (k + z) * CELL + ORBIT * np.sin(angle) * flat
    return count


@njit(cache=True, nogil=True, inline="always")
def _share(bits):  # pragma: no cover - compiled
    """A number in 0..1 and the bits for the next."""
    bits = _mixed(U(bits + U(0x9E3779B9)))
    return bits / 4294967296.0, bits


@njit(cache=True, nogil=True, inline="always")
def _mixed(bits):  # pragma: no cover - compiled
    bits = U(U(bits ^ U(bits >> U(16))) * U(0x85EBCA6B))
    bits = U(U(bits ^ U(bits >> U(13))) * U(0xC2B2AE35))
    return U(bits ^ U(bits >> U(16)))
