"""What is amiss in an imported mesh and can be mended without harm: faces of no area, doubled ones, and turned ones."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Mesh
from windsock.core.kernels.areas import face_areas
from windsock.core.kernels.orientation import turned_alike

NO_AREA = 1e-12
"""Faces with less than this share of the square of the mesh's size are of no area."""


@dataclass(frozen=True)
class Flaws:
    """How many faces have no area, are there already, or look the other way than their neighbours or inward."""

    no_area: int
    doubled: int
    turned: int

    @property
    def any(self) -> bool:
        return self.no_area + self.doubled + self.turned > 0


def mended(mesh: Mesh) -> tuple[Mesh, Flaws]:
    """The mesh without these flaws, and what they were. Points, and all that they carry, stay.

    Faces of a connected part are turned alike; a closed part whose volume is negative is turned
    outward as a whole. A face that more than two faces meet at an edge of is never turned.
    """
    _, place = np.unique(mesh.number, return_inverse=True)
    places = place[mesh.faces].astype(np.int64)
    size = float(np.ptp(mesh.points, axis=0).max())
    flat = face_areas(mesh.points, mesh.faces) <= NO_AREA * size**2
    flat |= (places[:, 0] == places[:, 1]) | (places[:, 1] == places[:, 2]) | (places[:, 2] == places[:, 0])
    _, first = np.unique(np.sort(places, axis=1), axis=0, return_index=True)
    again = np.ones(len(places), dtype=bool)
    again[first] = False
    doubled = again & ~flat
    kept = ~(flat | again)
    if not kept.any():
        return mesh, Flaws(0, 0, 0)
    turned = _turned(mesh, places[kept], mesh.faces[kept])
    faces = np.where(turned[:, None], mesh.faces[kept][:, ::-1], mesh.faces[kept])
    flaws = Flaws(int(flat.sum()), int(doubled.sum()), int(turned.sum()))
    if not flaws.any:
        return mesh, flaws
    normals = mesh.normals.copy()
    # Points that only turned faces use look the other way now.
    by_turned = np.zeros(len(normals), dtype=bool)
    by_turned[faces[turned].ravel()] = True
    by_turned[faces[~turned].ravel()] = False
    normals[by_turned] *= -1
    pictures = None if mesh.pictures is None else mesh.pictures.of(np.flatnonzero(kept))
    return replace(mesh, faces=faces.astype(np.int32), normals=normals, pictures=pictures), flaws


def _turned(mesh: Mesh, places: NDArray[np.int64], faces: NDArray[np.int32]) -> NDArray[np.bool_]:
    """(m,) which faces look the wrong way."""
    turned, part = turned_alike(places)
    corners = mesh.points[faces].astype(np.float64)
    corners = np.where(turned[:, None, None], corners[:, ::-1], corners)
    middle = corners.reshape(-1, 3).mean(axis=0)
    volume = np.einsum("ij,ij->i", corners[:, 0] - middle, np.cross(corners[:, 1] - middle, corners[:, 2] - middle))
    volumes = np.bincount(part, weights=volume)
    count = np.bincount(part)
    sides = np.sort(places[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    _, edge, sharing = np.unique(sides, axis=0, return_inverse=True, return_counts=True)
    odd = (sharing[edge.ravel()] != 2).reshape(-1, 3).any(axis=1)
    closed = np.bincount(part, weights=odd, minlength=len(count)) == 0
    # An open part is turned as most of its faces were.
    most = np.bincount(part, weights=turned, minlength=len(count)) > count / 2
    flip = np.where(closed, volumes < 0, most)
    tangled = (
        np.bincount(part, weights=(sharing[edge.ravel()] > 2).reshape(-1, 3).any(axis=1), minlength=len(count)) > 0
    )
    result = turned ^ flip[part]
    result[tangled[part]] = False
    return result
