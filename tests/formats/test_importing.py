"""Files in: what they hold arrives; what is broken is refused in words."""

from __future__ import annotations

import json
import random
import struct

import numpy as np
import pytest
import trimesh
from shots import cut_ball, evaluator, parsed

from windsock.core.evaluate.measured import PosedMesh
from windsock.core.kernels.areas import face_areas
from windsock.core.refusals import Refusal
from windsock.core.shapes.imported import Imported, place_imported
from windsock.core.timing.parameter import Moment
from windsock.formats.importing import read_mesh, summary
from windsock.formats.scene import place_numbers
from windsock.writers.glb_out import write_glb
from windsock.writers.ply_out import ply_with_fields

TETRAHEDRON = b"""# a comment
v 0 0 0
v 1 0 0
v 0 1 0
v 0 0 1
f 1 3 2
f 1 2 4
f 2 3 4
f 1 4 3
"""
SQUARE = b"""v 0 0 0 1 0 0
v 1 0 0 1 0 0
v 1 1 0 1 0 0
v 0 1 0 1 0 0
vt 0 0
vt 1 0
vt 1 1
vt 0 1
vn 0 0 1
f 1/1/1 2/2/1 3/3/1 4/4/1
"""


def test_an_obj_arrives_with_smooth_normals_where_it_has_none():
    mesh = read_mesh(TETRAHEDRON, "obj")
    assert summary(mesh)["high"] == [1.0, 1.0, 1.0]
    assert (len(mesh.points), len(mesh.faces)) == (4, 4)
    assert face_areas(mesh.points, mesh.faces).sum() == pytest.approx(1.5 + np.sqrt(3) / 2)
    np.testing.assert_allclose(np.linalg.norm(mesh.normals, axis=1), 1, atol=1e-6)
    assert (np.einsum("ij,ij->i", mesh.normals, mesh.points - 0.25) > 0).all()


def test_uv_normals_and_colours_of_an_obj_are_kept():
    mesh = read_mesh(SQUARE, "obj")
    assert len(mesh.faces) == 2
    np.testing.assert_allclose(mesh.normals, [[0, 0, 1]] * len(mesh.points), atol=1e-6)
    assert mesh.uv is not None
    np.testing.assert_allclose(mesh.uv, mesh.points[:, :2], atol=1e-6)


def test_vertex_colours_of_an_obj_are_kept():
    coloured = b"v 0 0 0 1 0 0\nv 1 0 0 1 0 0\nv 0 1 0 1 0 0\nf 1 2 3\n"
    mesh = read_mesh(coloured, "obj")
    assert mesh.colour is not None
    np.testing.assert_allclose(mesh.colour, [[1, 0, 0]] * 3, atol=1e-6)


def moved_box() -> bytes:
    scene = trimesh.Scene()
    turn = trimesh.transformations.rotation_matrix(np.pi / 2, [0, 0, 1])
    scene.add_geometry(
        trimesh.creation.box((2, 1, 1)), transform=trimesh.transformations.translation_matrix((5, 0, 0)) @ turn
    )
    return scene.export(file_type="glb")  # type: ignore[return-value]


def test_node_transforms_of_a_glb_are_applied():
    mesh = read_mesh(moved_box(), "glb")
    np.testing.assert_allclose(mesh.points.min(axis=0), [4.5, -1, -0.5], atol=1e-6)
    np.testing.assert_allclose(mesh.points.max(axis=0), [5.5, 1, 0.5], atol=1e-6)


def test_what_goes_out_as_glb_comes_back_equal():
    shot = parsed(cut_ball())
    frame = evaluator().frame(shot, 40)
    mesh = frame.draw[0].body.mesh
    back = read_mesh(write_glb(shot, frame), "glb")
    # Front and back faces are two surfaces of the file.
    assert len(back.faces) == 2 * len(mesh.faces)
    np.testing.assert_allclose(np.unique(back.points, axis=0), np.unique(mesh.points, axis=0), atol=1e-6)
    assert face_areas(back.points, back.faces).sum() == pytest.approx(
        2 * face_areas(mesh.points, mesh.faces).sum(), rel=1e-6
    )


@pytest.mark.parametrize(("up", "height"), [("x", 2.0), ("y", 3.0), ("z", 5.0)])
def test_unit_and_up_axis(up, height):
    mesh = read_mesh(trimesh.creation.box((200, 300, 500)).export(file_type="obj").encode(), "obj")
    placed = place_imported(Imported(asset="0" * 64, scale=0.01, up=up), mesh, None, Moment(0, 0))
    assert np.ptp(placed.points[:, 1]) == pytest.approx(height)
    corners = placed.points[placed.faces].astype(float)
    assert np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() > 0


def glb_saying(told: object) -> bytes:
    text = json.dumps(told).encode()
    text += b" " * (-len(text) % 4)
    return b"glTF" + struct.pack("<II", 2, 20 + len(text)) + struct.pack("<I", len(text)) + b"JSON" + text


BALL = trimesh.creation.icosphere(2, 1.0)
PLY = b"""ply
format ascii 1.0
element vertex 3
property float x
property float y
property float z
property float heat
element face 1
property list uchar int vertex_indices
end_header
0 0 0 0.5
1 0 0 1.5
0 1 0 2.5
3 0 1 2
"""


