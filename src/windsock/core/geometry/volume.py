"""A shape as a volume: how far each place of a grid is from its surface, and which face of it is nearest."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.enclosing import volume_enclosed
from windsock.core.geometry.mesh import are_triangles
from windsock.core.geometry.solution import Solution
from windsock.core.kernels.solids import are_closed
from windsock.core.kernels.surface_distance import Surface, is_inside
from windsock.core.kernels.volume_distance import (
    IN,
    OUT,
    UNKNOWN,
    across_openings,
    deep_faces,
    filled_sides,
    near_faces,
    winding_on,
)
from windsock.core.refusals import TooMuch

Reals = NDArray[np.float64]
Floats = NDArray[np.float32]
Integers = NDArray[np.int32]

MOST_NODES = 30_000_000
"""Nodes that a volume may have."""

NODE_BYTES = 32
"""For each node, while a volume is made and a front solved in it."""

ON_SURFACE = 1e-4
"""Voxels from the surface within which a node is taken to be on it."""

CLOSE = 1.5
"""Voxels from the surface within which an opening of it is not looked for."""

EDGE = 2
"""Voxels of a volume beyond what it is made of."""


@dataclass(frozen=True, eq=False)
class Volume(Solution):
    """A grid of nodes about a surface.

    distance: (x, y, z) metres to the nearest face, below 0 inside; where it was not asked for it is infinite, or minus that. face:
    (x, y, z) which face, -1 where it was not asked for. low: (3,) the place of the first node; voxel: (1,) metres between two.
    """

    distance: Floats
    face: Integers
    low: Reals
    voxel: Reals

    @property
    def shape(self) -> tuple[int, int, int]:
        x, y, z = self.distance.shape
        return x, y, z

    def places(self, nodes: NDArray[np.int64]) -> Reals:
        """(k, 3) where nodes are, which are given as places in the flat grid."""
        return self.low + np.stack(np.unravel_index(nodes, self.shape), axis=1) * float(self.voxel[0])


def nodes_of(size: Reals, voxel: float, beyond: float) -> tuple[int, int, int]:
    """How many nodes a volume of a box of a size has along each axis. beyond: metres about the box that it reaches."""
    x, y, z = (int(np.ceil(one / voxel)) + 1 + 2 * (EDGE + int(np.ceil(beyond / voxel))) for one in size)
    return x, y, z


def nodes_about(points: NDArray[np.floating], voxel: float, beyond: float = 0.0) -> float:
    """How many nodes a volume about points, (n, 3), has, whether that is allowed or not; 0 about none."""
    if len(points) == 0:
        return 0.0
    return float(np.prod([float(one) for one in nodes_of(np.ptp(points, axis=0).astype(np.float64), voxel, beyond)]))


def refuse_too_fine(size: Reals, voxel: float, beyond: float) -> None:
    """Raise TooMuch, before any work, for more nodes than a volume may have, with the finest voxel that fits."""
    count = float(np.prod([float(one) for one in nodes_of(size, voxel, beyond)]))
    if count <= MOST_NODES:
        return
    finest = voxel
    while np.prod([float(one) for one in nodes_of(size, finest, beyond)]) > MOST_NODES:
        finest *= 1.02
    digits = 10.0 ** np.floor(np.log10(finest) - 1)
    raise TooMuch(
        f"A volume with voxels of {voxel:g} m would have {count:,.0f} of them, {count * NODE_BYTES / 2**30:,.1f} GB; the limit is "
        f"{MOST_NODES:,}. Nothing was changed. Voxels of {np.ceil(finest / digits) * digits:.3g} m would fit."
    )


def volume_in_words(points: Reals, voxel: float, beyond: float = 0.0) -> str:
    """How large a volume about points, (n, 3), is: `1,000 voxels, 1 MB`."""
    count = nodes_about(points, voxel, beyond)
    return f"{count:,.0f} voxels, {count * NODE_BYTES / 2**20:,.0f} MB"


def volume_of(
    points: Reals,
    faces: NDArray[np.integer],
    voxel: float,
    beyond: float = 0.0,
    check: Callable[[float], None] | None = None,
) -> Volume:
    """The volume of a surface, dense within it and for some metres beyond.

    points: (n, 3) metres, faces: (m, 3); where it is not closed, what is inside is so by the winding number, and across an opening the
    surface is where that is 1/2. beyond: metres outside for
    which distances are found too; outside of these and of a voxel about the surface they are infinite. check: told what share is done.
    Raises TooMuch for more nodes than a volume may have.
    """
    tell = check or _nothing
    faces = np.ascontiguousarray(faces, dtype=np.int32)
    used = points[faces].reshape(-1, 3) if len(faces) else np.zeros((1, 3))
    low, high = used.min(axis=0), used.max(axis=0)
    refuse_too_fine(high - low, voxel, beyond)
    shape = nodes_of(high - low, voxel, beyond)
    # The grid lies about the middle, so that what is alike on both sides is eaten alike.
    start = (low + high) / 2 - (np.array(shape) - 1) / 2 * voxel
    inside = np.ascontiguousarray((points - start) / voxel)
    squared, face = near_faces(inside, faces, shape)
    tell(0.3)
    side = np.full(shape, UNKNOWN, dtype=np.uint8)
    band = np.flatnonzero(face.reshape(-1) >= 0)
    places = np.stack(np.unravel_index(band, shape), axis=1).astype(np.float64)
    turned = volume_enclosed(inside, faces) < 0
    within = is_inside(places, Surface(inside, faces[:, ::-1] if turned else faces))
    # On which side a node lies that is on the surface would go by rounding: all are outside.
    within &= squared.reshape(-1)[band] > ON_SURFACE**2
    side.reshape(-1)[band] = np.where(within, IN, OUT)
    side[0, 0, 0] = OUT
    if _closes(points, faces):
        winding = None
    else:
        outward = faces[:, ::-1] if turned else faces
        winding = winding_on(shape, inside, outward, lambda share: tell(0.3 + 0.2 * share))
    if winding is None:
        filled_sides(side, face)
    else:
        side[side == UNKNOWN] = np.where(winding[side == UNKNOWN] > 0.5, IN, OUT)
    tell(0.5)
    wanted = (side == IN).astype(np.uint8) if beyond <= 0 else np.ones(shape, dtype=np.uint8)
    if len(band):
        deep_faces(inside, faces, wanted, squared, face)
    tell(0.9)
    distance = np.sqrt(squared) * np.float32(voxel)
    if winding is not None:
        nearer = across_openings(winding) * np.float32(voxel)
        distance = np.where(distance > CLOSE * voxel, np.minimum(distance, nearer), distance)
    np.negative(distance, out=distance, where=side == IN)
    return Volume(distance, face, start, np.array([voxel]))


def _closes(points: Reals, faces: Integers) -> bool:
    """Whether each edge of a surface has one face on either side, points at one place taken as one."""
    _, place = np.unique(points, axis=0, return_inverse=True)
    corners = place.reshape(-1)[faces].astype(np.int32)
    return len(faces) == 0 or are_closed(np.ascontiguousarray(corners[are_triangles(corners)]))


def _nothing(share: float) -> None:
    del share
