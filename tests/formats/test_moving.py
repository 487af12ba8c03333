"""Files that move: GLB with nodes and morph targets, USD with time samples, keys as CSV; each by its standard's validator."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pygltflib
import pytest
from pxr import Usd, UsdGeom, UsdValidation  # type: ignore[attr-defined]
from scipy.spatial import cKDTree
from shots import cut_ball, evaluator, parsed, sock_alone
from test_writing import issues

from windsock.core.document.patches import patched
from windsock.core.document.shot import Shot
from windsock.core.geometry.clip import Clip
from windsock.core.refusals import Refusal
from windsock.demo.beacon_sweep import beacon_sweep
from windsock.formats.importing import read_file
from windsock.formats.keys import read_keys, write_keys
from windsock.writers.glb_moving import write_moving_glb
from windsock.writers.moving import Reel, gather
from windsock.writers.usd import write_usd

FRAMES = list(range(0, 40, 8))


def small(document: dict) -> dict:
    for item in document["items"].values():
        geometry = item.get("geometry", {})
        if geometry.get("kind") == "revolve":
            item["geometry"] = geometry | {"segments": 12, "ring_height": 0.4}
        elif geometry.get("kind") == "plane":
            item["geometry"] = geometry | {"columns": 4, "rows": 4}
    return document


def moving_ball() -> dict:
    """A ball that turns, moves and is hidden for a while, with an unusual name, and one that is seen through."""
    document = cut_ball({"kind": "sphere", "subdivisions": 2})
    ball = document["items"]["ball"]
    ball["recipe"]["steps"] = {}
    ball["name"] = 'Ball "№ 7" <&> 🌬'
    ball["place"] = {"keys": {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 32, "value": [4, 1, 0]}}}
    ball["turn"] = {"keys": {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 32, "value": [0, 300, 20]}}}
    hold = {"kind": "hold"}
    ball["shown"] = {
        "keys": {"a": {"frame": 0, "value": 1, "easing": hold}, "b": {"frame": 20, "value": 0, "easing": hold}}
    }
    glass = {"kind": "shape", "name": "Ball ?7?", "rank": 5, "geometry": {"kind": "box", "divisions": 1}}
    document["items"]["glass"] = glass | {"look": {"opacity": 0.4, "transmission": 0.5, "emission": 3.0}}
    return document


SHOTS = {"rigid": moving_ball, "points": lambda: small(sock_alone()), "faces": lambda: small(beacon_sweep())}


def reel_of(name: str) -> tuple[Shot, Reel]:
    shot = parsed(SHOTS[name]())
    frames = list(range(0, 96, 19)) if name == "faces" else FRAMES
    return shot, gather(shot, evaluator(), frames, lambda done, says: None)


@pytest.mark.parametrize("name", list(SHOTS))
def test_the_validator_finds_nothing_in_a_glb_that_moves(name):
    _, reel = reel_of(name)
    told = issues(write_moving_glb(reel))
    assert told["numErrors"] == 0, told["messages"][:5]
    assert told["numWarnings"] == 0, told["messages"][:5]
    assert told["info"]["animationCount"] == 1, told


def test_points_that_move_on_the_same_faces_are_morph_targets():
    _, reel = reel_of("points")
    file = pygltflib.GLTF2.load_from_bytes(write_moving_glb(reel))
    targets = {
        file.meshes[node.mesh].name: len(file.meshes[node.mesh].primitives[0].targets or [])
        for node in file.nodes
        if node.mesh is not None
    }
    # It hangs still at first: equal frames share a target.
    assert 2 <= targets["Sock"] <= len(FRAMES) - 1
    assert targets["Quay"] == 0


@pytest.mark.parametrize("name", ["rigid", "points"])
def test_what_goes_out_moving_comes_back_where_it_was(name):
    """Out by our writer, in by our reader: every shown point within float precision of where the frame had it."""
    shot, reel = reel_of(name)
    clip = read_file(write_moving_glb(reel), "glb")
    assert isinstance(clip, Clip)
    one = evaluator()
    for frame in FRAMES[:3]:
        drawn = one.frame(shot, frame).draw
        places = np.concatenate([item.body.mesh.points @ item.matrix[:3, :3].T + item.matrix[:3, 3] for item in drawn])
        back = clip.at(frame / shot.rate.fps).points
        # Straight lines between the thirty moments a second of the reader and the keys of the writer.
        tolerance = 0.05 if name == "rigid" else 0.02
        away, _ = cKDTree(back).query(places)
        assert np.max(away) < tolerance
        if frame == 0:
            assert np.max(away) < 1e-5


def checked(path: Path) -> list[str]:
    """What the validators that come with USD say of a stage."""
    validators = UsdValidation.ValidationRegistry().GetOrLoadAllValidators()
    errors = UsdValidation.ValidationContext(validators).Validate(Usd.Stage.Open(str(path)))
    return [f"{error.GetName()}: {error.GetMessage()}" for error in errors]


@pytest.mark.parametrize("name", list(SHOTS))
def test_the_validators_of_usd_find_nothing(name, tmp_path):
    shot, reel = reel_of(name)
    path = tmp_path / "shot.usdc"
    path.write_bytes(write_usd(reel, lambda item, place: {"field_A": np.zeros(len(item.body.mesh.points))}))
    assert checked(path) == []
    stage = Usd.Stage.Open(str(path))
    assert UsdGeom.GetStageUpAxis(stage) == "Y"
    assert UsdGeom.GetStageMetersPerUnit(stage) == 1.0
    assert stage.GetTimeCodesPerSecond() == shot.rate.fps
    one = evaluator()
    for frame in reel.frames:
        drawn = {(item.item, item.part): item for item in one.frame(shot, frame).draw}
        for track in reel.tracks:
            prim = next(
                prim for prim in stage.Traverse() if prim.IsA(UsdGeom.Mesh) and prim.GetDisplayName() == track.name
            )
            seen = UsdGeom.Imageable(prim).ComputeVisibility(frame) != "invisible"
            item = drawn.get((track.item, track.seen[0].part))
            assert seen == (item is not None and len(item.body.mesh.faces) > 0)
            if item is not None and seen:
                points = np.array(UsdGeom.Mesh(prim).GetPointsAttr().Get(frame))
                np.testing.assert_allclose(points, item.body.mesh.points, atol=1e-6)
                count = len(UsdGeom.Mesh(prim).GetFaceVertexIndicesAttr().Get(frame))
                assert count == item.body.mesh.faces.size


def test_the_validators_of_usd_would_find_something(tmp_path):
    stage = Usd.Stage.CreateNew(str(tmp_path / "bad.usda"))
    mesh = UsdGeom.Mesh.Define(stage, "/Bad")
    mesh.CreatePointsAttr([(0, 0, 0)])
    mesh.CreateFaceVertexIndicesAttr([0, 1, 2])
    mesh.CreateFaceVertexCountsAttr([3])
    stage.Save()
    assert checked(tmp_path / "bad.usda") != []


# Keys


def test_keys_go_out_as_csv_and_come_back_the_same():
    document = parsed(moving_ball()).model_dump(mode="json")
    text = write_keys(parsed(document))
    assert text.splitlines()[0] == "value,frame,x,y,z,easing,x1,y1,x2,y2"
    assert sum(line.startswith("/items/ball/") for line in text.splitlines()) == 2 + 2 + 2
    again = patched(document, read_keys(text, document))
    for frame in (0, 7.5, 20, 33):
        one, other = parsed(document), parsed(again)  # type: ignore[arg-type]
        at = one.moment(frame)
        for name in ("place", "turn", "shown"):
            assert at(getattr(one.items["ball"], name)) == pytest.approx(at(getattr(other.items["ball"], name)))


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("/items/ball/place,0,1,2,x,ease", "Line 2: a number is missing"),
        ("/items/none/place,0,1,2,3,ease", "Line 2: “/items/none/place” is not a value"),
        ("/items/ball/name,0,1,,,ease", "is not a value"),
        ("/items/ball/place,0,1,2,3,wobbly", "not an easing"),
        ("/items/ball/place,0,1,2,3,ease,1,2,3,4,5", "cells"),
        ("/items/ball/place,nan,1,2,3,ease", "keys of /items/ball/place"),
        ("/items/ball/place,1,1,2,3,ease\n/items/ball/place,1,2,2,3,ease", "same frame"),
        ("/items/ball/geometry/radius,0,1,,,bezier,2,0,1,1", "keys of"),
        ("", "no keys"),
        ('"open', "not CSV"),
    ],
)
def test_wrong_keys_are_refused_with_their_line(line, says):
    document = parsed(moving_ball()).model_dump(mode="json")
    out = io.StringIO("value,frame,x,y,z,easing,x1,y1,x2,y2\n" + line + "\n")
    with pytest.raises(Refusal, match=says):
        read_keys(out.getvalue(), document)
    with pytest.raises(Refusal, match="first line"):
        read_keys("frame,value\n0,1\n", document)
