"""Files out: GLB by the Khronos validator (npm gltf-validator), PLY read back by trimesh."""

from __future__ import annotations

import copy
import json
import subprocess
from io import BytesIO
from pathlib import Path

import numpy as np
import pytest
import trimesh
from shots import cut_ball, evaluator, parsed, points_as_elements

from windsock.core.geometry.colour import linear_from_hex
from windsock.demo.fog_over_the_light import fog_over_the_light
from windsock.formats.importing import read_mesh
from windsock.writers.glb_out import write_glb
from windsock.writers.ply_out import ply_with_fields

FRONTEND = Path(__file__).parents[2] / "frontend"
VALIDATE = """
const fs = require("fs");
require("gltf-validator").validateBytes(new Uint8Array(fs.readFileSync(0)), { maxIssues: 5000 }).then((report) =>
  console.log(JSON.stringify({ ...report.issues, info: report.info })));
"""


def issues(content: bytes) -> dict:
    done = subprocess.run(["node", "-e", VALIDATE], input=content, cwd=FRONTEND, capture_output=True, check=True)
    return json.loads(done.stdout)


CHANNELS = ("base_colour", "emission", "opacity", "roughness", "metallic", "transmission")


def shaded(cut: bool = False) -> dict:
    """The ball, whole, every channel driven by the field."""
    document = cut_ball(field={"band": 0.4})
    document["items"]["ball"]["recipe"]["steps"] = {
        channel.replace("_", "-"): {
            "kind": "shade", "rank": rank, "field": "front", "zone": "inside", "channel": channel, "laid": "everywhere",
            "edge": "cut" if cut else "blended",
            "ramp": {"stops": {"a": {"at": 0, "colour": "#400000", "value": 0.25}, "b": {"at": 1, "colour": "#FF8000", "value": 0.75}}},
        }
        for rank, channel in enumerate(CHANNELS)
    }  # fmt: skip
    return document


def shot_of(name: str) -> tuple[dict, float]:
    ball = cut_ball()
    if name == "demo":
        return fog_over_the_light(), 58  # type: ignore[return-value]
    if name == "fading":
        return cut_ball(field={"band": 0.3}, step={"edge": "fading"}), 40
    if name == "all gone":
        return cut_ball(step={"field": None}), 0
    if name == "hidden backs and a turned, stretched ball":
        ball["items"]["ball"] |= {"turn": [10, 20, 30], "scale": [2, 0.5, 1]}
        ball["items"]["ball"]["recipe"]["steps"]["cut"]["backs"] = "hidden"
    if name == "unusual names":
        ball["name"] = ball["items"]["ball"]["name"] = 'Bö\u0061y "№ 7" \\ <&> 🌬'
    if name in ("shaded", "cut out"):
        return shaded(cut=name == "cut out"), 40
    if name == "wires":
        ball["items"]["ball"]["recipe"]["steps"] = {"wire": {"kind": "wire", "rank": 0, "field": None}}
        ball["items"]["ball"]["geometry"] = {"kind": "box", "divisions": 4}
    if name == "carried":
        ball["items"]["arm"] = {
            "kind": "controller",
            "name": "Arm",
            "rank": 3,
            "turn": [10, 20, 30],
            "scale": [3, 1, 1],
        }
        ball["items"]["ball"] |= {"parent": "arm", "scale": [1, 2, 0.5], "turn": [40, 0, 0]}
    if name == "bright":
        ball["items"]["ball"]["look"] = {"emission": 12.5, "opacity": 0.4, "metallic": 1.0}
    return ball, 40


NAMES = [
    "ball",
    "demo",
    "fading",
    "all gone",
    "hidden backs and a turned, stretched ball",
    "unusual names",
    "bright",
    "shaded",
    "cut out",
    "wires",
    "carried",
]


@pytest.mark.parametrize("name", NAMES)
def test_the_validator_finds_nothing(name):
    document, frame = shot_of(name)
    shot = parsed(document)
    report = issues(write_glb(shot, evaluator().frame(shot, frame)))
    assert report["numErrors"] == 0, report["messages"]
    assert report["numWarnings"] == 0, report["messages"]


def test_the_validator_would_find_something():
    shot = parsed(cut_ball())
    content = bytearray(write_glb(shot, evaluator().frame(shot, 40)))
    place = content.index(b'"count":')
    content[place : place + 9] = b'"cownt":1'[:9]
    assert issues(bytes(content))["numErrors"] > 0


def test_looks_go_out_as_material_channels():
    document = cut_ball()
    document["items"]["ball"]["look"] = {"base_colour": "#808080", "roughness": 0.3, "metallic": 0.6, "emission": 2.5}
    shot = parsed(document)
    content = write_glb(shot, evaluator().frame(shot, 40))
    length = int.from_bytes(content[12:16], "little")
    front = json.loads(content[20 : 20 + length])["materials"][0]
    assert front["pbrMetallicRoughness"]["roughnessFactor"] == 0.3
    assert front["pbrMetallicRoughness"]["metallicFactor"] == 0.6
    # sRGB 128 is 0.2158605 in linear light (IEC 61966-2-1, value from memory; the formula is tested elsewhere).
    assert front["pbrMetallicRoughness"]["baseColorFactor"][0] == pytest.approx(0.2158605, abs=1e-6)
    assert front["extensions"]["KHR_materials_emissive_strength"]["emissiveStrength"] == 2.5


