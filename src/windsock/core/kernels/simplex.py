"""Simplex noise in three dimensions, whose gradients may turn with time.

Method: K. Perlin, "Noise hardware", SIGGRAPH course 2001, in the form that S. Gustavson, "Simplex noise demystified", 2005,
spells out: a skewed lattice, four corners a point, each with the kernel max(0, 0.5 - r^2)^4 (of 0.6 small jumps would remain). Turning gradients: K. Perlin
and F. Neyret, "Flow noise", SIGGRAPH 2001. Here each gradient is a direction of its own on the circle about an axis of
its own, and turns with a speed of its own, so that no moment repeats an earlier one; or by whole turns, so that all do.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import Whole, compiled, inlined, loop, parallel

SIMPLEX_NOISE_PEAK = 0.0092891
"""The largest magnitude for gradients of length 1, found numerically; values are divided by it."""

CHUNK = 1024
U = np.uint32


def simplex_noise(
    points: NDArray[np.float64], turned: float, seed: int, whole_turns: bool = False
) -> NDArray[np.float64]:
    """(n,) noise in -1..1 at (n, 3) points, in lattice cells.

    turned: how far the gradients have turned on average, in turns. whole_turns: every gradient turns by one or two times
    `turned`, so that whole numbers of it give one pattern; otherwise by anything from half to one and a half of it.
    """
    values = np.empty(len(points), dtype=np.float64)
    _simplex(np.ascontiguousarray(points, dtype=np.float64), turned, U(seed & 0xFFFFFFFF), whole_turns, values)
    return values


@parallel
def _simplex(
    points: NDArray[np.float64], turned: float, seed: np.uint32, whole_turns: bool, values: NDArray[np.float64]
):  # pragma: no cover - compiled
    for chunk in loop((len(points) + CHUNK - 1) // CHUNK):
        for index in range(chunk * CHUNK, min(len(points), (chunk + 1) * CHUNK)):
            x, y, z = points[index, 0], points[index, 1], points[index, 2]
            values[index] = _at(x, y, z, turned, seed, whole_turns) / SIMPLEX_NOISE_PEAK


@compiled
def _at(x: float, y: float, z: float, turned: float, seed: np.uint32, whole_turns: bool):  # pragma: no cover - compiled
    skew = (x + y + z) / 3.0
    i, j, k = np.floor(x + skew), np.floor(y + skew), np.floor(z + skew)
    back = (i + j + k) / 6.0
    x0, y0, z0 = x - (i - back), y - (j - back), z - (k - back)
    over_x = (x0 >= y0) + (x0 >= z0)  # how many of the others each coordinate is over: 0, 1 and 2
    over_y = (y0 > x0) + (y0 >= z0)
    over_z = (z0 > x0) + (z0 > y0)
    i1, j1, k1 = over_x == 2, over_y == 2, over_z == 2
    i2, j2, k2 = over_x >= 1, over_y >= 1, over_z >= 1
    cell = (np.int64(i), np.int64(j), np.int64(k))
    total = _corner(x0, y0, z0, cell[0], cell[1], cell[2], turned, seed, whole_turns)
    sixth = 1.0 / 6.0
    total += _corner(
        x0 - i1 + sixth,
        y0 - j1 + sixth,
        z0 - k1 + sixth,
        cell[0] + i1,
        cell[1] + j1,
        cell[2] + k1,
        turned,
        seed,
        whole_turns,
    )
    total += _corner(
        x0 - i2 + 2 * sixth,
        y0 - j2 + 2 * sixth,
        z0 - k2 + 2 * sixth,
        cell[0] + i2,
        cell[1] + j2,
        cell[2] + k2,
        turned,
        seed,
        whole_turns,
    )
    total += _corner(x0 - 0.5, y0 - 0.5, z0 - 0.5, cell[0] + 1, cell[1] + 1, cell[2] + 1, turned, seed, whole_turns)
    return total


@compiled
def _corner(
    x: float, y: float, z: float, i: Whole, j: Whole, k: Whole, turned: float, seed: np.uint32, whole_turns: bool
):  # pragma: no cover - compiled
    near = 0.5 - x * x - y * y - z * z
    if near <= 0:
        return 0.0
    mixed = U(U(i & 0xFFFFFFFF) * U(0x8DA6B343)) ^ U(U(j & 0xFFFFFFFF) * U(0xD8163841))
    mixed = _mixed(U(mixed ^ U(U(k & 0xFFFFFFFF) * U(0xCB1AB31F)) ^ seed))
    height = 2.0 * ((mixed >> U(8)) / 16777216.0) - 1.0
    second = _mixed(U(mixed + U(0x9E3779B9)))
    angle = 2.0 * np.pi * ((second >> U(8)) / 16777216.0)
    third = _mixed(U(second + U(0x9E3779B9)))
    one_or_two = 1.0 if third & U(1) else 2.0
    speed = one_or_two if whole_turns else 0.5 + (third >> U(8)) / 16777216.0
    angle += 2.0 * np.pi * turned * speed
    flat = np.sqrt(max(0.0, 1.0 - height * height))
    slope = flat * np.cos(angle) * x + flat * np.sin(angle) * y + height * z
    around = U(third >> U(4)) % U(3)  # the axis about which this gradient turns
    if around == 1:
        slope = flat * np.cos(angle) * y + flat * np.sin(angle) * z + height * x
    elif around == 2:
        slope = flat * np.cos(angle) * z + flat * np.sin(angle) * x + height * y
    near *= near
    return near * near * slope


@inlined
def _mixed(bits: np.uint32):  # pragma: no cover - compiled
    bits = U(U(bits ^ U(bits >> U(16))) * U(0x85EBCA6B))
    bits = U(U(bits ^ U(bits >> U(13))) * U(0xC2B2AE35))
    return U(bits ^ U(bits >> U(16)))
