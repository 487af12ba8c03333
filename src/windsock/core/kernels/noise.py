"""Gradient noise in three dimensions.

Method: K. Perlin, "Improving Noise", SIGGRAPH 2002: quintic fade and twelve edge gradients on an integer lattice. An
integer hash stands in place of the published permutation, so the pattern does not repeat and takes a seed; with the
published table given the kernel reproduces the published function.

Points are taken in chunks, and each chunk in passes without a branch (cells, then hashes and blending), which the compiler turns
into vector instructions: a third of the time of one pass with branches.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled, inlined, loop, parallel

GRADIENT_NOISE_PEAK = 1.0363538
"""The largest magnitude of the published function, found numerically; `gradient_noise` divides by it."""

NO_TABLE = np.zeros(0, dtype=np.int64)
EDGE_OF_SIXTEEN = np.array([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 0, 9, 1, 11], dtype=np.uint32)
"""The published choice is of sixteen directions, four of them twice: which of the twelve each is."""

CHUNK = 1024
U, S, F = np.uint32, np.int32, np.float32


def gradient_noise(
    points: NDArray[np.float64], seed: int, octaves: int, table: NDArray[np.int64] = NO_TABLE
) -> NDArray[np.float64]:
    """(n,) noise in -1..1 at (n, 3) points, measured in lattice cells of the first octave.

    Each further octave has twice the frequency and half the height; the sum is divided by the sum of the heights.
    table: a permutation of 0..255 in place of the hash, for one octave and seed 0 the published function / its peak.
    Cells are found in double precision, values in single: they are exact to about 1e-6.
    """
    values = np.empty(len(points), dtype=np.float64)
    _octaves(np.ascontiguousarray(points, dtype=np.float64), U(seed & 0xFFFFFFFF), octaves, table, values)
    return values


@parallel
def _octaves(
    points: NDArray[np.float64], seed: np.uint32, octaves: int, table: NDArray[np.int64], values: NDArray[np.float64]
):  # pragma: no cover - compiled
    for chunk in loop((len(points) + CHUNK - 1) // CHUNK):
        start = chunk * CHUNK
        count = min(len(points) - start, CHUNK)
        cell = np.empty((3, CHUNK), dtype=np.int32)
        part = np.empty((3, CHUNK), dtype=np.float32)
        total = np.zeros(CHUNK, dtype=np.float32)
        height, heights, frequency = F(1.0), F(0.0), 1.0
        for octave in range(octaves):
            for axis in range(3):
                _cells(points[start : start + count, axis], frequency, cell[axis], part[axis])
            if len(table):
                _table_layer(cell, part, table, height, total, count)
            else:
                own = U(seed + U(U(octave) * U(0x9E3779B9)))
                _hashed_layer(cell[0], cell[1], cell[2], part[0], part[1], part[2], own, height, total, count)
            heights += height
            height *= F(0.5)
            frequency *= 2.0
        for index in range(count):
            values[start + index] = total[index] / (heights * GRADIENT_NOISE_PEAK)


@compiled
def _cells(
    places: NDArray[np.float64], frequency: float, cell: NDArray[np.int32], part: NDArray[np.float32]
):  # pragma: no cover - compiled
    for index in range(len(places)):
        place = places[index] * frequency
        low = np.floor(place)
        cell[index] = S(low)
        part[index] = F(place - low)


@compiled
def _hashed_layer(
    columns: NDArray[np.int32],
    rows: NDArray[np.int32],
    layers: NDArray[np.int32],
    xs: NDArray[np.float32],
    ys: NDArray[np.float32],
    zs: NDArray[np.float32],
    seed: np.uint32,
    height: np.float32,
    total: NDArray[np.float32],
    count: int,
):  # pragma: no cover - compiled
    for index in range(count):
        left, low, near = (
            U(U(columns[index]) * U(0x8DA6B343)),
            U(U(rows[index]) * U(0xD8163841)),
            U(U(U(layers[index]) * U(0xCB1AB31F)) ^ seed),
        )
        right, up = U(left + U(0x8DA6B343)), U(low + U(0xD8163841))
        far = U(U(U(U(layers[index]) + U(1)) * U(0xCB1AB31F)) ^ seed)
        total[index] += height * _blend(
            xs[index],
            ys[index],
            zs[index],
            _edge(U(U(left ^ low) ^ near)),
            _edge(U(U(right ^ low) ^ near)),
            _edge(U(U(left ^ up) ^ near)),
            _edge(U(U(right ^ up) ^ near)),
            _edge(U(U(left ^ low) ^ far)),
            _edge(U(U(right ^ low) ^ far)),
            _edge(U(U(left ^ up) ^ far)),
            _edge(U(U(right ^ up) ^ far)),
        )


@compiled
def _table_layer(
    cell: NDArray[np.int32],
    part: NDArray[np.float32],
    table: NDArray[np.int64],
    height: np.float32,
    total: NDArray[np.float32],
    count: int,
):  # pragma: no cover - compiled
    edges = np.empty(8, dtype=np.uint32)
    for index in range(count):
        for corner in range(8):
            right, up, back = corner & 1, (corner >> 1) & 1, (corner >> 2) & 1
            first = table[(cell[0, index] + right) & 255]
            second = table[(first + cell[1, index] + up) & 255]
            edges[corner] = EDGE_OF_SIXTEEN[table[(second + cell[2, index] + back) & 255] & 15]
        total[index] += height * _blend(
            part[0, index], part[1, index], part[2, index],
            edges[0], edges[1], edges[2], edges[3], edges[4], edges[5], edges[6], edges[7],
        )  # fmt: skip


@inlined
def _edge(mixed: np.uint32):  # pragma: no cover - compiled
    """One of the twelve edges, each as likely: the published sixteen list four of them twice and so favour Y."""
    mixed = U(U(mixed ^ U(mixed >> U(16))) * U(0x85EBCA6B))
    mixed = U(U(mixed ^ U(mixed >> U(13))) * U(0xC2B2AE35))
    return U(U(U(mixed >> U(16)) * U(12)) >> U(16))


@inlined
def _blend(
    x: np.float32,
    y: np.float32,
    z: np.float32,
    e0: np.uint32,
    e1: np.uint32,
    e2: np.uint32,
    e3: np.uint32,
    e4: np.uint32,
    e5: np.uint32,
    e6: np.uint32,
    e7: np.uint32,
):  # pragma: no cover - compiled
    """The noise in a cell from the edges chosen at its corners, X first, then Y, then Z."""
    left, low, near = F(x - F(1.0)), F(y - F(1.0)), F(z - F(1.0))
    u, v, w = _fade(x), _fade(y), _fade(z)
    a, b = _slope(e0, x, y, z), _slope(e1, left, y, z)
    c, d = _slope(e2, x, low, z), _slope(e3, left, low, z)
    e, f = a + u * (b - a), c + u * (d - c)
    front = e + v * (f - e)
    g, h = _slope(e4, x, y, near), _slope(e5, left, y, near)
    i, j = _slope(e6, x, low, near), _slope(e7, left, low, near)
    k, m = g + u * (h - g), i + u * (j - i)
    behind = k + v * (m - k)
    return front + w * (behind - front)


@inlined
def _fade(t: np.float32):  # pragma: no cover - compiled
    return t * t * t * (t * (t * F(6.0) - F(15.0)) + F(10.0))


@inlined
def _slope(edge: np.uint32, x: np.float32, y: np.float32, z: np.float32):  # pragma: no cover - compiled
    """The slope along one of twelve edges: +-x +-y for 0..3, +-x +-z for 4..7, +-y +-z for 8..11."""
    without_x = F(S(U(edge >> U(3))))
    with_z = F(S(U(U(U(edge >> U(2)) | U(edge >> U(3))) & U(1))))
    one = F(F(1.0) - F(2.0) * F(S(U(edge & U(1)))))
    two = F(F(1.0) - F(S(U(edge & U(2)))))
    along_y = without_x * one + (F(1.0) - with_z) * two
    return (F(1.0) - without_x) * one * x + along_y * y + with_z * two * z
