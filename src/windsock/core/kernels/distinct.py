"""Which of many whole numbers are alike, without sorting them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Numbers = NDArray[np.int64]


def distinct(numbers: Numbers) -> tuple[Numbers, Numbers, Numbers]:
    """The different ones of (n,) numbers, in the order in which they come first: (k,) where each is first, (n,) which of the
    different ones each is, and (k,) how often each is there.

    Method: a hash table with linear probing that is at most half full (any textbook of algorithms; the multiplier is that of
    Fibonacci hashing, D. E. Knuth, "The Art of Computer Programming", volume 3, 6.4).
    """
    which = np.empty(len(numbers), dtype=np.int64)
    bits = max(4, int(len(numbers) * 2 - 1).bit_length()) if len(numbers) else 4
    first, count = _distinct(np.ascontiguousarray(numbers, dtype=np.int64), bits, which)
    return first, which, count


@compiled
def _distinct(numbers: Numbers, bits: int, which: Numbers) -> tuple[Numbers, Numbers]:  # pragma: no cover - compiled
    table = np.full(1 << bits, -1, dtype=np.int64)
    last, shift = (1 << bits) - 1, np.uint64(64 - bits)
    first, count = np.empty(len(numbers), dtype=np.int64), np.zeros(len(numbers), dtype=np.int64)
    different = 0
    for one in range(len(numbers)):
        number = numbers[one]
        spot = np.int64((np.uint64(number) * np.uint64(0x9E3779B97F4A7C15)) >> shift)
        while table[spot] >= 0 and numbers[first[table[spot]]] != number:
            spot = (spot + 1) & last
        if table[spot] < 0:
            table[spot] = different
            first[different] = one
            different += 1
        which[one] = table[spot]
        count[table[spot]] += 1
    return first[:different].copy(), count[:different].copy()


def distinct_pairs(one: Numbers, other: Numbers, below: int) -> tuple[Numbers, Numbers, Numbers]:
    """The same for (n,) pairs of numbers from 0 up to `below`, either way round.

    The pairs are laid into a list for each lower number: those of a mesh's edges are short and near each other in memory.
    """
    which = np.empty(len(one), dtype=np.int64)
    first, count = _distinct_pairs(np.minimum(one, other), np.maximum(one, other), below, which)
    return first, which, count


@compiled
def _distinct_pairs(
    low: Numbers, high: Numbers, below: int, which: Numbers
) -> tuple[Numbers, Numbers]:  # pragma: no cover - compiled
    starts = np.zeros(below + 1, dtype=np.int64)
    for pair in range(len(low)):
        starts[low[pair] + 1] += 1
    for number in range(below):
        starts[number + 1] += starts[number]
    ends = starts.copy()
    partner, name = np.empty(len(low), dtype=np.int64), np.empty(len(low), dtype=np.int64)
    first, count = np.empty(len(low), dtype=np.int64), np.zeros(len(low), dtype=np.int64)
    different = 0
    for pair in range(len(low)):
        spot, end = starts[low[pair]], ends[low[pair]]
        while spot < end and partner[spot] != high[pair]:
            spot += 1
        if spot == end:
            partner[spot], name[spot] = high[pair], different
            ends[low[pair]] += 1
            first[different] = pair
            different += 1
        which[pair] = name[spot]
        count[name[spot]] += 1
    return first[:different].copy(), count[:different].copy()
