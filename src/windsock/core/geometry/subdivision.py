"""Finer faces: triangles split at the middles of their edges, flat or smoothed.

Smoothing: C. Loop, "Smooth subdivision surfaces based on triangles", 1987. A middle is 3/8 of its edge's ends and 1/8 of
the corners across; a point of valence n keeps 1 - n b and takes b of each neighbour, b = (5/8 - (3/8 + cos(2 pi / n) / 4)^2) / n.
Borders are cubic B-splines: 1/8, 3/4, 1/8 and 1/2, 1/2 (H. Hoppe and others, "Piecewise smooth surface reconstruction", 1994).
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Mesh, smooth_normals
from windsock.core.kernels.crossing import crossed_faces
from windsock.core.kernels.distinct import distinct_pairs

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Split:
    """A mesh with the middles of some edges as points after its own. edges: (k, 2) the ends of each, among the points
    before. place: (n + k,) which place each point is, by number."""

    mesh: Mesh
    edges: Numbers
    place: Numbers


def split_edges(mesh: Mesh, chosen: NDArray[np.bool_]) -> Split:
    """Split the edges that have a chosen point at either end; faces stay closed. chosen: (n,), by point.

    A face becomes four where all its edges are split, three where two are, two where one is.
    """
    sides = mesh.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64)
    _, place = np.unique(mesh.number, return_inverse=True)
    there = np.zeros(int(place.max(initial=-1)) + 1, dtype=bool)
    there[place[chosen]] = True
    # As one number each, which is several times as fast to sort as pairs are.
    both = sides.min(axis=1) * len(mesh.points) + sides.max(axis=1)
    names, edge = np.unique(both, return_inverse=True)
    ends = np.stack(np.divmod(names, max(len(mesh.points), 1)), axis=1)
    wanted = there[place[ends]].any(axis=1)
    middle = np.where(wanted, len(mesh.points) + np.cumsum(wanted) - 1, -1)[edge.ravel()].reshape(-1, 3)
    edges = ends[wanted]
    made = mesh.between(edges[:, 0], edges[:, 1], np.full(len(edges), 0.5))
    _, place = np.unique(made.number, return_inverse=True)
    return Split(made.faced(*_split_faces(mesh.faces, middle)), edges, place.astype(np.int64))


def split_again(mesh: Mesh, splits: NDArray[np.bool_], sizes: Numbers) -> Mesh:
    """A mesh split as another with the same faces was, time after time. splits: (k,) whether each point was one whose edges were split,
    for one time after another; sizes: (s,) how many of them belong to each."""
    ends = np.cumsum(sizes)
    for begin, end in zip(ends - sizes, ends, strict=True):
        mesh = split_edges(mesh, splits[begin:end]).mesh
    return mesh


def long_edges(places: Reals, faces: NDArray[np.integer], longest: float) -> Numbers:
    """(k, 2) the edges of faces between (n, 3) places that are longer, in a fixed order, each with its lower point first."""
    sides = faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64)
    far = np.linalg.norm(places[sides[:, 0]] - places[sides[:, 1]], axis=1) > longest
    names = np.unique(sides[far].min(axis=1) * len(places) + sides[far].max(axis=1))
    return np.stack(np.divmod(names, max(len(places), 1)), axis=1).astype(np.int64)


def split_middles(mesh: Mesh, edges: NDArray[np.integer]) -> Mesh:
    """The mesh with some edges split in the middle, (k, 2) as `long_edges` gives them; faces stay closed."""
    sides = mesh.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64)
    names = sides.min(axis=1) * len(mesh.points) + sides.max(axis=1)
    wanted = edges[:, 0].astype(np.int64) * len(mesh.points) + edges[:, 1]
    at = np.minimum(np.asarray(np.searchsorted(wanted, names), dtype=np.int64), max(len(wanted) - 1, 0))
    found = wanted[at] == names if len(wanted) else np.zeros(len(names), dtype=bool)
    middle = np.where(found, len(mesh.points) + at, -1).reshape(-1, 3)
    made = mesh.between(edges[:, 0].astype(np.int64), edges[:, 1].astype(np.int64), np.full(len(edges), 0.5))
    return made.faced(*_split_faces(mesh.faces, middle))


def longest_edges(places: Reals, faces: NDArray[np.integer]) -> Reals:
    """(n,) metres of the longest edge of the faces about each of (n, 3) points."""
    made = np.zeros(len(places))
    corners = places[faces]
    longest = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2).max(axis=1, initial=0)
    for corner in range(3):
        np.maximum.at(made, faces[:, corner], longest)
    return made


def split_where(mesh: Mesh, values: Reals, level: float) -> tuple[Mesh, Reals]:
    """Split faces along the line where a value, (n,) by point and straight in between, is at a level; both sides stay. And the value at
    the points after that."""
    above = values > level
    mixed = crossed_faces(mesh.faces, above)
    crossed = np.flatnonzero(mixed)
    if len(crossed) == 0:
        return mesh, values
    faces = mesh.faces[crossed]
    sides = faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64)
    cut = above[sides[:, 0]] != above[sides[:, 1]]
    ends = sides[cut]
    # From the lower number on, so that a seam is split at the same place on both its sides.
    turned = mesh.number[ends[:, 0]] > mesh.number[ends[:, 1]]
    ends = np.where(turned[:, None], ends[:, ::-1], ends)
    one_of, edge, _ = distinct_pairs(ends[:, 0], ends[:, 1], len(mesh.points))
    first, second = ends[one_of].T
    share = (level - values[first]) / (values[second] - values[first])
    middle = np.full(len(sides), -1, dtype=np.int64)
    middle[cut] = len(mesh.points) + edge
    made, of = _split_faces(faces, middle.reshape(-1, 3))
    others = np.flatnonzero(~mixed)
    finer = mesh.between(first, second, share)
    finer = finer.faced(np.concatenate([mesh.faces[others], made]), np.concatenate([others, crossed[of]]))
    return finer, np.concatenate([values, np.full(len(first), level)])


def _split_faces(faces: NDArray[np.int32], middle: Numbers) -> tuple[NDArray[np.int32], Numbers]:
    """The faces after a split, and which of those before each is a part of.

    middle: (m, 3) the point at the middle of the edges ab, bc and ca of each face, or -1.
    """
    split = middle >= 0
    count = split.sum(axis=1)
    parts = [faces[count == 0]]
    of = [np.flatnonzero(count == 0), *[np.flatnonzero(count == 3)] * 4]
    a, b, c = faces[count == 3].T
    ab, bc, ca = middle[count == 3].T
    parts += [np.stack(corner, axis=1) for corner in ((a, ab, ca), (ab, b, bc), (ca, bc, c), (ab, bc, ca))]
    for turn in range(3):
        order = [turn, (turn + 1) % 3, (turn + 2) % 3]
        one = (count == 1) & split[:, turn]
        a, b, c = faces[one][:, order].T
        ab = middle[one][:, turn]
        parts += [np.stack(corner, axis=1) for corner in ((a, ab, c), (ab, b, c))]
        of += [np.flatnonzero(one)] * 2
        two = (count == 2) & ~split[:, order[2]]
        a, b, c = faces[two][:, order].T
        ab, bc = middle[two][:, order[0]], middle[two][:, order[1]]
        parts += [np.stack(corner, axis=1) for corner in ((ab, b, bc), (a, ab, bc), (a, bc, c))]
        of += [np.flatnonzero(two)] * 3
    return np.concatenate(parts).astype(np.int32), np.concatenate(of)


def smoothed_places(mesh: Mesh, split: Split) -> Reals:
    """(n + k, 3) where Loop's rules put the points of `mesh` and the middles that `split` made of it."""
    _, place = np.unique(mesh.number, return_inverse=True)
    count = int(place.max(initial=-1)) + 1
    points = np.zeros((count, 3))
    points[place] = mesh.points
    faces = place[mesh.faces]
    ends, edge, sharing = np.unique(
        np.sort(faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1), axis=0, return_inverse=True, return_counts=True
    )
    border = sharing != 2
    odd = points[ends].sum(axis=1) / 2
    across = sums(edge.ravel(), points[faces[:, [2, 0, 1]].ravel()], len(ends))
    odd[~border] = (0.75 * odd + across / 8)[~border]
    key = ends[:, 0] * count + ends[:, 1]
    asked = np.sort(place[split.edges], axis=1)
    rows = np.searchsorted(key, asked[:, 0] * count + asked[:, 1])
    return np.concatenate([_evened(points, ends, border)[place], odd[rows]])


