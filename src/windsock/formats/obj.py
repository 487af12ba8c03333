"""Wavefront OBJ in: places, faces of any number of corners, normals, u,v, and colours behind the places."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
from scipy.spatial import KDTree

from windsock.core.evaluate.frame import FACE_LIMIT
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal
from windsock.formats.limits import POINT_LIMIT
from windsock.formats.scene import decoded, read_scene

COLOURED = re.compile(rb"^(v(?:[ \t]+[-+.\deE]+){3})(?:[ \t]+[-+.\deE]+){3}", re.MULTILINE)
NOT_A_NUMBER = re.compile(rb"^v[nt]?[ \t].*\b(nan|inf)", re.IGNORECASE | re.MULTILINE)


def read_obj(content: bytes) -> Mesh:
    """The mesh of an OBJ file. Materials and pictures beside it are not read. Raises Refusal."""
    points = content.count(b"\nv ") + content.startswith(b"v ")
    faces = content.count(b"\nf ") + content.startswith(b"f ")
    if points == 0 or faces == 0:
        raise Refusal(
            "The file holds no points and faces as OBJ writes them. Nothing was imported. Check that it is an OBJ file."
        )
    if points > POINT_LIMIT or faces > FACE_LIMIT:
        raise Refusal(
            f"The file has {faces:,} faces and {points:,} points; the limit is {FACE_LIMIT:,} faces. Nothing was imported. Reduce it before writing it."
        )
    if NOT_A_NUMBER.search(content):
        raise Refusal(
            "Points of the file have places that are not numbers. Nothing was imported. Mend the file and drop it again."
        )
    smooth = b"\nvn " in content
    coloured = COLOURED.search(content)
    if b"\nvt " not in content or coloured is None:
        return read_scene(content, "obj", keeps_normals=smooth, colour_is_linear=False)
    plain = read_scene(COLOURED.sub(rb"\1", content), "obj", keeps_normals=smooth, colour_is_linear=False)
    return _coloured(plain, content)


def _coloured(mesh: Mesh, content: bytes) -> Mesh:
    """The reader keeps either u,v or colours: colours are taken from the lines and laid on by place."""
    lines = [line.group(0).split()[1:7] for line in COLOURED.finditer(content)]
    told = np.array(lines, dtype=np.float64)
    _, nearest = KDTree(told[:, :3]).query(mesh.points)
    return replace(mesh, colour=decoded(np.clip(told[:, 3:], 0, 1))[nearest].astype(np.float32))
