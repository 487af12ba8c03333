"""A shape that came from a file."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field

from windsock.core.declarations import ContentHash, Declared, Quantity
from windsock.core.geometry.clip import Clip
from windsock.core.geometry.mending import mended
from windsock.core.geometry.mesh import Mesh
from windsock.core.shapes.geometry import Assets, BroughtFile, Courses, GeometryBase
from windsock.core.timing.parameter import Finite, Moment, NumberParameter, Vector

UP_AXES = {
    "x": np.array([[0, -1, 0], [1, 0, 0], [0, 0, 1]], dtype=np.float32),
    "y": np.eye(3, dtype=np.float32),
    "z": np.array([[1, 0, 0], [0, 0, 1], [0, -1, 0]], dtype=np.float32),
}
"""For the axis that points up in the file, the rotation that makes it Y."""


class Motion(Declared):
    """How the movement of a file is played."""

    start: Annotated[
        NumberParameter, Quantity("Seconds of the shot at which it begins", unit="s", low=-1e4, high=1e4)
    ] = 0.0
    speed: Annotated[NumberParameter, Quantity("Times as fast as in the file", unit="×", low=0.001, high=1000)] = 1.0
    after: Literal["stays", "again", "back"] = "again"


class Imported(GeometryBase):
    """The mesh of an imported file, which is known by the SHA-256 of its bytes. motion: None where it stands still."""

    kind: Literal["imported"] = "imported"
    asset: ContentHash
    scale: Annotated[Finite, Quantity("Metres for one unit of the file", unit="m", low=1e-6, high=1e6)] = 1.0
    up: Literal["x", "y", "z"] = "y"
    motion: Motion | None = None
    mended: Annotated[bool, Field(description="Without faces of no area, doubled and wrongly turned ones")] = False

    @classmethod
    def from_file(cls, file: BroughtFile) -> tuple[Self, Vector] | None:
        if file.sort != "mesh":
            return None
        corners = np.array([file.low, file.high]) @ UP_AXES[file.up].T * file.scale
        low, high = corners.min(axis=0), corners.max(axis=0)
        x, y, z = (round(float(metres), 4) for metres in (-(low[0] + high[0]) / 2, -low[1], -(low[2] + high[2]) / 2))
        motion = Motion() if file.moves else None
        return cls(asset=file.asset, scale=file.scale, up=file.up, motion=motion, mended=file.mended), (x, y, z)

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        del courses
        clip = assets.clip(self.asset) if self.motion is not None else None
        return place_imported(self, assets.mesh(self.asset), clip, at)

    def face_count(self) -> int:
        return 0

    def faces_from(self, assets: Assets | None, courses: Courses) -> int:
        del courses
        return len(assets.mesh(self.asset).faces) if assets else 0

    def fitting(self, faces: int) -> str:
        return f"A file of {max(faces, 0):,} faces would fit."

    def plays(self) -> bool:
        return self.motion is not None


def place_imported(imported: Imported, mesh: Mesh, clip: Clip | None, at: Moment) -> Mesh:
    """The file's mesh in metres with Y up, as it is at a moment; its rest is the first moment of the file."""
    turn, scale = UP_AXES[imported.up], np.float32(imported.scale)
    posed = mesh if clip is None or imported.motion is None else clip.at(file_seconds(imported.motion, clip, at))

    def placed(points: np.ndarray) -> np.ndarray:
        return (points @ turn.T * scale).astype(np.float32)

    points = placed(posed.points)
    rest = points if posed is mesh else placed(posed.rest)
    made = replace(posed, points=points, rest=rest, normals=(posed.normals @ turn.T).astype(np.float32))
    return mended(made)[0] if imported.mended else made


def file_seconds(motion: Motion, clip: Clip, at: Moment) -> float:
    """The moment of the file that is shown at a moment of the shot."""
    come = (at.seconds - at(motion.start)) * at(motion.speed)
    if clip.length <= 0 or motion.after == "stays":
        return min(max(come, 0.0), clip.length)
    if motion.after == "again":
        return come % clip.length
    turn = come % (2 * clip.length)
    return min(turn, 2 * clip.length - turn)
