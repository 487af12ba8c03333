"""Items that carry others: where those stand, and that histories, strips and refusals know of it."""

from __future__ import annotations

import copy

import numpy as np
import pytest
from shots import cut_ball, evaluator, parsed

from windsock.core.document.shot import BadDocument
from windsock.core.evaluate.coverage import cover
from windsock.core.geometry.placement import placement

SWUNG = {
    "keys": {
        "k1": {"frame": 0, "value": [0, 0, 0], "easing": {"kind": "linear"}},
        "k2": {"frame": 90, "value": [0, 90, 0]},
    }
}


def carried(**arm: object) -> dict:
    """The ball, 2 m out on an arm that turns about Y."""
    document = cut_ball({"kind": "sphere", "subdivisions": 2})
    document["items"]["arm"] = {"kind": "controller", "name": "Arm", "rank": 3, "place": [1, 0, 0], "turn": SWUNG} | arm
    document["items"]["ball"] |= {"parent": "arm", "place": [2, 0, 0]}
    return document


@pytest.mark.parametrize("frame", [0, 30, 90])
def test_what_is_carried_moves_and_turns_but_is_not_stretched(frame):
    shot = parsed(carried(scale=[3, 1, 1]))
    matrix = shot.placement("ball", shot.moment(frame))
    angle = np.radians(frame)
    # A turn about Y takes X towards -Z.
    np.testing.assert_allclose(matrix[:3, 3], [1 + 2 * np.cos(angle), 0, -2 * np.sin(angle)], atol=1e-12)
    np.testing.assert_allclose(matrix[:3, :3], placement((0, 0, 0), (0, frame, 0), (1, 1, 1))[:3, :3], atol=1e-12)


def test_carriers_carry_each_other_and_scale_is_the_items_own():
    document = carried()
    document["items"]["post"] = {
        "kind": "controller",
        "name": "Post",
        "rank": 4,
        "place": [0, 5, 0],
        "turn": [0, 0, 90],
    }
    document["items"]["arm"]["parent"] = "post"
    document["items"]["ball"]["scale"] = [2, 1, 1]
    matrix = parsed(document).placement("ball", parsed(document).moment(0))
    # Turned by 90 degrees about Z, X is up: 5 + 1 + 2.
    np.testing.assert_allclose(matrix[:3, 3], [0, 8, 0], atol=1e-12)
    np.testing.assert_allclose(matrix[:3, 0], [0, 2, 0], atol=1e-12)


def test_what_a_carrier_does_changes_what_is_kept():
    """A field measured on what is carried, its strip, and its age are those of where it is carried."""
    one = evaluator()
    still = carried(turn=[0, 0, 0])
    first = cover(one, parsed(still), "front", "ball").inside
    moved = copy.deepcopy(still)
    moved["items"]["arm"]["place"] = [-1, 0, 0]
    other = cover(one, parsed(moved), "front", "ball").inside
    assert not np.array_equal(first, other)
    alone = copy.deepcopy(still)
    alone["items"]["ball"] |= {"parent": None, "place": [3, 0, 0]}
    np.testing.assert_array_equal(cover(one, parsed(alone), "front", "ball").inside, first)
    plan = one.scene(parsed(carried()), 0).plan
    assert plan.moves("ball")
    assert not one.scene(parsed(still), 0).plan.moves("ball")


def test_an_age_on_what_is_carried_is_that_of_its_own_way():
    """A controller carried along with its subject never comes nearer: it crosses at once, or never."""
    document = carried()
    document["items"]["fog"] = {"kind": "controller", "name": "Fog", "rank": 5, "parent": "arm", "place": [2.5, 0, 0]}
    document["fields"]["old"] = {
        "letter": "B", "name": "Old", "rank": 1,
        "sources": {"a": {"kind": "another", "rank": 0, "field": "front", "zone": "age", "full": 1.0}},
    }  # fmt: skip
    strip = cover(evaluator(), parsed(document), "old", "ball")
    np.testing.assert_allclose(strip.inside[30:], strip.inside[30], atol=1e-12)


@pytest.mark.parametrize(
    ("parents", "words"),
    [
        ({"ball": "nobody"}, "carried by"),
        ({"ball": "ball"}, "in a circle"),
        ({"ball": "arm", "arm": "ball"}, "in a circle"),
    ],
)
def test_circles_and_strangers_are_refused(parents, words):
    document = carried()
    for item, parent in parents.items():
        document["items"][item]["parent"] = parent
    with pytest.raises(BadDocument, match=words):
        parsed(document)
