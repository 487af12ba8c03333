"""Places on a shape at rest that copies are laid at: a sequence that does not change when more are asked for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Mesh
from windsock.core.kernels.chance import chance, drawn
from windsock.core.kernels.gaps import CUBE, DEPTHS, free_middles
from windsock.core.kernels.nearest import within_reach
from windsock.core.kernels.spacing import filled, spaced
from windsock.core.kernels.surface_distance import Surface, is_inside

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

GOLDEN = 0.6180339887498949
"""The fraction of the golden ratio: its multiples fill 0..1 more evenly than chance does."""

CANDIDATES = 4
"""Candidates by chance for each place that a spacing leaves room for; what they leave open is filled after them."""

PACKED = 0.7
"""About so many places, for each square of the spacing, are taken before there is no room (random sequential addition in
the plane fills 0.547 of it with discs: Feder, 1980, value from memory)."""


PACKED_IN_SPACE = 0.74
"""The same in space, for each cube of the spacing: 0.384 of it is filled with balls (Torquato, 2002, value from memory)."""


@dataclass(frozen=True, eq=False)
class FaceSamples:
    """Places on faces. face: (k,) of the shape; shares: (k, 3) of its corners; number: (k,) which of the sequence."""

    face: Numbers
    shares: Reals
    number: Numbers


def on_faces(level: Reals, faces: NDArray[np.int32], count: int, seed: int) -> FaceSamples:
    """`count` places, as dense on every area. level: (n, 3) points in metres."""
    number = np.arange(count, dtype=np.int64)
    corners = level[faces]
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    if count == 0 or area.sum() <= 0:
        return _none()
    face = drawn(area, (number * GOLDEN + chance(np.array([0]), seed)[0]) % 1.0)
    root, across = np.sqrt(chance(number, seed * 2 + 1)), chance(number, seed * 2 + 2)
    shares = np.stack([1 - root, root * (1 - across), root * across], axis=1)
    return FaceSamples(face, shares, number)


def apart(level: Reals, faces: NDArray[np.int32], spacing: float, most: int, seed: int) -> FaceSamples:
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
    return FaceSamples(np.concatenate([tried.face[taken], face]), np.concatenate([tried.shares[taken], shares]), number)


def apart_within(level: Reals, faces: NDArray[np.int32], spacing: float, most: int, seed: int) -> Reals:
    """(k, 3) places within a closed surface, no two nearer than `spacing` metres, with hardly a hole as large left between.

    Places by chance first; then the middles of cubes that are still free, of ever finer ones.
    """
    surface = Surface(level, faces)
    deep, border = _cubes_within(surface, spacing)

    def taken_of(candidates: Reals, room: int) -> Reals:
        order = np.argsort(chance(np.arange(len(candidates)), seed * 4 + 3), kind="stable")
        return candidates[order][spaced(candidates[order], spacing, room)]

    darts = _thrown(border, spacing, seed + 1)
    darts = np.concatenate([_thrown(deep, spacing, seed), darts[is_inside(darts, surface)]])
    taken = taken_of(darts, most)
    for depth in (0, 1, DEPTHS - 1):
        for cubes, within in ((deep, True), (border, False)):
            for start in range(0, len(cubes), CUBES_AT_ONCE):
                free = free_middles(cubes[start : start + CUBES_AT_ONCE], taken, spacing, depth, FREE_LIMIT)
                free = free if within else free[is_inside(free, surface)]
                taken = np.concatenate([taken, taken_of(free, most - len(taken))])
    return taken


DARTS_A_CUBE = 2
CUBES_AT_ONCE, FREE_LIMIT = 150_000, 16_000_000
SAMPLES_APART = 0.08
"""Metres between samples of a surface, in spacings: cubes are taken to have a part of it as far as that beyond."""


def cubes_about(level: Reals, spacing: float) -> float:
    """How many cubes `apart_within` lays over the box of (n, 3) points."""
    if len(level) == 0:
        return 0.0
    size: Reals = level.max(axis=0) - level.min(axis=0)
    return float((np.ceil(size / (CUBE * spacing)) + 1).prod())


def _thrown(cubes: Reals, spacing: float, seed: int) -> Reals:
    """Places by chance in cubes, so many in each."""
    numbers = np.arange(DARTS_A_CUBE * len(cubes), dtype=np.int64)
    shares = np.stack([chance(numbers, seed * 4 + axis) for axis in range(3)], axis=1)
    return np.repeat(cubes, DARTS_A_CUBE, axis=0) + (shares - 0.5) * (CUBE * spacing)


def _cubes_within(surface: Surface, spacing: float) -> tuple[Reals, Reals]:
    """Middles of cubes that lie within a surface, (m, 3), and of those that may have a part of it, (n, 3)."""
    edge = CUBE * spacing
    low, high = surface.box
    lines = [
        start + edge * np.arange(int(np.ceil((end - start) / edge)) + 1) for start, end in zip(low, high, strict=True)
    ]
    middles = np.stack(np.meshgrid(*lines, indexing="ij"), axis=-1).reshape(-1, 3)
    reach = (0.5 + SAMPLES_APART) * spacing
    near = within_reach(middles, _samples(surface.points[surface.faces], SAMPLES_APART * spacing), reach)
    deep = middles[~near]
    return deep[is_inside(deep, surface)], middles[near]


def _samples(corners: Reals, apart: float) -> Reals:
    """Places on triangles, (t, 3, 3), so dense that none of their places is further than `apart` from all of them."""
    longest = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2).max(axis=1)
    rows: Numbers = np.ceil(longest / apart).astype(np.int64) + 1
    found: list[Reals] = []
    for count in range(1, int(rows.max(initial=0)) + 1):
        if not (rows == count).any():
            continue
        first, second = np.divmod(np.arange((count + 1) ** 2), count + 1)
        kept = first + second <= count
        shares = np.stack([first, second, count - first - second], axis=1)[kept] / count
        found.append(np.einsum("sc,tcx->tsx", shares, corners[rows == count]).reshape(-1, 3))
    return np.concatenate(found)


def on_points(mesh: Mesh, count: int, seed: int) -> FaceSamples:
    """The places of the shape's points, each once, in an order by chance."""
    corner = mesh.faces.ravel()
    _, first = np.unique(mesh.number[corner], return_index=True)
    order = np.argsort(chance(mesh.number[corner[first]], seed), kind="stable")[:count]
    chosen = first[order]
    return FaceSamples(chosen // 3, np.eye(3)[chosen % 3], mesh.number[corner[chosen]])


def on_edges(level: Reals, mesh: Mesh, count: int, seed: int) -> FaceSamples:
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
    return FaceSamples((chosen // 3).astype(np.int64), shares, number)


def _none() -> FaceSamples:
    none = np.zeros(0, dtype=np.int64)
    return FaceSamples(none, np.zeros((0, 3)), none)
