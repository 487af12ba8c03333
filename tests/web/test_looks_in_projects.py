"""Looks that are kept in a project, and go with it as a file."""

from __future__ import annotations

from shots import cut_ball

from windsock.core.look import Look

WET = Look(base_colour="#335544", roughness=0.12).model_dump(mode="json")


def test_a_look_is_kept_found_again_replaced_and_let_go(client):
    project = client.post("/api/projects", {"name": "Kept looks"}).json["id"]
    path = f"/api/projects/{project}/looks"
    assert client.get(path).json["looks"] == []
    kept = client.post(path, {"name": "Wet slate", "look": WET})
    assert kept.status == 201
    keyed = WET | {"emission": {"keys": {"a": {"frame": 3, "value": 2.0, "easing": {"kind": "linear"}}}}}
    assert client.post(path, {"name": "Pulse", "look": keyed}).status == 201
    again = client.post(path, {"name": "Wet slate", "look": WET | {"roughness": 0.4}})
    assert again.json["id"] == kept.json["id"]
    found = client.get(path).json["looks"]
    assert [(one["name"], one["look"]["roughness"]) for one in found] == [("Wet slate", 0.4), ("Pulse", 0.12)]
    assert found[1]["look"]["emission"]["keys"]["a"]["value"] == 2.0
    # A project as one file takes them along.
    assert client.post(f"/api/projects/{project}/shots", {"document": cut_ball()}).status == 201
    content = client.get(f"/api/projects/{project}/file").body
    brought = client.post("/api/projects/file", content).json["id"]
    assert [one["look"] for one in client.get(f"/api/projects/{brought}/looks").json["looks"]] == [
        one["look"] for one in found
    ]
    assert client.ask("DELETE", f"{path}/{kept.json['id']}").status == 204
    assert client.ask("DELETE", f"/api/projects/{brought}/looks/{found[1]['id']}").status == 204
    assert [one["name"] for one in client.get(path).json["looks"]] == ["Pulse"]


def test_what_is_no_look_and_too_many_are_refused_in_words(client):
    project = client.post("/api/projects", {"name": "Kept looks"}).json["id"]
    path = f"/api/projects/{project}/looks"
    for body in ({"name": "", "look": WET}, {"name": "A", "look": {"roughness": 7}}, {"name": "A", "look": "red"}):
        assert client.post(path, body).status == 422
    assert client.post("/api/projects/none/looks", {"name": "A", "look": WET}).status == 404
    for place in range(100):
        assert client.post(path, {"name": f"Look {place}", "look": WET}).status == 201
    refused = client.post(path, {"name": "One more", "look": WET})
    assert refused.status == 422
    assert "Let go of one" in refused.json["detail"]


def test_a_kept_look_is_laid_by_an_edit(client):
    shot = client.new_shot(cut_ball())
    wish = {"kind": "lay_kept_look", "of": "/items/ball/look", "look": WET, "called": "Wet slate"}
    planned = client.post(f"/api/shots/{shot}/changes", {"revision": 0, "patch": [], "frame": 0, "change": wish})
    assert planned.status == 200, planned.json
    (operation,) = planned.json["patch"]
    assert operation["value"] == WET
    assert planned.json["says"] == "look Wet slate"
