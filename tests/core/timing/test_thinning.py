"""Few keys for many samples, against closed forms."""

from __future__ import annotations

import numpy as np
import pytest

from windsock.core.geometry.placement import rotation, turned_apart, turns_of
from windsock.core.timing.thinning import straight, thinned


def apart(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    return np.linalg.norm(one - other, axis=1)


@pytest.mark.parametrize("within", [0.2, 0.01, 0.0005])
def test_a_fall_is_as_near_as_asked_by_about_as_few_keys_as_can_be(within):
    """Closed form: a chord over a time h of a parabola is off by g h^2 / 8 at most, so that it takes T / sqrt(8 e / g) chords;
    halving finds no more than about twice as many."""
    times = np.linspace(0, 2, 4801)
    values = np.stack([times, -9.81 / 2 * times**2, 0 * times], axis=1)
    kept = thinned(times, values, within, apart, 1000)
    assert kept is not None
    assert apart(straight(times[kept], values[kept], times), values).max() <= within
    fewest = 2 / np.sqrt(8 * within / 9.81)
    assert fewest - 1 <= len(kept) - 1 <= 2 * fewest + 1


def test_corners_are_kept_where_they_are_and_nothing_between():
    times = np.linspace(0, 3, 301)
    values = np.interp(times, [0, 1, 1.5, 3], [0, 2, -1, -1])[:, None]
    kept = thinned(times, values, 1e-9, apart, 1000)
    assert kept is not None
    assert times[kept] == pytest.approx([0, 1, 1.5, 3])


def test_what_takes_too_many_keys_is_given_up():
    values = np.random.default_rng(1).normal(size=(5000, 3))
    assert thinned(np.arange(5000.0), values, 1e-6, apart, 1000) is None


@pytest.mark.parametrize("about", [(0, 1, 0), (1, 0, 0), (0.3, 0.9, -0.2)])
def test_turns_go_on_without_jumps_and_are_the_same_rotations(about):
    """Three rounds about an axis; Rodrigues' formula for the rotations."""
    x, y, z = np.array(about) / np.linalg.norm(about)
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    angles = np.linspace(0, 6 * np.pi, 2000)
    rotations = (
        np.eye(3) + np.sin(angles)[:, None, None] * cross + (1 - np.cos(angles))[:, None, None] * (cross @ cross)
    )
    turns = turns_of(rotations)
    for place in (0, 700, 1999):
        np.testing.assert_allclose(rotation(tuple(turns[place])), rotations[place], atol=1e-6)
    assert np.abs(np.diff(turns, axis=0)).max() < 5.0
    step = np.degrees(6 * np.pi / 1999)
    np.testing.assert_allclose(turned_apart(turns[1:], turns[:-1]), step, rtol=1e-4)
