"""The patterns of noise, each in octaves: every further one has twice the frequency and half the height."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.cellular import MEAN_DISTANCE, nearest_strewn
from windsock.core.kernels.evolving import evolving_noise
from windsock.core.kernels.noise import gradient_noise
from windsock.core.kernels.simplex import simplex_noise

Values = NDArray[np.float64]
Pattern = Literal["gradient", "simplex", "cellular", "ridged", "billow", "tongues"]

TONGUE_HEIGHT = 2.6
"""How much taller than wide a tongue is."""


@dataclass(frozen=True)
class Phase:
    """How far a pattern has evolved. turns: after so much of it the pattern comes back; 0: never."""

    come: float
    turns: int


def pattern(kind: Pattern, cells: Values, seed: int, octaves: int, phase: Phase) -> Values:
    """(n,) values in 0..1 at (n, 3) places in cells of the first octave.

    gradient, simplex: smooth, about 1/2. cellular: distance to strewn points, its mean at 1/2. ridged: (1 - |n|)^2 of
    gradient noise n, crests where it is 0. billow: 2 |n|, lumps with creases between. tongues: see `_tongues`.
    """
    still = phase.come == 0 and phase.turns == 0
    if kind == "gradient" and still:
        return 0.5 + 0.5 * gradient_noise(cells, seed, octaves)
    if kind == "gradient":
        return 0.5 + 0.5 * layered(cells, seed, octaves, phase, evolved)
    if kind == "simplex":
        return 0.5 + 0.5 * layered(cells, seed, octaves, phase, _simplex)
    if kind == "cellular":
        return layered(cells, seed, octaves, phase, _cellular)
    if kind == "ridged":
        return layered(cells, seed, octaves, phase, _ridge)
    if kind == "billow":
        return np.minimum(1.0, 2 * layered(cells, seed, octaves, phase, _lump))
    return _tongues(cells, seed, octaves, phase)


Layer = Callable[[Values, int, Phase], Values]
"""One octave: (n, 3) places in its own cells, a seed and how far it has evolved, to (n,) values."""


def layered(cells: Values, seed: int, octaves: int, phase: Phase, layer: Layer) -> Values:
    """(n,) the mean of the octaves, weighted by their heights. An octave of twice the frequency evolves twice as fast."""
    total, height, heights = np.zeros(len(cells)), 1.0, 0.0
    for octave in range(octaves):
        faster = 2**octave
        own = (seed + octave * 0x9E3779B9) & 0xFFFFFFFF
        total += height * layer(cells * faster, own, Phase(phase.come * faster, phase.turns * faster))
        heights += height
        height *= 0.5
    return total / heights


def evolved(cells: Values, seed: int, phase: Phase) -> Values:
    """(n,) one octave of gradient noise in -1..1."""
    if phase.come == 0 and phase.turns == 0:
        return gradient_noise(cells, seed, 1)
    return evolving_noise(cells, phase.come, seed, phase.turns)


def _simplex(cells: Values, seed: int, phase: Phase) -> Values:
    return simplex_noise(cells, phase.come, seed, phase.turns > 0)


def _cellular(cells: Values, seed: int, phase: Phase) -> Values:
    return np.minimum(1.0, nearest_strewn(cells, phase.come, seed, phase.turns > 0) / (2 * MEAN_DISTANCE))


def _ridge(cells: Values, seed: int, phase: Phase) -> Values:
    return (1 - np.abs(evolved(cells, seed, phase))) ** 2


def _lump(cells: Values, seed: int, phase: Phase) -> Values:
    return np.abs(evolved(cells, seed, phase))


def _tongues(cells: Values, seed: int, octaves: int, phase: Phase) -> Values:
    """Crests drawn upward and pulled about, which rise as they evolve.

    Ridged noise in places that are shortened along Y, moved down by what has evolved, and pulled sideways by a noise that
    rises with it and changes, so that the crests lick to and fro. A pattern that comes back does so by repeating upward,
    after as many tongues as it evolves by.
    """
    x, y, z = cells.T
    places = np.column_stack([x, y / TONGUE_HEIGHT - phase.come, z])
    turns = phase.turns
    pull = [evolving_noise(places, phase.come, (seed + one) & 0xFFFFFFFF, turns, turns) for one in (11, 12)]
    places[:, 0] += 0.6 * pull[0]
    places[:, 2] += 0.6 * pull[1]

    def crest(finer: Values, own: int, then: Phase) -> Values:
        return (1 - np.abs(evolving_noise(finer, 0.0, own, 0, then.turns))) ** 2

    return layered(places, seed, octaves, phase, crest)
