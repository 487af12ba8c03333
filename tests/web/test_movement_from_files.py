"""Movement in files over HTTP: the edit that lays it on an item; bad input is refused in words and harms nothing."""

from __future__ import annotations

from urllib.parse import urlencode

import pytest
from shots import cut_ball

TABLE = b"seconds,x,y,z,turn x,turn y,turn z\n0,0,0,0,0,0,0\n1,2,0,0,0,90,0\n2,2,1,0,0,90,0\n"


def bring(client, shot: str, content: bytes = TABLE, **wish: object):
    asked = {"name": "way.csv", "revision": 0, "item": "ball"} | wish
    return client.post(f"/api/shots/{shot}/movement?{urlencode(asked)}", content)


@pytest.fixture
def shot(client) -> str:
    return client.new_shot(cut_ball({"kind": "sphere", "subdivisions": 2}))


def test_the_edit_gives_the_item_keys_and_goes_in(client, shot):
    told = bring(client, shot, begins=12, unit=0.5).json
    assert [(one["setting"], one["count"], one["off"]) for one in told["keys"]] == [("place", 3, 0), ("turn", 3, 0)]
    assert told["things"] == [{"name": "Movement", "clock": "seconds", "lasts": 2, "moments": 3}]
    (place, turn) = told["patch"]
    assert client.edit(shot, 0, place["path"], place["value"]).status == 200
    assert client.edit(shot, 1, turn["path"], turn["value"]).status == 200
    keys = client.get(f"/api/shots/{shot}").json["document"]["items"]["ball"]["place"]["keys"].values()
    assert [(one["frame"], one["value"]) for one in keys] == [(12, [0, 0, 0]), (36, [1, 0, 0]), (60, [1, 0.5, 0])]


def test_a_turn_is_left_alone_if_wanted_and_a_light_has_no_stretch(client, shot):
    assert [one["path"] for one in bring(client, shot, turns="false").json["patch"]] == ["/items/ball/place"]
    client.edit(shot, 0, "/items/lamp", {"kind": "light", "name": "Lamp", "rank": 9}, op="add")
    stretched = b"frame,x,y,z,scale x,scale y,scale z\n5,0,0,0,1,1,1\n9,0,1,0,2,2,2\n"
    told = bring(client, shot, stretched, revision=1, item="lamp").json
    assert told["begins"] == 5
    assert [one["path"] for one in told["patch"]] == ["/items/lamp/place"]


@pytest.mark.parametrize(
    ("content", "wish", "says"),
    [
        (TABLE, {"name": "way.obj"}, "is not read from"),
        (TABLE, {"name": "way.glb"}, "not a whole GLB"),
        (b"", {}, "empty"),
        (b"seconds,x,y,z\n0,0,0,0\n0,0,0,0\n", {}, "Line 3"),
        (TABLE, {"item": "gone"}, "not here any more"),
        (TABLE, {"within": 0}, "within"),
        (TABLE, {"unit": "inf"}, "unit"),
        (TABLE, {"begins": "nan"}, "begins"),
        (TABLE, {"thing": -1}, "thing"),
    ],
)
def test_bad_input_is_refused_and_nothing_is_kept(client, shot, stack, content, wish, says):
    answer = bring(client, shot, content, **wish)
    assert answer.status == 422
    assert says in answer.json["detail"] + str(answer.json.get("errors", ""))
    assert client.get(f"/api/shots/{shot}").json["revision"] == 0
    assert bring(client, shot).status == 200
    assert not list(stack.data.rglob("movement-*"))
