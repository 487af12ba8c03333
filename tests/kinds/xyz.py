"""A format, in and out: a line of three numbers for each point, three points for each face."""

from __future__ import annotations

import numpy as np

from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import moved
from windsock.formats.reader import Reader
from windsock.writers.writer import FrameWriter, Shown


def read_xyz(content: bytes) -> Mesh:
    """The faces of a file."""
    points = np.array(content.split(), dtype="f4").reshape(-1, 3)
    faces = np.arange(len(points), dtype="i4").reshape(-1, 3)
    return Mesh(points, points, np.tile(np.array([0, 1, 0], "f4"), (len(points), 1)), faces, np.arange(len(points)))


READER = Reader("xyz", "XYZ lists", read_xyz)


class XyzWriter(FrameWriter):
    """Corners of faces, a line each."""

    name = ending = "xyz"
    called = "XYZ list"
    media = "text/plain"

    def write(self, shown: Shown) -> bytes:
        corners = [moved(item.body.mesh.points, item.matrix)[item.body.mesh.faces.ravel()] for item in shown.frame.draw]
        return "\n".join(" ".join(f"{number:.6g}" for number in point) for one in corners for point in one).encode()
