"""The forms of a glTF file (glTF 2.0, 2.5 and 4.4, from memory): one binary file, JSON with data within, a zip of all files."""

from __future__ import annotations

import json

import numpy as np
import pytest
from gltf_files import PackedCopies, as_gltf, glb, gltf_zip, parts_of_glb, pictured_glb, png, skinned_glb, zipped

from windsock.core.geometry.clip import Clip
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal
from windsock.formats.importing import read_file

GREEN = np.full((2, 2, 3), (0, 255, 0), dtype=np.uint8)


def test_the_same_file_in_three_forms_is_the_same_shape():
    content = skinned_glb()
    _, binary = parts_of_glb(content)
    files = {"shape.gltf": as_gltf(content, "shape.bin"), "shape.bin": binary}
    forms = [read_file(content, "glb"), read_file(as_gltf(content), "gltf"), read_file(zipped(files), "zip")]
    for clip in forms:
        assert isinstance(clip, Clip)
        np.testing.assert_array_equal(clip.at(0.7).points, forms[0].at(0.7).points)


def test_pictures_lie_beside_or_within():
    for content, kind in (
        (gltf_zip(), "zip"),
        (as_gltf(pictured_glb([png(GREEN)], [[0, 0], [1, 0], [1, 1], [0, 1]])), "gltf"),
    ):
        mesh = read_file(content, kind)
        assert isinstance(mesh, Mesh)
        assert mesh.pictures is not None
        np.testing.assert_array_equal(mesh.pictures.images[0].pixels, GREEN)


def without(name: str) -> bytes:
    return as_gltf(skinned_glb(), name)


@pytest.mark.parametrize(
    ("content", "kind", "words"),
    [
        (without("shape.bin"), "gltf", "beside it"),
        (without("data:;base64,AAAA$"), "gltf", "base64"),
        (without("data:;base64,AAA"), "gltf", "base64"),
        (without("data:text/plain,AAAA"), "gltf", "a form that is not read"),
        (without("data:;base64,AAAA"), "gltf", "does not have"),
        (b"{}", "gltf", "no faces"),
        (b"[1]", "gltf", "not a whole glTF"),
        (b'{"asset": {"version": "1.0"}}', "gltf", "not a whole glTF"),
        (b"[" * 100_000, "gltf", "not a whole glTF"),
        (zipped({"a.gltf": without("../../etc/passwd")}), "zip", "not in the zip"),
        (zipped({"a.gltf": without("/etc/passwd")}), "zip", "not in the zip"),
        (zipped({"a.gltf": b"{}", "b.gltf": b"{}"}), "zip", "2 glTF files"),
        (zipped({"readme.txt": b"hello"}), "zip", "no glTF file"),
    ],
)  # fmt: skip
def test_files_that_lack_something_are_refused_in_words(content, kind, words):
    with pytest.raises(Refusal, match=words) as refused:
        read_file(content, kind)
    assert "Nothing was imported" in str(refused.value)


def test_buffers_that_unpack_to_too_much_are_refused(monkeypatch):
    monkeypatch.setattr("windsock.formats.gltf_zip.BUFFER_LIMIT", 50_000)
    with pytest.raises(Refusal, match="unpacks to more"):
        read_file(zipped({"a.gltf": without("a.bin"), "a.bin": b"\0" * 60_000}), "zip")
    monkeypatch.setattr("windsock.formats.gltf_open.BUFFER_LIMIT", 100)
    with pytest.raises(Refusal, match="MB of data"):
        read_file(as_gltf(skinned_glb()), "gltf")


def test_animations_that_move_different_things_play_together_and_of_two_for_one_the_first():
    data = PackedCopies()
    place = data.add([[0, 0, 0], [1, 0, 0], [0, 1, 0]], "VEC3")
    clock = data.add([0.0, 1.0], "SCALAR")
    ways = [data.add([[0, 0, 0], to], "VEC3") for to in ([2, 0, 0], [0, 3, 0], [0, 0, 9])]

    def animation(way: int, node: int) -> dict:
        return {
            "samplers": [{"input": clock, "output": ways[way]}],
            "channels": [{"sampler": 0, "target": {"node": node, "path": "translation"}}],
        }

    clip = read_file(
        data.file(
            scenes=[{"nodes": [0, 1]}], nodes=[{"mesh": 0}, {"mesh": 0}],
            meshes=[{"primitives": [{"attributes": {"POSITION": place}}]}],
            animations=[animation(0, 0), animation(1, 1), animation(2, 0)],
        ),
        "glb",
    )  # fmt: skip
    assert isinstance(clip, Clip)
    np.testing.assert_allclose(clip.at(1).points[[0, 3]], [[2, 0, 0], [0, 3, 0]], atol=1e-6)


def test_a_glb_may_hold_a_buffer_as_text():
    told, _ = parts_of_glb(skinned_glb())
    plain = json.loads(as_gltf(skinned_glb()))
    told["buffers"] = plain["buffers"]
    clip = read_file(glb(told, b""), "glb")
    whole = read_file(skinned_glb(), "glb")
    assert isinstance(clip, Clip)
    assert isinstance(whole, Clip)
    np.testing.assert_array_equal(clip.at(0.4).points, whole.at(0.4).points)
