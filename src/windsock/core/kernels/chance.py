"""Stable chance: the same number for the same element and seed, whoever asks and in whatever order."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled


def chance(number: NDArray[np.int64], seed: int) -> NDArray[np.float64]:
    """(n,) numbers in 0..1 (1 left out) for (n,) element numbers.

    Method: the finaliser of SplitMix64 (G. L. Steele, D. Lea, C. H. Flood, "Fast splittable pseudorandom number
    generators", OOPSLA 2014) on the element's number, offset by the seed; the upper 53 bits make the fraction.
    """
    made = np.empty(len(number))
    _chances(np.ascontiguousarray(number, dtype=np.int64), np.uint64(seed + 1), made)
    return made


@compiled
def _chances(number: NDArray[np.int64], seed: np.uint64, made: NDArray[np.float64]):  # pragma: no cover - compiled
    for one in range(len(number)):
        mixed = np.uint64(number[one]) * np.uint64(0x9E3779B97F4A7C15) + seed * np.uint64(0xD1342543DE82EF95)
        mixed = (mixed ^ (mixed >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
        mixed = (mixed ^ (mixed >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
        mixed ^= mixed >> np.uint64(31)
        made[one] = np.float64(mixed >> np.uint64(11)) * 2.0**-53


def directions(number: NDArray[np.int64], seed: int) -> NDArray[np.float64]:
    """(n, 3) directions of length 1, all as likely, for (n,) element numbers.

    Heights on a ball are even (Archimedes), and so are the ways round it.
    """
    height, way = 2 * chance(number, seed) - 1, 2 * np.pi * chance(number, seed + 1_000_003)
    flat = np.sqrt(np.maximum(1 - height * height, 0))
    return np.stack([flat * np.cos(way), height, flat * np.sin(way)], axis=1)


def drawn(weights: NDArray[np.float64], at: NDArray[np.float64]) -> NDArray[np.int64]:
    """(n,) which of (m,) things each number in 0..1 falls on, where each takes up as much as its weight."""
    upto = np.cumsum(weights)
    found = np.searchsorted(upto, at * upto[-1], side="right")
    return np.minimum(found, len(weights) - 1).astype(np.int64)
