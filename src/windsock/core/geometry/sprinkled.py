"""Places spread evenly over the faces of a mesh, the same ones from frame to frame as long as the faces are as large."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.breaking import hashed
from windsock.core.geometry.mesh import Mixture
from windsock.core.kernels.mixing import canonical

Reals = NDArray[np.float64]


def sprinkled(points: Reals, faces: NDArray[np.integer], apart: float, most: int) -> Mixture | None:
    """Places on faces, no further from each other than so many metres, the corners of faces among them. points: (n, 3), faces: (m, 3).
    None where there would be more of them than `most`."""
    corners = points[faces]
    longest = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2).max(axis=1, initial=0)
    times = np.maximum(np.ceil(longest / max(apart, 1e-12)), 1)
    if float(((times + 1) * (times + 2) / 2).sum()) > most:
        return None
    held: list[NDArray[np.int64]] = [np.zeros((0, 3), dtype=np.int64)]
    shares: list[Reals] = [np.zeros((0, 3))]
    for time in np.unique(times):
        which = faces[times == time].astype(np.int64)
        if time == 1:
            # Faces that are so small are known by their corners, each of them once.
            corner = np.unique(which)
            held.append(np.repeat(corner[:, None], 3, axis=1))
            shares.append(np.tile([1.0, 0.0, 0.0], (len(corner), 1)))
            continue
        lattice = _lattice(int(time))
        held.append(np.repeat(which, len(lattice), axis=0))
        shares.append(np.tile(lattice, (len(which), 1)))
    # Each place on a side that two faces have in common is there once.
    corners_of, share = canonical(np.concatenate(held), np.concatenate(shares))
    names = hashed(corners_of, np.round(share * 1e6).astype(np.int64))
    _, first = np.unique(names, return_index=True)
    first.sort()
    return Mixture(corners_of[first], share[first])


def _lattice(times: int) -> Reals:
    """(k, 3) shares of the corners of a triangle at the nodes of a lattice with so many steps along a side."""
    one, two = np.meshgrid(np.arange(times + 1), np.arange(times + 1), indexing="ij")
    inside = one + two <= times
    a, b = one[inside], two[inside]
    return np.stack([times - a - b, a, b], axis=1) / times
