"""Sites that a shape is broken about: by chance in it or on it, along a line, in a lattice."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.chance import chance, drawn
from windsock.core.kernels.winding import lies_within

Reals = NDArray[np.float64]
Accept = Callable[[Reals], Reals]
"""Gives (n,) shares 0..1 of the sites that are wished for at (n, 3) places."""

MOST_ROUNDS = 200


def sites_within(points: Reals, faces: NDArray[np.int32], count: int, seed: int, accept: Accept | None) -> Reals:
    """Up to (count, 3) places by chance within a closed surface: the first so many of one sequence.

    points: (n, 3), faces: (m, 3).
    """
    low, high = points.min(axis=0), points.max(axis=0)
    size = high - low

    def within(places: Reals) -> Reals:
        share = lies_within(points, faces, places).astype(np.float64)
        return share if accept is None else share * accept(places)

    return _drawn(lambda numbers: low + _chances(numbers, seed) * size, count, seed, within)


def sites_on(points: Reals, faces: NDArray[np.int32], count: int, seed: int, accept: Accept | None) -> Reals:
    """(count, 3) places by chance on a surface, every area as likely: the first so many of one sequence."""
    corners = points[faces]
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)

    def place(numbers: NDArray[np.int64]) -> Reals:
        u, v, w = _chances(numbers, seed).T
        face = drawn(area, u)
        root = np.sqrt(v)
        weights = np.stack([1 - root, root * (1 - w), root * w], axis=1)
        return np.einsum("nc,nck->nk", weights, corners[face])

    return _drawn(place, count, seed, accept)


def sites_along(places: Reals, count: int, seed: int, spread: float) -> Reals:
    """(count, 3) sites along a line through (p, 3) places, evenly by length, each up to `spread` metres off it."""
    length = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(places, axis=0), axis=1))])
    at: Reals = (np.arange(count) + 0.5) / count * length[-1]
    line: Reals = np.stack([np.interp(at, length, places[:, axis]) for axis in range(3)], axis=1)
    return line + (2 * _chances(np.arange(count), seed) - 1) * spread


def slabs(low: Reals, high: Reals, axis: int, count: int, uneven: float, seed: int) -> Reals:
    """(count, 3) sites in a row along an axis of a box; uneven: 0..1 how far they are off their even places."""
    off = (chance(np.arange(count), seed) - 0.5) * uneven
    sites = np.repeat(((low + high) / 2)[None], count, axis=0)
    sites[:, axis] = low[axis] + (np.arange(count) + 0.5 + off) / count * (high[axis] - low[axis])
    return sites


def blocks(low: Reals, high: Reals, size: Reals) -> Reals:
    """(k, 3) sites in the middles of blocks that fill a box, as near to `size`, (3,) metres, as go into it whole."""
    counts = np.maximum(np.round((high - low) / size), 1).astype(np.int64)
    lines: list[Reals] = [
        low[axis] + (np.arange(counts[axis]) + 0.5) / counts[axis] * (high - low)[axis] for axis in range(3)
    ]
    return np.stack(np.meshgrid(*lines, indexing="ij"), axis=-1).reshape(-1, 3)


def _drawn(place: Callable[[NDArray[np.int64]], Reals], count: int, seed: int, accept: Accept | None) -> Reals:
    """The first `count` places of a sequence that are accepted, each by its own chance."""
    found: list[Reals] = []
    total, begun, batch = 0, 0, max(64, 2 * count)
    for _ in range(MOST_ROUNDS):
        numbers = np.arange(begun, begun + batch)
        places = place(numbers)
        taken = places if accept is None else places[chance(numbers, seed + 77_777) < accept(places)]
        found.append(taken)
        total += len(taken)
        begun += batch
        if total >= count:
            break
    return np.concatenate(found)[:count]


def _chances(numbers: NDArray[np.int64], seed: int) -> Reals:
    return np.stack([chance(numbers, seed * 4 + axis) for axis in range(3)], axis=1)
