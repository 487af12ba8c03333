"""PLY in, and out (binary, little-endian) with colours and the values of the fields as attributes of the points."""

from __future__ import annotations

from typing import TYPE_CHECKING

from windsock.core.geometry.mesh import FACE_LIMIT, Mesh
from windsock.core.refusals import Refusal
from windsock.formats.limits import POINT_LIMIT
from windsock.formats.ply_faces import with_triangles
from windsock.formats.scene import read_scene

if TYPE_CHECKING:  # who only reads files need not wait for the evaluator
    pass

HEADER_LIMIT = 64 * 1024
"""Bytes within which the header of a file must end."""


UNREADABLE = (
    "The file is not a whole PLY file. Nothing was imported. Write it again from where it was made, and drop it here."
)


def read_ply(content: bytes) -> Mesh:
    """The mesh of a PLY file, text or binary, with colours and the numbers of its own on its points. Raises Refusal."""
    end = content.find(b"end_header", 0, HEADER_LIMIT)
    if not content.startswith(b"ply") or end < 0:
        raise Refusal(UNREADABLE)
    header = content[:end].decode("ascii", errors="replace").split("\n")
    elements: dict[str, int] = {}
    normals = False
    for line in header:
        words = line.split()
        if words[:1] == ["element"]:
            if len(words) != 3 or not words[2].isascii() or not words[2].isdigit() or words[1] in elements:
                raise Refusal(UNREADABLE)
            elements[words[1]] = int(words[2])
        normals = normals or words[-1:] == ["nx"]
    points, faces = elements.get("vertex", 0), elements.get("face", 0)
    if points == 0 or faces == 0:
        raise Refusal("The file holds no faces. Nothing was imported. Write it with its surfaces as faces.")
    if max(elements.values()) > POINT_LIMIT or faces > FACE_LIMIT:
        raise Refusal(
            f"The file has {faces:,} faces and {points:,} points; the limit is {FACE_LIMIT:,} faces. Nothing was imported. Reduce it before writing it."
        )
    if sum(elements.values()) > len(content):
        raise Refusal(UNREADABLE)
    return read_scene(with_triangles(content), "ply", keeps_normals=normals, colour_is_linear=False)
