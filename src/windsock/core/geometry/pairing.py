"""The place on one surface for each point of another."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.solution import Solution
from windsock.core.kernels.shares import corner_shares
from windsock.core.kernels.surface_distance import Surface

Reals = NDArray[np.float64]
Laid = Literal["standing", "middles", "boxes"]


ASIDE = ((7e-7, 3e-7, -5e-7), (-6e-7, 5e-7, 4e-7), (3e-7, -8e-7, 6e-7))
"""How far beside a ray, as shares of its reach, others are sent where it meets nothing."""


@dataclass(frozen=True, eq=False)
class Pairing(Solution):
    """For each of n points a place on a surface.

    face: (n,) which face, -1 for none; shares: (n, 3) of its corners. faces: (1,) how many faces the surface had. harm: (2,) which
    shares of the faces of the points fold over there, and are stretched, as `harm` says, where that was looked at.
    """

    face: NDArray[np.int64]
    shares: Reals
    faces: NDArray[np.int64]
    harm: Reals = field(default_factory=lambda: np.zeros(2))

    def on(self, values: Reals, faces: NDArray[np.integer]) -> Reals:
        """(n, ...) values at the points of the surface, at the places. faces: (m, 3) of the surface."""
        corners = values[faces[np.maximum(self.face, 0)]]
        return np.einsum("nc,nc...->n...", self.shares, corners)


STRETCHED = 4.0
"""How many times as long as the others, against before, the longest edge of a face is when the face counts as stretched."""


def harm(points: Reals, faces: NDArray[np.integer], pairs: Pairing, surface: Surface) -> Reals:
    """(2,) the share of (m, 3) faces of (n, 3) points that look the other way than the surface at the places of the points, and of
    those that are stretched."""
    if len(faces) == 0 or len(surface.faces) == 0 or (pairs.face < 0).any():
        return np.zeros(2)
    after = pairs.on(surface.points, surface.faces)
    a, b, c = (surface.points[surface.faces[pairs.face, corner]] for corner in range(3))
    out = np.cross(b - a, c - a)
    out = out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-300)
    corners = after[faces]
    looks = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    facing = np.einsum("ij,ij->i", looks, out[faces].sum(axis=1))
    size = np.linalg.norm(looks, axis=1)
    folded = (facing < -0.3 * size) & (size > 1e-6 * np.median(size))
    long, was = (
        np.linalg.norm(one[faces] - one[np.roll(faces, 1, axis=1)], axis=2).max(axis=1) for one in (after, points)
    )
    ratio = long / np.maximum(was, 1e-12)
    return np.array([folded.mean(), (ratio > STRETCHED * max(float(np.median(ratio)), 1e-12)).mean()])


def laid_on(points: Reals, surface: Surface, laid: Laid, of: Reals | None = None) -> Reals:
    """(n, 3) points moved for a surface: not at all; so that the middles of both boxes, or both boxes, come together. of: the points
    whose box that is, where it is not their own."""
    of = points if of is None else of
    if laid == "standing" or len(of) == 0 or len(surface.faces) == 0:
        return points
    low, high = of.min(axis=0), of.max(axis=0)
    there_low, there_high = surface.box
    middle, there = (low + high) / 2, (there_low + there_high) / 2
    if laid == "middles":
        return points + (there - middle)
    size = high - low
    factor = np.divide(there_high - there_low, size, out=np.ones(3), where=size > 1e-12)
    return (points - middle) * factor + there


def nearest_pairs(points: Reals, surface: Surface) -> Pairing:
    """By the nearest place of the surface."""
    count = len(surface.faces)
    if count == 0 or len(points) == 0:
        return _nowhere(len(points), count)
    _, face, place = surface.nearest(points)
    return Pairing(face, corner_shares(place, surface.points, surface.faces, face), np.array([count]))


def ray_pairs(points: Reals, surface: Surface, from_: Reals) -> Pairing:
    """By what is outermost of the surface on the ray to each point, from (3,) or (n, 3) places; by the nearest place where
    the ray meets nothing."""
    nearest = nearest_pairs(points, surface)
    if len(surface.faces) == 0 or len(points) == 0:
        return nearest
    way = points - from_
    length = np.linalg.norm(way, axis=1, keepdims=True)
    aims = length[:, 0] > 1e-12
    way = way / np.maximum(length, 1e-12)
    low, high = surface.box
    reach = float(np.linalg.norm(high - low)) + np.linalg.norm((low + high) / 2 - from_, axis=-1).max() + 1.0
    start = np.ascontiguousarray(from_ + way * reach)
    face, along, hits = _first_hits(surface, start, -way, reach)
    # A ray that goes just through a corner or an edge may slip between the faces: those about it are asked beside it.
    for aside in ASIDE:
        missed = np.flatnonzero(aims & ~hits)
        beside = start[missed] + np.array(aside) * reach
        face[missed], along[missed], hits[missed] = _first_hits(surface, beside, -way[missed], reach)
    hits &= aims
    face = np.where(hits, face, nearest.face)
    places = start - way * np.where(hits, along, 0.0)[:, None]
    shares = np.where(hits[:, None], corner_shares(places, surface.points, surface.faces, face), nearest.shares)
    return Pairing(face, shares, nearest.faces)


def _first_hits(
    surface: Surface, start: Reals, way: Reals, reach: float
) -> tuple[NDArray[np.int64], Reals, NDArray[np.bool_]]:
    """Which face each of n rays meets first, how far on, and whether that is on this side of its reach."""
    if len(start) == 0:
        return np.zeros(0, dtype=np.int64), np.zeros(0), np.zeros(0, dtype=bool)
    face, along = surface.first_hits(start, way)
    return face, along, (face >= 0) & np.isfinite(along) & (along <= reach)


def flat_pairs(flat: Reals, there: Reals, faces: NDArray[np.integer]) -> Pairing:
    """By the nearest place in u,v. flat: (n, 2); there: (m, 2) of the points of the surface."""
    return nearest_pairs(_level(flat), Surface(_level(there), faces))


def order_pairs(count: int, faces: NDArray[np.integer]) -> Pairing:
    """The first to the first point of the surface, the last to the last."""
    used = np.unique(faces)
    if len(used) == 0:
        return _nowhere(count, 0)
    wanted = used[np.round(np.linspace(0, len(used) - 1, count)).astype(np.int64)]
    at = np.zeros(int(used.max()) + 1, dtype=np.int64)
    at[faces.ravel()[::-1]] = np.arange(faces.size)[::-1]
    face, corner = np.divmod(at[wanted], 3)
    return Pairing(face, np.eye(3)[corner], np.array([len(faces)]))


def _nowhere(count: int, faces: int) -> Pairing:
    return Pairing(np.full(count, -1, dtype=np.int64), np.zeros((count, 3)), np.array([faces]))


def _level(flat: Reals) -> Reals:
    return np.concatenate([flat, np.zeros((len(flat), 1))], axis=1)