@pytest.mark.parametrize("kind", ["ply", "stl", "stl_ascii"])
def test_a_ball_comes_back_from_ply_and_stl_with_its_area_and_smooth(kind):
    content = BALL.export(file_type=kind)
    mesh = read_mesh(content.encode() if isinstance(content, str) else content, kind[:3])  # type: ignore[union-attr, arg-type]
    assert len(mesh.faces) == len(BALL.faces)
    assert len(np.unique(mesh.number)) == len(BALL.vertices)
    assert face_areas(mesh.points, mesh.faces).sum() == pytest.approx(BALL.area, rel=1e-5)
    # Normals are those of the ball to the angle of its faces.
    assert (np.einsum("ij,ij->i", mesh.normals, mesh.points) > 0.995).all()


def test_an_stl_keeps_hard_edges_hard():
    mesh = read_mesh(trimesh.creation.box((1, 1, 1)).export(file_type="stl"), "stl")  # type: ignore[arg-type]
    corners = mesh.points[mesh.faces].astype(float)
    facing = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    facing /= np.linalg.norm(facing, axis=1, keepdims=True)
    np.testing.assert_allclose(mesh.normals[mesh.faces], facing[:, None].repeat(3, 1), atol=1e-6)
    assert len(np.unique(mesh.number)) == 8


def test_a_ply_of_ours_comes_back_with_its_fields():
    shot, one = parsed(cut_ball()), evaluator()
    frame = one.frame(shot, 40)
    mesh = read_mesh(ply_with_fields(one, shot, frame), "ply")
    drawn = frame.draw[0]
    np.testing.assert_allclose(mesh.points, drawn.body.mesh.points, atol=1e-6)
    values = one.field_on(
        one.scene(shot, 40), "front", PosedMesh(drawn.body.mesh, drawn.key, drawn.matrix, drawn.subject)
    )
    np.testing.assert_allclose(mesh.measure("field_a"), values, atol=1e-6)
    assert read_mesh(PLY, "ply").measures["heat"].tolist() == [0.5, 1.5, 2.5]


def test_colours_of_a_ply_are_kept():
    ball = BALL.copy()
    ball.visual.vertex_colors = np.tile([255, 0, 0, 255], (len(ball.vertices), 1))  # type: ignore[union-attr]
    mesh = read_mesh(ball.export(file_type="ply"), "ply")  # type: ignore[arg-type]
    np.testing.assert_allclose(mesh.colour, [[1, 0, 0]] * len(mesh.points), atol=1e-6)


BROKEN = {
    "nothing": (b"", "obj", "empty"),
    "a picture": (b"\x89PNG\r\n" + b"\0" * 100, "obj", "no points and faces"),
    "places that are no numbers": (TETRAHEDRON.replace(b"v 1 0 0", b"v nan 0 0"), "obj", "not numbers"),
    "infinite places": (TETRAHEDRON.replace(b"v 1 0 0", b"v 1 inf 0"), "obj", "not numbers"),
    "indices beyond the end": (TETRAHEDRON.replace(b"f 1 2 4", b"f 1 2 9"), "obj", "Nothing was imported"),
    "far away": (TETRAHEDRON.replace(b"v 1 0 0", b"v 1e30 0 0"), "obj", "ten million"),
    "no faces": (b"v 0 0 0\nv 1 0 0\n", "obj", "no points and faces"),
    "too many faces": (b"v 0 0 0\n" + b"\nf 1 1 1" * 3_000_001, "obj", "limit is 3,000,000"),
    "another kind": (TETRAHEDRON, "xyz", "not read here"),
    "too large": (b"\0" * (64 * 2**20 + 1), "glb", "limit is 64 MB"),
    "half a glb": (moved_box()[:300], "glb", "not a whole GLB"),
    "a glb of a list": (glb_saying([]), "glb", "not a whole GLB"),
    "a glb without meshes": (glb_saying({"asset": {"version": "2.0"}}), "glb", "Nothing was imported"),
    "a count of 10^12": (glb_saying({"accessors": [{"count": 10**12}]}), "glb", "limit"),
    "a negative count": (glb_saying({"accessors": [{"count": -1}]}), "glb", "limit"),
    "half a ply": (BALL.export(file_type="ply")[:600], "ply", "more corners than it holds"),
    "a ply without an end": (b"ply\nformat ascii 1.0\n", "ply", "not a whole PLY"),
    "a ply of 10^12 points": (PLY.replace(b"vertex 3", b"vertex 1000000000000"), "ply", "limit"),
    "a ply of minus one face": (PLY.replace(b"face 1", b"face -1"), "ply", "not a whole PLY"),
    "a ply of more than it holds": (PLY.replace(b"vertex 3", b"vertex 4000"), "ply", "not a whole PLY"),
    "a ply without faces": (PLY.replace(b"face 1", b"face 0"), "ply", "no faces"),
    "half an stl": (BALL.export(file_type="stl")[:600], "stl", "not a whole STL"),
    "an stl of no faces": (b"\0" * 84, "stl", "0 faces"),
    "an stl of 10^9 faces": (b"\0" * 80 + (10**9).to_bytes(4, "little"), "stl", "not a whole STL"),
    "places of an stl that are no numbers": (
        b"\0" * 80 + b"\1\0\0\0" + struct.pack("<12fH", *[float("nan")] * 12, 0),
        "stl",
        "not numbers",
    ),
    "files beside it": (glb_saying({"buffers": [{"uri": "../../etc/passwd"}]}), "glb", "other files"),
    "a compression": (glb_saying({"extensionsRequired": ["KHR_draco_mesh_compression"]}), "glb", "draco"),
}


