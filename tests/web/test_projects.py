"""Projects over HTTP: put away and brought back, as one file out and in, shots with their history and keys."""

from __future__ import annotations

import io
import json
import time
import zipfile

import pytest
from fuzzing import SVG

from windsock.formats.font import FOLDER

DRAWING = {"kind": "extrude", "face_size": 0.2}


@pytest.fixture
def project(client):
    """A project of one shot with an imported drawing."""
    made = client.post("/api/projects", {"name": "Harbour"}).json["id"]
    asset = client.post("/api/assets?name=sign.svg", SVG).json["hash"]
    shape = {"kind": "shape", "name": "Sign", "rank": 0, "geometry": DRAWING | {"asset": asset}}
    shot = client.post(f"/api/projects/{made}/shots", {"document": {"name": "One", "items": {"sign": shape}}}).json[
        "id"
    ]
    return made, shot, asset


def listed(client, project: str) -> dict:
    return next(one for one in client.get("/api/projects").json["projects"] if one["id"] == project)


def test_a_project_goes_out_as_one_file_and_comes_back_the_same(client, project):
    made, shot, asset = project
    packed = client.get(f"/api/projects/{made}/file")
    assert packed.headers["Content-Disposition"].endswith(".windsock.zip")
    names = zipfile.ZipFile(io.BytesIO(packed.body)).namelist()
    assert sorted(names) == sorted(["project.json", f"files/{asset}.svg"])
    again = client.post("/api/projects/file", packed.body)
    assert again.status == 201
    told = listed(client, again.json["id"])
    assert (told["name"], [one["name"] for one in told["shots"]]) == ("Harbour", ["One"])
    one, other = (client.get(f"/api/shots/{key}").json["document"] for key in (shot, told["shots"][0]["id"]))
    assert one == other


def broken(client, project: str, change) -> bytes:
    held = zipfile.ZipFile(io.BytesIO(client.get(f"/api/projects/{project}/file").body))
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as bundle:
        for name in held.namelist():
            content = change(name, held.read(name))
            if content is not None:
                bundle.writestr(name, content)
    return out.getvalue()


def test_files_that_are_no_projects_are_refused_and_nothing_is_made(client, project):
    made, _, _ = project

    def told(**changed: object):
        return lambda name, content: json.dumps(json.loads(content) | changed) if name == "project.json" else content

    wrong = {
        "not a project": b"hello",
        "no project.json": broken(client, made, lambda name, content: None if name == "project.json" else content),
        "cannot be read": broken(client, made, told(windsock_project=7)),
        "Shot 1 of the file": broken(client, made, told(shots=[{"name": ""}])),
        "is damaged": broken(client, made, lambda name, content: content + b" " if name.endswith("svg") else content),
        "damaged (KeyError)": broken(client, made, lambda name, content: None if name.endswith("svg") else content),
        "not in the file": broken(client, made, told(files=[])),
        "not read here": broken(client, made, told(files=[{"hash": "0" * 64, "kind": "exe", "name": "x"}])),
    }
    before = len(client.get("/api/projects").json["projects"])
    for says, content in wrong.items():
        answer = client.post("/api/projects/file", content)
        assert answer.status == 422, says
        assert says in answer.json["detail"]
        assert "Nothing was made" in answer.json["detail"]
    assert len(client.get("/api/projects").json["projects"]) == before


def test_projects_and_shots_are_archived_deleted_and_brought_back(client, project):
    made, shot, _ = project
    for kept in ("archived", "deleted", "here"):
        assert client.ask("PUT", f"/api/shots/{shot}/kept", {"kept": kept}).status == 204
        assert client.ask("PUT", f"/api/projects/{made}/kept", {"kept": kept}).status == 204
        told = listed(client, made)
        assert (told["kept"], told["shots"][0]["kept"]) == (kept, kept)
    assert client.ask("DELETE", f"/api/shots/{shot}").status == 204
    assert listed(client, made)["shots"][0]["kept"] == "deleted"
    assert client.ask("PUT", f"/api/shots/{shot}/kept", {"kept": "gone"}).status == 422
    assert client.ask("PUT", "/api/shots/none/kept", {"kept": "here"}).status == 404


