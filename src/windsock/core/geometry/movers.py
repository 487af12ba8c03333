"""Shapes that move over a shot and may touch another one: as a whole, or in bodies that each go their own way."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.placement import Matrix
from windsock.core.kernels.surface_distance import Surface

Reals = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Bounds:
    """Boxes about k bodies at a moment. number: (k,) who each is; corners: (k, 8, 3) in the world. key: the same where all stand
    as they stood."""

    number: NDArray[np.int64]
    corners: Reals
    key: object


class Way(Protocol):
    """Bodies on their way from one moment to another."""

    def at(self, share: float) -> tuple[Surface, Matrix]:
        """What they are when a share of the way is gone: a surface, and (4, 4) from its space to the world."""
        ...


class Mover(Protocol):
    """A shape as it moves."""

    def bounds(self, seconds: float) -> Bounds:
        """Where its bodies are at a second."""
        ...

    def way(self, before: float, now: float, number: NDArray[np.int64]) -> Way:
        """Some of the bodies, which are there at both moments, between these."""
        ...


def box_corners(low: Reals, high: Reals) -> Reals:
    """(..., 8, 3) the corners of boxes from (..., 3) low to (..., 3) high ones."""
    share = np.array([[x, y, z] for x in (0.0, 1.0) for y in (0.0, 1.0) for z in (0.0, 1.0)])
    return low[..., None, :] + (high - low)[..., None, :] * share


def in_both(
    first: NDArray[np.int64], second: NDArray[np.int64]
) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]:
    """Numbers that are in both of two lists, in which each is once, and where they are in either."""
    if np.array_equal(first, second):
        every = np.arange(len(first))
        return first, every, every
    return np.intersect1d(first, second, assume_unique=True, return_indices=True)
