"""Curvature of a mesh."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Mesh


def mean_curvature(mesh: Mesh) -> NDArray[np.float64]:
    """(n,) the mean of the principal curvatures at each point in 1/m, positive where the surface bulges outward.

    Method: M. Meyer, M. Desbrun, P. Schroeder, A. H. Barr, "Discrete differential-geometry operators for triangulated
    2-manifolds", 2003: the cotangent Laplacian of the places over the mixed area about each. 0 on open borders.
    """
    _, first, place = np.unique(mesh.number, return_index=True, return_inverse=True)
    places = mesh.points[first].astype(np.float64)
    faces = place[mesh.faces]
    pull, area = np.zeros((len(first), 3)), np.zeros(len(first))
    corners = [_corner(places, faces, corner) for corner in range(3)]
    blunt = np.any([cotangent < 0 for _, _, _, cotangent, _ in corners], axis=0)
    for a, b, c, cotangent, doubled in corners:
        side = places[b] - places[c]
        along = side * (0.5 * cotangent)[:, None]
        for axis in range(3):
            pull[:, axis] += np.bincount(b, along[:, axis], len(first)) - np.bincount(c, along[:, axis], len(first))
        part = np.where(blunt, 0.0, 0.125 * cotangent * np.einsum("ij,ij->i", side, side))
        area += np.bincount(b, part, len(first)) + np.bincount(c, part, len(first))
        area += np.bincount(a, np.where(blunt, doubled / np.where(cotangent < 0, 4, 8), 0.0), len(first))
    normals = np.zeros((len(first), 3))
    np.add.at(normals, place, mesh.normals)
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    curvature = np.einsum("ij,ij->i", pull, normals) / np.maximum(2 * area, 1e-300)
    curvature[_border(faces)] = 0.0
    return curvature[place]


Corner = tuple[NDArray[np.integer], NDArray[np.integer], NDArray[np.integer], NDArray[np.float64], NDArray[np.float64]]


def _corner(places: NDArray[np.float64], faces: NDArray[np.integer], corner: int) -> Corner:
    """One corner of each face: its place and the next two, the cotangent of its angle, and twice the area of the face."""
    a, b, c = (faces[:, (corner + turn) % 3] for turn in range(3))
    one, other = places[b] - places[a], places[c] - places[a]
    doubled = np.linalg.norm(np.cross(one, other), axis=1)
    return a, b, c, np.einsum("ij,ij->i", one, other) / np.maximum(doubled, 1e-300), doubled


def _border(faces: NDArray[np.integer]) -> NDArray[np.integer]:
    """The places on edges of one face only."""
    ends = np.sort(faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    edges, count = np.unique(ends, axis=0, return_counts=True)
    return np.unique(edges[count == 1])
