"""Waves on a mesh by the wave equation: heights and their speeds, taken through time in steps that are always short enough."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, exp

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled, loop, parallel
from windsock.core.kernels.laplacian import border_lengths, cotangent_weights

Reals = NDArray[np.float64]
Floats = NDArray[np.float32]
Integers = NDArray[np.int32]

SAFE = 0.9
"""Share of the longest stable step that is taken."""

NOTHING = 1e-12
"""Pulls are none that are so small a share of the largest."""

MOST_BANDS = 12
"""So many ways to their neighbours have places on a grid, at most."""

BLOCK = 2048
"""Places that are worked on together."""

MOST_STEPS = 64
"""Steps in a tick at most; places on faces so small that they would need more are made heavier."""


@dataclass(frozen=True, eq=False)
class Membrane:
    """A mesh as a membrane of n places. starts, beside, pull: its Laplacian in compressed rows, each row divided by the mass; of a grid, none
    of these, but apart, bands: (k,) by how many places those are apart that pull at each other, and (k, n) how much. border: (n,) metres
    of open edge over mass. stiffest: the largest that any wave number squared can be."""

    starts: Integers
    beside: Integers
    pull: Reals
    apart: NDArray[np.int64]
    bands: Reals
    border: Reals
    stiffest: float

    @property
    def nbytes(self) -> int:
        held = (self.starts, self.beside, self.pull, self.apart, self.bands, self.border)
        return sum(one.nbytes for one in held)


def membrane(points: Reals, faces: NDArray[np.int64], finest: float) -> Membrane:
    """A mesh as a membrane. points: (n, 3) metres; faces: (m, 3). finest: metres over which a wave has to be right; places whose
    faces are much finer are made heavier, which keeps all steps short enough."""
    weights, mass = cotangent_weights(points, faces)
    # Across the diagonal of a right-angled cell there is no pull but for rounding.
    weights.data[np.abs(weights.data) < NOTHING * np.abs(weights.data).max(initial=0.0)] = 0.0
    weights.eliminate_zeros()
    total = np.asarray(weights.sum(axis=1)).ravel()
    # A regular grid of cells of a size has 4 / size squared here.
    mass = np.maximum(mass, total * finest**2 / 4)
    mass = np.where(mass > 0, mass, 1.0)
    rows = np.repeat(np.arange(len(points)), np.diff(weights.indptr))
    pull = weights.data / mass[rows]
    stiffest = 2 * float((total / mass).max(initial=0.0))
    border = border_lengths(points, faces) / mass
    starts, beside = weights.indptr.astype(np.int32), weights.indices.astype(np.int32)
    apart, which = np.unique(beside - rows, return_inverse=True)
    bands = np.zeros((len(apart) if len(apart) <= MOST_BANDS else 0, len(points)))
    if len(bands):
        bands[which, rows] = pull
        starts, beside, pull = starts[:0], beside[:0], pull[:0]
    return Membrane(starts, beside, pull, apart[: len(bands)], bands, border, max(stiffest, 1e-12))


def rippled(
    on: Membrane, height: Reals, rate: Reals, speed: float, damping: float, swallow: bool, seconds: float
) -> tuple[Reals, Reals]:
    """(n,) heights and (n,) their rates after so many seconds. speed: metres per second; damping: share of the rate lost in a second, as
    an exponent. swallow: open edges take waves in (B. Engquist and A. Majda, "Absorbing boundary conditions", 1977, of first order),
    else they throw them back.

    Method: the mesh Laplacian in space, leapfrog in time in its symplectic form (E. Hairer, C. Lubich and G. Wanner, 2003), with steps
    below 2 / (speed x the highest wave number), which no setting can make unstable.
    """
    if seconds <= 0 or len(height) == 0:
        return height.copy(), rate.copy()
    steps = max(1, ceil(seconds * speed * on.stiffest**0.5 / (2 * SAFE)))
    step = seconds / steps
    left, taken = exp(-damping * step), step * speed if swallow else 0.0
    border = on.border if taken > 0 else on.border[:0]
    now, then = (height, rate), (np.empty_like(height), np.empty_like(rate))
    for one in range(steps):
        laplacian = on.starts, on.beside, on.pull, on.apart, on.bands
        _stepped(*laplacian, border, *now, step * speed * speed, step, left, taken, *then)
        now, then = then, now if one else (np.empty_like(height), np.empty_like(rate))
    return now


@parallel
def _stepped(
    starts: Integers,
    beside: Integers,
    pull: Reals,
    apart: NDArray[np.int64],
    bands: Reals,
    border: Reals,
    height: Reals,
    rate: Reals,
    push: float,
    step: float,
    left: float,
    taken: float,
    gone: Reals,
    faster: Reals,
):  # pragma: no cover - compiled
    count = len(height)
    for block in loop((count + BLOCK - 1) // BLOCK):
        low, high = block * BLOCK, min((block + 1) * BLOCK, count)
        force = np.zeros(high - low)
        if len(bands):
            for band in range(len(apart)):
                way = apart[band]
                begin, end = max(low, -way), min(high, count - way)
                if begin < end:
                    _added(
                        height[begin + way : end + way],
                        height[begin:end],
                        bands[band, begin:end],
                        force[begin - low : end - low],
                    )
        else:
            for place in range(low, high):
                own = height[place]
                for row in range(starts[place], starts[place + 1]):
                    force[place - low] += pull[row] * (height[beside[row]] - own)
        _gone_on(
            height[low:high],
            rate[low:high],
            border[low:high],
            force,
            push,
            step,
            left,
            taken,
            gone[low:high],
            faster[low:high],
        )


@compiled
def _added(beside: Reals, own: Reals, pull: Reals, force: Reals):  # pragma: no cover - compiled
    for one in range(len(force)):
        force[one] += pull[one] * (beside[one] - own[one])


@compiled
def _gone_on(
    height: Reals,
    rate: Reals,
    border: Reals,
    force: Reals,
    push: float,
    step: float,
    left: float,
    taken: float,
    gone: Reals,
    faster: Reals,
):  # pragma: no cover - compiled
    for one in range(len(height)):
        quick = (rate[one] + push * force[one]) * left
        if len(border):
            quick /= 1.0 + taken * border[one]
        faster[one] = quick
        gone[one] = height[one] + step * quick
