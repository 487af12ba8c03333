"""A whole shot is made by asking the server what changes mean and saving the edits that it answers with."""

from __future__ import annotations

import json
import struct

import pytest

from windsock.core.document.patches import Operation, difference
from windsock.core.document.shot import parse_shot
from windsock.demo.loading import SHOTS


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

    def put(self, patch: list[Operation]) -> None:
        """Put values."""
        self.edits += 1
        plain = [operation.plain() for operation in patch]
        wish = {"key": f"edit-{self.id[:12]}-{self.edits}", "label": "values", "patch": plain}
        reply = self.client.ask("PATCH", f"/api/shots/{self.id}", wish, If_Match=f'"{self.revision}"')
        assert reply.status == 200, reply.json
        self.revision = reply.json["revision"]

    def drawn(self, frame: float) -> list[tuple]:
        """What is drawn of a frame: which arrays, standing where, looking how."""
        content = self.client.post(f"/api/shots/{self.id}/frame", {"revision": self.revision, "frame": frame}).body
        (length,) = struct.unpack_from("<I", content)
        items = json.loads(content[4 : 4 + length])["items"]
        return [(item["item"], item["matrix"], item["look"], item["arrays"]) for item in items]

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


def test_a_whole_demo_shot_is_made_by_the_api_alone_and_looks_the_same(client):
    """Things are added by changes as the page asks for them; their settings are put as the page puts them."""
    wanted = parse_shot(SHOTS["the-sock-itself"]()).model_dump(mode="json")
    shot = Shot(client, {"name": wanted["name"]})
    for key, item in sorted(wanted["items"].items(), key=lambda entry: entry[1]["rank"]):
        name = key.replace("-", " ").capitalize()
        if item["kind"] == "shape":
            made = shot.change(kind="add_shape", name=name, geometry=item["geometry"])
        elif item["kind"] == "path":
            made = shot.change(kind="add_paths", name=name)
        else:
            made = shot.change(kind="add_item", what=item["kind"], name=name)
        assert made["item"] == key
        for step in in_rank(item.get("recipe", {}).get("steps", {})):
            shot.change(kind="add_step", item=key, step=step["kind"])
            if step["field"] is not None and step["field"] not in shot.document["fields"]:
                word = step["field"].replace("-", " ").capitalize()
                last = in_rank(shot.document["items"][key]["recipe"]["steps"], by_key=True)[-1]
                drives = shot.change(kind="drive_by_new_field", item=key, step=last, name=word)
                assert drives["field"] == step["field"]
                for source in shot.document["fields"][step["field"]]["sources"]:
                    shot.change(kind="remove_clause", field=step["field"], source=source)
                for source in in_rank(wanted["fields"][step["field"]]["sources"]):
                    shot.change(kind="add_clause", field=step["field"], source=source["kind"])
    made = shot.document
    wanted["fields"] = {key: renamed(field, "sources", made["fields"][key]) for key, field in wanted["fields"].items()}
    for key, item in wanted["items"].items():
        if item["kind"] == "shape":
            item["recipe"] = renamed(item["recipe"], "steps", made["items"][key]["recipe"])
    shot.put(difference(made, wanted))
    assert shot.document == wanted
    other = Shot(client, wanted)
    assert shot.drawn(40) == other.drawn(40)


def in_rank(things: dict, by_key: bool = False) -> list:
    order = sorted(things, key=lambda key: things[key]["rank"])
    return order if by_key else [things[key] for key in order]


def renamed(holder: dict, name: str, like: dict) -> dict:
    """A thing with the ids of a collection in it as another one has them, in the same order."""
    ids = in_rank(like[name], by_key=True)
    return holder | {name: dict(zip(ids, in_rank(holder[name]), strict=True))}


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
