"""The colours of points as formats write them: their own, with pictures, and the look's where they have none."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.look import Look


def seen_colours(mesh: Mesh, look: Look, pictures: bool = True) -> Floats:
    """(n, 3) linear colours at the points. pictures: with those of the pictures there."""
    own = mesh.seen_colour() if pictures else mesh.colour
    base = np.array(linear_from_hex(look.base_colour), dtype=np.float32)
    if own is None:
        return np.tile(base, (len(mesh.points), 1))
    return np.where(np.isnan(own), base, own).astype(np.float32)


def tinted(mesh: Mesh, look: Look, pictures: bool = True) -> NDArray[np.float32] | None:
    """(n, 4) linear colour and opacity of each point where the mesh has either, the look's base colour filled in.

    pictures: the colour is that of the pictures at the points.
    """
    if mesh.colour is None and mesh.opacity is None:
        return None
    tint = np.ones((len(mesh.points), 4), dtype=np.float32)
    tint[:, :3] = seen_colours(mesh, look, pictures)
    if mesh.opacity is not None:
        tint[:, 3] = mesh.opacity
    return tint
