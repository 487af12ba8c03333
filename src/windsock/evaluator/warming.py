"""Loads every compiled kernel before the first request, so that nobody waits for the compiler."""

from __future__ import annotations

import numpy as np

from windsock.core.kernels.affine import affine
from windsock.core.kernels.arrival import arrival_times, surface_of
from windsock.core.kernels.cellular import nearest_strewn
from windsock.core.kernels.evolving import evolving_noise
from windsock.core.kernels.noise import gradient_noise
from windsock.core.kernels.packing import packed_normals, packed_tint
from windsock.core.kernels.simplex import simplex_noise
from windsock.core.kernels.springs import spring_factors, spring_step


def warm_up() -> None:
    """Call each kernel once with the types that it is called with."""
    places = np.array([[0.0, 0, 0], [1, 0, 0], [0, 1, 0], [0.2, 0.1, 0]])
    gradient_noise(places, 0, 1)
    evolving_noise(places, 0.0, 0)
    simplex_noise(places, 0.0, 0)
    nearest_strewn(places, 0.0, 0)
    for points in (places, places.astype(np.float32)):
        affine(points, np.eye(4))
    packed_normals(places.astype(np.float32))
    packed_tint(1, np.ones(3, dtype=np.float32), None, None)
    surface = surface_of(places, np.array([[0, 1, 3], [1, 2, 3], [2, 0, 3]]))
    arrival_times(surface, np.array([0, np.inf, np.inf, np.inf]), np.ones(4))
    loose = np.ones(4)
    spring_step(places, places, places, places, 0.1, spring_factors(loose, 1.0, 0.2, 0.1), loose)
