"""Damped springs, stepped exactly: points that are drawn to places which move in a straight line for the step.

The equation is x'' + 2 z w x' + w^2 x = w^2 g(t), with w the circular frequency, z the damping ratio and g the place that
draws. For g = g0 + s t its solution is g - (2 z / w) s plus the free motion of the damped harmonic oscillator, which is
known in closed form below, at and above critical damping (any textbook of vibrations; the overshoot of its step response
is exp(-z pi / sqrt(1 - z^2))). So a step of any length makes no error of its own.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Reals = NDArray[np.float64]

RIGID = 1e-6
"""Looseness below which a point simply goes with the place that draws it."""


def spring_factors(looseness: Reals, swings: float, damping: float, seconds: float) -> Reals:
    """(n, 5) what a step needs of each point: four factors of the free motion, and how far drag holds it back.

    looseness: (n,) 0..1; the stiffness w^2 is that of `swings` free swings per second, divided by it. damping: the ratio
    z, 1 is critical. seconds: the length of the step.
    """
    factors = np.empty((len(looseness), 5))
    _factors(np.ascontiguousarray(looseness, dtype=np.float64), swings, damping, seconds, factors)
    return factors


def spring_step(
    place: Reals, velocity: Reals, start: Reals, end: Reals, seconds: float, factors: Reals, looseness: Reals
) -> tuple[Reals, Reals]:
    """(n, 3) places and velocities after a step in which the drawing places go straight from `start` to `end`, (n, 3)."""
    after, moving = np.empty_like(place), np.empty_like(velocity)
    _step(place, velocity, start, end, seconds, factors, looseness, after, moving)
    return after, moving


@compiled
def _factors(
    looseness: NDArray[np.float64], swings: float, damping: float, seconds: float, factors: NDArray[np.float64]
):  # pragma: no cover - compiled
    for point in range(len(looseness)):
        circular = 2 * np.pi * swings / np.sqrt(max(looseness[point], RIGID))
        if damping < 1:
            turning = circular * np.sqrt(1 - damping * damping)
            decay = np.exp(-damping * circular * seconds)
            even, odd = decay * np.cos(turning * seconds), decay * np.sin(turning * seconds) / turning
        elif damping == 1:
            even = np.exp(-circular * seconds)
            odd = even * seconds
        else:
            spread = circular * np.sqrt(damping * damping - 1)
            slow = np.exp((spread - damping * circular) * seconds)
            fast = np.exp(-(spread + damping * circular) * seconds)
            even, odd = (slow + fast) / 2, (slow - fast) / (2 * spread)
        factors[point, 0] = even + damping * circular * odd
        factors[point, 1] = odd
        factors[point, 2] = -circular * circular * odd
        factors[point, 3] = even - damping * circular * odd
        factors[point, 4] = 2 * damping / circular


@compiled
def _step(
    place: NDArray[np.float64],
    velocity: NDArray[np.float64],
    start: NDArray[np.float64],
    end: NDArray[np.float64],
    seconds: float,
    factors: NDArray[np.float64],
    looseness: NDArray[np.float64],
    after: NDArray[np.float64],
    moving: NDArray[np.float64],
):  # pragma: no cover - compiled
    for point in range(len(place)):
        for axis in range(3):
            slope = (end[point, axis] - start[point, axis]) / seconds
            if looseness[point] <= RIGID:
                after[point, axis] = end[point, axis]
                moving[point, axis] = slope
                continue
            held = factors[point, 4] * slope
            away = place[point, axis] - start[point, axis] + held
            speed = velocity[point, axis] - slope
            after[point, axis] = end[point, axis] - held + factors[point, 0] * away + factors[point, 1] * speed
            moving[point, axis] = slope + factors[point, 2] * away + factors[point, 3] * speed