def _evened(points: Reals, ends: Numbers, border: NDArray[np.bool_]) -> Reals:
    """(p, 3) where the places that were there before go."""
    count = len(points)

    def around(edges: Numbers) -> tuple[NDArray[np.intp], Reals]:
        both = np.concatenate([edges, edges[:, ::-1]])
        return np.bincount(both[:, 0], minlength=count), sums(both[:, 0], points[both[:, 1]], count)

    valence, neighbours = around(ends)
    beta = np.zeros(count)
    some = valence > 0
    n = valence[some]
    beta[some] = (0.625 - (0.375 + 0.25 * np.cos(2 * np.pi / n)) ** 2) / n
    even = points * (1 - valence * beta)[:, None] + beta[:, None] * neighbours
    on_border, beside = around(ends[border])
    curve = on_border == 2
    even[curve] = 0.75 * points[curve] + beside[curve] / 8
    fixed = (on_border > 0) & ~curve
    even[fixed] = points[fixed]
    return even


def sums(rows: Numbers, values: Reals, count: int) -> Reals:
    """(count, 3) the sum of the (n, 3) values of each row; rows: (n,)."""
    columns = [np.bincount(rows, weights=values[:, axis], minlength=count) for axis in range(3)]
    return np.stack(columns, axis=1).astype(np.float64)


def refined(mesh: Mesh, weight: Reals, smooth: bool) -> tuple[Mesh, Reals]:
    """The mesh with its faces split once where the weight, (n,) 0..1 by point, is over 0; and the weight at its points.

    smooth: the points go as far towards their smoothed places as the weight says. Rest places stay in the middle.
    """
    split = split_edges(mesh, weight > 0)
    after = np.concatenate([weight, weight[split.edges].mean(axis=1)])
    if not smooth:
        return split.mesh, after
    points = split.mesh.points.astype(np.float64)
    moved = points + (smoothed_places(mesh, split) - points) * after[:, None]
    places = moved.astype(np.float32)
    normals = smooth_normals(places, split.mesh.faces, split.mesh.number)
    return replace(split.mesh, points=places, normals=normals), after
