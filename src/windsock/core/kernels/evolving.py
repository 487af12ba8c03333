"""Gradient noise in space that changes with a fourth coordinate, which is the same for all points.

Method: K. Perlin, "Improving Noise", SIGGRAPH 2002, carried to four dimensions: quintic fade, and at each corner one of the
twelve edges in space with a component of +-1 along the fourth coordinate. Where that is 0 the noise is `gradient_noise` of
the same seed, and at every other place it spreads as far: values are divided by how far the sum of the corners spreads
there, and those few that would leave -1..1 are kept to it. Whole periods along the fourth coordinate, or up, close the
pattern there.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled, inlined, loop, parallel
from windsock.core.kernels.noise import GRADIENT_NOISE_PEAK

_PLACE = (np.arange(4096) + 0.5) / 4096
_WEIGHT = 1 - _PLACE**3 * (_PLACE * (_PLACE * 6 - 15) + 10)
WEIGHT_SQUARES = float((_WEIGHT**2).mean())
MOMENT_SQUARES = float((_WEIGHT**2 * _PLACE**2).mean())
"""I0 and I2 of `spread_at`, by the midpoint rule."""

CHUNK = 1024
U, S, F = np.uint32, np.int32, np.float32


def evolving_noise(
    points: NDArray[np.float64], along: float, seed: int, period_along: int = 0, period_up: int = 0
) -> NDArray[np.float64]:
    """(n,) noise in -1..1 at (n, 3) points and the fourth coordinate `along`, in lattice cells.

    period_along, period_up: cells after which the pattern repeats along the fourth coordinate and along Y; 0: never.
    """
    values = np.empty(len(points), dtype=np.float64)
    low = int(np.floor(along))
    at = [U(hashed_cell(low + step, period_along, seed)) for step in (0, 1)]
    factor = F(1 / (GRADIENT_NOISE_PEAK * spread_at(along - low)))
    _evolving(np.ascontiguousarray(points, dtype=np.float64), at[0], at[1], F(along - low), factor, period_up, values)
    return values


def spread_at(along: float) -> float:
    """How far values spread at a place within a cell of the fourth coordinate, against where that is 0.

    The corners' directions are independent, so variances add up. Over a cell a corner's weight w along one axis has the mean
    squares I0 of w and I2 of w x; an edge has two components of +-1, so that space gives 16 I2 I0^2, and the fourth
    coordinate 8 I0^3 t^2 at a distance of t.
    """
    fade = along**3 * (along * (along * 6 - 15) + 10)
    within, beyond = ((1 - fade) ** 2, along**2), (fade**2, (1 - along) ** 2)
    share = 0.5 * WEIGHT_SQUARES / MOMENT_SQUARES
    return float(sum(weight * (1 + share * distance) for weight, distance in (within, beyond)) ** 0.5)


def hashed_cell(cell: int, period: int, seed: int) -> int:
    """A number of 32 bits for a cell of the fourth coordinate, the same a period later; of cell 0 it is the seed."""
    place = cell % period if period > 0 else cell
    if place == 0:
        return seed & 0xFFFFFFFF
    mixed = (place * 0x9E3779B1 + seed * 0x85EBCA77 + 0x27D4EB2F) & 0xFFFFFFFF
    mixed = ((mixed ^ (mixed >> 15)) * 0x2C1B3C6D) & 0xFFFFFFFF
    return mixed ^ (mixed >> 13)


@parallel
def _evolving(
    points: NDArray[np.float64],
    before: np.uint32,
    after: np.uint32,
    along: np.float32,
    factor: np.float32,
    period_up: int,
    values: NDArray[np.float64],
):  # pragma: no cover - compiled
    for chunk in loop((len(points) + CHUNK - 1) // CHUNK):
        start = chunk * CHUNK
        count = min(len(points) - start, CHUNK)
        low = np.empty((3, CHUNK), dtype=np.uint32)
        high = np.empty((3, CHUNK), dtype=np.uint32)
        part = np.empty((3, CHUNK), dtype=np.float32)
        for axis in range(3):
            _cells(points[start : start + count, axis], axis, period_up, low[axis], high[axis], part[axis])
        _layer(low, high, part, before, after, along, factor, values, start, count)


@compiled
def _cells(
    places: NDArray[np.float64],
    axis: int,
    period_up: int,
    low: NDArray[np.uint32],
    high: NDArray[np.uint32],
    part: NDArray[np.float32],
):  # pragma: no cover - compiled
    factor = U(0x8DA6B343) if axis == 0 else (U(0xD8163841) if axis == 1 else U(0xCB1AB31F))
    closed = axis == 1 and period_up > 0
    for index in range(len(places)):
        floor = np.floor(places[index])
        part[index] = F(places[index] - floor)
        cell = np.int64(floor)
        above = cell + 1
        if closed:
            cell, above = cell % period_up, above % period_up
        low[index] = U(U(cell & 0xFFFFFFFF) * factor)
        high[index] = U(U(above & 0xFFFFFFFF) * factor)


@compiled
def _layer(
    low: NDArray[np.uint32],
    high: NDArray[np.uint32],
    part: NDArray[np.float32],
    before: np.uint32,
    after: np.uint32,
    along: np.float32,
    factor: np.float32,
    values: NDArray[np.float64],
    start: int,
    count: int,
):  # pragma: no cover - compiled
    fade_along = along * along * along * (along * (along * F(6.0) - F(15.0)) + F(10.0))
    for index in range(count):
        x, y, z = part[0, index], part[1, index], part[2, index]
        u, v, w = _fade(x), _fade(y), _fade(z)
        left, right = low[0, index], high[0, index]
        down, up = low[1, index], high[1, index]
        near, far = low[2, index], high[2, index]
        first = _cube(left, right, down, up, near, far, before, x, y, z, along, u, v, w)
        second = _cube(left, right, down, up, near, far, after, x, y, z, F(along - F(1.0)), u, v, w)
        value = F((first + fade_along * (second - first)) * factor)
        values[start + index] = min(max(value, F(-1.0)), F(1.0))


@inlined
def _cube(
    left: np.uint32,
    right: np.uint32,
    down: np.uint32,
    up: np.uint32,
    near: np.uint32,
    far: np.uint32,
    seed: np.uint32,
    x: np.float32,
    y: np.float32,
    z: np.float32,
    t: np.float32,
    u: np.float32,
    v: np.float32,
    w: np.float32,
):  # pragma: no cover - compiled
    """The blend over the eight corners of a cell at one of the two cells of the fourth coordinate."""
    x1, y1, z1 = F(x - F(1.0)), F(y - F(1.0)), F(z - F(1.0))
    a = _slope(_direction(U(U(left ^ down) ^ near), seed), x, y, z, t)
    b = _slope(_direction(U(U(right ^ down) ^ near), seed), x1, y, z, t)
    c = _slope(_direction(U(U(left ^ up) ^ near), seed), x, y1, z, t)
    d = _slope(_direction(U(U(right ^ up) ^ near), seed), x1, y1, z, t)
    e = _slope(_direction(U(U(left ^ down) ^ far), seed), x, y, z1, t)
    f = _slope(_direction(U(U(right ^ down) ^ far), seed), x1, y, z1, t)
    g = _slope(_direction(U(U(left ^ up) ^ far), seed), x, y1, z1, t)
    h = _slope(_direction(U(U(right ^ up) ^ far), seed), x1, y1, z1, t)
    front = (a + u * (b - a)) + v * ((c + u * (d - c)) - (a + u * (b - a)))
    behind = (e + u * (f - e)) + v * ((g + u * (h - g)) - (e + u * (f - e)))
    return front + w * (behind - front)


@inlined
def _direction(mixed: np.uint32, seed: np.uint32):  # pragma: no cover - compiled
    """One of 24 directions, each as likely: twice the edge, as `gradient_noise` chooses it, and the fourth sign."""
    mixed = U(mixed ^ seed)
    mixed = U(U(mixed ^ U(mixed >> U(16))) * U(0x85EBCA6B))
    mixed = U(U(mixed ^ U(mixed >> U(13))) * U(0xC2B2AE35))
    edge = U(U(U(mixed >> U(16)) * U(12)) >> U(16))
    return U(U(edge << U(1)) | U(mixed & U(1)))


@inlined
def _slope(
    direction: np.uint32, x: np.float32, y: np.float32, z: np.float32, t: np.float32
):  # pragma: no cover - compiled
    """The slope along a direction: an edge, +-x +-y for 0..3, +-x +-z for 4..7, +-y +-z for 8..11, and +-t.

    Without a branch, so that the compiler makes vector instructions of it.
    """
    edge = U(direction >> U(1))
    without_x = F(S(U(edge >> U(3))))
    with_z = F(S(U(U(U(edge >> U(2)) | U(edge >> U(3))) & U(1))))
    one = F(F(1.0) - F(2.0) * F(S(U(edge & U(1)))))
    two = F(F(1.0) - F(S(U(edge & U(2)))))
    four = F(F(1.0) - F(2.0) * F(S(U(direction & U(1)))))
    along_y = without_x * one + (F(1.0) - with_z) * two
    return (F(1.0) - without_x) * one * x + along_y * y + with_z * two * z + four * t


@inlined
def _fade(t: np.float32):  # pragma: no cover - compiled
    return t * t * t * (t * (t * F(6.0) - F(15.0)) + F(10.0))
