"""PLY out: a frame with the values of the shot's fields at its points."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator, Frame
from windsock.core.geometry.placement import moved, turned_normals
from windsock.core.kernels.srgb import encoded
from windsock.formats.colours import seen_colours
from windsock.writers.fields import named_values, property_name
from windsock.writers.writer import FrameWriter, Shown


class PlyWriter(FrameWriter):
    """PLY with the fields, for each frame a file."""

    name = "ply"
    called = "PLY with the fields"
    ending = "ply"
    media = "model/ply"

    def write(self, shown: Shown) -> bytes:
        return ply_with_fields(shown.evaluator, shown.shot, shown.frame)


def ply_with_fields(evaluator: Evaluator, shot: Shot, frame: Frame) -> bytes:
    """A frame as PLY with a point property `field_A` for every field of the shot."""
    measured = [named_values(evaluator, shot, item, frame.moment.frame) for item in frame.draw]
    names = [property_name(field) for field in shot.fields.values()]
    return write_ply(frame, {name: [one[name] for one in measured] for name in names})


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
