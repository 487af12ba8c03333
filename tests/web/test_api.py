"""The API over HTTP: frames, edits, files, and errors in words."""

from __future__ import annotations

import json
import struct
from pathlib import Path

import numpy as np
import pytest
import trimesh
from shots import cut_ball

from windsock.core.changing.offers import offers
from windsock.web.app import create_app

DOCS = Path(__file__).parents[2] / "docs"


def opened(content: bytes) -> tuple[dict, dict[str, bytes]]:
    """A bundle as manifest and blocks."""
    (length,) = struct.unpack_from("<I", content)
    manifest = json.loads(content[4 : 4 + length])
    place, blocks = 4 + length, {}
    for name, size in manifest["sent"]:
        blocks[name] = content[place : place + size]
        place += size
    assert place == len(content)
    return manifest, blocks


def wish(frame: float = 40, revision: int = 0, **more: object) -> dict:
    return {"revision": revision, "frame": frame} | more


def test_a_frame_comes_in_one_round_trip(client):
    shot = client.new_shot(cut_ball())
    manifest, blocks = opened(
        client.post(f"/api/shots/{shot}/frame", wish(heat={"field": "front", "item": "ball"})).body
    )
    (item,) = manifest["items"]
    arrays = item["arrays"]
    assert set(arrays) == {"points", "normals", "faces", "heat"}
    points = np.frombuffer(blocks[arrays["points"]["hash"]], dtype=np.float32).reshape(-1, 3)
    faces = np.frombuffer(blocks[arrays["faces"]["hash"]], dtype=np.uint32).reshape(-1, 3)
    heat = np.frombuffer(blocks[arrays["heat"]["hash"]], dtype=np.float32)
    np.testing.assert_allclose(np.linalg.norm(points, axis=1), 1, atol=0.01)
    assert faces.max() < len(points) == len(heat)
    assert heat.max() <= 0.5 + 1e-5
    (step,) = manifest["steps"]
    assert step["faces_in"] == 5120
    assert step["faces_out"] == len(faces)
    assert manifest["reaches"][0]["outline"] == {"form": "ball", "radius": pytest.approx(1.0)}
    assert manifest["values"] == {"/items/fog/place": [pytest.approx(1.4), 0, 0]}


def test_a_block_that_is_held_is_not_sent_again(client):
    shot = client.new_shot(cut_ball())
    manifest, blocks = opened(client.post(f"/api/shots/{shot}/frame", wish()).body)
    assert len(blocks) == 3
    again, more = opened(client.post(f"/api/shots/{shot}/frame", wish(held=list(blocks))).body)
    assert more == {}
    assert again["items"] == manifest["items"]
    _, next_blocks = opened(client.post(f"/api/shots/{shot}/frame", wish(41, held=list(blocks))).body)
    assert not set(next_blocks) & set(blocks)
    name = next(iter(blocks))
    single = client.get(f"/api/blocks/{name}")
    assert single.body == blocks[name]
    assert "immutable" in single.headers["Cache-Control"]


def test_frames_over_http_are_the_same_in_any_order(client):
    shot = client.new_shot(cut_ball())
    seen: dict[int, dict] = {}
    for frame in [0, 35, 40, 45, 40, 0, 45, 35]:
        manifest, _ = opened(client.post(f"/api/shots/{shot}/frame", wish(frame)).body)
        hashes = {name: array["hash"] for name, array in manifest["items"][0]["arrays"].items()}
        assert seen.setdefault(frame, hashes) == hashes


def test_an_unsaved_patch_is_seen_and_not_kept(client):
    shot = client.new_shot(cut_ball())
    plain, _ = opened(client.post(f"/api/shots/{shot}/frame", wish()).body)
    patch = [{"op": "replace", "path": "/fields/front/level", "value": 0.2}]
    dragged, _ = opened(client.post(f"/api/shots/{shot}/frame", wish(patch=patch)).body)
    assert dragged["steps"][0]["faces_out"] < plain["steps"][0]["faces_out"]
    assert client.get(f"/api/shots/{shot}").json["document"]["fields"]["front"]["level"] == 0.5


def test_the_strip_and_the_probe_answer(client):
    shot = client.new_shot(cut_ball())
    strip = client.post(f"/api/shots/{shot}/coverage", wish(field="front", item="ball")).json["strip"]
    assert len(strip) == 120
    assert strip[0] == [0, 0]
    assert strip[75][0] > 0.5
    told = client.post(f"/api/shots/{shot}/probe", wish(field="front", item="ball", place=[0.3, 0.954, 0])).json
    # 1.456 m from the controller, of a reach of 1.5 m that falls over a metre; the place is on a face, not on the sphere.
    assert told["value"] == pytest.approx(0.044, abs=0.01)
    assert told["inside"] == 0.0


def test_edits_answer_with_the_shot_and_what_undo_would_do(client):
    shot = client.new_shot(cut_ball())
    made = client.edit(shot, 0, "/fields/front/level", 0.4, label="level 0.40")
    assert (made.status, made.json["revision"], made.json["undo"]) == (200, 1, "level 0.40")
    back = client.post(f"/api/shots/{shot}/undo", {"key": "undo-1-abc"})
    assert (back.json["document"]["fields"]["front"]["level"], back.json["redo"]) == (0.5, "level 0.40")


