"""Exports by job: whole files or none, cancelled, resumed, and taken over when their worker is killed."""

from __future__ import annotations

import io
import secrets
import time
import zipfile

import av
import numpy as np
import pytest
import trimesh
from conftest import Client, kill, recover
from PIL import Image
from shots import cut_ball

from windsock.commands.stack import Stack


def wait_for(check, seconds: float = 240.0):
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        found = check()
        if found:
            return found
        time.sleep(0.05)
    raise AssertionError("it did not happen in time")


def begin(client: Client, shot: str, **wish: object) -> dict:
    body = {"key": secrets.token_hex(8), "revision": 0, "format": "glb", "first": 30, "last": 33} | wish
    made = client.post(f"/api/shots/{shot}/exports", body)
    assert made.status == 201, made.body
    return made.json


def job(client: Client, job_id: str) -> dict:
    return next(one for one in client.get("/api/jobs").json["jobs"] if one["id"] == job_id)


def ended(client: Client, job_id: str) -> dict:
    return wait_for(lambda: (state := job(client, job_id))["state"] not in ("waiting", "running") and state)


def heavy_ball() -> dict:
    return cut_ball({"kind": "sphere", "subdivisions": 6})


@pytest.mark.parametrize("kind", ["glb", "obj", "ply"])
def test_a_range_of_frames_is_one_zip_of_files_that_open(client, kind):
    shot = client.new_shot(cut_ball())
    made = begin(client, shot, format=kind, first=30, last=40, step=5)
    done = ended(client, made["id"])
    assert (done["state"], done["done"], done["total"]) == ("done", 3, 3)
    file = client.get(f"/api/jobs/{made['id']}/file")
    assert len(file.body) == done["size"]
    with zipfile.ZipFile(io.BytesIO(file.body)) as bundle:
        assert bundle.testzip() is None
        assert bundle.namelist() == [f"frame_{frame:05d}.{kind}" for frame in (30, 35, 40)]
        areas = [trimesh.load(io.BytesIO(bundle.read(name)), kind, force="mesh").area for name in bundle.namelist()]
    # More and more of the ball is cut away.
    assert areas[0] > areas[1] > areas[2] > 6


def test_finished_frames_are_pictures_in_a_zip_or_a_film(client):
    document = cut_ball()
    document["picture"] = {"width": 66, "height": 51}
    shot = client.new_shot(document)
    pictures, moving = (begin(client, shot, format=one, last=31) for one in ("picture-png", "film-h264"))
    assert ended(client, pictures["id"])["says"] == "2 frames"
    with zipfile.ZipFile(io.BytesIO(client.get(f"/api/jobs/{pictures['id']}/file").body)) as bundle:
        assert bundle.namelist() == ["frame_00030.png", "frame_00031.png"]
        assert Image.open(io.BytesIO(bundle.read("frame_00030.png"))).size == (66, 51)
    done = ended(client, moving["id"])
    assert (done["state"], done["says"]) == ("done", "2 frames in one file")
    with av.open(io.BytesIO(client.get(f"/api/jobs/{moving['id']}/file").body)) as container:
        assert [(one.width, one.height) for one in container.decode(video=0)] == [(66, 50)] * 2


