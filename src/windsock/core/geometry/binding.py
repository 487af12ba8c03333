"""Places bound to a surface, by coordinates in a cage or by the nearest place, and carried along as the surface changes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.course import unit_rows
from windsock.core.geometry.mesh import Mesh, content_of
from windsock.core.geometry.pairing import Pairing, nearest_pairs
from windsock.core.geometry.solution import Solution
from windsock.core.kernels.mean_value import by_weights, linear_by_weights, mean_value_weights
from windsock.core.kernels.surface_distance import Surface, is_inside

Reals = NDArray[np.float64]
By = Literal["cage", "surface"]

CAGE_FACES = 500
"""Faces that a cage may have: every place has a coordinate for each of its points."""

AT_A_TIME = 2000


@dataclass(frozen=True, eq=False)
class Carried:
    """Where a surface takes n places. foot: (n, 3) where each is held, as it was; now: (n, 3) where that is; linear: (n, 3, 3) how
    what is about it is turned, and sized where a cage is."""

    foot: Reals
    now: Reals
    linear: Reals


@dataclass(frozen=True, eq=False)
class Binding(Solution):
    """How n places are held by a surface as it was at one moment.

    points: (c, 3) those of the surface that hold, as they were, and source: (c,) which of its points they are; faces: (m, 3) of them.
    weights: (n, c) coordinates in the cage, no rows where it is held by its nearest places, and then face: (n,) and shares: (n, 3)
    of them as a `Pairing`. gap: (n,) metres from each place to the surface, below 0 inside of a cage. whole: (2,) how many faces
    the surface had, and a hash of them. size: (1,) metres across it.
    """

    points: Reals
    source: NDArray[np.int64]
    faces: NDArray[np.int64]
    weights: NDArray[np.float32]
    face: NDArray[np.int64]
    shares: Reals
    gap: Reals
    whole: NDArray[np.int64]
    size: Reals

    @classmethod
    def bound(
        cls, places: Reals, surface: Surface, by: By, tell: Callable[[float], None] | None = None
    ) -> Binding | None:
        """(n, 3) places in the world bound to a surface; None where there is nothing to bind to, or a cage has too many faces.
        tell: is told what share is done."""
        if len(places) == 0 or len(surface.faces) == 0 or (by == "cage" and len(surface.faces) > CAGE_FACES):
            return None
        pairs = nearest_pairs(places, surface)
        gap: Reals = np.linalg.norm(places - pairs.on(surface.points, surface.faces), axis=1)
        # A turn is that of the faces about the corners of the nearest one; a cage holds by all of it.
        holds = np.zeros(len(surface.points), dtype=bool)
        holds[surface.faces if by == "cage" else surface.faces[pairs.face]] = True
        about = holds[surface.faces].any(axis=1)
        holds[surface.faces[about]] = True
        source = np.flatnonzero(holds)
        points, faces = surface.points[source], (np.cumsum(holds) - 1)[surface.faces[about]]
        weights = np.zeros((0, len(points)), dtype=np.float32)
        if by == "cage":
            weights = np.empty((len(places), len(points)), dtype=np.float32)
            for at in range(0, len(places), AT_A_TIME):
                if tell is not None:
                    tell(at / len(places))
                weights[at : at + AT_A_TIME] = mean_value_weights(places[at : at + AT_A_TIME], points, faces)
            gap = np.where(is_inside(places, Surface(points, faces)), -gap, gap)
        low, high = surface.box
        size: Reals = np.array([float(np.linalg.norm(high - low))])
        face = (np.cumsum(about) - 1)[pairs.face]
        return cls(points, source, faces, weights, face, pairs.shares, gap, _whole(surface), size)

    @classmethod
    def nothing(cls) -> Binding:
        """Of no places."""
        none, flat = np.zeros((0, 3)), np.zeros((0, 3), dtype=np.int64)
        weights, one = np.zeros((0, 0), dtype=np.float32), np.zeros(1)
        return cls(none, flat[:, 0], flat, weights, flat[:, 0], none, none[:, 0], np.zeros(2, dtype=np.int64), one)

    def __len__(self) -> int:
        return len(self.face)

    def fits(self, surface: Surface) -> bool:
        """Whether a surface has the faces that it had."""
        return np.array_equal(_whole(surface), self.whole)

    def carried(self, surface: Surface) -> Carried:
        """Where the places are taken by the surface as it is now; it has to fit."""
        points = surface.points[self.source]
        if len(self.weights):
            foot, now = by_weights(self.weights, self.points), by_weights(self.weights, points)
            return Carried(foot, now, linear_by_weights(self.weights, self.points, points, foot, now))
        pairs = Pairing(self.face, self.shares, np.array([len(self.faces)]))
        turned = pairs.on(_turns(self.points, points, self.faces), self.faces)
        return Carried(pairs.on(self.points, self.faces), pairs.on(points, self.faces), nearest_turns(turned))

    def stays(self, surface: Surface) -> bool:
        """Whether what holds is as it was, to the bit."""
        return np.array_equal(surface.points[self.source], self.points)


def _whole(surface: Surface) -> NDArray[np.int64]:
    return np.array([len(surface.faces), int(content_of(surface.faces)[:15], 16)])


def nearest_turns(linear: Reals) -> Reals:
    """(n, 3, 3) the turn nearest to each linear map: the orthogonal factor of its polar decomposition, without a mirror."""
    left, _, right = np.linalg.svd(linear)
    left[:, :, 2] *= np.linalg.det(left @ right)[:, None]
    return left @ right


def carried_offsets(mesh: Mesh, corners: NDArray[np.int64], shares: Reals, offset: Reals) -> Reals:
    """(k, 3) what leads from places on a mesh as it rests to places beside it, turned as the mesh is now about those on it.

    corners, shares: (k, 3) where on the mesh; offset: (k, 3) at rest. What is not moved keeps its offset to the bit.
    """
    if np.array_equal(mesh.points, mesh.rest) or not offset.any():
        return offset
    turns = _turns(mesh.rest.astype(np.float64), mesh.points.astype(np.float64), mesh.faces.astype(np.int64))
    mixed = np.einsum("kc,kcij->kij", shares, turns[corners])
    return np.einsum("kij,kj->ki", nearest_turns(mixed), offset)


def _turns(before: Reals, after: Reals, faces: NDArray[np.int64]) -> Reals:
    """(c, 3, 3) the sums, at each point, of the linear maps of the faces about it, by their areas as they were."""
    one, area = _frames(before, faces)
    other, _ = _frames(after, faces)
    there = area > 0
    one[~there] = np.eye(3)
    linear = other @ np.linalg.inv(one) * area[:, None, None]
    sums = np.zeros((len(before), 3, 3))
    for corner in range(3):
        np.add.at(sums, faces[there, corner], linear[there])
    # A point that has only faces of no area about it is not turned.
    sums[~np.any(sums, axis=(1, 2))] = np.eye(3)
    return sums


def _frames(points: Reals, faces: NDArray[np.int64]) -> tuple[Reals, Reals]:
    """(m, 3, 3) whose columns are two edges of a face and its normal, and (m,) twice its area."""
    a, b, c = (points[faces[:, corner]] for corner in range(3))
    across = np.cross(b - a, c - a)
    area = np.linalg.norm(across, axis=1)
    return np.stack([b - a, c - a, unit_rows(across)], axis=2), np.where(area > 1e-14, area, 0.0)
