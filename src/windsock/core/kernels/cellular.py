"""Cellular noise: the distance to the nearest of points strewn in space.

Method: S. Worley, "A cellular texture basis function", SIGGRAPH 1996: the points are a Poisson process, found cell by cell
from a hash. Here they move: each on a circle of its own, which leaves them a Poisson process at every moment.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import Whole, compiled, inlined, loop, parallel

CELL = 3.0 ** (1.0 / 3.0)
"""Side of a cell for a mean of three points in each, where there is one point in a cube of side 1."""

ORBIT = 0.22
"""Radius of the circles on which the points move."""

MEAN_DISTANCE = 0.5539602785
"""Mean distance to the nearest point of a Poisson process of density 1: Gamma(4/3) (3 / (4 pi))^(1/3)."""

POISSON = np.cumsum(np.exp(-3.0) * np.array([3.0**k / float(np.prod(np.arange(1, k + 1))) for k in range(12)]))
"""Chances of at most 0, 1, 2, … points in a cell with a mean of three."""

CHUNK = 256
MOST_CELLS = 400_000
"""Cells whose points are laid out at once: about 30 MB."""

U = np.uint32


def nearest_strewn(
    points: NDArray[np.float64], turned: float, seed: int, whole_turns: bool = False
) -> NDArray[np.float64]:
    """(n,) distance from (n, 3) points to the nearest strewn point, of which there is one in a unit cube on average.

    turned: how often the strewn points have gone round on average; whole_turns: each by one or two times that.
    """
    values = np.empty(len(points), dtype=np.float64)
    places = np.ascontiguousarray(points, dtype=np.float64)
    bits = U(seed & 0xFFFFFFFF)
    low, starts, strewn = _laid_out(places, turned, bits, whole_turns)
    _nearest(places, turned, bits, whole_turns, POISSON, low, starts, strewn, values)
    return values


def _laid_out(
    places: NDArray[np.float64], turned: float, seed: np.uint32, whole_turns: bool
) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float64]]:
    """The strewn points of all cells about the places, so that each is found once and not for every place near it.

    low: (3,) the lowest cell. starts: (i, j, k, 2) where those of a cell begin and end in strewn, (s, 3). Where there
    would be more cells than it is worth, none.
    """
    empty = np.zeros((0, 0, 0, 2), dtype=np.int64)
    nothing = np.zeros(3, dtype=np.int64), empty, np.zeros((0, 3))
    if len(places) == 0 or not np.isfinite(places).all():
        return nothing
    low = np.floor(places.min(axis=0) / CELL) - 1
    size = np.floor(places.max(axis=0) / CELL) + 2 - low
    if np.prod(size) > min(MOST_CELLS, 4 * len(places)):
        return nothing
    lowest, shape = low.astype(np.int64), tuple(size.astype(int))
    counts = np.empty(shape, dtype=np.int64)
    _count(lowest, seed, POISSON, counts)
    ends = np.cumsum(counts.ravel()).reshape(shape)
    starts = np.stack([ends - counts, ends], axis=-1)
    strewn = np.empty((int(counts.sum()), 3))
    _lay(lowest, turned, seed, whole_turns, POISSON, starts, strewn)
    return lowest, starts, strewn


def strewn_in(cell: tuple[int, int, int], turned: float, seed: int, whole_turns: bool = False) -> NDArray[np.float64]:
    """(k, 3) the points that belong to one cell of side CELL, as they stand now."""
    found = np.empty((len(POISSON), 3))
    count = _strewn(cell[0], cell[1], cell[2], turned, U(seed & 0xFFFFFFFF), whole_turns, POISSON, found)
    return found[:count]


@parallel
def _count(
    low: NDArray[np.int64], seed: np.uint32, poisson: NDArray[np.float64], counts: NDArray[np.int64]
):  # pragma: no cover - compiled
    for i in loop(counts.shape[0]):
        for j in range(counts.shape[1]):
            for k in range(counts.shape[2]):
                counts[i, j, k] = _how_many(_bits(low[0] + i, low[1] + j, low[2] + k, seed), poisson)


@parallel
def _lay(
    low: NDArray[np.int64],
    turned: float,
    seed: np.uint32,
    whole_turns: bool,
    poisson: NDArray[np.float64],
    starts: NDArray[np.int64],
    strewn: NDArray[np.float64],
):  # pragma: no cover - compiled
    for i in loop(starts.shape[0]):
        found = np.empty((len(poisson), 3))
        for j in range(starts.shape[1]):
            for k in range(starts.shape[2]):
                count = _strewn(low[0] + i, low[1] + j, low[2] + k, turned, seed, whole_turns, poisson, found)
                strewn[starts[i, j, k, 0] : starts[i, j, k, 1]] = found[:count]


@parallel
def _nearest(
    points: NDArray[np.float64],
    turned: float,
    seed: np.uint32,
    whole_turns: bool,
    poisson: NDArray[np.float64],
    low: NDArray[np.int64],
    starts: NDArray[np.int64],
    strewn: NDArray[np.float64],
    values: NDArray[np.float64],
):  # pragma: no cover - compiled
    for chunk in loop((len(points) + CHUNK - 1) // CHUNK):
        found = np.empty((len(poisson), 3))
        for index in range(chunk * CHUNK, min(len(points), (chunk + 1) * CHUNK)):
            values[index] = _distance(
                points[index, 0],
                points[index, 1],
                points[index, 2],
                turned,
                seed,
                whole_turns,
                poisson,
                low,
                starts,
                strewn,
                found,
            )


@inlined
def _distance(
    x: float,
    y: float,
    z: float,
    turned: float,
    seed: np.uint32,
    whole_turns: bool,
    poisson: NDArray[np.float64],
    low: NDArray[np.int64],
    starts: NDArray[np.int64],
    strewn: NDArray[np.float64],
    found: NDArray[np.float64],
):  # pragma: no cover - compiled
    """Rings of cells about the point's own, until nothing nearer can lie further out."""
    own_i, own_j, own_k = np.int64(np.floor(x / CELL)), np.int64(np.floor(y / CELL)), np.int64(np.floor(z / CELL))
    best, reach = np.inf, np.inf
    ring = 0
    while True:
        for di in range(-ring, ring + 1):
            for dj in range(-ring, ring + 1):
                for dk in range(-ring, ring + 1):
                    if max(abs(di), abs(dj), abs(dk)) != ring:
                        continue
                    i, j, k = own_i + di, own_j + dj, own_k + dk
                    if _apart(x, i) + _apart(y, j) + _apart(z, k) > reach:
                        continue
                    nearest = _nearest_in(
                        x, y, z, i, j, k, turned, seed, whole_turns, poisson, low, starts, strewn, found
                    )
                    if nearest < best:
                        best = nearest
                        reach = (np.sqrt(best) + ORBIT) ** 2
        edge = min(_within(x, own_i, ring), _within(y, own_j, ring), _within(z, own_k, ring))
        if np.sqrt(best) <= edge - ORBIT:
            return np.sqrt(best)
        ring += 1


