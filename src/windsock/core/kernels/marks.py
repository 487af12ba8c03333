"""Places marked on two shapes as the same, and what brings those of one onto those of the other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import RBFInterpolator

Reals = NDArray[np.float64]

SAME = 1e-6
"""Share of the size of all marks from which on two of them are apart."""
FLAT = 1e-4
"""Share of their extent that marks have to lie across a line so that they say how it is turned."""


@dataclass(frozen=True, eq=False)
class Marks:
    """The same places on two shapes. here, there: (k, 3) in the world."""

    here: Reals
    there: Reals

    def back(self) -> Marks:
        """The same from the other shape."""
        return Marks(self.there, self.here)

    def brought(self, points: Reals) -> Reals:
        """(n, 3) points where the marks take them: each mark onto the one that it belongs to, exactly, and what lies between
        smoothly. One mark moves everything; a move, a turn and a uniform stretch are found by themselves from three.

        Method: the nearest similarity (Umeyama, "Least-squares estimation of transformation parameters between two point
        patterns", 1991), and for what that leaves the smoothest interpolation of first order in space, by distances (Duchon,
        "Splines minimizing rotation-invariant semi-norms in Sobolev spaces", 1977)."""
        here, there = self._apart()
        if len(here) == 0:
            return points
        linear, move = _similarity(here, there)
        brought = points @ linear.T + move
        left = there - (here @ linear.T + move)
        if len(here) == 1:
            return brought + left
        if not np.abs(left).max() > 0:
            return brought
        size = float(np.abs(here - here[0]).max())
        rest = RBFInterpolator(here / size, left, kernel="linear", degree=0)
        return brought + rest(points / size)

    def _apart(self) -> tuple[Reals, Reals]:
        """The marks without those that lie where an earlier one does."""
        gap = SAME * max(float(np.ptp(self.here, axis=0).max()) if len(self.here) else 0.0, 1e-12)
        kept: list[int] = []
        for place, one in enumerate(self.here):
            if all(np.linalg.norm(self.here[other] - one) > gap for other in kept):
                kept.append(place)
        return self.here[kept], self.there[kept]


def _similarity(here: Reals, there: Reals) -> tuple[Reals, Reals]:
    """(3, 3) and (3,) of the turn, stretch and move that bring (k, 3) places nearest to others; only a move where they do not
    say how it is turned."""
    middle, goal = here.mean(axis=0), there.mean(axis=0)
    one, other = here - middle, there - goal
    extents = [np.asarray(np.linalg.svd(places, compute_uv=False), dtype=np.float64) for places in (one, other)]
    if len(here) < 3 or any(extent[1] <= FLAT * extent[0] for extent in extents):
        return np.eye(3), goal - middle
    left, size, right = np.linalg.svd(other.T @ one)
    sign = np.array([1.0, 1.0, np.sign(np.linalg.det(left @ right))])
    turn = (left * sign) @ right
    factor = float((size * sign).sum() / np.square(one).sum())
    linear = np.asarray(factor * turn, dtype=np.float64)
    return linear, goal - linear @ middle
