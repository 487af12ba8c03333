"""Items that aim at others and turn about pivots: where they stand, and that everything that depends on it knows."""

from __future__ import annotations

import numpy as np
import pytest
from shots import cut_ball, evaluator, parsed

from windsock.core.document.shot import BadDocument
from windsock.core.evaluate.plan import Plan
from windsock.core.geometry.placement import aimed, rotation


def aiming(target: list[float], **own: object) -> dict:
    document = cut_ball({"kind": "sphere", "subdivisions": 2})
    document["items"]["mark"] = {"kind": "controller", "name": "Mark", "rank": 3, "place": target}
    document["items"]["ball"] |= {"aim": "mark", "place": [1, 2, 3]} | own
    return document


@pytest.mark.parametrize("target", [[4, 2, 3], [1, 2, -9], [5, -3, 0], [1, 9, 3], [1, -9, 3]])
def test_an_aim_points_the_own_minus_z_at_its_target_with_y_up(target):
    shot = parsed(aiming(target))
    matrix = shot.placement("ball", shot.moment(0))
    towards = np.array(target) - [1, 2, 3]
    np.testing.assert_allclose(-matrix[:3, 2], towards / np.linalg.norm(towards), atol=1e-9)
    np.testing.assert_allclose(matrix[:3, :3] @ matrix[:3, :3].T, np.eye(3), atol=1e-9)
    assert np.linalg.det(matrix[:3, :3]) == pytest.approx(1.0)
    # As near to up as it can be: no roll, and never upside down.
    assert matrix[1, 0] == pytest.approx(0.0, abs=1e-9)
    assert matrix[1, 1] >= -1e-9


def test_a_turn_comes_on_top_of_an_aim_and_a_parent_beneath_it():
    shot = parsed(aiming([1, 2, -9], turn=[0, 0, 90]))
    np.testing.assert_allclose(shot.placement("ball", shot.moment(0))[:3, :3], rotation((0, 0, 90)), atol=1e-9)
    document = aiming([0, 0, -9], place=[0, 0, 0], parent="arm")
    document["items"]["arm"] = {"kind": "controller", "name": "Arm", "rank": 4, "place": [3, 0, 0], "turn": [0, 70, 0]}
    shot = parsed(document)
    matrix = shot.placement("ball", shot.moment(0))
    np.testing.assert_allclose(matrix[:3, :3], aimed(np.array([3.0, 0, 0]), np.array([0, 0, -9.0])), atol=1e-9)


@pytest.mark.parametrize("turn", [[0, 0, 0], [0, 90, 0], [20, 30, 40]])
def test_a_pivot_stands_at_the_place_whatever_the_turn_and_stretch(turn):
    shot = parsed(aiming([9, 9, 9], aim=None, pivot=[0.5, -1, 0], turn=turn, scale=[2, 3, 1]))
    matrix = shot.placement("ball", shot.moment(0))
    np.testing.assert_allclose(matrix @ [0.5, -1, 0, 1], [1, 2, 3, 1], atol=1e-12)
    np.testing.assert_allclose(matrix[:3, :3], rotation(tuple(turn)) * [2, 3, 1], atol=1e-12)


def test_circles_of_carrying_and_aiming_and_targets_that_are_not_there_are_refused():
    document = aiming([0, 0, 0])
    document["items"]["mark"]["parent"] = "ball"
    with pytest.raises(BadDocument, match="in a circle"):
        parsed(document)
    with pytest.raises(BadDocument, match="aims at"):
        parsed(aiming([0, 0, 0], aim="nobody"))


def test_a_target_that_moves_makes_what_aims_at_it_move_and_its_history_depends_on_it():
    keyed = {"keys": {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 9, "value": [0, 9, 0]}}}
    still, moving = (Plan(parsed(aiming(place))) for place in ([0, 0, 0], keyed))  # type: ignore[list-item]
    assert (still.moves("ball"), moving.moves("ball")) == (False, True)
    assert still.definitions.of(("placement", "ball")) != moving.definitions.of(("placement", "ball"))
    assert still.definitions.of(("placement", "fog")) == moving.definitions.of(("placement", "fog"))


def test_what_is_drawn_is_aimed():
    shot = parsed(aiming([1, 9, 3], recipe={"parts": {"body": {"name": "Body", "rank": 0}}}))
    (drawn,) = [item for item in evaluator().frame(shot, 0).draw if item.item == "ball"]
    np.testing.assert_allclose(-drawn.matrix[:3, 2], [0, 1, 0], atol=1e-9)