def test_a_look_at_a_range_is_small_of_some_frames_and_numbered(client):
    """A film of every fifth frame lasts as long as one of all; a sheet shows them side by side; what is clear has an opacity."""
    document = cut_ball() | {"picture": {"width": 128, "height": 96}}
    shot = client.new_shot(document)
    look = {"first": 30, "last": 44, "step": 5, "part": 2, "numbers": True}
    wishes = [begin(client, shot, format=one, **look) for one in ("film-h264", "contact-sheet")]
    clear = begin(client, shot, format="picture-png-clear", last=30, part=4)
    for made in (*wishes, clear):
        assert ended(client, made["id"])["state"] == "done"
    # While it is made and after, each frame can be looked at small.
    told = job(client, wishes[0]["id"])
    assert (told["pictured"], told["first"], told["step"]) == (True, 30, 5)
    for frame, status in ((35, 200), (36, 404), ("../x", 404)):
        answer = client.get(f"/api/jobs/{wishes[0]['id']}/small/{frame}")
        assert answer.status == status
        if status == 200:
            assert Image.open(io.BytesIO(answer.body)).size == (64, 48)
    moving, sheet, zipped = (io.BytesIO(client.get(f"/api/jobs/{one['id']}/file").body) for one in (*wishes, clear))
    # The page can show what browsers play, from any byte on; the zip it cannot.
    told = {
        one: job(client, made["id"])["seen_as"]
        for one, made in zip(("film", "sheet", "zip"), (*wishes, clear), strict=True)
    }
    assert told == {"film": "film", "sheet": "picture", "zip": ""}
    seen = client.get(f"/api/jobs/{wishes[0]['id']}/seen", Range="bytes=4-11")
    assert (seen.status, seen.body) == (206, moving.getvalue()[4:12])
    assert seen.headers["Content-Type"] == "video/mp4"
    with av.open(moving) as container:
        stream = container.streams.video[0]
        frames = list(container.decode(stream))
        assert [(one.width, one.height) for one in frames] == [(64, 48)] * 3
        assert float(frames[-1].pts * stream.time_base) == pytest.approx(10 / 24, abs=2e-3)
    with Image.open(sheet) as whole:
        assert whole.size == (2 * 66 + 2, 2 * 50 + 2)
    with zipfile.ZipFile(zipped) as bundle:
        opacity = np.asarray(Image.open(io.BytesIO(bundle.read("frame_00030.png"))).convert("RGBA"))[..., 3]
    assert (opacity[0, 0], opacity[12, 16]) == (0, 255)


def test_a_finished_picture_is_not_made_while_one_waits(client):
    shot = client.new_shot(cut_ball())
    answer = client.post(
        f"/api/shots/{shot}/frame-file",
        {"revision": 0, "patch": [], "frame": 1.0, "copies": "kept", "format": "picture-png"},
    )
    assert answer.status == 422
    assert "made by a job" in answer.json["detail"]


def test_asked_again_under_the_same_key_it_is_the_same_job(client):
    shot = client.new_shot(cut_ball())
    one, same = begin(client, shot, key="same-key-1234"), begin(client, shot, key="same-key-1234")
    assert one["id"] == same["id"]


def test_it_exports_the_version_it_was_asked_for(client):
    shot = client.new_shot(cut_ball())
    client.edit(shot, 0, "/items/ball/recipe/steps/cut/on", False)
    old, new = begin(client, shot, revision=0, first=40, last=40), begin(client, shot, revision=1, first=40, last=40)
    faces = []
    for one in (old, new):
        ended(client, one["id"])
        with zipfile.ZipFile(io.BytesIO(client.get(f"/api/jobs/{one['id']}/file").body)) as bundle:
            faces.append(len(trimesh.load(io.BytesIO(bundle.read("frame_00040.glb")), "glb", force="mesh").faces))
    assert faces[0] != faces[1] == 5120


def test_cancelled_it_keeps_what_is_done_and_resumed_it_goes_on(client, stack: Stack):
    shot = client.new_shot(heavy_ball())
    made = begin(client, shot, first=20, last=80)
    wait_for(lambda: job(client, made["id"])["done"] >= 2)
    client.post(f"/api/jobs/{made['id']}/cancel", {})
    assert ended(client, made["id"])["state"] == "cancelled"
    assert client.get(f"/api/jobs/{made['id']}/file").status == 404
    folder = stack.data / "exports" / made["id"]
    kept = {path.name: path.stat().st_mtime_ns for path in (folder / "frames").glob("frame_*")}
    assert len(kept) >= 2
    assert not list(folder.glob("*.zip"))
    assert client.post(f"/api/jobs/{made['id']}/resume", {}).status == 200
    wait_for(lambda: job(client, made["id"])["done"] > len(kept))
    for name, moment in kept.items():
        assert (folder / "frames" / name).stat().st_mtime_ns == moment
    client.post(f"/api/jobs/{made['id']}/cancel", {})
    ended(client, made["id"])
    assert client.ask("DELETE", f"/api/jobs/{made['id']}").status == 204
    assert not folder.exists()