def test_history_return_and_keys_over_http(client, project):
    _, shot, _ = project
    place = "/items/sign/place"
    for revision, x in enumerate((1.0, 2.0)):
        assert client.edit(shot, revision, place, [x, 0, 0], label=f"place {x}").status == 200
    edits = client.get(f"/api/shots/{shot}/history").json["edits"]
    assert [(edit["revision"], edit["label"], edit["mine"]) for edit in edits] == [
        (2, "place 2.0", True),
        (1, "place 1.0", True),
    ]
    assert client.get(f"/api/shots/{shot}/history?before=2").json["edits"][0]["revision"] == 1
    back = client.post(f"/api/shots/{shot}/return", {"key": "return-key-1", "revision": 1})
    assert back.json["document"]["items"]["sign"]["place"] == [1, 0, 0]
    assert client.get(f"/api/shots/{shot}/keys.csv").body.decode().splitlines() == [
        "value,frame,x,y,z,easing,x1,y1,x2,y2"
    ]
    text = f"value,frame,x,y,z,easing,x1,y1,x2,y2\n{place},0,1,2,3,linear\n{place},24,4,5,6,hold\n"
    brought = client.post(f"/api/shots/{shot}/keys", {"text": text, "revision": 3}).json["patch"]
    assert [one["path"] for one in brought] == [place]
    wrong = client.post(f"/api/shots/{shot}/keys", {"text": "hello", "revision": 3})
    assert wrong.status == 422
    assert "first line" in wrong.json["detail"]


def test_an_edit_of_somebody_else_is_told_and_not_by_whom(client, client_for, project):
    _, shot, _ = project
    other = client_for(client.address)
    known = client.get("/api/events").json["version"]
    assert other.edit(shot, 0, "/name", "Renamed elsewhere", label="another name").status == 200
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        answer = client.get(f"/api/events?known={known}")
        told = [one for one in answer.json.get("edits") or [] if one["shot"] == shot]
        if told:
            break
        time.sleep(0.1)
    assert told == [{"shot": shot, "revision": 1, "label": "another name", "mine": False}]
    assert other.browser.encode() not in answer.body
    assert next(one for one in other.get("/api/events").json["edits"] if one["shot"] == shot)["mine"]
    # What did not change is not told again.
    again = client.get(f"/api/events?known={answer.json['version']}").json
    assert again["edits"] is None


def test_imported_drawings_and_fonts_tell_what_they_are(client):
    drawing = client.post("/api/assets?name=sign.svg", SVG).json
    assert drawing["sort"] == "drawing"
    assert drawing["paints"] > 3
    lines = client.get(f"/api/assets/{drawing['hash']}/lines?height=2").json
    heights = [point["place"][1] for line in lines["lines"] for point in line["points"]]
    assert 1.0 < max(heights) - min(heights) <= 2.0 + 1e-6
    font = client.post("/api/assets?name=own.woff2", (FOLDER / "stencil.woff2").read_bytes()).json
    assert font["sort"] == "font"
    text = {"kind": "shape", "name": "T", "rank": 0, "geometry": {"kind": "text", "words": "KP", "font": font["hash"]}}
    shot = client.new_shot({"name": "Text", "items": {"t": text}})
    frame = client.post(f"/api/shots/{shot}/frame-file", {"revision": 0, "frame": 0})
    assert frame.body[:4] == b"glTF"
    wrong = client.new_shot(
        {"name": "T", "items": {"t": text | {"geometry": text["geometry"] | {"font": drawing["hash"]}}}}
    )
    answer = client.post(f"/api/shots/{wrong}/frame-file", {"revision": 0, "frame": 0})
    assert "not a font" in answer.json["detail"]
