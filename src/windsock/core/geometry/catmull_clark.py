"""Finer faces by squares: the surface of Catmull and Clark.

E. Catmull and J. Clark, "Recursively generated B-spline surfaces on arbitrary topological meshes", 1978. A face point is the
mean of its corners; an edge point the mean of the edge's ends and the face points beside it; a point of valence n goes to
(Q + 2 R + (n - 3) S) / n, where Q is the mean of the face points about it and R of the middles of its edges. Borders are
cubic B-splines, as for Loop's surface.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Mesh, smooth_normals
from windsock.core.geometry.subdivision import sums

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

FLAT = 0.9
"""Two triangles are taken as one square where the cosine between them is more than this."""


@dataclass(frozen=True)
class Polygons:
    """Faces of four and of three corners: (q, 4) and (t, 3) indices of points, anticlockwise from outside.

    halves: (q, 2) which face the halves abc and acd of a square come from; of: (t,) which each triangle comes from.
    """

    squares: Numbers
    triangles: Numbers
    halves: Numbers
    of: Numbers


def squares_of(mesh: Mesh) -> Polygons:
    """The triangles of a mesh, two of them as one square where they lie nearly flat and share the longest edge of both."""
    faces = mesh.faces.astype(np.int64)
    corners = mesh.points[faces].astype(np.float64)
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-300)
    length = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2)
    longest = length.argmax(axis=1)
    row = np.arange(len(faces))
    # Each triangle turned so that its longest edge runs from its first corner to its second.
    turned = faces[row[:, None], (longest[:, None] + np.arange(3)) % 3]
    key = np.sort(turned[:, :2], axis=1)
    _, edge, count = np.unique(key, axis=0, return_inverse=True, return_counts=True)
    edge = edge.ravel()
    order = np.argsort(edge, kind="stable")
    starts = np.flatnonzero(np.diff(edge[order], prepend=-1))
    pairs = starts[count == 2]
    one, other = order[pairs], order[pairs + 1]
    against = (turned[one, 0] == turned[other, 1]) & (np.einsum("ij,ij->i", normal[one], normal[other]) > FLAT)
    one, other = one[against], other[against]
    squares = np.stack([turned[one, 0], turned[other, 2], turned[one, 1], turned[one, 2]], axis=1)
    unpaired = np.ones(len(faces), dtype=bool)
    unpaired[one] = unpaired[other] = False
    return Polygons(squares, faces[unpaired], np.stack([other, one], axis=1), np.flatnonzero(unpaired))


def squared(mesh: Mesh, weight: Reals, times: int) -> tuple[Mesh, Reals]:
    """The mesh with every face split into squares so many times, smoothed as far as the weight, (n,) by point, says.

    Answers with the weight at its points too. Rest places stay in the middle. Squares are drawn as two triangles.
    """
    polygons = squares_of(mesh)
    for _ in range(times):
        mesh, weight, squares = _once(mesh, weight, polygons)
        none = np.zeros((0, 3), dtype=np.int64)
        polygons = Polygons(squares, none, _halved(polygons), none[:, 0])
    a, b, c, d = polygons.squares.T
    faces = np.concatenate([np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1)]).astype(np.int32)
    if times:
        mesh = mesh.faced(faces, polygons.halves.T.ravel())
        mesh = replace(mesh, normals=smooth_normals(mesh.points, mesh.faces, mesh.number))
    return mesh, weight


def _halved(polygons: Polygons) -> Numbers:
    """(4 q + 3 t, 2) the halves of the squares that `_once` makes of polygons: those on the line ac have one of each."""
    corners = [[0, 1], [0, 0], [1, 0], [1, 1]]
    return np.concatenate(
        [*(polygons.halves[:, pair] for pair in corners), *[np.stack([polygons.of, polygons.of], axis=1)] * 3]
    )


def _once(mesh: Mesh, weight: Reals, polygons: Polygons) -> tuple[Mesh, Reals, Numbers]:
    squares, triangles = polygons.squares, polygons.triangles
    sides = np.concatenate([_sides(squares), _sides(triangles)])
    ends, edge = np.unique(np.sort(sides, axis=1), axis=0, return_inverse=True)
    middle = len(mesh.points) + edge.ravel()
    of_squares = middle[: 4 * len(squares)].reshape(-1, 4)
    of_triangles = middle[4 * len(squares) :].reshape(-1, 3)
    halved = mesh.between(ends[:, 0], ends[:, 1], np.full(len(ends), 0.5))
    first = np.concatenate([of_squares[:, 0], of_triangles[:, 0]])
    second = np.concatenate([of_squares[:, 2], triangles[:, 2]])
    share = np.concatenate([np.full(len(squares), 0.5), np.full(len(triangles), 1 / 3)])
    made = halved.between(first, second, share)
    weight = np.concatenate([weight, weight[ends].mean(axis=1)])
    weight = np.concatenate([weight, weight[first] + (weight[second] - weight[first]) * share])
    smoothed = _smoothed(mesh, polygons, sides, ends)
    flat = made.points.astype(np.float64)
    points = (flat + (smoothed - flat) * weight[:, None]).astype(np.float32)
    centre = len(halved.points) + np.arange(len(first))
    parts: list[Numbers] = []
    for corners, middles, middle_of in (
        (squares, of_squares, centre[: len(squares)]),
        (triangles, of_triangles, centre[len(squares) :]),
    ):
        for corner in range(corners.shape[1]):
            parts.append(np.stack([corners[:, corner], middles[:, corner], middle_of, middles[:, corner - 1]], axis=1))
    return replace(made, points=points), weight, np.concatenate(parts)


def _sides(polygons: Numbers) -> Numbers:
    """(f k, 2) the sides of (f, k) polygons, face after face; the first is from corner 0 to corner 1."""
    return np.stack([polygons, np.roll(polygons, -1, axis=1)], axis=2).reshape(-1, 2)


def _smoothed(mesh: Mesh, polygons: Polygons, sides: Numbers, ends: Numbers) -> Reals:
    """(n + e + f, 3) where points, the middles of `ends` and the faces' centres go. Places count, not points."""
    _, place = np.unique(mesh.number, return_inverse=True)
    count = int(place.max(initial=-1)) + 1
    at = np.zeros((count, 3))
    at[place] = mesh.points
    squares, triangles = place[polygons.squares], place[polygons.triangles]
    centres = np.concatenate([at[squares].mean(axis=1), at[triangles].mean(axis=1)])
    face_of = np.concatenate(
        [np.repeat(np.arange(len(squares)), 4), len(squares) + np.repeat(np.arange(len(triangles)), 3)]
    )
    by_place = np.sort(place[sides], axis=1)
    edges, edge, sharing = np.unique(by_place, axis=0, return_inverse=True, return_counts=True)
    inner = sharing == 2
    middles = at[edges].mean(axis=1)
    beside = sums(edge.ravel(), centres[face_of], len(edges))
    odd = middles.copy()
    odd[inner] = middles[inner] / 2 + beside[inner] / 4
    corners = np.concatenate([squares.ravel(), triangles.ravel()])
    faces_about = np.bincount(corners, minlength=count)
    q = sums(corners, centres[face_of], count) / np.maximum(faces_about, 1)[:, None]
    both = np.concatenate([edges, edges[:, ::-1]])
    edges_about = np.bincount(both[:, 0], minlength=count)
    r = sums(both[:, 0], np.concatenate([middles, middles]), count) / np.maximum(edges_about, 1)[:, None]
    n = np.maximum(faces_about, 1)[:, None]
    even = (q + 2 * r + (n - 3) * at) / n
    border = both[np.concatenate([~inner, ~inner])]
    on_border = np.bincount(border[:, 0], minlength=count)
    along = sums(border[:, 0], at[border[:, 1]], count)
    curve, fixed = on_border == 2, (on_border > 0) & (on_border != 2)
    even[curve] = 0.75 * at[curve] + along[curve] / 8
    even[fixed] = at[fixed]
    key = edges[:, 0] * count + edges[:, 1]
    asked = np.sort(place[ends], axis=1)
    rows = np.searchsorted(key, asked[:, 0] * count + asked[:, 1])
    return np.concatenate([even[place], odd[rows], centres])
