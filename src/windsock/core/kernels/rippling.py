"""Waves on a mesh by the wave equation: heights and their speeds, taken through time in steps that are always short enough."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, exp

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import loop, parallel
from windsock.core.kernels.laplacian import border_lengths, cotangent_weights

Reals = NDArray[np.float64]
Floats = NDArray[np.float32]
Integers = NDArray[np.int32]

SAFE = 0.9
"""Share of the longest stable step that is taken."""

MOST_STEPS = 64
"""Steps in a tick at most; places on faces so small that they would need more are made heavier."""


@dataclass(frozen=True, eq=False)
class Membrane:
    """A mesh as a membrane of n places. starts, beside, pull: its Laplacian in compressed rows, each row divided by the mass; border:
    (n,) metres of open edge over mass. stiffest: the largest that any wave number squared can be."""

    starts: Integers
    beside: Integers
    pull: Reals
    border: Reals
    stiffest: float

    @property
    def nbytes(self) -> int:
        return self.starts.nbytes + self.beside.nbytes + self.pull.nbytes + self.border.nbytes


def membrane(points: Reals, faces: NDArray[np.int64], finest: float) -> Membrane:
    """A mesh as a membrane. points: (n, 3) metres; faces: (m, 3). finest: metres over which a wave has to be right; places whose
    faces are much finer are made heavier, which keeps all steps short enough."""
    weights, mass = cotangent_weights(points, faces)
    weights.eliminate_zeros()
    total = np.asarray(weights.sum(axis=1)).ravel()
    # A regular grid of cells of a size has 4 / size squared here.
    mass = np.maximum(mass, total * finest**2 / 4)
    mass = np.where(mass > 0, mass, 1.0)
    rows = np.repeat(np.arange(len(points)), np.diff(weights.indptr))
    pull = weights.data / mass[rows]
    stiffest = 2 * float((total / mass).max(initial=0.0))
    border = border_lengths(points, faces) / mass
    return Membrane(
        weights.indptr.astype(np.int32), weights.indices.astype(np.int32), pull, border, max(stiffest, 1e-12)
    )


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
    gone, faster = np.empty_like(height), np.empty_like(rate)
    for _ in range(steps):
        _hasten(on.starts, on.beside, on.pull, on.border, height, rate, step * speed * speed, left, taken, faster)
        _go(height, faster, step, gone)
        height, rate = gone, faster
    return gone, faster


@parallel
def _hasten(
    starts: Integers,
    beside: Integers,
    pull: Reals,
    border: Reals,
    height: Reals,
    rate: Reals,
    push: float,
    left: float,
    taken: float,
    faster: Reals,
):  # pragma: no cover - compiled
    for place in loop(len(height)):
        own, force = height[place], 0.0
        for row in range(starts[place], starts[place + 1]):
            force += pull[row] * (height[beside[row]] - own)
        faster[place] = (rate[place] + push * force) * left / (1.0 + taken * border[place])


@parallel
def _go(height: Reals, rate: Reals, step: float, gone: Reals):  # pragma: no cover - compiled
    for place in loop(len(height)):
        gone[place] = height[place] + step * rate[place]
