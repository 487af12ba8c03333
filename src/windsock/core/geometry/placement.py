"""Where an item stands: place, turn and scale as a matrix."""

from __future__ import annotations

import warnings
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation  # pyright: ignore[reportMissingTypeStubs]

from windsock.core.kernels.affine import affine, linear

Matrix = NDArray[np.float64]


def placement(
    place: tuple[float, float, float], turn: tuple[float, float, float], scale: tuple[float, float, float]
) -> Matrix:
    """(4, 4) matrix from the item's space to the world: scaled, then turned about X, Y and Z in that order, then moved.

    place in metres, turn in degrees, scale as factors.
    """
    matrix = np.eye(4)
    matrix[:3, :3] = rotation(turn) * np.asarray(scale)
    matrix[:3, 3] = place
    return matrix


def aimed(place: NDArray[np.float64], target: NDArray[np.float64]) -> Matrix:
    """(3, 3) rotation that points -Z from one place at another, +Y as near to up as that allows."""
    back = place - target
    length = float(np.linalg.norm(back))
    if length < 1e-9:
        return np.eye(3)
    back = back / length
    up = np.array([0.0, 1.0, 0.0]) if abs(back[1]) < 1 - 1e-9 else np.array([0.0, 0.0, -np.sign(back[1])])
    right = np.cross(up, back)
    right /= np.linalg.norm(right)
    return np.stack([right, np.cross(back, right), back], axis=1)


def rotation(turn: tuple[float, float, float]) -> Matrix:
    """(3, 3) rotation about X, then Y, then Z, of degrees."""
    (sx, sy, sz), (cx, cy, cz) = np.sin(np.radians(turn)), np.cos(np.radians(turn))
    about_x = np.array([[1, 0, 0], [0, cx, -sx], [0, sx, cx]])
    about_y = np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]])
    about_z = np.array([[cz, -sz, 0], [sz, cz, 0], [0, 0, 1]])
    return about_z @ about_y @ about_x


def turn_of(matrix: Matrix) -> tuple[float, float, float]:
    """The degrees about X, then Y, then Z of the rotation of a (4, 4) matrix without stretch."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # straight up or down there are several such turns; any will do
        x, y, z = Rotation.from_matrix(matrix[:3, :3]).as_euler("xyz", degrees=True)
    return float(x), float(y), float(z)


def turns_of(rotations: Matrix) -> NDArray[np.float64]:
    """(n, 3) the same of (n, 3, 3) rotations one after another, each the turn that is nearest to the one before."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        turns = np.asarray(Rotation.from_matrix(rotations).as_euler("xyz", degrees=True), dtype=np.float64)
    # There are two turns in each round that do the same.
    others = turns * (1, -1, 1) + 180.0
    for place in range(1, len(turns)):
        last = turns[place - 1]
        near = [one - 360.0 * np.rint((one - last) / 360.0) for one in (turns[place], others[place])]
        turns[place] = min(near, key=lambda one: float(np.abs(one - last).sum()))
    return turns


def turned_apart(one: NDArray[np.float64], other: NDArray[np.float64]) -> NDArray[np.float64]:
    """(n,) degrees from each of (n, 3) turns about X, then Y, then Z, to another."""
    there = Rotation.from_euler("xyz", one, degrees=True)
    back = Rotation.from_euler("xyz", other, degrees=True).inv()
    return np.degrees(np.asarray((back * there).magnitude(), dtype=np.float64))


def moved(points: NDArray[np.floating], matrix: NDArray[np.floating]) -> NDArray[np.float64]:
    """(n, 3) points taken through a (4, 4) matrix."""
    return affine(points, np.ascontiguousarray(matrix, dtype=np.float64))


def turned_normals(normals: NDArray[np.floating], matrix: NDArray[np.floating]) -> NDArray[np.float64]:
    """(n, 3) normals of length 1 of a surface that is taken through a (4, 4) matrix."""
    return linear(normals, np.linalg.inv(matrix[:3, :3]).T, unit=True)


def inverse(matrix: Matrix) -> tuple[Matrix, float]:
    """The inverse of a (4, 4) matrix, and how many times as long that makes anything at most. Those that were asked for last are kept."""
    return _inverse(np.ascontiguousarray(matrix, dtype=np.float64).tobytes())


@lru_cache(maxsize=1024)
def _inverse(content: bytes) -> tuple[Matrix, float]:
    """The same for the bytes of a matrix."""
    inverted = np.linalg.inv(np.frombuffer(content, dtype=np.float64).reshape(4, 4))
    made = np.ascontiguousarray(inverted, dtype=np.float64)
    return made, float(np.linalg.norm(made[:3, :3], 2))
