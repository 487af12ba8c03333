"""A whole shot is made by asking the server what changes mean and saving the edits that it answers with."""

from __future__ import annotations

import pytest


class Shot:
    """A shot that is changed through the API alone."""

    def __init__(self, client, document: dict) -> None:
        self.client = client
        self.id = client.new_shot(document)
        self.revision, self.edits = 0, 0

    def ask(self, **change: object) -> dict:
        answer = self.client.post(f"/api/shots/{self.id}/changes", {"revision": self.revision, "change": change})
        assert answer.status == 200, answer.json
        return answer.json

    def change(self, **change: object) -> dict:
        """Ask what a change is, and do it."""
        planned = self.ask(**change)
        self.edits += 1
        wish = {"key": f"edit-{self.id[:12]}-{self.edits}", "label": planned["says"], "patch": planned["patch"]}
        reply = self.client.ask("PATCH", f"/api/shots/{self.id}", wish, If_Match=f'"{self.revision}"')
        assert reply.status == 200, reply.json
        self.revision = reply.json["revision"]
        return planned

    @property
    def document(self) -> dict:
        return self.client.get(f"/api/shots/{self.id}").json["document"]


def test_a_shot_is_made_by_changes_alone(client):
    shot = Shot(client, {"name": "Made by hand"})
    ball = shot.change(kind="add_built", what="sphere")["item"]
    shot.change(kind="add_item", what="camera")
    assert shot.document["camera"] == "camera"
    cut = shot.change(kind="add_step", item=ball, step="cut_away")
    assert shot.document["items"][ball]["recipe"]["steps"]["cut-away"]["field"] == cut["field"]
    shot.change(kind="add_step", item=ball, step="scatter")
    shot.change(kind="add_step", item=ball, step="jumble")
    assert shot.document["items"][ball]["recipe"]["steps"]["jumble"]["part"] == "copies"
    path = shot.change(kind="add_paths")["item"]
    assert shot.change(kind="add_sweep", along=path)["item"] == "sweep"
    copy = shot.change(kind="copy_item", item=ball)["item"]
    assert shot.document["items"][copy]["place"][0] == pytest.approx(2.2)  # 1.1 times as far as it is wide
    geometry = {"kind": "tube", "radius": 0.2}
    shot.change(kind="add_shape", name="Pipe", geometry=geometry, place=[0, 1, 0], in_place_of=copy)
    assert copy not in shot.document["items"]
    controller = next(key for key, item in shot.document["items"].items() if item["kind"] == "controller")
    warning = shot.ask(kind="remove_item", item=controller)["warning"]
    assert warning.startswith("Controller is used by field A Front")
    shot.change(kind="remove_item", item=controller)
    assert [*shot.document["fields"]["front"]["sources"]] == ["noise"]


def test_nothing_is_changed_by_asking_and_an_unsaved_patch_counts(client):
    shot = Shot(client, {"name": "Any"})
    added = shot.ask(kind="add_built", what="box")
    assert shot.document["items"] == {}
    patch = {"revision": 0, "patch": added["patch"], "change": {"kind": "remove_item", "item": added["item"]}}
    answer = client.post(f"/api/shots/{shot.id}/changes", patch)
    assert answer.json["patch"] == [{"op": "remove", "path": "/items/box", "value": None}]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"kind": "remove_item", "item": "gone"}, "no longer in the shot"),
        ({"kind": "add_step", "item": "gone", "step": "shade"}, "no longer in the shot"),
        ({"kind": "fly"}, "fly"),
        ({"kind": "add_shape", "name": "X", "geometry": {"kind": "box", "divisions": 10**9}}, "divisions"),
        ({"kind": "copy_item"}, "item"),
        (7, ""),
    ],
)
def test_what_cannot_be_asked_for_is_refused_in_words(client, change, words):
    shot = client.new_shot({"name": "Any"})
    answer = client.post(f"/api/shots/{shot}/changes", {"revision": 0, "change": change})
    assert 400 <= answer.status < 500
    assert words in str(answer.json)