def test_a_killed_worker_is_followed_by_another_that_goes_on(client, stack: Stack):
    shot = client.new_shot(heavy_ball())
    made = begin(client, shot, first=20, last=50)
    wait_for(lambda: job(client, made["id"])["done"] >= 3)
    kill(stack, "worker")
    recover(stack)
    done = ended(client, made["id"])
    assert done["state"] == "done"
    with zipfile.ZipFile(io.BytesIO(client.get(f"/api/jobs/{made['id']}/file").body)) as bundle:
        assert bundle.testzip() is None
        assert len(bundle.namelist()) == 31


def test_what_cannot_be_done_is_said(client):
    shot = client.new_shot(cut_ball())
    for wish, words in (
        ({"first": 9, "last": 3}, "lies before"),
        ({"first": 0, "last": 90_000}, "in parts"),
        ({"format": "doc"}, "What is written: glb-moving, usd"),
    ):
        answer = client.post(
            f"/api/shots/{shot}/exports",
            {"key": "12345678", "revision": 0, "format": "glb", "first": 0, "last": 1} | wish,
        )
        assert answer.status in (400, 422)
        assert words in answer.json["detail"]
    too_much = cut_ball({"kind": "plane", "columns": 2048, "rows": 2048})
    made = begin(client, client.new_shot(too_much))
    failed = ended(client, made["id"])
    assert failed["state"] == "failed"
    assert "would fit" in failed["says"]
    assert client.get("/api/jobs/none/file").status == 404
    assert client.post("/api/jobs/none/cancel", {}).status == 404


def test_work_on_the_past_that_takes_long_becomes_a_job_and_the_frame_comes(client):
    document = cut_ball({"kind": "sphere", "subdivisions": 5})
    document |= {"frames": {"first": 0, "last": 1200}, "rate": {"numerator": 8, "denominator": 1}}
    document["fields"]["front"]["memory"] = {"kind": "fade", "seconds": 3.0}
    shot = client.new_shot(document)
    late = {"revision": 0, "frame": 1190}
    first = client.post(f"/api/shots/{shot}/frame", late)
    assert first.status == 503
    assert "A job is at it" in first.json["detail"]
    prepared = next(one for one in client.get("/api/jobs").json["jobs"] if one["shot"] == shot)
    assert prepared["kind"] == "prepare"
    assert ended(client, prepared["id"])["state"] == "done"
    assert client.post(f"/api/shots/{shot}/frame", late).status == 200


@pytest.mark.parametrize(("kind", "start"), [("glb-moving", b"glTF"), ("usd", b"PXR-USDC")])
def test_a_range_of_frames_is_one_file_that_moves(client, kind, start):
    shot = client.new_shot(cut_ball())
    made = begin(client, shot, format=kind, first=30, last=40, step=5)
    assert "moves" in made["name"]
    done = ended(client, made["id"])
    assert (done["state"], done["done"], done["total"]) == ("done", 3, 3), done["says"]
    file = client.get(f"/api/jobs/{made['id']}/file")
    assert file.body.startswith(start)
    assert f".{'usdc' if kind == 'usd' else 'glb'}" in file.headers["Content-Disposition"]


def test_a_film_with_another_finishing_is_not_rendered_again(client, stack: Stack):
    """What it is made from is kept beside the exports: its files are still those that the first job wrote."""
    document = cut_ball() | {"picture": {"width": 64, "height": 48}}
    shot = client.new_shot(document)
    first = begin(client, shot, format="film-h264", last=32)
    assert ended(client, first["id"])["state"] == "done"
    kept = {path.name: path.stat().st_ino for path in stack.data.glob("**/renderings/*/*")}
    assert len(kept) >= 3
    fade = {"kind": "fade_to_colour", "rank": 5, "share": 100.0, "colour": "#00FF00"}
    client.edit(shot, 0, "/finishing/fade", fade, op="add")
    again = begin(client, shot, format="film-h264", revision=1, last=32)
    assert ended(client, again["id"])["state"] == "done"
    assert {path.name: path.stat().st_ino for path in stack.data.glob("**/renderings/*/*")} == kept
    with av.open(io.BytesIO(client.get(f"/api/jobs/{again['id']}/file").body)) as container:
        pixels = next(container.decode(video=0)).to_ndarray(format="rgb24")
    assert pixels[24, 32, 1] > 200 > 60 > pixels[24, 32, 0]
