"""A coat that spreads over a surface, known by when its edge comes to each point: where it is at any moment, and how thick."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.gradient import point_gradients
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.subdivision import split_middles, split_where
from windsock.core.kernels.areas import face_areas, point_areas
from windsock.core.kernels.crossing import split_faces

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

SHARES = 256
FLATTEST = 0.25
"""The least slope of the times, as a share of what the pace there says: about a place where the edge starts they are flat."""

LEVELS = (0.04, 0.18, 0.48, 1.0)
"""Shares of the edge's width at which faces are split along it, so that it is as round on large faces as on small ones."""

HIGHEST = 0.2
"""The share of the edge's width, behind the edge, at which it bulges most."""


@dataclass(frozen=True, eq=False)
class Coating(Solution):
    """When the edge of a coat comes to the points of a mesh after splitting.

    arrival: (n,) metres that it has to travel at full pace, infinite where it never comes. slope: (n,) travel for a metre of the surface; pace: (n,) the same without drips, beside which the times fall
    steeply over a way of metres, steep: (1,).
    border: (n,) metres to where the surface ends, infinite where it does not. hang, since: (n,) see `kernels.dripping.Drips`. splits:
    (k, 2) the edges that were split, for one time after another, and sizes: (s,) how many of them belong to each. gone: (s,) travel at which equal shares of what it ever comes to are covered. short:
    (1,) metres by which the edge stays short of a point to which it never comes. missed: (1,) how many parts of the surface that hang
    together it never comes to, though it could go on there.
    """

    arrival: Reals
    slope: Reals
    pace: Reals
    steep: Reals
    border: Reals
    hang: Reals
    since: Reals
    splits: NDArray[np.int32]
    sizes: Numbers
    gone: Reals
    short: Reals
    missed: Numbers

    def finer(self, mesh: Mesh) -> Mesh:
        """A mesh with the faces of the one that was solved for, split as that was."""
        ends = np.cumsum(self.sizes)
        for begin, end in zip(ends - self.sizes, ends, strict=True):
            mesh = split_middles(mesh, self.splits[begin:end])
        return mesh

    def come(self, share: float) -> float:
        """Metres that the edge has travelled when a share of what it comes to is covered."""
        return float(np.interp(share, np.linspace(0, 1, len(self.gone)), self.gone))

    def behind(self, come: float) -> Reals:
        """(n,) metres that each point is behind the edge, below 0 ahead of it."""
        never = np.isinf(self.arrival)
        travel = come - np.where(never, 0.0, self.arrival)
        away = travel / self.slope
        # Once the edge is past what is steep it goes on as it does elsewhere.
        past = travel - self.steep * self.slope
        away = np.where(past > 0, np.maximum(away, self.steep + past / self.pace), away)
        return np.where(never, -self.short, np.minimum(away, self.border))

    def hung(self, come: float, slow: float) -> Reals:
        """(n,) metres that each point hangs down. slow: metres of travel in which most of it is done."""
        passed = np.where(self.hang > 0, np.maximum(come - np.where(self.hang > 0, self.since, 0.0), 0.0), 0.0)
        return self.hang * (1 - np.exp(-passed / max(slow, 1e-9)))


def slopes(points: Reals, faces: NDArray[np.int32], number: Numbers, arrival: Reals, slowness: Reals) -> Reals:
    """(n,) travel for a metre of the surface at each point, as the times rise there. points: (n, 3) metres."""
    there = np.isfinite(arrival[faces]).all(axis=1)
    known = np.where(np.isfinite(arrival), arrival, 0.0)
    found = point_gradients(points, faces[there], number, known) if there.any() else np.zeros(len(points))
    least = np.where(np.isfinite(slowness), slowness, 1.0)
    return np.where(found > 0, np.maximum(found, FLATTEST * np.minimum(least, found.max(initial=1.0))), least)


def shares_gone(points: Reals, faces: NDArray[np.int32], arrival: Reals, beyond: Reals) -> Reals:
    """(s,) travel at which equal shares of the area that the edge ever comes to are covered; at the last one the edge is through, which
    takes (n,) more travel at each point."""
    reached = np.isfinite(arrival)
    made = np.zeros(SHARES + 1)
    if not reached.any():
        return made
    times, area = arrival[reached], point_areas(points, faces)[reached]
    order = np.argsort(times, kind="stable")
    upto = np.cumsum(area[order])
    made[:] = np.interp(np.arange(SHARES + 1) / SHARES * float(upto[-1]), upto, times[order])
    made[-1] = float((arrival + beyond)[reached].max())
    return made


def coated(mesh: Mesh, behind: Reals, width: float) -> tuple[Mesh, Reals]:
    """What of a mesh is behind the edge, split along lines beside that; and how far behind it, (n,) metres. width: of the edge."""
    covered, behind = behind_edge(mesh, behind, True)
    for share in LEVELS if width > 0 else ():
        covered, behind = split_where(covered, behind, share * width)
    return covered, behind


def behind_edge(mesh: Mesh, behind: Reals, covered: bool) -> tuple[Mesh, Reals]:
    """What of a mesh is behind the edge of a coat, or else ahead of it; and (n,) metres that its points are behind the edge."""
    drop = behind < 0 if covered else behind >= 0
    if not drop.any():
        return mesh, behind
    if drop.all():
        return mesh.emptied(), behind[:0]
    split = split_faces(mesh.faces, drop, mesh.number)
    one, other = behind[split.first], behind[split.second]
    cut = mesh.between(split.first, split.second, one / np.where(one == other, 1.0, one - other))
    made = split.faces[split.untouched :]
    left = np.concatenate([np.ones(split.untouched, dtype=bool), face_areas(cut.points, made) > 0])
    cut = cut.faced(split.faces[left], split.of[left])
    used = np.zeros(len(cut.points), dtype=bool)
    used[cut.faces.ravel()] = True
    return cut.without_loose_points(), np.concatenate([behind, np.zeros(len(split.first))])[used]


def thickness(behind: Reals, thick: float, width: float, bulge: float) -> Reals:
    """(n,) metres that a coat is thick at points so far behind its edge: a quarter of a circle up to `thick` over the width, and a bulge
    on that, upright at the edge and level at the end of twice the width."""
    if width <= 0:
        return np.where(behind > 0, thick, 0.0)
    near, far = np.clip(behind / width, 0, 1), np.clip(behind / (2 * width), 0, 1)
    rises = np.sqrt(1 - (1 - near) ** 2)
    most = np.sqrt(HIGHEST) * (1 - HIGHEST) ** 2
    return thick * rises + bulge * np.sqrt(far) * (1 - far) ** 2 / most