def test_a_stale_edit_is_a_412_with_both_values(client):
    shot = client.new_shot(cut_ball())
    client.edit(shot, 0, "/fields/front/level", 0.4)
    stale = client.edit(shot, 0, "/fields/front/level", 0.6)
    assert stale.status == 412
    assert stale.headers["Content-Type"] == "application/problem+json"
    assert stale.json["clashes"] == [{"path": "/fields/front/level", "yours": 0.6, "theirs": 0.4}]
    assert (
        client.ask(
            "PATCH",
            f"/api/shots/{shot}",
            {"key": "a" * 9, "label": "x", "patch": [{"op": "remove", "path": "/camera"}]},
        ).status
        == 428
    )


def test_files_are_kept_by_content_and_served_to_frames(client, stack):
    box = trimesh.creation.box((2, 2, 2)).export(file_type="obj").encode()
    made = client.post("/api/assets?name=crate.obj", box)
    assert made.status == 201
    assert made.json["faces"] == 12
    assert client.post("/api/assets?name=again.obj", box).json == made.json
    document = cut_ball({"kind": "imported", "asset": made.json["hash"], "scale": 0.5})
    shot = client.new_shot(document)
    for path in (stack.data / "cache" / "assets").glob("*"):
        path.unlink()
    manifest, _ = opened(client.post(f"/api/shots/{shot}/frame", wish(0)).body)
    assert manifest["steps"][0]["faces_in"] == 12


def test_a_frame_is_taken_away_as_glb_and_the_shot_as_json(client):
    shot = client.new_shot(cut_ball())
    assert client.post(f"/api/shots/{shot}/frame-file", wish()).body[:4] == b"glTF"
    document = client.get(f"/api/shots/{shot}/document.json").json
    assert client.get(f"/api/shots/{client.new_shot(document)}").json["document"] == document


def refused_with(document: dict) -> dict:
    return {"name": None, "document": document}


NUMBERS = ["NaN", "1e400", "-1", "1000000000", '"x"', "null", "[1]", "true"]


@pytest.mark.parametrize("number", NUMBERS)
@pytest.mark.parametrize("place", ["frame", "document"])
def test_wrong_numbers_are_answered_in_words(client, number, place):
    shot = client.new_shot(cut_ball())
    if place == "frame":
        answer = client.post(
            f"/api/shots/{shot}/frame", f'{{"revision":0,"frame":{number}}}'.encode(), Content_Type="application/json"
        )
        if number == "-1":
            assert answer.status == 200
            return
    else:
        patch = f'{{"key":"abcdefgh","label":"x","patch":[{{"op":"replace","path":"/items/ball/geometry/radius","value":{number}}}]}}'
        answer = client.ask(
            "PATCH", f"/api/shots/{shot}", patch.encode(), If_Match='"0"', Content_Type="application/json"
        )
    assert answer.status == 422, answer.body
    assert answer.headers["Content-Type"] == "application/problem+json"
    assert "Nothing was changed" in answer.json["detail"]
    assert client.get(f"/api/shots/{shot}").json["revision"] == 0


def test_what_is_not_there_is_said(client):
    for path in ("/api/shots/none", "/api/shots/none/document.json", "/api/nothing"):
        answer = client.get(path)
        assert answer.status == 404
        assert answer.json["detail"]
    shot = client.new_shot(cut_ball())
    missing = client.new_shot(cut_ball({"kind": "imported", "asset": "0" * 64}))
    assert "Import the file again" in client.post(f"/api/shots/{missing}/frame", wish()).json["detail"]
    gone = client.post(f"/api/shots/{shot}/probe", wish(field="none", item="ball", place=[0, 0, 0]))
    assert "no longer in the shot" in gone.json["detail"]
    assert client.post(f"/api/shots/{shot}/frame", b"{", Content_Type="application/json").status in (400, 422)
    assert client.get("/api/blocks/" + "0" * 24).status == 422


def test_too_much_is_refused_and_the_next_frame_comes(client):
    shot = client.new_shot(cut_ball({"kind": "sphere", "build": "latitude", "segments": 4096, "rings": 4096}))
    answer = client.post(f"/api/shots/{shot}/frame", wish())
    assert answer.status == 422 or answer.status == 413
    assert "limit is 3,000,000" in answer.json["detail"]
    assert client.post(f"/api/shots/{client.new_shot(cut_ball())}/frame", wish()).status == 200


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("empty.obj", b"", "empty"),
        ("photo.tiff", b"II*", "OBJ, GLB, glTF, PLY, STL"),
        ("half.glb", b"glTF\x02\0\0\0", "not a whole GLB"),
        ("nan.obj", b"v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "not numbers"),
    ],
)
def test_files_that_cannot_be_read_are_refused_and_not_kept(client, name, content, words):
    before = client.get("/api/assets").json
    answer = client.post(f"/api/assets?name={name}", content)
    assert answer.status == 422
    assert words in answer.json["detail"]
    assert client.get("/api/assets").json == before


def test_the_published_description_is_the_one_of_the_code():
    app = create_app("postgresql+psycopg://x@127.0.0.1:1/x", [Path("/nowhere")], Path("/nowhere"), Path("/nowhere"))
    with app.app_context():
        spec = json.loads(json.dumps(app.spec))
    assert spec["openapi"].startswith("3.1")
    assert json.loads((DOCS / "openapi.json").read_text()) == spec
    assert json.loads((DOCS / "offers.json").read_text()) == offers().model_dump(mode="json")
