"""Findings, strips and starters over HTTP: what is told, what is refused, and that nothing is changed by asking."""

from __future__ import annotations

import pytest
from shots import cut_ball

STARTERS = [
    "soft-dissolve", "sweep", "light-sweep", "flaking-dissolve", "growing-reveal", "knot-reveal", "eaten", "grown", "near-glow", "rings",
    "glowing-shells", "track", "hail", "shredder", "burst-and-bounce", "needle-coat", "tar-coat", "springy", "strands", "stone-swell", "ribbon", "rising-morph", "pair-morph",
]  # fmt: skip


def never_reaching() -> dict:
    told = cut_ball({"kind": "sphere", "subdivisions": 3}, field={"level": 0.99}, source={"reach": 0.3})
    told["items"]["fog"]["place"] = [1.2, 0, 0]
    return told


def test_findings_come_with_words_a_place_and_an_edit_that_mends(client):
    shot = client.new_shot(never_reaching())
    (finding,) = client.post(f"/api/shots/{shot}/findings", {"revision": 0}).json["findings"]
    assert (finding["kind"], finding["place"], finding["item"]) == ("never_reaches", "/fields/front", "ball")
    assert finding["says"].endswith(".")
    (operation,) = finding["mend"]["patch"]
    assert operation["path"] == "/fields/front/level"
    mended = client.edit(shot, 0, operation["path"], operation["value"])
    assert mended.status == 200
    assert client.post(f"/api/shots/{shot}/findings", {"revision": 1}).json == {"findings": []}


def test_findings_of_an_unsaved_patch_are_told_and_nothing_is_saved(client):
    shot = client.new_shot(never_reaching())
    patch = [{"op": "replace", "path": "/fields/front/level", "value": 0.05}]
    assert client.post(f"/api/shots/{shot}/findings", {"revision": 0, "patch": patch}).json == {"findings": []}
    assert client.get(f"/api/shots/{shot}").json["revision"] == 0


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ({}, 422),
        ({"revision": -1}, 422),
        ({"revision": 0, "view": "No Such View!"}, 422),
        ({"revision": 0, "more": 1}, 422),
        ({"revision": 0, "patch": [{"op": "remove", "path": "/items/none"}]}, 422),
    ],
)
def test_wrong_requests_for_findings_are_refused_in_words(client, body, status):
    answer = client.post(f"/api/shots/{client.new_shot(cut_ball())}/findings", body)
    assert answer.status == status
    assert answer.json["detail"]
    assert client.post("/api/shots/nowhere/findings", {"revision": 0}).status == 404


def test_the_starters_say_what_they_do_and_what_to_change_first(client):
    told = client.get("/api/starters").json["starters"]
    assert [one["id"] for one in told] == STARTERS
    assert all(one["says"] and one["first"] for one in told)


@pytest.mark.parametrize("starter", STARTERS)
def test_a_starter_is_an_edit_that_the_document_takes_as_it_is(client, starter):
    shot = client.new_shot(cut_ball({"kind": "box", "width": 3.0}))
    before = client.get(f"/api/shots/{shot}").json["document"]
    made = client.post(f"/api/shots/{shot}/starters/{starter}", {"revision": 0, "item": "ball", "frame": 10}).json
    assert client.get(f"/api/shots/{shot}").json["document"] == before
    wish = {"key": f"laying-{starter}", "label": "lay", "patch": made["patch"]}
    after = client.ask("PATCH", f"/api/shots/{shot}", wish, If_Match='"0"').json["document"]
    assert made["field"] in after["fields"]
    # Every value is spelled out: what the page shows before the server answers is what the server keeps.
    for operation in made["patch"]:
        holder = after
        for part in operation["path"].split("/")[1:]:
            holder = holder[part]
        assert holder == operation["value"]
    assert client.post(f"/api/shots/{shot}/undo", {"key": f"taking-back-{starter}"}).json["document"] == before


def test_starters_are_refused_for_what_is_no_shape_and_for_strange_names(client):
    shot = client.new_shot(cut_ball())
    for path, item, status, words in (
        ("sweep", "fog", 422, "no longer in the shot"),
        ("sweep", "nothing", 422, "no longer in the shot"),
        ("whirlpool", "ball", 404, "no starter of this name"),
    ):
        answer = client.post(f"/api/shots/{shot}/starters/{path}", {"revision": 0, "item": item})
        assert (answer.status, words in answer.json["detail"]) == (status, True)
    assert client.get(f"/api/shots/{shot}").json["revision"] == 0


def test_a_strip_is_the_same_again_and_follows_an_edit(client):
    shot = client.new_shot(cut_ball({"kind": "sphere", "subdivisions": 3}))
    ask = {"revision": 0, "field": "front", "item": "ball"}
    first = client.post(f"/api/shots/{shot}/coverage", ask).json["strip"]
    assert len(first) == 120
    assert client.post(f"/api/shots/{shot}/coverage", ask).json["strip"] == first
    patch = [{"op": "replace", "path": "/fields/front/level", "value": 0.8}]
    dragged = client.post(f"/api/shots/{shot}/coverage", ask | {"patch": patch}).json["strip"]
    # A higher level is reached by less of the ball, at every frame.
    assert all(less[0] <= more[0] for less, more in zip(dragged, first, strict=True))
    assert dragged != first
    assert client.post(f"/api/shots/{shot}/coverage", ask | {"item": "fog"}).status == 422
