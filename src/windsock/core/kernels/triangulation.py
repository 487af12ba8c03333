"""Triangles of a flat region, about as large as wished, with its border as edges of them."""

from __future__ import annotations

import itertools

import numpy as np
from manifold3d import triangulate
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import Delaunay, KDTree, QhullError

from windsock.core.kernels.compiled import compiled

Places = NDArray[np.float64]
Edges = NDArray[np.int64]

MOST_ROUNDS = 8
"""Rounds of halving what is not an edge yet, after which it is given up."""

CLEARANCE = 0.6
"""Places of the grid keep this share of the spacing from all others."""

APART = 0.35
"""Further places keep this share of their own spacing from the border and from each other."""


Triangles = tuple[Places, NDArray[np.int32], list[Edges]]
"""Points (n, 2), faces (m, 3) anticlockwise, and for each border loop the indices of its points in order."""


def meshed(loops: list[Places], inner: list[Places], fine: float, spacing: float) -> Triangles | None:
    """Even triangles of a region: points, faces, and for each border loop its points in order.

    loops: the border as sampled closed loops, anticlockwise outside and clockwise round holes. inner: runs of further
    places within, about `fine` apart. spacing: of the places laid between, on a grid of equilateral triangles.

    It is the Delaunay triangulation (by Qhull) of all these, with border sides that it does not have halved until it has
    them (conforming; Ruppert 1995, without his angle bound). None where that does not end, as where loops cross.
    """
    points = np.concatenate(loops)
    rings = rings_of(loops)
    _, first, place = np.unique(np.round(points, 9), axis=0, return_index=True, return_inverse=True)
    if len(first) < len(points):
        # Outlines that touch share a place there.
        points, place = points[first], place.ravel()
        rings = [place[ring] for ring in rings]
        rings = [ring[ring != np.roll(ring, -1)] for ring in rings]
    points = np.concatenate([points, _apart(inner, loops, fine)])
    points = np.concatenate([points, _grid(loops, points, spacing)])
    for _ in range(MOST_ROUNDS):
        try:
            found = Delaunay(points).simplices.astype(np.int64)
        except QhullError:
            break
        sides = np.sort(found[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
        have = np.unique(sides[:, 0] * len(points) + sides[:, 1])
        points, rings, whole = _halved(points, rings, have)
        if whole:
            faces = _turned(points, found)
            faces = faces[_within(points, faces, rings)]
            if _bounded(faces, rings, len(points)):
                return _used(points, faces, rings)
            break
    return None


def border_meshed(loops: list[Places]) -> Triangles:
    """Triangles between the places of the border alone, whatever their shape (manifold3d does the work)."""
    border = np.concatenate(loops)
    faces = np.asarray(triangulate([np.ascontiguousarray(loop) for loop in loops]), dtype=np.int32).reshape(-1, 3)
    return border, faces, rings_of(loops)


def rings_of(loops: list[Places]) -> list[Edges]:
    """For each loop, the numbers of its points when all are laid one after another."""
    starts = np.cumsum([0] + [len(loop) for loop in loops])
    return [np.arange(low, high) for low, high in itertools.pairwise(starts)]


def _apart(inner: list[Places], loops: list[Places], fine: float) -> Places:
    """The further places that lie within and not too near to the border or to one of them before."""
    if not inner:
        return np.zeros((0, 2))
    places = np.concatenate(inner)
    places = places[inside(places, loops)]
    places = places[border_distance(places, loops) > APART * fine]
    if len(places) == 0:
        return places
    pairs = KDTree(places).query_pairs(APART * fine, output_type="ndarray")
    kept = np.ones(len(places), dtype=bool)
    kept[pairs.max(axis=1)] = False
    return places[kept]


def _grid(loops: list[Places], border: Places, spacing: float) -> Places:
    low, high = np.concatenate(loops).min(axis=0), np.concatenate(loops).max(axis=0)
    rise = spacing * np.sqrt(0.75)
    columns, rows = int((high[0] - low[0]) / spacing) + 2, int((high[1] - low[1]) / rise) + 2
    column, row = (axis.ravel() for axis in np.meshgrid(np.arange(columns), np.arange(rows)))
    places = np.stack([low[0] + (column + 0.5 * (row % 2)) * spacing, low[1] + (row + 0.5) * rise], axis=1)
    places = places[inside(places, loops)]
    if len(places) == 0:
        return places
    away, _ = KDTree(border).query(places)
    return places[away > CLEARANCE * spacing]


def _halved(points: Places, rings: list[Edges], have: Edges) -> tuple[Places, list[Edges], bool]:
    """The rings with a place put into every side that is not in `have` (sorted); and whether there was none."""
    after: list[Edges] = []
    added: list[Places] = []
    count = len(points)
    for ring in rings:
        ahead = np.roll(ring, -1)
        low, high = np.minimum(ring, ahead), np.maximum(ring, ahead)
        keys = low * len(points) + high
        missing = have[np.minimum(np.searchsorted(have, keys), len(have) - 1)] != keys
        after.append(np.insert(ring, np.flatnonzero(missing) + 1, count + np.arange(int(missing.sum()))))
        added.append((points[ring[missing]] + points[ahead[missing]]) / 2)
        count += int(missing.sum())
    return np.concatenate([points, *added]), after, count == len(points)


def _within(points: Places, faces: Edges, rings: list[Edges]) -> NDArray[np.bool_]:
    """(m,) which faces lie in the region. Faces that no border parts are decided together, by the largest of them: the
    middle of a sliver along the border may be found on either side."""
    count = len(points)
    sides = np.sort(faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    key = sides[:, 0] * count + sides[:, 1]
    border = np.concatenate([np.sort(np.stack([ring, np.roll(ring, -1)], axis=1), axis=1) for ring in rings])
    open_side = ~np.isin(key, border[:, 0] * count + border[:, 1])
    face = np.repeat(np.arange(len(faces)), 3)[open_side]
    order = np.argsort(key[open_side], kind="stable")
    along, face = key[open_side][order], face[order]
    same = along[:-1] == along[1:]
    joined = coo_matrix((np.ones(int(same.sum())), (face[:-1][same], face[1:][same])), shape=(len(faces), len(faces)))
    parts, part = connected_components(joined, directed=False)
    a, b, c = (points[faces[:, corner]] for corner in range(3))
    size = np.abs((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0])
    last = np.argsort(size, kind="stable")
    largest = np.zeros(parts, dtype=np.int64)
    largest[part[last]] = last
    found = inside(points[faces[largest]].mean(axis=1), [points[ring] for ring in rings])
    # What the border cuts off without any area lies outside: within, it would hang together with the rest.
    return (found & (size[largest] > 1e-10 * size.max()))[part]


def _turned(points: Places, faces: Edges) -> Edges:
    a, b, c = (points[faces[:, corner]] for corner in range(3))
    clockwise = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) < (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    return np.where(clockwise[:, None], faces[:, ::-1], faces)


def _bounded(faces: Edges, rings: list[Edges], count: int) -> bool:
    """Whether the sides that have one face alone are those of the rings, each once."""
    sides = np.sort(faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    keys, times = np.unique(sides[:, 0] * count + sides[:, 1], return_counts=True)
    ring = np.concatenate([np.sort(np.stack([one, np.roll(one, -1)], axis=1), axis=1) for one in rings])
    return bool((times <= 2).all()) and np.array_equal(keys[times == 1], np.unique(ring[:, 0] * count + ring[:, 1]))


def _used(points: Places, faces: Edges, rings: list[Edges]) -> tuple[Places, NDArray[np.int32], list[Edges]]:
    kept = np.zeros(len(points), dtype=bool)
    kept[faces.ravel()] = True
    place = np.cumsum(kept) - 1
    return points[kept], place[faces].astype(np.int32), [place[ring] for ring in rings]


def inside(places: Places, loops: list[Places]) -> NDArray[np.bool_]:
    """(n,) whether places lie in a region: a ray to the right crosses its loops an odd number of times."""
    starts = np.concatenate(loops)
    ends = np.concatenate([np.roll(loop, -1, axis=0) for loop in loops])
    return _inside(np.ascontiguousarray(places), starts, ends)


@compiled
def _inside(
    places: NDArray[np.float64], starts: NDArray[np.float64], ends: NDArray[np.float64]
):  # pragma: no cover - compiled
    found = np.zeros(len(places), dtype=np.bool_)
    for one in range(len(places)):
        x, y = places[one]
        odd = False
        for side in range(len(starts)):
            ay, by = starts[side, 1], ends[side, 1]
            if (ay > y) != (by > y):
                cross = starts[side, 0] + (y - ay) / (by - ay) * (ends[side, 0] - starts[side, 0])
                if cross > x:
                    odd = not odd
        found[one] = odd
    return found


def border_distance(places: Places, loops: list[Places]) -> NDArray[np.float64]:
    """(n,) how far places are from the nearest side of the loops."""
    starts = np.concatenate(loops)
    ends = np.concatenate([np.roll(loop, -1, axis=0) for loop in loops])
    return _border_distance(np.ascontiguousarray(places), starts, ends)


@compiled
def _border_distance(
    places: NDArray[np.float64], starts: NDArray[np.float64], ends: NDArray[np.float64]
):  # pragma: no cover - compiled
    found = np.zeros(len(places))
    for one in range(len(places)):
        x, y = places[one]
        least = np.inf
        for side in range(len(starts)):
            ax, ay = starts[side]
            dx, dy = ends[side, 0] - ax, ends[side, 1] - ay
            long = dx * dx + dy * dy
            share = 0.0
            if long > 0:
                share = min(1.0, max(0.0, ((x - ax) * dx + (y - ay) * dy) / long))
            away = (x - ax - share * dx) ** 2 + (y - ay - share * dy) ** 2
            least = min(least, away)
        found[one] = np.sqrt(least)
    return found


def nearest_place(places: Places, asked: Places) -> NDArray[np.int64]:
    """(n,) which of some places lies nearest to each that is asked for."""
    _, nearest = KDTree(places).query(asked)
    return np.asarray(nearest, dtype=np.int64)
