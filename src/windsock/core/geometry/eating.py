"""A solid that is eaten away or grown, known by when the front comes to each place of a volume: its surface at any moment.

All is solved on the shape as it rests. What the front opens and what is left of the surface are one closed surface, parted along the
line where both meet.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.binding import carried_offsets
from windsock.core.geometry.mesh import Mesh, smooth_normals
from windsock.core.geometry.volume import Volume
from windsock.core.kernels.areas import face_areas
from windsock.core.kernels.crossing import split_faces
from windsock.core.kernels.fronts import front_bricks, slowing, times_at
from windsock.core.kernels.isosurface import IsoSurface, brick_ranges, isosurface
from windsock.core.kernels.smoothing import DRAWN, smoothed
from windsock.core.kernels.volume_distance import on_faces

Reals = NDArray[np.float64]
Floats = NDArray[np.float32]
Integers = NDArray[np.int32]
Way = Literal["in", "out"]


SHARES = 256
MOST_COUNTED = 1_000_000
MOSTLY, TAIL = 0.998, 1.5
"""Share of the places by which it is told how long the front takes, and times as long as that it goes on for the others."""


RINGS = 4
"""Faces from the line between what is open and what is left within which that is made even, and how often."""

HOLE = 1.8
"""Voxels from the surface beyond which what closes a volume lies across a hole of it."""


@dataclass(frozen=True, eq=False)
class Eating(Volume):
    """A volume, and when a front comes to its nodes.

    distance: below 0 inside. arrival: (x, y, z) metres that the front has to travel at full pace until it comes to each node, infinite
    where it never does; on the far side of the surface that it starts from, minus what it would have come from there. own: (3, 3) from the
    space of the volume to the shape's own. lows, highs: (2, bx, by, bz) the least and most of distance and arrival in each brick; gone:
    (s,) what the front has travelled when equal shares of what it ever comes to are gone, from none to all; out: (1,) whether it goes outward.
    """

    arrival: Floats
    own: Reals
    lows: Floats
    highs: Floats
    gone: Reals
    out: NDArray[np.bool_]

    @classmethod
    def found(cls, volume: Volume, arrival: Floats, own: Reals, way: Way) -> Eating:
        """way: whether it eats into the solid or grows out of it."""
        depth = volume.distance if way == "out" else -volume.distance
        # What is eaten starts within the surface, what grows beyond it.
        there = (depth > 0) & np.isfinite(arrival)
        reached = arrival[there]
        gone = np.zeros(SHARES + 1)
        if len(reached):
            some = reached[:: max(len(reached) // MOST_COUNTED, 1)]
            gone[1:] = np.quantile(some, np.arange(1, SHARES + 1) / SHARES)
            gone[-1] = min(float(reached.max()), TAIL * float(np.quantile(some, MOSTLY)))
            # What would take many times as long as all the rest goes with the last of that.
            arrival = np.where(there, np.minimum(arrival, np.float32(gone[-1])), arrival)
        ranges = [brick_ranges(depth), brick_ranges(arrival)]
        lows, highs = np.stack([one[0] for one in ranges]), np.stack([one[1] for one in ranges])
        return cls(
            volume.distance,
            volume.face,
            volume.low,
            volume.voxel,
            arrival,
            own,
            lows,
            highs,
            gone,
            np.array([way == "out"]),
        )

    @property
    def grows_out(self) -> bool:
        return bool(self.out[0])

    @property
    def last(self) -> float:
        """Metres that the front travels until all is gone that it comes to; 0 where it comes nowhere."""
        return float(self.gone[-1])

    def come(self, share: float) -> float:
        """Metres that it has travelled when a share of what it comes to is gone."""
        return float(np.interp(share, np.linspace(0, 1, len(self.gone)), self.gone))


@dataclass(frozen=True, eq=False)
class Front:
    """A front at a moment: come: metres that it has travelled at full pace; at or below 0 it has not begun."""

    eating: Eating
    come: float

    @property
    def nbytes(self) -> int:
        """The solution itself is kept where it was solved."""
        return 64

    @property
    def voxel(self) -> float:
        return float(self.eating.voxel[0])

    def ahead(self, rest: Reals) -> Reals:
        """(n,) metres that it has yet to travel to places, (n, 3) as they rest in the shape's own space: below 0 where it has been, infinite
        where it never comes."""
        if self.come <= 0:
            return np.full(len(rest), np.inf)
        eating = self.eating
        level = rest @ np.linalg.inv(eating.own).T
        nodes = (level - eating.low) / self.voxel
        return times_at(eating.arrival, eating.distance, -1.0 if eating.grows_out else 1.0, nodes) - self.come


@dataclass(frozen=True, eq=False)
class Eaten:
    """What is left of a shape: of its surface, and what is open."""

    skin: Mesh
    opened: Mesh

    @property
    def nbytes(self) -> int:
        return self.skin.nbytes + self.opened.nbytes


def eaten(mesh: Mesh, rest: Reals, eating: Eating, come: float) -> Eaten:
    """A mesh where the front has come so many metres.

    mesh: that with whose faces the volume was made, as it is now; rest: (n, 3) its points as they were then, in the space of the volume.
    """
    sign = -1.0 if eating.grows_out else 1.0
    found, parts = _surface(eating, come, sign)
    voxel = float(eating.voxel[0])
    if len(found.faces) == 0:
        return Eaten(mesh.emptied(), mesh.emptied())
    nodes = found.places(eating.shape)
    places = eating.low + nodes * voxel
    face, shares, _ = on_faces(nodes, (rest - eating.low) / voxel, mesh.faces, eating.face)
    corners = mesh.faces[face].astype(np.int64)
    made = mesh.mixed(corners, shares, found.number())
    foot = np.einsum("kc,kcx->kx", shares, rest[corners])
    parts = _evened(parts, found.faces)
    skin = parts <= 0
    # What is left of the surface lies on it, but where it had a hole.
    off = places - foot
    offset = np.where((skin & (np.linalg.norm(off, axis=1) < HOLE * voxel))[:, None], 0.0, off) @ eating.own.T
    points = made.points + carried_offsets(mesh, corners, shares, offset)
    made = replace(made, points=points.astype(np.float32), rest=(made.rest + offset).astype(np.float32))
    made = replace(made, faces=found.faces, origin=mesh.origins()[face[found.faces[:, 0]]])
    return Eaten(_side(made, parts, skin), _side(made, -parts, ~skin))


def _surface(eating: Eating, come: float, sign: float) -> tuple[IsoSurface, Reals]:
    """The surface, and at each point how much nearer the shape's own surface would be than the front: above 0 where the front is."""
    depth_low, arrival_low = eating.lows
    depth_high, arrival_high = eating.highs
    low, high = np.minimum(depth_low, arrival_low - come), np.minimum(depth_high, arrival_high - come)
    bricks = np.argwhere((low <= 0) & (high >= 0)).astype(np.int32)
    voxel = float(eating.voxel[0])
    values = front_bricks(eating.distance, eating.arrival, come, voxel, sign, bricks)
    found = isosurface(eating.shape, bricks, values)
    ends = np.stack([found.first, found.second(eating.shape)])
    depth = -np.float32(sign) * eating.distance.reshape(-1)[ends]
    ahead = slowing(eating.arrival.reshape(-1)[ends] - np.float32(come), voxel)
    # The node where nothing is left says whether that is the front's doing.
    left = np.minimum(depth, ahead)
    over = depth - ahead
    ahead_of = np.asarray(np.where(left[0] < left[1], over[0], over[1]), dtype=np.float64)
    return found, np.clip(ahead_of, -voxel, voxel)


