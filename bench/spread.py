"""Fronts over a surface: solving their map, and reading it for one frame."""

from __future__ import annotations

import numpy as np
import potpourri3d

from bench.measuring import Bench, clocked, side_by_side
from windsock.core.fields.spread import front_values
from windsock.core.kernels.arrival import arrival_times, surface_of
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment


def spread_solve() -> Bench:
    mesh = build_sphere(Sphere(build="latitude", segments=400, rings=252), Moment(0, 0))
    number, first, place = np.unique(mesh.number, return_index=True, return_inverse=True)
    points, faces = mesh.points[first].astype(float), place[mesh.faces]
    surface = surface_of(points, faces)
    starts, slowness = np.full(len(number), np.inf), np.ones(len(number))
    starts[0] = 0.0
    other = potpourri3d.MeshFastMarchingDistanceSolver(points, faces)
    ours, reference = side_by_side(
        clocked(lambda: arrival_times(surface, starts, slowness)),
        clocked(lambda: other.compute_distance([[(0, [])]])),
        rounds=7,
    )
    return Bench(
        "spread-solve",
        ours,
        reference,
        0.2,
        f"arrival times at {len(number):,} points at one speed, against potpourri3d's fast marching; each prepared before",
    )


def spread_frame() -> Bench:
    travel = np.random.default_rng(1).random(1_000_000) * 5
    ours, reference = side_by_side(
        clocked(lambda: front_values(travel, 2.5, 0.2)), clocked(lambda: travel.copy()), rounds=25
    )
    return Bench(
        "spread-frame", ours, reference, 4, "the values of one frame from 1M arrivals, against one read of them"
    )
