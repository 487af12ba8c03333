"""Files in: from bytes and a kind to a mesh, and what the mesh is."""

from __future__ import annotations

import numpy as np

from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal
from windsock.formats.glb import read_glb
from windsock.formats.limits import FILE_LIMIT
from windsock.formats.obj import read_obj
from windsock.formats.ply import read_ply
from windsock.formats.stl import read_stl

READERS = {"obj": read_obj, "glb": read_glb, "ply": read_ply, "stl": read_stl}
KINDS = "OBJ, GLB, PLY and STL"
"""As people read it."""


def read_mesh(content: bytes, kind: str) -> Mesh:
    """The mesh of a file. Raises Refusal in people's words."""
    if kind not in READERS:
        raise Refusal(f"Files of the kind “{kind}” are not read here. Nothing was imported. {KINDS} are.")
    if not content:
        raise Refusal("The file is empty. Nothing was imported. Write it again from where it was made.")
    if len(content) > FILE_LIMIT:
        raise Refusal(
            f"The file is {len(content) / 2**20:.0f} MB; the limit is {FILE_LIMIT // 2**20} MB. Nothing was imported. "
            "Save it smaller and drop it again."
        )
    return READERS[kind](content)


def open_edges(mesh: Mesh) -> int:
    """How many edges have one face alone, by place: 0 for a closed mesh."""
    _, place = np.unique(mesh.number, return_inverse=True)
    sides = np.sort(place[mesh.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)].astype(np.int64), axis=1)
    _, count = np.unique(sides[:, 0] * (int(place.max(initial=0)) + 1) + sides[:, 1], return_counts=True)
    return int((count == 1).sum())


def summary(mesh: Mesh) -> dict[str, object]:
    """What people want to know of an imported mesh: counts, and its size in the file's units."""
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    return {
        "faces": len(mesh.faces),
        "points": len(mesh.points),
        "low": low.tolist(),
        "high": high.tolist(),
        "has_uv": mesh.uv is not None,
        "has_colour": mesh.colour is not None,
        "measures": list(mesh.measures),
        "open_edges": open_edges(mesh),
        "doubled_points": len(mesh.points) - len(np.unique(mesh.number)),
    }
