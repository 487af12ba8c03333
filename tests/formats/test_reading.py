"""Files that move or are drawn, and files that mean harm: read by a child that may die, mutated, and packed to burst."""

from __future__ import annotations

import io
import os
import subprocess
import sys
import zipfile
from pathlib import Path

import numpy as np
import pytest
from fuzzing import OBJ, SVG, WHOLE
from gltf_files import PackedCopies, glb, skinned_glb
from shots import Files, cut_ball, evaluator, parsed, times_of_edges

from windsock.core.evaluate.cache import Cache
from windsock.core.geometry.clip import Clip
from windsock.core.geometry.drawing import Drawing
from windsock.core.geometry.mending import mended
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.region import area
from windsock.core.refusals import MissingAsset, Refusal
from windsock.core.shapes.imported import Imported, Motion, place_imported
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment
from windsock.evaluator.assets import AssetFolder
from windsock.formats import reading
from windsock.formats.font import FOLDER, Font, read_font, shipped_font
from windsock.formats.importing import read_file
from windsock.formats.parsed import restored, store
from windsock.formats.svg import read_svg

MUTATIONS = int(os.environ.get("WINDSOCK_MUTATIONS", "200"))
"""For each reader; 5000 in a long run."""


@pytest.mark.parametrize("kind", list(WHOLE))
def test_mutated_files_never_crash_or_stall_a_reader(kind, tmp_path):
    script = Path(__file__).with_name("fuzzing.py")
    paths = os.pathsep.join([*map(str, (script.parent, script.parent.parent)), os.environ.get("PYTHONPATH", "")])
    command = [sys.executable, str(script), kind, str(MUTATIONS), "11", str(tmp_path / f"last.{kind}")]
    done = subprocess.run(command, capture_output=True, text=True, env=os.environ | {"PYTHONPATH": paths}, check=False)
    assert done.returncode == 0, f"{done.stdout}\n{done.stderr[-2000:]}"
    assert f"of {MUTATIONS} refused" in done.stdout


# GLB that moves, made by hand after the standard


def test_skins_and_morphs_bend_a_mesh_as_the_standard_says():
    clip = read_file(skinned_glb(), "glb")
    assert isinstance(clip, Clip)
    assert clip.length == pytest.approx(1.0)
    np.testing.assert_allclose(clip.at(0).points, [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], atol=1e-6)
    # Turned by 90 degrees about Z, (1, 0) goes to (0, 1) and (1, 1) to (-1, 1); the morph lifts the last by 2.
    np.testing.assert_allclose(clip.at(1).points, [[0, 0, 0], [0, 1, 0], [-1, 1, 0], [0, 1, 2]], atol=1e-6)
    # Rotations are interpolated on the sphere: half way is 45 degrees.
    half = np.sqrt(0.5)
    np.testing.assert_allclose(clip.at(0.5).points[1], [half, half, 0], atol=1e-4)
    assert sorted(clip.mesh.measures) == ["weight of hip", "weight of knee"]
    np.testing.assert_array_equal(clip.mesh.measures["weight of knee"], [0, 1, 1, 0])


@pytest.mark.parametrize(
    ("after", "seconds", "there"),
    [("stays", 5.0, 1.0), ("again", 2.25, 0.25), ("back", 1.75, 0.25), ("stays", -1.0, 0.0)],
)
def test_a_movement_begins_goes_and_ends_as_told(after, seconds, there):
    clip = read_file(skinned_glb(), "glb")
    assert isinstance(clip, Clip)
    geometry = Imported(asset="0" * 64, motion=Motion(start=1.0, speed=2.0, after=after))
    at = Moment(0, 1.0 + seconds / 2)
    mesh = place_imported(geometry, Files(clip).mesh(""), clip, at)
    np.testing.assert_allclose(mesh.points, clip.at(there).points, atol=1e-6)
    np.testing.assert_allclose(mesh.rest, clip.mesh.points, atol=1e-6)


