"""Items that go along paths: by arc length, against closed forms and quadrature; turned, leaning, at the ends, on moving paths."""

from __future__ import annotations

import numpy as np
import pytest
from histories import subject_shot
from scipy.integrate import quad
from shots import evaluator, parse_shot

from windsock.core.changing import planned
from windsock.core.changing.carrying import CarryItem
from windsock.core.changing.choosing import Choose
from windsock.core.document.patches import patched
from windsock.core.document.shot import Shot
from windsock.core.geometry.course import course_of

COUNT = 48


def circle(radius: float = 2.0, closed: bool = True, turns: float = 1.0) -> dict:
    """A circle in the XZ plane by handles, off by about 1e-9 of its radius with so many points (a cubic's best arc)."""
    angles = np.linspace(0, 2 * np.pi * turns, COUNT, endpoint=not closed)
    step = float(angles[1])
    handle = 4 / 3 * np.tan(step / 4) * radius
    points = {}
    for k, a in enumerate(angles):
        way = np.array([-np.sin(a), 0.0, np.cos(a)]) * handle
        place = [radius * float(np.cos(a)), 0.0, radius * float(np.sin(a))]
        points[f"p{k}"] = {"rank": k, "place": place, "before": (-way).tolist(), "after": way.tolist()}
    return {"kind": "path", "name": "Way", "rank": 5, "points": points, "closed": closed}


def going(along: dict, path: dict | None = None, fps: int = 24, **item) -> Shot:
    document = subject_shot({"kind": "sphere", "radius": 0.1, "subdivisions": 1}, {}, place=[0.0, 0.0, 0.0])
    document |= {"rate": {"numerator": fps, "denominator": 1}, "frames": {"first": 0, "last": 10 * fps}}
    document["items"]["way"] = path or circle()
    document["items"]["it"] |= {"parent": "way", "along": along} | item
    return parse_shot(document)


def stands(shot: Shot, frame: float) -> np.ndarray:
    return shot.placement("it", shot.moment(frame))


@pytest.mark.parametrize("radius", [0.3, 2.0])
@pytest.mark.parametrize("share", [0.0, 0.123, 0.5, 0.9, 1.25, -0.3])
def test_a_share_of_a_circle_is_that_of_its_angle(radius, share):
    """Arc length of a circle: exact to 1e-5 of its radius."""
    place = stands(going({"share": share}, circle(radius)), 0)[:3, 3]
    angle = 2 * np.pi * share
    assert place == pytest.approx([radius * np.cos(angle), 0, radius * np.sin(angle)], abs=1e-5 * radius)


def test_arc_length_of_a_parabola():
    """A single cubic is a parabola where its handles are those of one: closed form, and quadrature as second route."""
    a, d = np.array([0.0, 0, 0]), np.array([2.0, 4.0, 0])
    middle = np.array([1.0, 0.0, 0.0])
    handles = [(None, (middle - a) * 2 / 3), ((middle - d) * 2 / 3, None)]
    course = course_of(np.stack([a, d]), handles, [True, True], False)

    def closed(x: float) -> float:
        """The length of y = x^2 from 0 to x."""
        return x * np.sqrt(1 + 4 * x * x) / 2 + np.arcsinh(2 * x) / 4

    assert course.length == pytest.approx(closed(2.0), rel=1e-9)
    assert course.length == pytest.approx(quad(lambda x: np.sqrt(1 + 4 * x * x), 0, 2)[0], rel=1e-9)
    along = np.linspace(0, course.length, 57)
    places, ways = course.stand(along)
    assert [closed(x) for x in places[:, 0]] == pytest.approx(along.tolist(), abs=1e-5)
    assert places[:, 1] == pytest.approx(places[:, 0] ** 2, abs=1e-5)
    slope = 2 * places[:, 0]
    assert ways[:, 0] == pytest.approx(1 / np.sqrt(1 + slope**2), abs=1e-4)


def test_a_stretched_path_is_measured_as_it_lies():
    path = circle(1.0) | {"scale": [2.0, 1.0, 1.0], "turn": [30.0, 20.0, 0.0], "place": [1.0, 2.0, 3.0]}
    ellipse = 4 * quad(lambda t: np.hypot(2 * np.sin(t), np.cos(t)), 0, np.pi / 2)[0]
    shot = going({"speed": ellipse / 4}, path, fps=25)
    start, round_ = stands(shot, 0)[:3, 3], stands(shot, 100)[:3, 3]
    assert round_ == pytest.approx(start, abs=1e-4)
    half = stands(shot, 50)[:3, 3]
    assert np.linalg.norm(half - start) == pytest.approx(4.0, abs=1e-4)


@pytest.mark.parametrize("fps", [24, 25, 30, 60])
def test_the_same_second_is_the_same_place_at_any_rate(fps):
    along = {"share": 0.1, "speed": 0.7, "bank": 1.0}
    place = stands(going(along, fps=fps), 2.5 * fps)
    assert place == pytest.approx(stands(going(along, fps=24), 60), abs=1e-9)
    angle = 2 * np.pi * 0.1 + 0.7 * 2.5 / 2
    assert place[:3, 3] == pytest.approx([2 * np.cos(angle), 0, 2 * np.sin(angle)], abs=2e-5)


