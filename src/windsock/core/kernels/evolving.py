"""Gradient noise in space that changes with a fourth coordinate, which is the same for all points.

Method: K. Perlin, "Improving Noise", SIGGRAPH 2002, carried to four dimensions: quintic fade, and at each corner one of
the 32 directions with three components of +-1. Whole periods along the fourth coordinate, or up, close the pattern there.
"""

from __future__ import annotations

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

EVOLVING_NOISE_PEAK = 1.5365824
"""The largest magnitude, found numerically (each corner with its steepest direction); values are divided by it."""

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
    _evolving(np.ascontiguousarray(points, dtype=np.float64), at[0], at[1], F(along - low), period_up, values)
    return values


def hashed_cell(cell: int, period: int, seed: int) -> int:
    """A number of 32 bits for a cell of the fourth coordinate, the same a period later."""
    place = cell % period if period > 0 else cell
    mixed = (place * 0x9E3779B1 + seed * 0x85EBCA77 + 0x27D4EB2F) & 0xFFFFFFFF
    mixed = ((mixed ^ (mixed >> 15)) * 0x2C1B3C6D) & 0xFFFFFFFF
    return mixed ^ (mixed >> 13)


@njit(cache=True, nogil=True, parallel=True)
def _evolving(points, before, after, along, period_up, values):  # pragma: no cover - compiled
    for chunk in prange((len(points) + CHUNK - 1) // CHUNK):
        start = chunk * CHUNK
        count = min(len(points) - start, CHUNK)
        low = np.empty((3, CHUNK), dtype=np.uint32)
        high = np.empty((3, CHUNK), dtype=np.uint32)
        part = np.empty((3, CHUNK), dtype=np.float32)
        for axis in range(3):
            _cells(points[start : start + count, axis], axis, period_up, low[axis], high[axis], part[axis])
        _layer(low, high, part, before, after, along, values, start, count)


@njit(cache=True, nogil=True)
def _cells(places, axis, period_up, low, high, part):  # pragma: no cover - compiled
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


@njit(cache=True, nogil=True)
def _layer(low, high, part, before, after, along, values, start, count):  # pragma: no cover - compiled
    fade_along = along * along * along * (along * (along * F(6.0) - F(15.0)) + F(10.0))
    for index in range(count):
        x, y, z = part[0, index], part[1, index], part[2, index]
        u, v, w = _fade(x), _fade(y), _fade(z)
        left, right = low[0, index], high[0, index]
        down, up = low[1, index], high[1, index]
        near, far = low[2, index], high[2, index]
        first = _cube(left, right, down, up, near, far, before, x, y, z, along, u, v, w)
        second = _cube(left, right, down, up, near, far, after, x, y, z, F(along - F(1.0)), u, v, w)
        values[start + index] = (first + fade_along * (second - first)) / EVOLVING_NOISE_PEAK


@njit(cache=True, nogil=True, inline="always")
def _cube(left, right, down, up, near, far, seed, x, y, z, t, u, v, w):  # pragma: no cover - compiled
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


@njit(cache=True, nogil=True, inline="always")
def _direction(mixed, seed):  # pragma: no cover - compiled
    """One of 32 directions, each as likely."""
    mixed = U(mixed ^ seed)
    mixed = U(U(mixed ^ U(mixed >> U(16))) * U(0x85EBCA6B))
    mixed = U(U(mixed ^ U(mixed >> U(13))) * U(0xC2B2AE35))
    return U(mixed >> U(27))


@njit(cache=True, nogil=True, inline="always")
def _slope(direction, x, y, z, t):  # pragma: no cover - compiled
    """The slope along a direction: its upper bits say which component is 0, the lower the signs of the others.

    Without a branch, so that the compiler makes vector instructions of it.
    """
    one = F(F(1.0) - F(2.0) * F(S(U(direction & U(1)))))
    two = F(F(1.0) - F(S(U(direction & U(2)))))
    three = F(F(1.0) - F(0.5) * F(S(U(direction & U(4)))))
    odd = F(S(U(U(direction >> U(3)) & U(1))))
    upper = F(S(U(direction >> U(4))))
    without_x, without_y = (F(1.0) - odd) * (F(1.0) - upper), odd * (F(1.0) - upper)
    without_z = (F(1.0) - odd) * upper
    four = without_x * one + without_y * two + without_z * three
    return (F(1.0) - without_x) * one * x + (F(1.0) - without_y) * two * y + (F(1.0) - without_z) * three * z + four * t


@njit(cache=True, nogil=True, inline="always")
def _fade(t):  # pragma: no cover - compiled
    return t * t * t * (t * (t * F(6.0) - F(15.0)) + F(10.0))