def test_steps_and_cubic_splines_of_an_animation():
    data = PackedCopies()
    place = data.add([[0, 0, 0], [1, 0, 0], [0, 1, 0]], "VEC3")
    clock = data.add([0.0, 1.0, 2.0], "SCALAR")
    jumps = data.add([[0, 0, 0], [5, 0, 0], [9, 0, 0]], "VEC3")
    # In-tangent, value, out-tangent of each key: a straight line of slope 3 is reproduced exactly.
    spline = data.add(
        [[0, 3, 0], [0, 0, 0], [0, 3, 0], [0, 3, 0], [0, 3, 0], [0, 3, 0], [0, 3, 0], [0, 6, 0], [0, 3, 0]], "VEC3"
    )
    samplers = [
        {"input": clock, "output": jumps, "interpolation": "STEP"},
        {"input": clock, "output": spline, "interpolation": "CUBICSPLINE"},
    ]
    channels = [{"sampler": one, "target": {"node": one, "path": "translation"}} for one in (0, 1)]
    file = data.file(
        scenes=[{"nodes": [0, 1]}],
        nodes=[{"mesh": 0}, {"mesh": 0}],
        meshes=[{"primitives": [{"attributes": {"POSITION": place}}]}],
        animations=[{"samplers": samplers, "channels": channels}],
    )
    clip = read_file(file, "glb")
    assert isinstance(clip, Clip)
    for seconds, jumped in ((0.9, 0), (1.1, 5), (2.0, 9)):
        points = clip.at(seconds).points
        assert points[0, 0] == pytest.approx(jumped, abs=1e-6)
        assert points[3, 1] == pytest.approx(3 * seconds, abs=1e-5)


def test_numbered_files_play_in_the_order_of_their_numbers():
    clip = read_file(WHOLE["zip"](), "zip")
    assert isinstance(clip, Clip)
    assert len(clip.poses) == 3
    assert clip.at(1 / 60).points[:, 2].max() == pytest.approx(0.5)
    assert clip.at(9).points[:, 2].max() == pytest.approx(2.0)


