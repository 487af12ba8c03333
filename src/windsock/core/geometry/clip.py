"""Clips: meshes that move, as a file gives them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Floats, Mesh


class Pose(NamedTuple):
    """Where the points of a mesh are at one moment, and their normals: (n, 3) each."""

    points: Floats
    normals: Floats


@dataclass(frozen=True, eq=False)
class Clip:
    """A mesh over time. seconds: (t,) rising, from 0. poses: (t) of `mesh`'s points; or, where the faces change too,
    none, and `meshes` has a mesh for each moment."""

    mesh: Mesh
    seconds: NDArray[np.float64]
    poses: tuple[Pose, ...] = ()
    meshes: tuple[Mesh, ...] = ()

    @property
    def nbytes(self) -> int:
        poses = sum(pose.points.nbytes + pose.normals.nbytes for pose in self.poses)
        return self.mesh.nbytes + poses + sum(mesh.nbytes for mesh in self.meshes)

    @property
    def length(self) -> float:
        return float(self.seconds[-1])

    def at(self, seconds: float) -> Mesh:
        """The mesh at a moment. Between two, points go straight from one to the other; changing faces jump."""
        place = int(np.clip(np.searchsorted(self.seconds, seconds, side="right") - 1, 0, len(self.seconds) - 1))
        if self.meshes:
            return self.meshes[place]
        after = min(place + 1, len(self.seconds) - 1)
        gap = self.seconds[after] - self.seconds[place]
        share = np.float32(0 if gap <= 0 else np.clip((seconds - self.seconds[place]) / gap, 0, 1))
        one, other = self.poses[place], self.poses[after]
        normals = one.normals + (other.normals - one.normals) * share
        length = np.linalg.norm(normals, axis=1, keepdims=True)
        normals = np.where(length > 1e-6, normals / np.maximum(length, 1e-6), one.normals).astype(np.float32)
        points = (one.points + (other.points - one.points) * share).astype(np.float32)
        return replace(self.mesh, points=points, normals=normals)
