"""Drips from a front that travels over a surface: tongues that run ahead of it down the surface, and drops that hang from below."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import KDTree

Reals = NDArray[np.float64]

QUICK = 0.25
"""The front's travel for a metre that a drip runs at first."""

WIDEST = 0.98
"""Share of half the width of a drip beyond which nothing of it is."""


@dataclass(frozen=True, eq=False)
class Drips:
    """What drips make of a front. times: (n,) travel at which it comes to each point, never later than without them; hang: (n,) metres
    that each hangs down along the pull in the end, and since: (n,) the travel at which it begins to."""

    times: Reals
    hang: Reals
    since: Reals


def dripped(
    points: Reals, normals: Reals, times: Reals, starts: NDArray[np.int64], pull: Reals, length: Reals, width: float
) -> Drips:
    """A front with drips. points: (n, 3) metres; normals: (n, 3); times: (n,) infinite where it never comes; starts: (k,) the points where
    drips begin; pull: (3,) of length 1; length: (k,) metres; width: metres.

    Down the surface a drip runs straight on from where it begins, quickly at first and then ever more slowly (the way left falls by the
    same share in equal times); where the surface looks down it hangs instead.
    """
    made, hang, since = times.copy(), np.zeros(len(points)), np.full(len(points), np.inf)
    reached = np.isfinite(times[starts])
    starts, length = starts[reached], length[reached]
    if len(starts) == 0 or width <= 0:
        return Drips(made, hang, since)
    facing = normals[starts]
    down = facing @ pull
    along = pull - facing * down[:, None]
    steep = np.linalg.norm(along, axis=1)
    along /= np.maximum(steep, 1e-9)[:, None]
    side = np.cross(facing, along)
    runs, drops = length * steep, length * np.maximum(down, 0.0)
    near = KDTree(points).query_ball_point(points[starts], np.maximum(np.maximum(runs, width), 1e-9) * 1.1, workers=2)
    for one, about in enumerate(near):
        at = np.asarray(about, dtype=np.int64)
        off, begun = points[at] - points[starts[one]], float(times[starts[one]])
        ahead, across = off @ along[one], np.abs(off @ side[one]) / (width / 2)
        # What is beneath, on the other side of a thin wall, is no part of it.
        same = normals[at] @ facing[one] > 0
        in_run = same & (ahead >= 0) & (ahead < runs[one]) & (across < WIDEST)
        if in_run.any():
            way = ahead[in_run] + width * (1 / np.sqrt(1 - across[in_run] ** 2) - 1) / 2
            left = 1 - way / runs[one]
            late = np.where(left > 0, -QUICK * runs[one] * np.log(np.maximum(left, 1e-9)), np.inf)
            made[at[in_run]] = np.minimum(made[at[in_run]], begun + late)
        if drops[one] > 0:
            round_ = np.linalg.norm(off, axis=1) / (width / 2)
            inside = same & (round_ < 1)
            low = drops[one] * (1 - round_[inside] ** 2)
            lower = low > hang[at[inside]]
            hang[at[inside][lower]], since[at[inside][lower]] = low[lower], begun
    return Drips(made, hang, since)
