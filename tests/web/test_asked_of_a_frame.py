"""What is asked of a frame over HTTP: which shapes are looked at, and where a place is at rest. Bad input is refused in words."""

from __future__ import annotations

import json
import struct

import pytest
from shots import cut_ball


def frame(client, shot: str, **wish: object):
    return client.post(f"/api/shots/{shot}/frame", {"revision": 0, "frame": 0} | wish)


def manifest(answer) -> dict:
    (length,) = struct.unpack_from("<I", answer.body)
    return json.loads(answer.body[4 : 4 + length])


def test_only_what_is_looked_at_is_read_and_unknown_shapes_are_nothing(client):
    shot = client.new_shot(cut_ball({"kind": "sphere", "subdivisions": 2}))
    for looked_at, read in ((None, True), (["ball"], True), ([], False), (["gone", "ball"], True), (["gone"], False)):
        told = manifest(frame(client, shot, looked_at=looked_at))
        assert [one["reading"] is not None for one in told["steps"]] == [read]
        assert told["looked_at"] == (None if looked_at is None else sorted(looked_at))


@pytest.mark.parametrize("looked_at", ["ball", [1], ["no such id!"], ["a"] * 1001, [["ball"]], {"ball": True}])
def test_strange_lists_of_what_is_looked_at_are_refused(client, looked_at):
    shot = client.new_shot(cut_ball({"kind": "sphere", "subdivisions": 2}))
    answer = frame(client, shot, looked_at=looked_at)
    assert answer.status == 422
    assert answer.json["detail"]
    assert frame(client, shot).status == 200


def rest(client, shot: str, **wish: object):
    return client.post(f"/api/shots/{shot}/rest", {"revision": 0, "item": "ball", "place": [0.0, 0.0, 2.0]} | wish)


def test_a_place_that_is_seen_is_told_as_it_is_at_rest(client):
    shot = client.new_shot(cut_ball({"kind": "sphere", "subdivisions": 2}))
    told = rest(client, shot).json["place"]
    assert told == pytest.approx([0, 0, 1], abs=0.05)


@pytest.mark.parametrize(
    ("wish", "words"),
    [
        ({"item": "gone"}, "hidden at this frame"),
        ({"part": "nothing"}, "hidden at this frame"),
        ({"item": "no such id!"}, ""),
        ({"place": [0.0, 1.0]}, ""),
        ({"place": [0.0, 1.0, "x"]}, ""),
        ({"place": [0.0, 0.0, 1e300]}, ""),
        ({"frame": 1e9}, ""),
        ({"revision": -1}, ""),
    ],
)
def test_what_cannot_be_found_at_rest_is_refused_in_words(client, wish, words):
    shot = client.new_shot(cut_ball({"kind": "sphere", "subdivisions": 2}))
    answer = rest(client, shot, **wish)
    assert 400 <= answer.status < 500
    assert words in str(answer.json["detail"])
    assert rest(client, shot).status == 200


def test_a_mark_is_asked_for_as_a_change(client):
    document = cut_ball({"kind": "sphere", "subdivisions": 2})
    document["items"]["other"] = {"kind": "shape", "name": "Other", "rank": 9, "geometry": {"kind": "box"}}
    document["items"]["ball"]["recipe"]["steps"] = {
        "it": {"kind": "morph", "rank": 0, "target": "other", "way": "marks"}
    }
    shot = client.new_shot(document)
    step = "/items/ball/recipe/steps/it"
    change = {"kind": "add_mark", "of": step, "here": [0.0, 0.0, 1.0], "there": [0.0, 0.0, 0.5]}
    planned = client.post(f"/api/shots/{shot}/changes", {"revision": 0, "change": change}).json
    (operation,) = planned["patch"]
    assert operation["path"] == f"{step}/marks/{planned['key']}"
    for wrong in ({"of": "/items/ball"}, {"of": f"{step}x"}, {"here": [0.0, 0.0]}, {"there": [1e9, 0.0, 0.0]}):
        answer = client.post(f"/api/shots/{shot}/changes", {"revision": 0, "change": change | wrong})
        assert 400 <= answer.status < 500, wrong
        assert answer.json["detail"]