def test_ply_carries_the_fields_at_the_points():
    document = cut_ball()
    document["items"]["ball"]["place"] = [0.5, 0, 0]
    document["fields"]["other"] = copy.deepcopy(document["fields"]["front"]) | {
        "letter": "B",
        "name": "Other",
        "level": 0.9,
    }
    shot = parsed(document)
    one = evaluator()
    content = ply_with_fields(one, shot, one.frame(shot, 55))
    read = trimesh.load(BytesIO(content), file_type="ply", process=False)
    raw = read.metadata["_ply_raw"]["vertex"]["data"]  # type: ignore[union-attr]
    points = np.asarray(read.vertices)  # type: ignore[union-attr]
    values = evaluator().field_values(evaluator().scene(shot, 55), "front", points_as_elements(points))
    np.testing.assert_allclose(np.asarray(raw["field_A"]).ravel(), values, atol=1e-5)
    np.testing.assert_allclose(np.asarray(raw["field_B"]).ravel(), values, atol=1e-5)
    assert points[:, 0].min() == pytest.approx(-0.5, abs=1e-5)


def told(content: bytes) -> dict:
    """The JSON of a GLB file."""
    return json.loads(content[20 : 20 + int.from_bytes(content[12:16], "little")])


def test_what_points_carry_goes_out_beside_the_material_and_comes_back():
    shot, one = parsed(shaded()), evaluator()
    frame = one.frame(shot, 40)
    mesh = frame.draw[0].body.mesh
    content = write_glb(shot, frame)
    attributes = told(content)["meshes"][0]["primitives"][0]["attributes"]
    assert {"_EMISSION", "_ROUGHNESS", "_METALLIC", "_TRANSMISSION", "COLOR_0"} <= set(attributes)
    material = told(content)["materials"][0]
    # Programs that do not read them see the mean.
    assert material["pbrMetallicRoughness"]["roughnessFactor"] == pytest.approx(float(mesh.roughness.mean()), abs=1e-5)
    assert material["alphaMode"] == "BLEND"
    assert "KHR_materials_transmission" in material["extensions"]
    back = read_mesh(content, "glb")
    half = back.measure("roughness")[: len(mesh.points)]
    np.testing.assert_allclose(half, mesh.roughness, atol=1e-6)
    np.testing.assert_allclose(back.measure("emission 1")[: len(mesh.points)], mesh.emission[:, 0], atol=1e-6)
    np.testing.assert_allclose(back.colour[: len(mesh.points)], mesh.colour, atol=2e-5)


def test_what_light_meets_inside_goes_out_as_the_extensions_say():
    """KHR_materials_ior and KHR_materials_volume (Khronos): the ball's thickness is its mean chord, 4/3 of its radius."""
    document = cut_ball()
    look = {"transmission": 1.0, "index": 1.33, "attenuation_colour": "#80FFBC", "attenuation_distance": 0.5}
    document["items"]["ball"] |= {"look": look}
    document["items"]["ball"]["recipe"]["steps"] = {}
    shot = parsed(document)
    extensions = told(write_glb(shot, evaluator().frame(shot, 0)))["materials"][0]["extensions"]
    assert extensions["KHR_materials_ior"] == {"ior": 1.33}
    volume = extensions["KHR_materials_volume"]
    assert volume["thicknessFactor"] == pytest.approx(4 / 3, rel=0.01)
    assert volume["attenuationDistance"] == 0.5
    # A sheet is thin-walled, as the extension has what has no volume.
    document["items"]["ball"] |= {"geometry": {"kind": "plane"}, "look": {"transmission": 1.0, "thickness": 0.02}}
    shot = parsed(document)
    of_sheet = told(write_glb(shot, evaluator().frame(shot, 0)))["materials"][0]["extensions"]
    assert "KHR_materials_volume" not in of_sheet
    assert volume["attenuationColor"] == pytest.approx(linear_from_hex("#80FFBC"), abs=1e-6)


def test_an_opacity_that_is_cut_goes_out_as_a_mask():
    shot = parsed(shaded(cut=True))
    material = told(write_glb(shot, evaluator().frame(shot, 40)))["materials"][0]
    assert material["alphaMode"] == "MASK"
    assert material.get("alphaCutoff", 0.5) == 0.5


def test_hidden_shapes_do_not_go_out():
    document = cut_ball()
    document["items"]["ball"]["shown"] = 0
    shot = parsed(document)
    assert "meshes" not in told(write_glb(shot, evaluator().frame(shot, 40)))
