"""Places on a shape at rest that copies are laid at: a sequence that does not change when more are asked for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Mesh
from windsock.core.kernels.chance import chance, drawn
from windsock.core.kernels.spacing import filled, spaced

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

GOLDEN = 0.6180339887498949
"""The fraction of the golden ratio: its multiples fill 0..1 more evenly than chance does."""

CANDIDATES = 4
"""Candidates by chance for each place that a spacing leaves room for; what they leave open is filled after them."""

PACKED = 0.7
"""About so many places, for each square of the spacing, are taken before there is no room (random sequential addition in
the plane fills 0.547 of it with discs: Feder, 1980, value from memory)."""


@dataclass(frozen=True, eq=False)
class Sown:
    """Places on faces. face: (k,) of the shape; shares: (k, 3) of its corners; number: (k,) which of the sequence."""

    face: Numbers
    shares: Reals
    number: Numbers


def on_faces(level: Reals, faces: NDArray[np.int32], count: int, seed: int) -> Sown:
    """`count` places, as dense on every area. level: (n, 3) points in metres."""
    number = np.arange(count, dtype=np.int64)
    corners = level[faces]
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    if count == 0 or area.sum() <= 0:
        return _none()
    face = drawn(area, (number * GOLDEN + chance(np.array([0]), seed)[0]) % 1.0)
    root, across = np.sqrt(chance(number, seed * 2 + 1)), chance(number, seed * 2 + 2)
    shares = np.stack([1 - root, root * (1 - across), root * across], axis=1)
    return Sown(face, shares, number)


def apart(level: Reals, faces: NDArray[np.int32], spacing: float, most: int, seed: int) -> Sown:
    """Places no two of which are nearer than `spacing` metres, with hardly a hole as large left between."""
    corners = level[faces]
    area = 0.5 * np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1).sum()
    wanted = min(int(area * PACKED / spacing**2) + 16, most)
    tried = on_faces(level, faces, CANDIDATES * wanted, seed)
    if len(tried.face) == 0:
        return tried
    places: Reals = np.einsum("kc,kcx->kx", tried.shares, level[faces[tried.face]])
    taken = spaced(places, spacing, most)
    face, shares = filled(corners, places[taken], spacing, most)
    number = np.concatenate([tried.number[taken], len(places) + np.arange(len(face))])
    return Sown(np.concatenate([tried.face[taken], face]), np.concatenate([tried.shares[taken], shares]), number)


def on_points(mesh: Mesh, count: int, seed: int) -> Sown:
    """The places of the shape's points, each once, in an order by chance."""
    corner = mesh.faces.ravel()
    _, first = np.unique(mesh.number[corner], return_index=True)
    order = np.argsort(chance(mesh.number[corner[first]], seed), kind="stable")[:count]
    chosen = first[order]
    return Sown(chosen // 3, np.eye(3)[chosen % 3], mesh.number[corner[chosen]])


def on_edges(level: Reals, mesh: Mesh, count: int, seed: int) -> Sown:
    """`count` places on the edges of the faces, as dense on every length."""
    _, place = np.unique(mesh.number, return_inverse=True)
    ends = np.sort(place[mesh.faces[:, [0, 1, 1, 2, 2, 0]]].reshape(-1, 2), axis=1)
    _, first = np.unique(ends[:, 0] * (int(place.max(initial=0)) + 1) + ends[:, 1], return_index=True)
    start, end = mesh.faces.ravel()[first], mesh.faces[:, [1, 2, 0]].ravel()[first]
    length = np.linalg.norm(level[end] - level[start], axis=1)
    if count == 0 or length.sum() <= 0:
        return _none()
    number = np.arange(count, dtype=np.int64)
    edge = drawn(length, (number * GOLDEN + chance(np.array([0]), seed)[0]) % 1.0)
    along = chance(number, seed * 2 + 1)
    chosen = first[edge]
    shares = np.zeros((count, 3))
    row = np.arange(count)
    shares[row, chosen % 3] = 1 - along
    shares[row, (chosen + 1) % 3] = along
    return Sown((chosen // 3).astype(np.int64), shares, number)


def _none() -> Sown:
    none = np.zeros(0, dtype=np.int64)
    return Sown(none, np.zeros((0, 3)), none)
