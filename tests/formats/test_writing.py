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

from windsock.core.fields.field import measure
from windsock.demo.fog_over_the_light import fog_over_the_light
from windsock.evaluator.work import ply_with_fields
from windsock.formats.glb import write_glb

FRONTEND = Path(__file__).parents[2] / "frontend"
VALIDATE = """
const fs = require("fs");
require("gltf-validator").validateBytes(new Uint8Array(fs.readFileSync(0)), { maxIssues: 50 }).then((report) =>
  console.log(JSON.stringify({ ...report.issues, info: report.info })));
"""


def issues(content: bytes) -> dict:
    done = subprocess.run(["node", "-e", VALIDATE], input=content, cwd=FRONTEND, capture_output=True, check=True)
    return json.loads(done.stdout)


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
    if name == "bright":
        ball["items"]["ball"]["look"] = {"emission": 12.5, "opacity": 0.4, "metallic": 1.0}
    return ball, 40


NAMES = ["ball", "demo", "fading", "all gone", "hidden backs and a turned, stretched ball", "unusual names", "bright"]


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
    values = measure(shot.fields["front"], points_as_elements(points), evaluator().scene(shot, 55))
    np.testing.assert_allclose(np.asarray(raw["field_A"]).ravel(), values, atol=1e-5)
    np.testing.assert_allclose(np.asarray(raw["field_B"]).ravel(), values, atol=1e-5)
    assert points[:, 0].min() == pytest.approx(-0.5, abs=1e-5)