@pytest.mark.parametrize("name", BROKEN)
def test_broken_files_are_refused_in_words(name):
    content, kind, words = BROKEN[name]
    with pytest.raises(Refusal, match=words) as caught:
        read_mesh(content, kind)
    assert "Nothing was imported" in str(caught.value)


@pytest.mark.parametrize(
    ("kind", "whole"),
    [
        ("obj", SQUARE + TETRAHEDRON),
        ("glb", moved_box()),
        ("ply", PLY),
        ("ply", trimesh.creation.box().export(file_type="ply")),
        ("stl", trimesh.creation.box().export(file_type="stl")),
        ("stl", trimesh.creation.box().export(file_type="stl_ascii").encode()),  # type: ignore[union-attr]
    ],
)
def test_mutated_files_are_refused_or_read_and_never_crash(kind, whole):
    rng = random.Random(7)
    for _ in range(100):
        content = bytearray(whole)
        for _ in range(rng.randint(1, 8)):
            content[rng.randrange(len(content))] = rng.randrange(256)
        if rng.random() < 0.3:
            del content[rng.randrange(len(content)) :]
        try:
            mesh = read_mesh(bytes(content), kind)
        except Refusal:
            continue
        assert np.isfinite(mesh.points).all()
        assert mesh.faces.max() < len(mesh.points)


def test_numbers_of_its_own_on_the_points_of_a_glb_become_a_field():
    box = trimesh.creation.box((2, 1, 1))
    box.vertex_attributes["_heat"] = np.asarray(box.vertices[:, 0] / 2 + 0.5, dtype=np.float32)
    box.vertex_attributes["_wind"] = np.asarray(box.vertices[:, :2], dtype=np.float32)
    mesh = read_mesh(box.export(file_type="glb"), "glb")  # type: ignore[arg-type]
    assert sorted(mesh.measures) == ["heat", "wind 1", "wind 2"]
    assert mesh.measured()[:3] == ["heat", "wind 1", "wind 2"]
    np.testing.assert_allclose(mesh.measure("heat"), mesh.points[:, 0] / 2 + 0.5, atol=1e-6)

    heat = {"kind": "surface", "rank": 0, "reading": "attribute", "attribute": "heat", "low": 0.25, "high": 0.75}
    shot = parsed(
        cut_ball({"kind": "imported", "asset": "a" * 64}, field={"sources": {"heat": heat}}, step={"zone": "inside"})
    )
    one = evaluator(held=mesh)
    left = one.frame(shot, 0).draw[0].body.mesh
    # heat runs from -1/2 .. 3/2 over the box; what is at least half way from 1/4 to 3/4 is cut away: x >= 0.
    assert left.points[:, 0].max() == pytest.approx(0.0, abs=1e-6)


def test_numbers_that_are_none_count_as_0_and_only_so_many_are_kept():
    box = trimesh.creation.box((1, 1, 1))
    box.vertex_attributes["_broken"] = np.full(len(box.vertices), np.nan, dtype=np.float32)
    for number in range(40):
        box.vertex_attributes[f"_many{number}"] = np.zeros(len(box.vertices), dtype=np.float32)
    mesh = read_mesh(box.export(file_type="glb"), "glb")  # type: ignore[arg-type]
    assert len(mesh.measures) == 32
    assert (mesh.measure("broken") == 0).all()


def test_the_report_counts_open_edges_and_doubled_points():
    closed = summary(read_mesh(TETRAHEDRON, "obj"))
    assert (closed["open_edges"], closed["doubled_points"]) == (0, 0)
    square = summary(read_mesh(SQUARE, "obj"))
    assert (square["open_edges"], square["doubled_points"]) == (4, 0)
    # An STL writes each face's corners anew; by place it is as closed as the ball that it is of.
    ball = summary(read_mesh(BALL.export(file_type="stl"), "stl"))  # type: ignore[arg-type]
    assert (ball["open_edges"], ball["doubled_points"]) == (0, 3 * len(BALL.faces) - len(BALL.vertices))


def test_places_are_numbered_as_they_first_come_like_by_brute_force():
    rng = np.random.default_rng(3)
    points = rng.integers(-2, 3, (400, 3)).astype(np.float32) / 4
    points[::7] = -points[::7] * 0.0
    seen: dict[tuple[float, ...], int] = {}
    expected = [
        seen.setdefault(tuple(place + 0.0), len(seen)) for place in points.tolist() for place in [np.array(place)]
    ]
    np.testing.assert_array_equal(place_numbers(points), expected)
