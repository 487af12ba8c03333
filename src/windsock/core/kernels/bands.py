"""Faces along strands, and ways made smooth."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d

Floats = NDArray[np.float32]


def faces_between(starts: NDArray[np.int64], sides: int, round_about: bool) -> NDArray[np.int32]:
    """Faces between the rows of points of strands, each row of so many. starts: (k + 1,) the row at which each strand begins.
    round_about: they close round it and at its ends."""
    rows = np.arange(int(starts[-1]))
    going = np.ones(len(rows), dtype=bool)
    going[starts[1:][np.diff(starts) > 0] - 1] = False
    one = rows[going][:, None] * sides
    turn = np.arange(sides if round_about else sides - 1)
    after = (turn + 1) % sides
    first = np.stack([one + turn, one + after + sides, one + after], axis=2).reshape(-1, 3)
    second = np.stack([one + turn, one + turn + sides, one + after + sides], axis=2).reshape(-1, 3)
    made = [first, second]
    if round_about:
        fan = np.arange(1, sides - 1)
        there = np.diff(starts) > 0
        for ends, turned in ((starts[:-1][there], False), (starts[1:][there] - 1, True)):
            corner = ends[:, None] * sides
            three = np.stack([corner + 0 * fan, corner + fan, corner + fan + 1], axis=2).reshape(-1, 3)
            made.append(three[:, ::-1] if turned else three)
    return np.concatenate(made).astype(np.int32)


def smoothed_ways(places: Floats, looks: float) -> Floats:
    """(t, k, 3) places over time made smooth over so many looks; what is not there stays so."""
    there = np.isfinite(places)
    weight = gaussian_filter1d(there.astype(np.float32), looks, axis=0, mode="nearest")
    mixed = gaussian_filter1d(np.where(there, places, 0).astype(np.float32), looks, axis=0, mode="nearest")
    return np.where(there, mixed / np.maximum(weight, 1e-6), np.nan).astype(np.float32)
