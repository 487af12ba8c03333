"""Items on springs: against the damped harmonic oscillator (any textbook of vibrations), and for any order of asking."""

from __future__ import annotations

import copy

import numpy as np
import pytest
from histories import subject_shot
from shots import evaluator, parse_shot

from windsock.core.changing import planned
from windsock.core.changing.carrying import CarryItem
from windsock.core.document import shot as shots_of_documents
from windsock.core.document.shot import Shot
from windsock.core.document.springs import Swings

SWINGS, DAMPING = 2.0, 0.2


def moving(springs: dict | None, fps: int = 24, **item) -> Shot:
    """An item that is put 1 m to the side within a thousandth of a second at 1 s, and its child, 2 m above."""
    document = subject_shot({"kind": "sphere", "radius": 0.1, "subdivisions": 1}, {}, place=[0.0, 0.0, 0.0])
    document |= {"rate": {"numerator": fps, "denominator": 1}, "frames": {"first": 0, "last": 10 * fps}}
    linear = {"kind": "linear"}
    keys = {
        "a": {"frame": fps, "value": [0.0, 0.0, 0.0], "easing": linear},
        "b": {"frame": fps * 1.001, "value": [1.0, 0.0, 0.0]},
    }
    document["items"]["it"] |= {"place": {"keys": keys}, "springs": springs} | item
    document["items"]["child"] = {
        "kind": "controller", "name": "Child", "rank": 8, "parent": "it", "place": [0.0, 2.0, 0.0],
    }  # fmt: skip
    return parse_shot(document)


def at(shot: Shot, seconds: float, item: str = "it") -> np.ndarray:
    return shot.placement(item, shot.moment(seconds * shot.rate.fps))


@pytest.mark.parametrize("fps", [24, 25, 30, 60])
def test_a_step_swings_past_as_the_damped_oscillator_does(fps):
    """Overshoot exp(-zeta pi / sqrt(1 - zeta^2)) after half a period, and the logarithmic decrement from swing to swing."""
    shot = moving({"swings": SWINGS, "damping": DAMPING}, fps)
    circular = 2 * np.pi * SWINGS * np.sqrt(1 - DAMPING**2)
    half = np.pi / circular
    over = np.exp(-DAMPING * np.pi / np.sqrt(1 - DAMPING**2))
    # The push takes one tick of 1/120 s.
    first, third = (at(shot, 1.0 + 1 / 240 + k * half)[0, 3] - 1 for k in (1, 3))
    assert first == pytest.approx(over, rel=0.02)
    assert third / first == pytest.approx(np.exp(-2 * np.pi * DAMPING / np.sqrt(1 - DAMPING**2)), rel=0.02)
    assert at(shot, 0.9)[0, 3] == 0
    assert at(shot, 9.9)[0, 3] == pytest.approx(1, abs=1e-4)


def test_any_order_and_any_frame_rate_give_the_same():
    shots = [moving({"swings": SWINGS, "damping": DAMPING}, fps) for fps in (24, 30)]
    times = [3.0, 1.3, 8.0, 1.05]
    for seconds in times:
        fresh = at(moving({"swings": SWINGS, "damping": DAMPING}), seconds)
        assert at(shots[0], seconds).tobytes() == fresh.tobytes()
        assert at(shots[1], seconds) == pytest.approx(fresh, abs=2e-3)


def test_its_turn_springs_too_and_it_carries_what_it_carries():
    keys = {"a": {"frame": 24, "value": [0.0, 0.0, 0.0]}, "b": {"frame": 30, "value": [0.0, 0.0, 80.0]}}
    for turns in (True, False):
        shot = moving({"turns": turns, "damping": 0.1}, place=[0.0, 0.0, 0.0], turn={"keys": keys})
        made = [at(shot, seconds) for seconds in np.arange(1, 3, 0.05)]
        angles = [np.degrees(np.arctan2(one[1, 0], one[0, 0])) for one in made]
        assert (max(angles) > 90) == turns
        for one in made:
            assert one[:3, :3] @ one[:3, :3].T == pytest.approx(np.eye(3), abs=1e-12)
        child = at(shot, 1.4, "child")[:3, 3]
        assert child == pytest.approx((at(shot, 1.4) @ [0, 2, 0, 1])[:3], abs=1e-9)


def test_without_motion_and_far_beyond_the_shot_it_stands_stiffly():
    still = moving({}, place=[0.3, 0.2, 0.1])
    assert at(still, 2.0).tobytes() == at(moving(None, place=[0.3, 0.2, 0.1]), 2.0).tobytes()
    for seconds in (-100.0, 4000.0):
        assert at(moving({}), seconds).tobytes() == at(moving(None), seconds).tobytes()


def test_what_is_measured_and_drawn_goes_with_it_and_an_edit_is_seen_at_once():
    live = evaluator()
    for springs in (None, {}, {"swings": 4.0}, {"settled": 0.0}, None):
        shot = moving(springs)
        for frame in (30, 26.5):
            made, fresh = (one.frame(shot, frame).placements["it"] for one in (live, evaluator()))
            assert np.asarray(made).tobytes() == np.asarray(fresh).tobytes()


def test_it_stays_where_it_would_stand_when_it_gets_another_carrier():
    shot = moving({}, place=[0.3, 0.2, 0.1])
    plan = planned(CarryItem(item="child", carrier=None), shot)
    assert [one.value for one in plan.patch if one.path.endswith("place")] == [[0.3, 2.2, 0.1]]


def test_what_is_kept_of_a_motion_is_never_that_of_another(monkeypatch):
    """Each thing that it depends on is changed in turn, and asked about after all others; and back again."""
    plain = moving({"swings": 2.0}).model_dump(mode="json")
    plain["items"]["arm"] = {"kind": "controller", "name": "Arm", "rank": 9, "place": [0.0, 1.0, 0.0]}
    plain["items"]["it"]["parent"] = "arm"
    edits = [
        ("items", "it", "springs", "swings", 3.0), ("items", "it", "springs", "damping", 0.9), ("items", "it", "turn", [0, 40.0, 0]),
        ("items", "it", "aim", "fog"), ("items", "arm", "place", [0.0, 2.0, 1.0]), ("items", "arm", "springs", {}),
        ("items", "it", "parent", None), ("rate", "numerator", 30), ("frames", "first", 20), ("name", "Another"),
    ]  # fmt: skip
    for _ in range(2):
        for *way, last, value in edits:
            document = copy.deepcopy(plain)
            holder = document
            for part in way:
                holder = holder[part]
            holder[last] = value
            shot = parse_shot(document)
            known = [at(shot, seconds).tobytes() for seconds in (1.2, 1.05)]
            with monkeypatch.context() as fresh:
                fresh.setattr(shots_of_documents, "SWINGS", Swings())
                assert known == [at(parse_shot(document), seconds).tobytes() for seconds in (1.2, 1.05)]
            at(parse_shot(plain), 1.2)