def test_a_keyed_share_and_a_keyed_speed_are_eased():
    keys = {"a": {"frame": 0, "value": 0.0, "easing": {"kind": "linear"}}, "b": {"frame": 48, "value": 1.0}}
    half = stands(going({"share": {"keys": keys}}), 24)[:3, 3]
    assert half == pytest.approx([-2, 0, 0], abs=2e-5)
    gone = stands(going({"speed": {"keys": keys}}), 48)[:3, 3]
    assert gone == pytest.approx([2 * np.cos(0.5), 0, 2 * np.sin(0.5)], abs=2e-5)


@pytest.mark.parametrize("turning", ["along", "upright", "own"])
def test_it_is_turned_by_its_way(turning):
    """Its -Z goes ahead and it is never mirrored."""
    for share in np.linspace(0, 1, 9):
        matrix = stands(going({"share": float(share), "turning": turning}, turn=[0.0, 0.0, 0.0]), 0)
        assert matrix[:3, :3] @ matrix[:3, :3].T == pytest.approx(np.eye(3), abs=1e-9)
        assert np.linalg.det(matrix[:3, :3]) == pytest.approx(1)
        angle = 2 * np.pi * share
        ahead = [0, 0, -1] if turning == "own" else [-np.sin(angle), 0, np.cos(angle)]
        assert -matrix[:3, 2] == pytest.approx(ahead, abs=1e-5)
        if turning == "upright":
            assert matrix[:3, 1] == pytest.approx([0, 1, 0], abs=1e-9)


def test_it_leans_into_a_bend_as_a_rider_does():
    """tan(lean) = v^2 / (r g)."""
    matrix = stands(going({"speed": 3.0, "bank": 1.0, "turning": "upright"}), 30)
    lean = np.arctan(9.0 / (2.0 * 9.81))
    assert np.arccos(matrix[1, 1]) == pytest.approx(lean, abs=1e-3)
    # Its top leans to the middle of the circle.
    assert matrix[[0, 2], 1] @ matrix[[0, 2], 3] < 0


def test_at_the_end_of_an_open_path_it_waits_or_comes_again():
    arc = circle(closed=False, turns=0.5)
    end = stands(going({"speed": 50.0}, arc), 120)[:3, 3]
    assert end == pytest.approx([-2, 0, 0], abs=1e-5)
    waiting = stands(going({"speed": 50.0, "bank": 1.0, "turning": "upright"}, arc), 120)
    assert waiting[1, 1] == pytest.approx(1)
    again = stands(going({"share": 1.25, "ends": "again"}, arc), 0)[:3, 3]
    assert again == pytest.approx(stands(going({"share": 0.25}, arc), 0)[:3, 3], abs=1e-9)


def test_place_and_turn_come_on_top_and_the_path_may_move():
    beside = stands(going({"share": 0.0, "turning": "upright"}, place=[0.5, 1.0, 0.0]), 0)[:3, 3]
    # Ahead is +Z there, so that its right is -X.
    assert beside == pytest.approx([1.5, 1.0, 0.0], abs=1e-6)
    lifted = circle() | {
        "place": {"keys": {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 10, "value": [0, 3, 0]}}}
    }
    assert stands(going({"share": 0.5}, lifted), 10)[:3, 3] == pytest.approx([-2, 3, 0], abs=1e-5)


def test_a_path_without_length_carries_it_to_its_place():
    dot = {
        "kind": "path",
        "name": "Dot",
        "rank": 5,
        "place": [1.0, 0, 0],
        "points": {k: {"rank": r, "place": [0, 2, 0]} for r, k in enumerate("ab")},
    }
    matrix = stands(going({"speed": 1.0, "bank": 2.0}, dot), 30)
    assert matrix[:3, 3] == pytest.approx([1, 2, 0])
    assert np.isfinite(matrix).all()


def test_a_live_evaluator_follows_the_speed_and_the_path():
    """What stands still in the document goes on: frames and edits are answered as by a fresh evaluator."""
    live = evaluator()
    for speed in (0.5, 1.5):
        for frame in (0, 31, 7.5):
            shot = going({"speed": speed})
            made, fresh = (one.frame(shot, frame).draw[0] for one in (live, evaluator()))
            assert made.matrix.tobytes() == fresh.matrix.tobytes()
            assert made.matrix[:3, 3] == pytest.approx(stands(shot, frame)[:3, 3])


def test_carried_by_something_else_it_stays_where_it_is_and_goes_no_more():
    shot = going({"share": 0.3})
    edit = planned(CarryItem(item="it", carrier=None), shot)
    after = parse_shot(patched(shot.model_dump(mode="json"), edit.patch))
    assert after.items["it"].along is None
    assert after.placement("it", after.moment(0)) == pytest.approx(stands(shot, 0), abs=1e-4)
    back = parse_shot(patched(after.model_dump(mode="json"), planned(CarryItem(item="it", carrier="way"), after).patch))
    chosen = planned(Choose(of="/items/it", setting="along", value="own"), back)
    assert parse_shot(patched(back.model_dump(mode="json"), chosen.patch)).items["it"].along is not None
