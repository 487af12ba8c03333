"""Time: a source that needs no past. Its forms written out anew, and its staggers in seconds."""

from __future__ import annotations

import numpy as np
import pytest
from histories import points_of, subject_shot, values_at

SHEET = {"kind": "plane", "width": 4.0, "depth": 1.0, "columns": 40, "rows": 4}


def time(**settings) -> dict:
    source = {"kind": "time", "fall": "straight", "start": 1.0, "length": 2.0} | settings
    return subject_shot(SHEET, {"t": {"sources": {"s": source}}}, place=[-2.0, 0.0, 0.0])


@pytest.mark.parametrize("fps", [24, 30])
def test_a_ramp_a_pulse_and_a_beat(fps):
    def at(second: float, **settings) -> float:
        document = time(**settings) | {"rate": {"numerator": fps, "denominator": 1}}
        found = values_at(document, "t", second * fps)
        assert np.all(found == found[0])
        return found[0]

    assert [at(s) for s in (0.5, 1.0, 2.0, 3.0, 9.0)] == [0, 0, 0.5, 1, 1]
    assert [at(s, form="pulse") for s in (0.5, 1.5, 2.0, 2.5, 3.5)] == [0, 0.5, 1, 0.5, 0]
    beats = [at(s, form="beat", every=4.0) for s in (0.5, 2.0, 3.5, 6.0, 10.0)]
    assert beats == pytest.approx([0, 1, 0, 1, 1])
    # Smoothstep 3 s^2 - 2 s^3 at a quarter.
    assert at(1.5, fall="smooth") == pytest.approx(3 / 16 - 2 / 64)


def test_with_distance_each_metre_waits():
    document = time(stagger="distance", wait=0.5, controller="fog", length=0.0)
    away = np.linalg.norm(points_of(document) - [-2, 0, 0], axis=1)
    np.testing.assert_array_equal(values_at(document, "t", 48), (away <= 2.0).astype(float))


def test_by_order_the_last_place_waits_longest_and_by_chance_all_equally_likely():
    document = time(stagger="order", spread=1.0, length=0.0)
    count = len(points_of(document))
    assert values_at(document, "t", 36).sum() == pytest.approx(count / 2, abs=1.5)
    assert np.all(np.diff(values_at(document, "t", 36)) <= 0)
    document = time(stagger="chance", spread=1.0, length=0.0)
    assert values_at(document, "t", 36).mean() == pytest.approx(0.5, abs=0.12)
    assert np.all(values_at(document, "t", 36) <= values_at(document, "t", 40))


def test_a_beat_of_two_seconds_loops_at_sixty_frames_of_thirty_a_second():
    """Common practice, no source."""
    document = time(form="beat", every=2.0, start=0.0) | {"rate": {"numerator": 30, "denominator": 1}}
    np.testing.assert_allclose(values_at(document, "t", 20), values_at(document, "t", 80), atol=1e-12)
