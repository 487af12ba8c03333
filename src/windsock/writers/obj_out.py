"""Wavefront OBJ out: a frame as text."""

from __future__ import annotations

import re

import numpy as np

from windsock.core.evaluate.frame import Frame
from windsock.core.geometry.placement import moved, turned_normals
from windsock.core.kernels.srgb import encoded
from windsock.formats.colours import seen_colours
from windsock.writers.writer import FrameWriter, Shown


class ObjWriter(FrameWriter):
    """OBJ, for each frame a file."""

    name = "obj"
    called = "OBJ"
    ending = "obj"
    media = "model/obj"

    def write(self, shown: Shown) -> bytes:
        return write_obj(shown.frame)


def write_obj(frame: Frame) -> bytes:
    """A frame's faces in world metres, Y up, an object for each shape, with normals, the colours of the points in sRGB behind
    their places, and, where there are any, u,v."""
    lines = ["# metres, Y up"]
    points_before, uv_before = 1, 1
    for item in frame.draw:
        mesh = item.body.mesh
        lines.append(f"o {_word(item.item)}")
        rows = np.column_stack([moved(mesh.points, item.matrix), encoded(seen_colours(mesh, item.body.look))]).tolist()
        lines += [f"v {x:.7g} {y:.7g} {z:.7g} {r:.4g} {g:.4g} {b:.4g}" for x, y, z, r, g, b in rows]
        lines += [f"vn {x:.5g} {y:.5g} {z:.5g}" for x, y, z in turned_normals(mesh.normals, item.matrix).tolist()]
        corners = (mesh.faces + points_before).tolist()
        if mesh.uv is None:
            lines += [f"f {a}//{a} {b}//{b} {c}//{c}" for a, b, c in corners]
        else:
            lines += [f"vt {u:.6g} {v:.6g}" for u, v in mesh.uv.tolist()]
            shift = uv_before - points_before
            lines += [f"f {a}/{a + shift}/{a} {b}/{b + shift}/{b} {c}/{c + shift}/{c}" for a, b, c in corners]
            uv_before += len(mesh.uv)
        points_before += len(mesh.points)
    return ("\n".join(lines) + "\n").encode()


def _word(name: str) -> str:
    return re.sub(r"\s+", "_", name)
