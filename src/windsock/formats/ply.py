"""PLY (binary, little-endian) out, with the values of the fields as attributes of the points."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.evaluate.frame import Frame
from windsock.core.geometry.placement import moved, turned_normals


def write_ply(frame: Frame, fields: dict[str, list[NDArray[np.float64]]]) -> bytes:
    """A frame's faces in world metres, all shapes together.

    fields: for each property name, for each draw item in order, (n,) values at its points.
    """
    columns: list[tuple[str, NDArray[np.generic]]] = []
    points = np.concatenate([moved(item.body.mesh.points, item.matrix) for item in frame.draw] or [np.zeros((0, 3))])
    normals = np.concatenate(
        [turned_normals(item.body.mesh.normals, item.matrix) for item in frame.draw] or [np.zeros((0, 3))]
    )
    for name, values in zip(("x", "y", "z", "nx", "ny", "nz"), (*points.T, *normals.T), strict=True):
        columns.append((name, values))
    for name, parts in fields.items():
        columns.append((name, np.concatenate(parts)))
    table = np.zeros(len(points), dtype=[(name, "<f4") for name, _ in columns])
    for name, values in columns:
        table[name] = values
    starts = np.cumsum([0] + [len(item.body.mesh.points) for item in frame.draw])
    corners = [item.body.mesh.faces + int(start) for item, start in zip(frame.draw, starts, strict=False)]
    faces = np.zeros(sum(len(part) for part in corners), dtype=[("count", "u1"), ("corners", "<i4", (3,))])
    faces["count"] = 3
    if corners:
        faces["corners"] = np.concatenate(corners)
    header = ["ply", "format binary_little_endian 1.0", "comment metres, Y up", f"element vertex {len(table)}"]
    header += [f"property float {name}" for name, _ in columns]
    header += [f"element face {len(faces)}", "property list uchar int vertex_indices", "end_header", ""]
    return "\n".join(header).encode() + table.tobytes() + faces.tobytes()
