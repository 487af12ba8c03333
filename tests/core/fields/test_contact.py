"""Contact: when, where and how deep things have touched, against closed forms for a ball that goes over a plane."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from shots import evaluator, parse_shot

from windsock.core.fields.elements import rest_elements
from windsock.core.geometry.clip import Clip, Pose
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment
from windsock.evaluator.disk import FolderStore

RADIUS, SUNK = 0.3, 0.1
ALONG = np.sqrt(RADIUS**2 - (RADIUS - SUNK) ** 2)
"""How far before and behind its middle the ball goes through the plane."""


def contact(source: dict | None = None, ball: dict | None = None, sand: dict | None = None, **shot) -> dict:
    """A ball goes along X by a metre in a second, through a fine plane, from frame 0 on."""
    place = {
        "keys": {
            "a": {"frame": 0, "value": [-1.0, RADIUS - SUNK, 0], "easing": {"kind": "linear"}},
            "b": {"frame": 48, "value": [1.0, RADIUS - SUNK, 0]},
        }
    }
    ground = {"kind": "plane", "width": 3.0, "depth": 1.0, "columns": 120, "rows": 40}
    return {
        "name": "Sand",
        "items": {
            "sand": {"kind": "shape", "name": "Sand", "rank": 0, "geometry": ground} | (sand or {}),
            "ball": {
                "kind": "shape",
                "name": "Ball",
                "rank": 1,
                "place": place,
                "geometry": {"kind": "sphere", "radius": RADIUS, "subdivisions": 5},
            }
            | (ball or {}),
        },
        "groups": {"movers": {"name": "Movers", "rank": 0, "members": {"ball": {"rank": 0}, "sand": {"rank": 1}}}},
        "fields": {
            "touch": {
                "letter": "A",
                "name": "Touch",
                "rank": 0,
                "sources": {"s": {"kind": "contact", "rank": 0, "group": "movers", "margin": 1e-4} | (source or {})},
            }
        },
        "frames": {"first": 0, "last": 72},
    } | shot


def values(document: dict, frame: float, one=None) -> tuple[np.ndarray, np.ndarray]:
    """The places at rest of the points of the sand, and the field there."""
    engine = one or evaluator()
    scene = engine.scene(parse_shot(document), frame)
    subject = engine.at_rest(scene, "sand").value
    elements = rest_elements(subject, scene.placement("sand"))
    return elements.rest, engine.field_values(scene, "touch", elements)


def test_where_it_has_been_counts_and_nothing_else():
    places, found = values(contact(), 24)
    away = np.hypot(np.maximum(np.maximum(-1.0 - places[:, 0], places[:, 0] - 0.0), 0), places[:, 2])
    assert (found[away < ALONG - 0.02] == 1).all()
    assert (found[away > ALONG + 0.02] == 0).all()


def test_depth_is_how_far_the_ball_went_in_along_the_normal():
    places, found = values(contact({"reading": "depth", "full": 0.1}), 48)
    along = np.abs(places[:, 0]) < 0.9
    expected = np.maximum(np.sqrt(np.maximum(RADIUS**2 - places[:, 2] ** 2, 0)) - (RADIUS - SUNK), 0) / 0.1
    assert found[along] == pytest.approx(np.minimum(expected[along], 1), abs=0.02)


@pytest.mark.parametrize(("reading", "since"), [("first", 0.5 + ALONG), ("last", 0.5 - ALONG)])
def test_times_of_the_first_and_the_last_touch(reading, since):
    """At 1.5 s the middle of the ball is half a metre ahead of the place at X 0."""
    places, found = values(contact({"reading": reading, "over": 2.0}), 36)
    here = np.argmin(np.hypot(places[:, 0], places[:, 2]))
    assert found[here] * 2.0 == pytest.approx(since, abs=1.5 / 120 + 0.01)
    assert found[np.abs(places[:, 2]) > 0.4].max() == 0


def test_a_touch_is_gone_after_the_seconds_in_which_it_recovers():
    document, engine = contact({"recovers": 0.5}), evaluator()
    over_time = []
    for frame in (24, 31, 35, 42):
        places, found = values(document, frame, engine)
        over_time.append(found[np.argmin(np.hypot(places[:, 0], places[:, 2]))])
    assert over_time[0] == 1
    assert 1 > over_time[1] > over_time[2] > 0
    assert over_time[3] == 0


def test_it_falls_off_about_what_was_touched():
    places, found = values(contact({"spreads": 0.2}), 48)
    beside = np.abs(places[:, 0]) < 0.5
    away = np.abs(places[beside, 2]) - ALONG
    assert found[beside] == pytest.approx(np.clip(1 - np.maximum(away, 0) / 0.2, 0, 1), abs=0.15)


def test_nothing_goes_through_unseen_however_fast():
    drop = {
        "keys": {
            "a": {"frame": 10, "value": [0.31, 400.0, 0.1], "easing": {"kind": "linear"}},
            "b": {"frame": 11, "value": [0.31, -400.0, 0.1]},
        }
    }
    places, before = values(contact(ball={"place": drop}), 10)
    assert before.max() == 0
    places, found = values(contact(ball={"place": drop}), 12)
    away = np.hypot(places[:, 0] - 0.31, places[:, 2] - 0.1)
    assert (found[away < RADIUS - 0.05] == 1).all()
    assert (found[away > RADIUS + 0.02] == 0).all()


def test_what_is_in_it_from_the_start_counts_from_the_start():
    _, found = values(contact({"reading": "depth", "full": 0.1}, ball={"place": [0.0, 0.1, 0.0]}), 0)
    deep = np.sqrt(RADIUS**2) - 0.1
    assert found.max() == pytest.approx(min(deep / 0.1, 1))
    _, first = values(contact({"reading": "first", "over": 1.0}, ball={"place": [0.0, 0.1, 0.0]}), 12)
    assert first.max() == pytest.approx(0.5)


def test_it_stays_with_the_points_of_a_ground_that_moves():
    """A still ball, and a ground that goes by beneath it the other way: the same as the other way round."""
    goes = {
        "keys": {
            "a": {"frame": 0, "value": [1.0, 0, 0], "easing": {"kind": "linear"}},
            "b": {"frame": 48, "value": [-1.0, 0, 0]},
        }
    }
    _, still = values(contact({"reading": "depth", "full": 0.1}), 48)
    _, moving = values(
        contact({"reading": "depth", "full": 0.1}, ball={"place": [0, RADIUS - SUNK, 0]}, sand={"place": goes}), 48
    )
    assert moving == pytest.approx(still, abs=0.02)


@pytest.mark.parametrize("size", [0.004, 300.0])
def test_it_is_the_same_at_any_size(size):
    """All lengths so many times as large, in the shapes and in the keys: the same shares of the same points."""
    document = contact({"reading": "depth", "full": 0.1 * size, "margin": 1e-4 * size})
    for item, names in (("sand", ("width", "depth")), ("ball", ("radius",))):
        for name in names:
            document["items"][item]["geometry"][name] *= size
    for key in document["items"]["ball"]["place"]["keys"].values():
        key["value"] = [one * size for one in key["value"]]
    _, found = values(document, 36)
    _, reference = values(contact({"reading": "depth", "full": 0.1}), 36)
    np.testing.assert_allclose(found, reference, atol=0.02)


def test_a_file_that_moves_touches_as_what_has_keys_does():
    """A ball of a file that goes the same way in half the time, played at half its speed, and one that stands in its way."""
    mesh = build_sphere(Sphere(radius=RADIUS, subdivisions=5), Moment(0.0, 0.0))
    seconds = np.arange(31) / 30
    lifted = [[2.0 * moment - 1.0, RADIUS - SUNK, 0.0] for moment in seconds]
    poses = tuple(Pose((mesh.points + by).astype(np.float32), mesh.normals) for by in lifted)
    clip = Clip(replace(mesh, points=poses[0].points, rest=poses[0].points), seconds, poses)
    played = {"kind": "imported", "asset": "0" * 64, "motion": {"speed": 0.5}}
    document = contact({"reading": "depth", "full": 0.1}, ball={"geometry": played, "place": [0, 0, 0]})
    _, found = values(document, 36, evaluator(held=clip))
    _, reference = values(contact({"reading": "depth", "full": 0.1}), 36)
    np.testing.assert_allclose(found, reference, atol=0.03)


@pytest.mark.parametrize("fps", [23.976, 25, 60])
def test_it_is_the_same_at_the_same_second_whatever_the_rate(fps):
    rate = {"numerator": 24000, "denominator": 1001} if fps == 23.976 else {"numerator": fps, "denominator": 1}
    document = contact({"reading": "depth", "full": 0.1}, rate=rate)
    frames = document["items"]["ball"]["place"]["keys"]
    exact = rate["numerator"] / rate["denominator"]
    frames["b"]["frame"] = 2 * exact
    document["frames"]["last"] = int(3 * exact)
    _, found = values(document, exact)
    _, reference = values(contact({"reading": "depth", "full": 0.1}), 24)
    assert np.abs(found - reference).mean() < 2e-3


def test_an_empty_group_a_far_shape_and_a_shape_without_an_inside_touch_as_they_can():
    empty = contact()
    empty["groups"]["movers"]["members"] = {"sand": {"rank": 0}}
    assert values(empty, 24)[1].max() == 0
    assert values(contact(ball={"place": [0, 50, 0]}), 24)[1].max() == 0
    sheet = {"geometry": {"kind": "plane", "width": 0.4, "depth": 0.4, "columns": 2, "rows": 2}, "place": [0, 0.001, 0]}
    places, found = values(contact({"margin": 0.005}, ball=sheet), 24)
    inside = (np.abs(places[:, 0]) < 0.19) & (np.abs(places[:, 2]) < 0.19)
    assert (found[inside] == 1).all()
    assert found[np.abs(places[:, 0]) > 0.22].max() == 0


def test_warm_is_as_fresh_after_any_edit():
    engine, members = evaluator(), contact()["groups"]["movers"]["members"]
    for joined in (members, {}, {"sand": {"rank": 0}}, members):
        emptied = contact({"reading": "depth"})
        emptied["groups"]["movers"]["members"] = joined
        warm = values(emptied, 30, engine)[1]
        assert (warm.max() > 0) == ("ball" in joined)
        assert warm.tobytes() == values(emptied, 30)[1].tobytes()
    for ball in (
        {},
        {"place": [0, 0.25, 0]},
        {"geometry": {"kind": "box", "width": 0.4, "height": 0.5, "depth": 0.3}},
        {},
    ):
        document = contact({"reading": "depth"}, ball=ball)
        warm = values(document, 30, engine)[1]
        assert warm.tobytes() == values(document, 30)[1].tobytes()


def test_what_was_found_is_taken_from_the_store_by_another_process(tmp_path):
    store = FolderStore(tmp_path, 2**26)
    first = values(contact({"reading": "depth"}), 30, evaluator(store=store))[1]
    again = values(contact({"reading": "depth"}), 30, evaluator(store=FolderStore(tmp_path, 2**26)))[1]
    assert again.tobytes() == first.tobytes()
