"""How a subject stands in the world: a turn and a stretch, so that what is laid on it is measured in world metres."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.placement import Matrix
from windsock.core.kernels.affine import affine, linear

Reals = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Stance:
    """A (4, 4) matrix from a subject's space to the world, as a stretch and then a turn and a move.

    stretch: (3, 3) symmetric, from the subject's space to its *level* space, where lengths are world metres but nothing is
    turned. turn: (3, 3) a rotation, place: (3,), from there to the world. Where an item is only moved and turned, its
    level space is its own, so that what lies on it stays the same to the byte while it moves.
    """

    stretch: Reals
    turn: Reals
    place: Reals

    @property
    def plain(self) -> bool:
        """Whether the level space is the subject's own."""
        return bool((self.stretch == np.eye(3)).all())

    def level(self, points: NDArray[np.floating]) -> Reals:
        """(n, 3) points of the subject's space in its level space."""
        if self.plain:
            return points.astype(np.float64)
        return affine(points, _square(self.stretch))

    def own(self, points: NDArray[np.floating]) -> Reals:
        """(n, 3) points of the level space in the subject's own."""
        if self.plain:
            return points.astype(np.float64)
        return affine(points, _square(np.asarray(np.linalg.inv(self.stretch), dtype=np.float64)))

    def level_to_world(self) -> Matrix:
        """(4, 4) from the level space to the world."""
        matrix = _square(self.turn)
        matrix[:3, 3] = self.place
        return matrix

    def own_to_world(self) -> Matrix:
        """(4, 4) from the subject's own space to the world."""
        return self.level_to_world() @ _square(self.stretch)

    def level_directions(self, normals: NDArray[np.floating]) -> Reals:
        """(n, 3) normals of the subject's space in its level space, length 1."""
        return linear(normals, np.linalg.inv(self.stretch), unit=True)


def stance_of(matrix: Matrix) -> Stance:
    """The polar decomposition of a placement (Higham, "Computing the polar decomposition", 1986, here by the singular
    value decomposition). What is turned and moved only is its own."""
    return _stance(np.ascontiguousarray(matrix, dtype=np.float64).tobytes())


@lru_cache(maxsize=4096)
def _stance(content: bytes) -> Stance:
    """The same for the bytes of a (4, 4) matrix."""
    matrix = np.frombuffer(content, dtype=np.float64).reshape(4, 4)
    square = matrix[:3, :3]
    if np.abs(square.T @ square - np.eye(3)).max() < 1e-13 and np.linalg.det(square) > 0:
        return Stance(np.eye(3), square.copy(), matrix[:3, 3].copy())
    left, sizes, right = np.linalg.svd(square)
    stretch = (right.T * sizes) @ right
    # Rounded, so that a turning item does not change its stretch by the last digits from frame to frame.
    rounded = np.round(np.asarray(stretch, dtype=np.float64), 9)
    return Stance(rounded, np.asarray(left @ right, dtype=np.float64), matrix[:3, 3].copy())


def _square(linear: Reals) -> Matrix:
    matrix = np.eye(4)
    matrix[:3, :3] = linear
    return matrix
