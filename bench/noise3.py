"""Gradient noise against a library that does the same, on one core each."""

from __future__ import annotations

import numba
import numpy as np
from pyfastnoiselite.pyfastnoiselite import FastNoiseLite, FractalType, NoiseType

from bench.measuring import Bench, clocked, side_by_side
from windsock.core.kernels.noise import gradient_noise

POINTS, OCTAVES = 1_000_000, 4


def noise3() -> Bench:
    points = np.random.default_rng(0).random((POINTS, 3)) * 20
    other = FastNoiseLite(1)
    other.noise_type, other.fractal_type = NoiseType.NoiseType_Perlin, FractalType.FractalType_FBm
    other.fractal_octaves, other.frequency = OCTAVES, 1.0
    columns = np.ascontiguousarray(points.T.astype(np.float32))
    threads = numba.get_num_threads()
    numba.set_num_threads(1)
    try:
        ours, reference = side_by_side(
            clocked(lambda: gradient_noise(points, 1, OCTAVES)), clocked(lambda: other.gen_from_coords(columns))
        )
    finally:
        numba.set_num_threads(threads)
    return Bench("noise3", ours, reference, 0.3, "1M points, 4 octaves, against pyfastnoiselite's Perlin noise")
