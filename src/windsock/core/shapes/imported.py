"""A shape that came from a file."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import StringConstraints

from windsock.core.declarations import Declared, Quantity
from windsock.core.geometry.mesh import Mesh
from windsock.core.timing.parameter import Finite

ContentHash = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]

UP_AXES = {
    "x": np.array([[0, -1, 0], [1, 0, 0], [0, 0, 1]], dtype=np.float32),
    "y": np.eye(3, dtype=np.float32),
    "z": np.array([[1, 0, 0], [0, 0, 1], [0, -1, 0]], dtype=np.float32),
}
"""For the axis that points up in the file, the rotation that makes it Y."""


class Imported(Declared):
    """The mesh of an imported file, which is known by the SHA-256 of its bytes."""

    kind: Literal["imported"] = "imported"
    asset: ContentHash
    scale: Annotated[Finite, Quantity("Metres for one unit of the file", unit="m", low=1e-6, high=1e6)] = 1.0
    up: Literal["x", "y", "z"] = "y"


def place_imported(imported: Imported, mesh: Mesh) -> Mesh:
    """The file's mesh in metres with Y up."""
    turn = UP_AXES[imported.up]
    points = (mesh.points @ turn.T * np.float32(imported.scale)).astype(np.float32)
    return replace(mesh, points=points, rest=points, normals=(mesh.normals @ turn.T).astype(np.float32))
