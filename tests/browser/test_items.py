"""Items in the real page: copied, hidden, carried."""

from __future__ import annotations

import pytest
from conftest import Client
from hands import Hands
from shots import cut_ball


def document(client: Client, shot: str) -> dict:
    return client.get(f"/api/shots/{shot}").json["document"]


def test_an_item_is_copied_hidden_and_shown_from_a_frame_on(hands: Hands, client: Client):
    shot = client.new_shot(cut_ball())
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.choose("Commands for the item", "Copy it")
    hands.saved(1)
    told = document(client, shot)["items"]
    assert told["ball-copy"]["recipe"] == told["ball"]["recipe"]
    assert told["ball-copy"]["place"][0] == pytest.approx(2.2, abs=0.1)
    hands.choose("Commands for the item", "Hide it")
    hands.saved(2)
    hands.until(lambda: "Hidden." in hands.text())
    hands.go_to(24)
    hands.choose("Commands for the item", "Show it from this frame on")
    hands.saved(3)
    hands.until(lambda: "Hidden" not in hands.text())
    keys = document(client, shot)["items"]["ball-copy"]["shown"]["keys"]
    assert [(key["frame"], key["value"]) for key in keys.values()] == [(0, 0), (24, 1)]
    hands.go_to(23)
    hands.until(lambda: "Hidden at this frame." in hands.text())


def test_an_item_is_carried_stays_where_it_is_and_is_dragged_in_its_carriers_space(hands: Hands, client: Client):
    told = cut_ball(camera="camera")
    told["items"]["arm"] = {"kind": "controller", "name": "Arm", "rank": 3, "place": [1, 0, 0], "turn": [0, 90, 0]}
    told["items"]["camera"] = {"kind": "camera", "name": "Camera", "rank": 5, "place": [0, 0, 8]}
    shot = client.new_shot(told)
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.open_card("/items/ball/geometry")
    hands.press("Place, turn, stretch, carrier")
    hands.pick(hands.find('[aria-label="Shape"] [aria-label*="Carried by"]'), "Arm")
    hands.saved(1)
    ball = document(client, shot)["items"]["ball"]
    assert ball["parent"] == "arm"
    # From (1, 0, 0), turned so that its X points along -Z and its Z along X: the origin is at Z = -1, turned back by 90.
    assert ball["place"] == pytest.approx([0, 0, -1], abs=1e-4)
    assert ball["turn"] == pytest.approx([0, -90, 0], abs=1e-4)
    # Dragged to the right in the picture, along X of the world: along Z of the arm.
    hands.drag(hands.find('[data-handle="X"]'), 60, 0)
    hands.saved(2)
    x, y, z = document(client, shot)["items"]["ball"]["place"]
    assert (x, y) == pytest.approx((0, 0), abs=1e-3)
    assert -0.9 < z < 1
    hands.item("Arm")
    hands.press("Remove")
    hands.press("Remove it")
    hands.saved(3)
    assert document(client, shot)["items"]["ball"]["parent"] is None
    assert hands.complaints() == []


def test_a_shot_is_copied_at_home_with_a_history_of_its_own(hands: Hands, client: Client):
    shot = client.new_shot(cut_ball() | {"name": "Two of a kind"})
    client.edit(shot, 0, "/fields/front/level", 0.3)
    hands.open("/")
    hands.choose("Commands for Two of a kind", "Copy the shot")
    hands.until(lambda: "Two of a kind copy" in hands.text())
    listed = [one for project in client.get("/api/projects").json["projects"] for one in project["shots"]]
    (copy,) = [one for one in listed if one["name"] == "Two of a kind copy"]
    assert copy["revision"] == 0
    assert document(client, copy["id"]) == document(client, shot) | {"name": "Two of a kind copy"}
