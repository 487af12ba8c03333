"""Gradient noise in three dimensions.

Method: K. Perlin, "Improving Noise", SIGGRAPH 2002: quintic fade and twelve edge gradients on an integer lattice. An
integer hash stands in place of the published permutation, so the pattern does not repeat and takes a seed; with the
published table given the kernel reproduces the published function.
"""

from __future__ import annotations

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

GRADIENT_NOISE_PEAK = 1.0363538
"""The largest magnitude of the published function, found numerically; `gradient_noise` divides by it."""

NO_TABLE = np.zeros(0, dtype=np.int64)


def gradient_noise(
    points: NDArray[np.float64], seed: int, octaves: int, table: NDArray[np.int64] = NO_TABLE
) -> NDArray[np.float64]:
    """(n,) noise in -1..1 at (n, 3) points, measured in lattice cells of the first octave.

    Each further octave has twice the frequency and half the height; the sum is divided by the sum of the heights.
    table: a permutation of 0..255 in place of the hash, for one octave and seed 0 the published function / its peak.
    """
    values = np.empty(len(points), dtype=np.float64)
    _octaves(np.ascontiguousarray(points, dtype=np.float64), np.uint32(seed & 0xFFFFFFFF), octaves, table, values)
    return values


@njit(cache=True, nogil=True, parallel=True)
def _octaves(points, seed, octaves, table, values):  # pragma: no cover - compiled
    for index in prange(len(points)):
        total = 0.0
        height = 1.0
        heights = 0.0
        frequency = 1.0
        for octave in range(octaves):
            total += height * _at(
                points[index, 0] * frequency,
                points[index, 1] * frequency,
                points[index, 2] * frequency,
                np.uint32(seed + np.uint32(octave) * np.uint32(0x9E3779B9)),
                table,
            )
            heights += height
            height *= 0.5
            frequency *= 2.0
        values[index] = total / (heights * GRADIENT_NOISE_PEAK)


@njit(cache=True, nogil=True, inline="always")
def _at(x, y, z, seed, table):  # pragma: no cover - compiled
    column, row, layer = int(np.floor(x)), int(np.floor(y)), int(np.floor(z))
    x -= column
    y -= row
    z -= layer
    u, v, w = _fade(x), _fade(y), _fade(z)
    total = 0.0
    for corner in range(8):
        i, j, k = corner & 1, (corner >> 1) & 1, (corner >> 2) & 1
        weight = (u if i else 1.0 - u) * (v if j else 1.0 - v) * (w if k else 1.0 - w)
        chosen = _hash(column + i, row + j, layer + k, seed, table)
        total += weight * _slope(chosen, x - i, y - j, z - k)
    return total


@njit(cache=True, nogil=True, inline="always")
def _fade(t):  # pragma: no cover - compiled
    return t * t * t * (t * (t * 6.0 - 15.0) + 10.0)


@njit(cache=True, nogil=True, inline="always")
def _slope(chosen, x, y, z):  # pragma: no cover - compiled
    low = chosen & 15
    first = x if low < 8 else y
    second = y if low < 4 else (x if low == 12 or low == 14 else z)
    return (first if low & 1 == 0 else -first) + (second if low & 2 == 0 else -second)


@njit(cache=True, nogil=True, inline="always")
def _hash(column, row, layer, seed, table):  # pragma: no cover - compiled
    if len(table):
        return table[(table[(table[column & 255] + row) & 255] + layer) & 255]
    mixed = np.uint32(column) * np.uint32(0x8DA6B343) ^ np.uint32(row) * np.uint32(0xD8163841)
    mixed = np.uint32(mixed ^ np.uint32(layer) * np.uint32(0xCB1AB31F) ^ seed)
    mixed = np.uint32(np.uint32(mixed ^ (mixed >> np.uint32(16))) * np.uint32(0x85EBCA6B))
    mixed = np.uint32(np.uint32(mixed ^ (mixed >> np.uint32(13))) * np.uint32(0xC2B2AE35))
    # One of the twelve edges, each as likely: the published sixteen list four of them twice and so favour Y.
    return (np.int64(mixed ^ (mixed >> np.uint32(16))) * 12) >> 32
