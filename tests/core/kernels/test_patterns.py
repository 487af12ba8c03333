"""The patterns of noise: ranges, octaves and coming back."""

from __future__ import annotations

from typing import get_args

import numpy as np
import pytest

from windsock.core.kernels.patterns import Pattern, Phase, pattern

PATTERNS = get_args(Pattern)
STILL = Phase(0.0, 0)


@pytest.mark.parametrize("kind", PATTERNS)
@pytest.mark.parametrize("octaves", [1, 4])
def test_no_pattern_leaves_its_range_and_each_uses_much_of_it(kind, octaves):
    places = np.random.default_rng(1).uniform(-60, 60, (60_000, 3))
    for phase in (STILL, Phase(0.7, 0)):
        values = pattern(kind, places, 3, octaves, phase)
        assert values.min() >= 0
        assert values.max() <= 1
        assert np.ptp(np.quantile(values, [0.02, 0.98])) > 0.2


@pytest.mark.parametrize("kind", PATTERNS)
def test_a_looped_pattern_comes_back_after_its_turns_and_changes_between(kind):
    places = np.random.default_rng(2).uniform(-6, 6, (3000, 3))
    for turns in (1, 3):
        first = pattern(kind, places, 5, 3, Phase(0.0, turns))
        np.testing.assert_allclose(pattern(kind, places, 5, 3, Phase(float(turns), turns)), first, atol=2e-6)
        assert np.abs(pattern(kind, places, 5, 3, Phase(turns * 0.45, turns)) - first).mean() > 0.02


@pytest.mark.parametrize("kind", PATTERNS)
def test_it_evolves_without_a_jump(kind):
    places = np.random.default_rng(3).uniform(-6, 6, (3000, 3))
    come = np.arange(0.9, 1.1, 0.002)
    told = np.array([pattern(kind, places, 5, 1, Phase(float(at), 0)) for at in come])
    assert np.abs(np.diff(told, axis=0)).max() < 0.05


@pytest.mark.parametrize("kind", PATTERNS)
@pytest.mark.parametrize("octaves", [1, 4])
@pytest.mark.parametrize("turns", [0, 2])
def test_no_jump_where_it_begins_to_evolve(kind, octaves, turns):
    """Also where a keyed evolution leaves 0: until then nothing has come."""
    places = np.random.default_rng(8).uniform(-6, 6, (3000, 3))
    first = pattern(kind, places, 5, octaves, Phase(0.0, turns))
    if kind != "tongues" or turns == 0:  # looped tongues repeat upward, also where they stand still
        np.testing.assert_allclose(pattern(kind, places, 5, octaves, STILL), first, atol=2e-6)
    soon = pattern(kind, places, 5, octaves, Phase(1e-4, turns))
    assert np.abs(soon - first).max() < 0.02


def test_tongues_rise_and_are_taller_than_wide():
    """What is here now is found higher up a moment later; along Y values stay alike for longer than along X."""
    places = np.random.default_rng(4).uniform(-30, 30, (20_000, 3))
    here = pattern("tongues", places, 1, 1, STILL)

    def likeness(shift, come=0.0):
        return np.corrcoef(here, pattern("tongues", places + shift, 1, 1, Phase(come, 0)))[0, 1]

    assert likeness([0, 0.5, 0]) > likeness([0.5, 0, 0]) + 0.1
    assert likeness([0, 0.26, 0], come=0.1) > likeness([0, -0.26, 0], come=0.1) + 0.1
