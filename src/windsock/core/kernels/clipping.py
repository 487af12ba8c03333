"""Triangles parted between the cells of sites: each is clipped by the planes half-way between them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import KDTree

from windsock.core.kernels.compiled import compiled

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

MOST_CORNERS = 64


def parted(points: Reals, faces: NDArray[np.int32], sites: Reals, gap: float) -> tuple[Numbers, Numbers, Reals]:
    """The triangles of a surface after it is cut along the borders of the sites' cells.

    points: (n, 3), faces: (m, 3), sites: (k, 3), all in metres; gap: metres that are left out between two cells. Answers
    with (t,) which site's cell each triangle lies in, (t,) which face it is a part of, and (t, 3, 3) the shares of that
    face's corners at each of its own corners. A polygon is clipped by each plane in turn (I. Sutherland and G. Hodgman,
    "Reentrant polygon clipping", 1974).
    """
    tree = KDTree(sites)
    _, nearest = tree.query(points)
    corners = np.asarray(nearest)[faces]
    uncut = (corners == corners[:, :1]).all(axis=1) if gap <= 0 else np.zeros(len(faces), dtype=bool)
    cut = np.flatnonzero(~uncut)
    triangles = points[faces[cut]]
    middle = triangles.mean(axis=1)
    reach = np.linalg.norm(triangles - middle[:, None], axis=2).max(axis=1, initial=0)
    # A cell that comes into the ball about a triangle has its site no farther than the nearest one and twice the radius.
    near, _ = tree.query(middle)
    found = tree.query_ball_point(middle, near + 2 * reach + gap + 1e-12, return_sorted=True)
    starts = np.concatenate([[0], np.cumsum([len(one) for one in found])]).astype(np.int64)
    listed = np.concatenate([np.array(one, dtype=np.int64) for one in found] or [np.zeros(0, dtype=np.int64)])
    cell, source, shares = _clip_all(triangles, sites, starts, listed, gap)
    identity = np.broadcast_to(np.eye(3), (int(uncut.sum()), 3, 3))
    return (
        np.concatenate([corners[uncut, 0].astype(np.int64), cell]),
        np.concatenate([np.flatnonzero(uncut), cut[source]]),
        np.concatenate([identity, shares]),
    )


@compiled
def _clip_all(
    triangles: NDArray[np.float64],
    sites: NDArray[np.float64],
    starts: NDArray[np.int64],
    listed: NDArray[np.int64],
    gap: float,
):  # pragma: no cover - compiled
    room = max(16, 4 * len(triangles))
    cells, sources, shares = np.empty(room, np.int64), np.empty(room, np.int64), np.empty((room, 3, 3))
    count = 0
    polygon, other = np.empty((MOST_CORNERS, 3)), np.empty((MOST_CORNERS, 3))
    for t in range(len(triangles)):
        for one in range(starts[t], starts[t + 1]):
            site = listed[one]
            polygon[:3] = np.eye(3)
            corners = 3
            for two in range(starts[t], starts[t + 1]):
                if listed[two] == site or corners == 0:
                    continue
                away = sites[listed[two]] - sites[site]
                length = np.sqrt((away * away).sum())
                if length < 1e-12:
                    continue
                away = away / length
                lies = (away * (sites[listed[two]] + sites[site])).sum() / 2 - gap / 2
                over = np.empty(3)
                for corner in range(3):
                    over[corner] = (triangles[t, corner] * away).sum() - lies
                corners = _clip(polygon, corners, over, other)
                polygon, other = other, polygon
            for last in range(2, corners):
                if count == room:
                    room *= 2
                    more_cells, more_sources = np.empty(room, np.int64), np.empty(room, np.int64)
                    more_shares = np.empty((room, 3, 3))
                    more_cells[:count], more_sources[:count], more_shares[:count] = cells, sources, shares
                    cells, sources, shares = more_cells, more_sources, more_shares
                cells[count], sources[count] = site, t
                shares[count, 0], shares[count, 1], shares[count, 2] = polygon[0], polygon[last - 1], polygon[last]
                count += 1
    return cells[:count].copy(), sources[:count].copy(), shares[:count].copy()


@compiled
def _clip(
    polygon: NDArray[np.float64], corners: int, over: NDArray[np.float64], made: NDArray[np.float64]
):  # pragma: no cover - compiled
    """Keeps what is under 0 of a polygon in shares of a triangle; over: (3,) at the triangle's corners."""
    count = 0
    for corner in range(corners):
        a, b = polygon[corner], polygon[(corner + 1) % corners]
        at_a = a[0] * over[0] + a[1] * over[1] + a[2] * over[2]
        at_b = b[0] * over[0] + b[1] * over[1] + b[2] * over[2]
        if at_a <= 0 and count < MOST_CORNERS:
            made[count] = a
            count += 1
        if (at_a < 0 < at_b or at_b < 0 < at_a) and count < MOST_CORNERS:
            share = at_a / (at_a - at_b)
            made[count] = a + (b - a) * share
            count += 1
    return count if count >= 3 else 0
