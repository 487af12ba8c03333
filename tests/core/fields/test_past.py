"""Another field with its lag and age, and fields that remember: each against what it says in seconds."""

from __future__ import annotations

import numpy as np
import pytest
from histories import MOVING, around, points_of, subject_shot, values_at
from shots import cut_ball, parsed

from windsock.core.document.shot import BadDocument

SHEET = {"kind": "plane", "width": 4.0, "depth": 0.5, "columns": 80, "rows": 2}
REACH = 0.5


def with_other(**source) -> dict:
    told = {"kind": "another", "field": "front", "lag": 0.0} | source
    fields = {"front": around(REACH, 0.4), "other": {"sources": {"s": told}}}
    return subject_shot(SHEET, fields, place=MOVING)


@pytest.mark.parametrize("lag", [0.25, 0.4, 1.013])
def test_a_lag_is_the_field_so_many_seconds_ago(lag):
    document = with_other(lag=lag)
    np.testing.assert_allclose(
        values_at(document, "other", 60), values_at(document, "front", 60 - lag * 24), atol=1e-12
    )


def test_a_lag_follows_a_subject_that_moves_itself():
    document = with_other(lag=0.5)
    document["items"]["it"]["place"] = {
        "keys": {"k1": {"frame": 0, "value": [0, 0, 0]}, "k2": {"frame": 90, "value": [1, 0.2, 0]}}
    }
    np.testing.assert_allclose(values_at(document, "other", 60), values_at(document, "front", 48), atol=1e-12)


@pytest.mark.parametrize("fps", [24, 30])
def test_age_is_the_time_since_the_level_was_crossed(fps):
    """The controller goes at 1 m/s; the field is at its level 1/2 at 0.3 m before it."""
    document = with_other(zone="age", full=2.0)
    keys = {name: key | {"frame": key["frame"] * fps / 24} for name, key in MOVING["keys"].items()}
    document["items"]["fog"]["place"] = {"keys": keys}
    document |= {"rate": {"numerator": fps, "denominator": 1}, "frames": {"first": 0, "last": 4 * fps}}
    points = points_of(document)
    edge = REACH - 0.2
    crossing = points[:, 0] - np.sqrt(np.maximum(edge**2 - points[:, 2] ** 2, 0)) + 2
    crossing = np.where(np.abs(points[:, 2]) < edge, np.maximum(crossing, 0), np.inf)
    for second in (1.0, 2.37, 3.9):
        exact = np.clip((second - crossing) / 2.0, 0, 1)
        np.testing.assert_allclose(values_at(document, "other", second * fps), exact, atol=1e-4)


@pytest.mark.parametrize("zone", ["inside", "band", "outside"])
def test_a_zone_of_another_field(zone):
    v = values_at(with_other(), "front", 50)
    weight = {
        "inside": np.clip((v - 0.5) / 0.1 + 0.5, 0, 1),
        "outside": 1 - np.clip((v - 0.5) / 0.1 + 0.5, 0, 1),
        "band": np.maximum(0, 1 - 2 * np.abs(v - 0.5) / 0.1),
    }
    np.testing.assert_allclose(values_at(with_other(zone=zone), "other", 50), weight[zone])


def test_a_curve_comes_before_not():
    points = {"p1": {"x": 0.0, "y": 0.2}, "p2": {"x": 1.0, "y": 0.8}}
    document = with_other(curve={"points": points}, inverted=True)
    v = values_at(document, "front", 50)
    np.testing.assert_allclose(values_at(document, "other", 50), 1 - (0.2 + 0.6 * v))


def remembering(**memory) -> dict:
    return subject_shot(SHEET, {"front": around(REACH, 0.4) | {"memory": memory}}, place=MOVING)


def test_hold_is_the_most_it_has_been():
    points = points_of(remembering(kind="hold"))
    held = values_at(remembering(kind="hold"), "front", 60)
    nearest = np.minimum(np.maximum(points[:, 0], -2), 60 / 24 - 2)
    away = np.hypot(points[:, 0] - nearest, points[:, 2])
    np.testing.assert_allclose(held, np.clip((REACH - away) / 0.4, 0, 1), atol=0.02)


@pytest.mark.parametrize("fps", [24, 25, 30, 60])
def test_fade_sinks_over_its_seconds_whatever_the_frame_rate(fps):
    document = remembering(kind="fade", seconds=2.0)
    keys = {name: key | {"frame": key["frame"] * fps / 24} for name, key in MOVING["keys"].items()}
    document["items"]["fog"]["place"] = {"keys": keys}
    document |= {"rate": {"numerator": fps, "denominator": 1}, "frames": {"first": 0, "last": 4 * fps}}
    points, second = points_of(document), 2.7
    on_the_way = (np.abs(points[:, 2]) < 1e-6) & (points[:, 0] > -1.8) & (points[:, 0] < second - 2 - REACH)
    # The value is full until the controller is 0.1 m past, and falls by 1/2 a second from then on.
    since = second - (points[on_the_way, 0] + 2) - (REACH - 0.4)
    found = values_at(document, "front", second * fps)[on_the_way]
    np.testing.assert_allclose(found, np.clip(1 - since / 2.0, 0, 1), atol=0.006)


def test_fields_in_a_circle_are_refused_and_named():
    document = with_other()
    document["fields"]["front"]["sources"]["back"] = {"kind": "another", "field": "other", "rank": 1}
    with pytest.raises(BadDocument, match=r"circle, [AB] → [AB] → [AB]"):
        parsed(document)
    document = cut_ball()
    document["fields"]["front"]["sources"]["me"] = {"kind": "spread", "seeds": "front"}
    with pytest.raises(BadDocument, match="circle"):
        parsed(document)


def test_a_field_that_is_not_there_is_refused():
    with pytest.raises(BadDocument, match="“gone”, which is not in the shot"):
        parsed(with_other(field="gone"))