@inlined
def _nearest_in(
    x: float,
    y: float,
    z: float,
    i: Whole,
    j: Whole,
    k: Whole,
    turned: float,
    seed: np.uint32,
    whole_turns: bool,
    poisson: NDArray[np.float64],
    low: NDArray[np.int64],
    starts: NDArray[np.int64],
    strewn: NDArray[np.float64],
    found: NDArray[np.float64],
):  # pragma: no cover - compiled
    """The squared distance to the nearest strewn point of one cell, from the table where that has it."""
    best = np.inf
    a, b, c = i - low[0], j - low[1], k - low[2]
    if 0 <= a < starts.shape[0] and 0 <= b < starts.shape[1] and 0 <= c < starts.shape[2]:
        for one in range(starts[a, b, c, 0], starts[a, b, c, 1]):
            dx, dy, dz = strewn[one, 0] - x, strewn[one, 1] - y, strewn[one, 2] - z
            best = min(best, dx * dx + dy * dy + dz * dz)
        return best
    count = _strewn(i, j, k, turned, seed, whole_turns, poisson, found)
    for one in range(count):
        dx, dy, dz = found[one, 0] - x, found[one, 1] - y, found[one, 2] - z
        best = min(best, dx * dx + dy * dy + dz * dz)
    return best


@inlined
def _apart(place: float, cell: Whole):  # pragma: no cover - compiled
    """Squared distance along one axis from a place to a cell, 0 within."""
    out = max(cell * CELL - place, place - (cell + 1) * CELL, 0.0)
    return out * out


@inlined
def _within(place: float, own: Whole, ring: int):  # pragma: no cover - compiled
    """Distance along one axis from a place to the nearer end of the cells searched."""
    below = place - (own - ring) * CELL
    return min(below, (2 * ring + 1) * CELL - below)


@compiled
def _bits(i: Whole, j: Whole, k: Whole, seed: np.uint32):  # pragma: no cover - compiled
    bits = U(U(i & 0xFFFFFFFF) * U(0x8DA6B343)) ^ U(U(j & 0xFFFFFFFF) * U(0xD8163841))
    return _mixed(U(bits ^ U(U(k & 0xFFFFFFFF) * U(0xCB1AB31F)) ^ seed))


@compiled
def _how_many(bits: np.uint32, poisson: NDArray[np.float64]):  # pragma: no cover - compiled
    share = bits / 4294967296.0
    count = 0
    while count < len(poisson) - 1 and share >= poisson[count]:
        count += 1
    return count


@compiled
def _strewn(
    i: Whole,
    j: Whole,
    k: Whole,
    turned: float,
    seed: np.uint32,
    whole_turns: bool,
    poisson: NDArray[np.float64],
    found: NDArray[np.float64],
):  # pragma: no cover - compiled
    bits = _bits(i, j, k, seed)
    count = _how_many(bits, poisson)
    for one in range(count):
        x, bits = _share(bits)
        y, bits = _share(bits)
        z, bits = _share(bits)
        height, bits = _share(bits)
        angle, bits = _share(bits)
        pace, bits = _share(bits)
        speed = (1.0 if pace < 0.5 else 2.0) if whole_turns else 0.5 + pace
        angle = 2 * np.pi * (angle + speed * turned)
        height = 2 * height - 1
        flat = np.sqrt(max(0.0, 1 - height * height))
        found[one, 0] = (i + x) * CELL + ORBIT * np.cos(angle)
        found[one, 1] = (j + y) * CELL + ORBIT * np.sin(angle) * height
        found[one, 2] = (k + z) * CELL + ORBIT * np.sin(angle) * flat
    return count


@inlined
def _share(bits: np.uint32):  # pragma: no cover - compiled
    """A number in 0..1 and the bits for the next."""
    bits = _mixed(U(bits + U(0x9E3779B9)))
    return bits / 4294967296.0, bits


@inlined
def _mixed(bits: np.uint32):  # pragma: no cover - compiled
    bits = U(U(bits ^ U(bits >> U(16))) * U(0x85EBCA6B))
    bits = U(U(bits ^ U(bits >> U(13))) * U(0xC2B2AE35))
    return U(bits ^ U(bits >> U(16)))