def zipped(**files: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as bundle:
        for name, content in files.items():
            bundle.writestr(name.replace("__", "/").replace("_obj", ".obj"), content)
    return out.getvalue()


HOSTILE = {
    "a zip that bursts": (zipped(f1_obj=b"0" * (70 * 2**20)), "zip", "unpacks to more than 64 MB"),
    "a zip of nothing": (zipped(readme=b"hello"), "zip", "no numbered"),
    "the same number twice": (zipped(a1_obj=OBJ, b1_obj=OBJ), "zip", "number 1"),
    "a zip cut off": (WHOLE["zip"]()[:80], "zip", "not a whole zip"),
    "entities": (b'<!DOCTYPE svg [<!ENTITY a "b">]><svg xmlns="http://www.w3.org/2000/svg">&a;</svg>', "svg", "entities"),
    "deep nesting": (b"<svg>" + b"<g>" * 300 + b"</g>" * 300 + b"</svg>", "svg", "nested"),
    "many elements": (b"<svg>" + b"<path d='M0 0'/>" * 20_001 + b"</svg>", "svg", "elements"),
    "no drawing": (b"<svg xmlns='http://www.w3.org/2000/svg'><text>hi</text></svg>", "svg", "no shapes"),
    "half a drawing": (SVG[:300], "svg", "could not be read"),
    "not a font": (b"hello" * 100, "ttf", "not a font"),
    "half a font": ((FOLDER / "serif.woff2").read_bytes()[:2000], "woff2", "could not be read"),
    "nodes in a circle": (
        glb({"scenes": [{"nodes": [0]}], "nodes": [{"children": [0]}]}, b""), "glb", "refer to what it does not have",
    ),
    "an accessor beyond the buffer": (
        PackedCopies().file(scenes=[{"nodes": [0]}], nodes=[{"mesh": 0}], meshes=[{"primitives": [{"attributes": {"POSITION": 3}}]}]),
        "glb", "refer to what it does not have",
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", list(HOSTILE))
def test_files_that_mean_harm_are_refused_in_words(name):
    content, kind, says = HOSTILE[name]
    with pytest.raises(Refusal, match=says):
        read_file(content, kind)


def test_a_file_is_read_by_a_child_once_and_what_it_holds_is_kept(tmp_path, monkeypatch):
    folder = AssetFolder(tmp_path, Cache(2**26))
    folder.lay_out("a" * 64, "svg", SVG)
    assert isinstance(folder.drawing("a" * 64), Drawing)
    monkeypatch.setattr("windsock.evaluator.assets.read_apart", lambda *_: pytest.fail("it was read before"))
    again = AssetFolder(tmp_path, Cache(2**26)).drawing("a" * 64)
    assert len(again.paints) == len(folder.drawing("a" * 64).paints)
    with pytest.raises(MissingAsset):
        folder.mesh("b" * 64)
    with pytest.raises(Refusal, match="no faces"):
        folder.mesh("a" * 64)


@pytest.mark.parametrize(
    ("command", "says"),
    [
        (["-c", "import os; os.abort()"], "broke the program"),
        (["-c", "import time; time.sleep(60)"], "takes more than"),
        (["-c", "print('Nothing of use.'); raise SystemExit(3)"], "Nothing of use"),
    ],
)
def test_a_reader_that_dies_or_never_ends_harms_nothing(command, says, tmp_path, monkeypatch):
    run = subprocess.run
    monkeypatch.setattr(reading, "READING_SECONDS", 1.0)
    monkeypatch.setattr(reading.subprocess, "run", lambda told, **given: run([sys.executable, *command], **given))
    with pytest.raises(Refusal, match=says):
        reading.read_apart(tmp_path / "a.obj", "obj", tmp_path / "a.read")


@pytest.mark.parametrize("kind", ["obj", "glb", "zip", "svg", "woff2"])
def test_what_a_file_holds_is_the_same_after_it_was_stored(kind, tmp_path):
    held = read_file(WHOLE[kind](), kind)
    store(held, tmp_path / "held")
    again = restored(tmp_path / "held")
    assert type(again) is type(held)
    if isinstance(held, Mesh):
        np.testing.assert_array_equal(again.points, held.points)  # type: ignore[union-attr]
    if isinstance(held, Clip):
        np.testing.assert_array_equal(again.at(0.3).points, held.at(0.3).points)  # type: ignore[union-attr]
        assert dict(again.mesh.measures).keys() == dict(held.mesh.measures).keys()  # type: ignore[union-attr]
    if isinstance(held, Font):
        assert again.line("AV", True, 0.0)[1] == held.line("AV", True, 0.0)[1]  # type: ignore[union-attr]


def test_svg_fills_holes_transforms_and_strokes():
    """Areas of plain figures, in pixels of 1/96 inch: the path grammar's own examples of SVG 2, chapter 9."""

    def one(body: str) -> Drawing:
        return read_svg(f"<svg xmlns='http://www.w3.org/2000/svg'>{body}</svg>".encode())

    triangle = one("<path d='M 100 100 L 300 100 L 200 300 z'/>")
    assert area(triangle.paints[0].region) == pytest.approx(20_000)
    same = one("<path d='M100,100L300,100 200,300z'/>")
    assert area(same.paints[0].region) == pytest.approx(20_000)
    turned = one("<g transform='rotate(37) scale(2)'><rect width='10' height='5'/></g>")
    assert area(turned.paints[0].region) == pytest.approx(200)
    hole = "<path fill-rule='{}' d='M0 0h10v10h-10z M2 2h6v6h-6z'/>"
    assert area(one(hole.format("evenodd")).paints[0].region) == pytest.approx(64)
    assert area(one(hole.format("nonzero")).paints[0].region) == pytest.approx(100)
    line = "<path fill='none' stroke='#f00' stroke-width='2' stroke-linecap='{}' d='M0 0 H10'/>"
    for cap, covered in (("butt", 20), ("square", 24), ("round", 20 + np.pi)):
        assert area(one(line.format(cap)).paints[0].region) == pytest.approx(covered, rel=0.01)
    square = one("<rect width='10' height='10' fill='none' stroke='black' stroke-width='2'/>")
    assert area(square.paints[0].region) == pytest.approx(12**2 - 8**2, rel=1e-6)
    assert one("<rect width='1' height='1' fill='none'/>").paints == []
    circle = one("<circle r='5'/>")
    assert area(circle.paints[0].region) == pytest.approx(np.pi * 25, rel=0.01)
    assert one("<circle r='5'/><text>x</text>").notes[0].startswith("Left out: text")


def test_fonts_in_all_three_wrappings_lay_the_same_line():
    plain = Font([(FOLDER / "serif.woff2").read_bytes()]).files[0]
    assert read_font(plain).line("Av", True, 0.0)[1] == pytest.approx(shipped_font("serif").line("Av", True, 0.0)[1])


def test_flaws_are_counted_and_mended_and_nothing_else_is_touched():
    ball = build_sphere(Sphere(subdivisions=2), Moment(0, 0))
    faces = ball.faces.copy()
    faces[5:50] = faces[5:50, ::-1]
    broken = Mesh(
        ball.points,
        ball.rest,
        ball.normals,
        np.concatenate([faces, faces[:3], [[0, 0, 1]]]).astype(np.int32),
        ball.number,
    )
    whole, flaws = mended(broken)
    assert (flaws.no_area, flaws.doubled, flaws.turned) == (1, 3, 45)
    assert (times_of_edges(whole) == 2).all()
    assert mended(ball)[0] is ball
    inside_out = Mesh(ball.points, ball.rest, -ball.normals, ball.faces[:, ::-1], ball.number)
    assert mended(inside_out)[1].turned == len(ball.faces)
    np.testing.assert_allclose(mended(inside_out)[0].normals, ball.normals)


@pytest.mark.parametrize("frames", [[0, 12, 24], [24, 0, 12]])
def test_a_file_that_moves_moves_in_a_shot_whatever_frame_is_asked_for_first(frames):
    clip = read_file(skinned_glb(), "glb")
    assert isinstance(clip, Clip)
    geometry = {"kind": "imported", "asset": "a" * 64, "motion": {"after": "stays"}}
    shape = {"kind": "shape", "name": "Square", "rank": 0, "geometry": geometry}
    shot = parsed({"name": "Moves", "items": {"s": shape}})
    one = evaluator(held=clip)
    for frame in frames:
        mesh = one.frame(shot, frame).draw[0].body.mesh
        np.testing.assert_allclose(mesh.points, clip.at(frame / 24).points, atol=1e-6)
        # What is measured at rest stays with the points: they rest where the file has them first.
        np.testing.assert_allclose(mesh.rest, clip.mesh.points, atol=1e-6)


def test_a_field_reads_the_weight_of_a_joint_on_a_file_that_moves():
    clip = read_file(skinned_glb(), "glb")
    assert isinstance(clip, Clip)
    weight = {"kind": "surface", "rank": 0, "reading": "attribute", "attribute": "weight of knee", "low": 0, "high": 1}
    document = cut_ball(
        {"kind": "imported", "asset": "a" * 64, "motion": {}}, field={"band": 0.0, "sources": {"w": weight}}
    )
    for frame in (0, 10):
        left = evaluator(held=clip).frame(parsed(document), frame).draw[0].body.mesh
        assert left.rest[:, 0].max() == pytest.approx(0.5, abs=1e-5)
