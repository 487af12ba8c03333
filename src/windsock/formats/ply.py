"""PLY in, and out (binary, little-endian) with colours and the values of the fields as attributes of the points."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import FACE_LIMIT, Mesh
from windsock.core.geometry.placement import moved, turned_normals
from windsock.core.kernels.srgb import encoded
from windsock.core.refusals import Refusal
from windsock.formats.colours import seen_colours
from windsock.formats.limits import POINT_LIMIT
from windsock.formats.ply_faces import with_triangles
from windsock.formats.scene import read_scene

if TYPE_CHECKING:  # who only reads files need not wait for the evaluator
    from windsock.core.evaluate.frame import Frame

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


def write_ply(frame: Frame, fields: dict[str, list[NDArray[np.float64]]]) -> bytes:
    """A frame's faces in world metres, all shapes together, with the colours of their points in sRGB.

    fields: for each property name, for each draw item in order, (n,) values at its points.
    """
    columns: list[tuple[str, NDArray[np.generic]]] = []
    points = np.concatenate([moved(item.body.mesh.points, item.matrix) for item in frame.draw] or [np.zeros((0, 3))])
    normals = np.concatenate(
        [turned_normals(item.body.mesh.normals, item.matrix) for item in frame.draw] or [np.zeros((0, 3))]
    )
    for name, values in zip(("x", "y", "z", "nx", "ny", "nz"), (*points.T, *normals.T), strict=True):
        columns.append((name, values))
    colours = [encoded(seen_colours(item.body.mesh, item.body.look)) for item in frame.draw] or [np.zeros((0, 3))]
    tints = np.rint(np.concatenate(colours) * 255).astype(np.uint8)
    for name, values in zip(("red", "green", "blue"), tints.T, strict=True):
        columns.append((name, values))
    for name, parts in fields.items():
        columns.append((name, np.concatenate(parts)))
    kinds = {name: "u1" if values.dtype == np.uint8 else "<f4" for name, values in columns}
    table = np.zeros(len(points), dtype=list(kinds.items()))
    for name, values in columns:
        table[name] = values
    starts = np.cumsum([0] + [len(item.body.mesh.points) for item in frame.draw])
    corners = [item.body.mesh.faces + int(start) for item, start in zip(frame.draw, starts, strict=False)]
    faces = np.zeros(sum(len(part) for part in corners), dtype=[("count", "u1"), ("corners", "<i4", (3,))])
    faces["count"] = 3
    if corners:
        faces["corners"] = np.concatenate(corners)
    header = ["ply", "format binary_little_endian 1.0", "comment metres, Y up", f"element vertex {len(table)}"]
    header += [f"property {'uchar' if kind == 'u1' else 'float'} {name}" for name, kind in kinds.items()]
    header += [f"element face {len(faces)}", "property list uchar int vertex_indices", "end_header", ""]
    return "\n".join(header).encode() + table.tobytes() + faces.tobytes()