def _evened(over: Reals, faces: Integers) -> Reals:
    """(n,) values at the points of a surface, evened along the line where they are 0, which else would go by the steps of the voxels where
    they leap from one to the next."""
    within = over <= 0
    near = np.zeros(len(over), dtype=bool)
    one, two, three = np.ascontiguousarray(faces.T)
    about = (within[one] != within[two]) | (within[two] != within[three])
    for _ in range(RINGS):
        near[faces[about].ravel()] = True
        about = near[one] | near[two] | near[three]
    sides = faces[about][:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64)
    # Each edge comes twice, once from either side.
    sides = sides[sides[:, 0] < sides[:, 1]]
    border = np.zeros(len(over), dtype=bool)
    return smoothed(over[:, None], sides, border, [DRAWN] * RINGS, near.astype(np.float64))[:, 0]


def _side(mesh: Mesh, over: Reals, whole: NDArray[np.bool_]) -> Mesh:
    """The part of a mesh where a value, (n,), is not above 0. whole: (n,) the points at which it is not."""
    if not whole.any():
        return mesh.emptied()
    if whole.all():
        return mesh
    drop = ~whole
    split = split_faces(mesh.faces, drop, mesh.number)
    one, other = over[split.first], over[split.second]
    share = np.clip(one / np.where(one == other, 1.0, one - other), 0.0, 1.0)
    cut = mesh.between(split.first, split.second, share)
    made = split.faces[split.untouched :]
    left = np.concatenate([np.ones(split.untouched, dtype=bool), face_areas(cut.points, made) > 0])
    return cut.faced(split.faces[left], split.of[left]).without_loose_points()


def with_own_normals(mesh: Mesh) -> Mesh:
    """A mesh whose normals are those of its faces."""
    return replace(mesh, normals=smooth_normals(mesh.points, mesh.faces, mesh.number))
