"""Copies in files: instances by the common extension, or plain meshes; both validators silent, and back in again."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial import KDTree
from shots import evaluator, parse_shot, recipe_shot
from test_moving import checked
from test_writing import issues

from windsock.core.evaluate.expanding import expanded
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal
from windsock.formats.importing import read_mesh
from windsock.writers import frame_writer_of
from windsock.writers.glb_moving import write_moving_glb
from windsock.writers.glb_out import write_glb
from windsock.writers.moving import gather
from windsock.writers.ply_out import ply_with_fields
from windsock.writers.usd import write_usd
from windsock.writers.writer import Shown


def covered(**item: object) -> dict:
    """A ball with flakes of their own colours and light, wires about them, and pieces that go off."""
    document = recipe_shot(
        {"kind": "scatter", "count": 60, "vary": 0.5},
        {"kind": "shade", "part": "copies", "field": "front"},
        {"kind": "shade", "part": "copies", "field": "front", "channel": "emission"},
        {"kind": "wire", "part": "copies", "makes": "wires", "width": 0.004},
        {"kind": "fracture", "count": 8},
        {"kind": "release", "part": "copies", "field": "front", "floor": "none"},
        {"kind": "shift", "field": "front", "move": [0, 0.5, 0]},
        parts=("copies", "wires"),
    )
    document["items"]["ball"] |= {
        "turn": [10, 20, 30],
        "scale": [2, 2, 2],
        "place": [1, 2, 3],
        "name": 'Ball "№ 7" <&> 🌬',
    } | item
    return document


@pytest.mark.parametrize("frame", [0, 60])
@pytest.mark.parametrize("copies", ["kept", "meshes"])
def test_the_validator_finds_nothing_in_a_glb_with_copies(frame, copies):
    one = evaluator()
    shot = parse_shot(covered())
    content = frame_writer_of("glb").written(Shown(one, shot, one.frame(shot, frame)), copies)
    told = issues(content)
    assert told["numErrors"] == 0, told["messages"][:5]
    assert told["numWarnings"] == 0, told["messages"][:5]
    assert (b"EXT_mesh_gpu_instancing" in content) is (copies == "kept")


@pytest.mark.parametrize("stretched", [(2, 2, 2), (1, 3, 0.5)])
def test_copies_come_back_where_they_were(stretched):
    one = evaluator()
    shot = parse_shot(covered(scale=list(stretched)))
    frame = one.frame(shot, 60)
    world = np.concatenate(
        [item.body.mesh.points @ item.matrix[:3, :3].T + item.matrix[:3, 3] for item in expanded(frame).draw]
    )
    for copies in ("kept", "meshes"):
        back = read_mesh(frame_writer_of("glb").written(Shown(one, shot, frame), copies), "glb")
        assert isinstance(back, Mesh)
        # Points that no face uses stay behind; single precision at about 5 m.
        apart, _ = KDTree(world).query(back.points)
        assert apart.max() < 2e-5
        assert len(back.faces) == sum(len(item.body.mesh.faces) for item in expanded(frame).draw)
        corners = back.points[back.faces].astype(float)
        facing = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        along = np.einsum("ij,ij->i", facing, back.normals[back.faces].sum(axis=1))
        assert (along > -1e-9).mean() > 0.98


@pytest.mark.parametrize("keep", [True, False])
def test_files_that_move_hold_copies(keep, tmp_path):
    shot = parse_shot(covered())
    reel = gather(shot, evaluator(), [40, 50, 60], lambda done, says: None, keep_copies=keep)
    told = issues(write_moving_glb(reel))
    assert told["numErrors"] == 0, told["messages"][:5]
    assert told["numWarnings"] == 0, told["messages"][:5]
    # Wires are of one model for each width that copies of a size need.
    names = {track.name for track in reel.tracks}
    assert {name.rstrip(" 0123456789") for name in names} == {track.name for track in reel.tracks[:3]}
    assert len(names) == len(reel.tracks)
    if not keep:
        path = tmp_path / "shot.usdc"
        path.write_bytes(write_usd(reel, lambda item, place: {}))
        assert checked(path) == []


def test_ply_has_the_fields_at_every_copy():
    one = evaluator()
    shot = parse_shot(covered())
    content = ply_with_fields(one, shot, expanded(one.frame(shot, 60)))
    assert b"field_A" in content[:2000]
    assert len(read_mesh(content, "ply").faces) > 60 * 24


def test_too_many_faces_for_plain_meshes_are_refused():
    document = recipe_shot({"kind": "scatter", "count": 200_000}, parts=("copies",))
    one = evaluator()
    frame = one.frame(parse_shot(document), 0)
    assert len(write_glb(parse_shot(document), frame)) < 12_000_000
    with pytest.raises(Refusal, match="keeps them as copies"):
        expanded(frame)
