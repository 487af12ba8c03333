"""STL in, binary or text: faces alone. Edges that bend by more than 40 degrees stay hard."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from windsock.core.geometry.mesh import FACE_LIMIT, Mesh
from windsock.core.kernels.creases import corner_normals
from windsock.core.refusals import Refusal
from windsock.formats.scene import read_scene

HARD = np.radians(40.0)


def read_stl(content: bytes) -> Mesh:
    """The mesh of an STL file. Raises Refusal."""
    text = content[:5].lower() == b"solid" and b"facet" in content[:2000]
    count = content.count(b"endfacet") if text else int.from_bytes(content[80:84], "little")
    if not text and len(content) != 84 + 50 * count:
        raise Refusal(
            "The file is not a whole STL file. Nothing was imported. Write it again from where it was made, and drop it here."
        )
    if count == 0 or count > FACE_LIMIT:
        raise Refusal(
            f"The file has {count:,} faces; from 1 to {FACE_LIMIT:,} are read. Nothing was imported. Write it with its surfaces, or reduce it."
        )
    mesh = read_scene(content, "stl", keeps_normals=False, colour_is_linear=False)
    corners = mesh.points[mesh.faces].astype(np.float64)
    facing = 0.5 * np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals = corner_normals(facing, mesh.number[mesh.faces], HARD).reshape(-1, 3)
    own = mesh.faces.ravel()
    points = mesh.points[own]
    faces = np.arange(len(own), dtype=np.int32).reshape(-1, 3)
    return replace(
        mesh, points=points, rest=points, normals=normals.astype(np.float32), faces=faces, number=mesh.number[own]
    )
