"""Pictures of GLB files: read, laid on, drawn, kept by faces, and out again.

What is seen at a place is held against a twin that looks up one point at a time; what is beyond an edge and how u,v are
moved against glTF 2.0, 3.8.4 (sampler wrapping) and KHR_texture_transform, both from memory.
"""

from __future__ import annotations

import io
import json
import math

import numpy as np
import pytest
from gltf_files import pictured_glb, png
from PIL import Image
from pxr import Usd, UsdGeom
from shots import cut_ball, evaluator, parsed
from test_moving import checked
from test_writing import issues, told

from windsock.core.evaluate.cache import Cache
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.mesh import Mesh
from windsock.core.kernels.pictures import looked_up
from windsock.core.refusals import Refusal
from windsock.evaluator.bundle import Bundler
from windsock.formats import pictures
from windsock.formats.importing import read_file, read_mesh, summary
from windsock.formats.parsed import restored, store
from windsock.writers.glb_moving import write_moving_glb
from windsock.writers.glb_out import write_glb
from windsock.writers.moving import gather
from windsock.writers.usd import write_usd

WHOLE = [[0, 0], [1, 0], [1, 1], [0, 1]]
RED_BLUE = np.array([[[255, 0, 0], [0, 0, 255]]], dtype=np.uint8)
GREEN = np.full((2, 2, 3), (0, 255, 0), dtype=np.uint8)


def noise(high: int, wide: int, channels: int = 3, seed: int = 3) -> np.ndarray:
    return np.random.default_rng(seed).integers(0, 256, (high, wide, channels), dtype=np.uint8)


def one_at_a_time(pixels: np.ndarray, u: float, v: float, wrap: tuple[str, str]) -> np.ndarray:
    """The mean of the four nearest pixels, each as near as it is, straight from the words of the standard."""
    high, wide = pixels.shape[:2]

    def within(place: int, count: int, way: str) -> int:
        if way == "clamp":
            return min(max(place, 0), count - 1)
        if way == "repeat":
            return place - count * math.floor(place / count)
        turn = math.floor(place / count)
        inside = place - count * turn
        return inside if turn % 2 == 0 else count - 1 - inside

    x, y = u * wide - 0.5, (1 - v) * high - 0.5
    total = np.zeros(3)
    for row in (math.floor(y), math.floor(y) + 1):
        for column in (math.floor(x), math.floor(x) + 1):
            near = (1 - abs(x - column)) * (1 - abs(y - row))
            pixel = pixels[within(row, high, wrap[1]), within(column, wide, wrap[0]), :3]
            total += near * np.array(linear_from_hex("#" + "".join(f"{part:02x}" for part in pixel)))
    return total


@pytest.mark.parametrize("wrap", [("repeat", "clamp"), ("mirror", "repeat"), ("clamp", "mirror")])
@pytest.mark.parametrize("size", [(1, 2), (5, 7)])
def test_a_picture_is_looked_up_between_its_pixels_and_beyond_its_edges(wrap, size):
    pixels, uv = noise(*size, channels=4), np.random.default_rng(1).uniform(-3, 3, (300, 2)).astype(np.float32)
    wanted = [one_at_a_time(pixels, float(u), float(v), wrap) for u, v in uv]
    np.testing.assert_allclose(looked_up(pixels, uv, wrap), wanted, atol=1e-6)


def read(*args, **more) -> Mesh:
    mesh = read_file(pictured_glb(*args, **more), "glb")
    assert isinstance(mesh, Mesh)
    return mesh


def test_pictures_are_kept_with_the_faces_that_show_them():
    mesh = read([png(RED_BLUE), png(GREEN)], WHOLE)
    assert mesh.pictures is not None
    first, second = mesh.pictures.images
    np.testing.assert_array_equal(first.pixels, RED_BLUE)
    np.testing.assert_array_equal(second.pixels, GREEN)
    np.testing.assert_array_equal(mesh.pictures.shown, [0, 0, 1, 1])
    np.testing.assert_array_equal(mesh.uv[:4], [[0, 1], [1, 1], [1, 0], [0, 0]])
    assert summary(mesh)["pictures"] == 2
    # A field reads what is seen at the points: half way between red and blue at the edges, where the picture repeats.
    np.testing.assert_allclose(mesh.measure("red"), [0.5] * 4 + [0] * 4, atol=1e-6)
    np.testing.assert_allclose(mesh.measure("green"), [0] * 4 + [1] * 4, atol=1e-6)


def test_a_picture_that_two_materials_show_is_kept_once_and_all_survives_storing(tmp_path):
    content = png(noise(4, 4))
    made = pictured_glb([content, content], WHOLE)
    length = int.from_bytes(made[12:16], "little")
    head = json.loads(made[20 : 20 + length])
    head["materials"][1]["pbrMetallicRoughness"]["baseColorTexture"]["index"] = 0
    text = json.dumps(head).encode().ljust(length)
    mesh = read_file(made[:20] + text + made[20 + length :], "glb")
    store(mesh, tmp_path / "held")
    back = restored(tmp_path / "held")
    for one in (mesh, back):
        assert isinstance(one, Mesh)
        assert one.pictures is not None
        assert len(one.pictures.images) == 1
        np.testing.assert_array_equal(one.pictures.shown, [0, 0, 0, 0])
        np.testing.assert_array_equal(one.pictures.images[0].pixels, noise(4, 4))


def test_u_and_v_are_moved_turned_and_scaled_as_the_file_says():
    told = {"offset": [0.25, 0.5], "rotation": math.pi / 2, "scale": [2, 3]}
    mesh = read([png(GREEN)], [[0, 0], [1, 0], [1, 1], [0, 1]], laid={"extensions": {"KHR_texture_transform": told}})
    # Scaled, then a quarter turn counter-clockwise as v counts downward: (u, v) goes to (v, -u); then moved.
    from_top = [[0.25, 0.5], [0.25, 0.5 - 2], [0.25 + 3, 0.5 - 2], [0.25 + 3, 0.5]]
    np.testing.assert_allclose(mesh.uv, [[u, 1 - v] for u, v in from_top], atol=1e-6)


def test_an_opacity_is_kept_where_the_material_says_so():
    pixels = noise(3, 3, 4)
    kept = [
        read([png(pixels)], WHOLE, materials=[material]).pictures.images[0] for material in ({}, {"alphaMode": "BLEND"})
    ]
    assert [(one.alpha, one.pixels.shape[2]) for one in kept] == [("none", 3), ("blend", 4)]
    np.testing.assert_array_equal(kept[1].pixels, pixels)
    cut = read([png(pixels)], WHOLE, materials=[{"alphaMode": "MASK", "alphaCutoff": 0.25}]).pictures.images[0]
    np.testing.assert_array_equal(cut.pixels[..., 3] >= 128, pixels[..., 3] / 255 >= 0.25)


def recipe(**steps: dict) -> dict:
    document = cut_ball(geometry={"kind": "imported", "asset": "0" * 64})
    document["items"]["ball"]["recipe"]["steps"] = steps
    return document


def drawn(mesh: Mesh, document: dict, frame: float = 0.0) -> tuple:
    shot, one = parsed(document), evaluator(held=mesh)
    return shot, one.frame(shot, frame)


def test_faces_keep_their_picture_through_a_recipe_and_are_drawn_by_picture():
    mesh = read([png(RED_BLUE), png(GREEN)], WHOLE)
    document = recipe(
        refine={"kind": "refine", "rank": 0, "times": 2, "field": None},
        cut={"kind": "cut_away", "rank": 1, "field": "front"},
    )
    _, whole = drawn(mesh, recipe())
    assert [len(item.body.mesh.faces) for item in whole.draw] == [2, 2, 0]
    _, frame = drawn(mesh, document, 30)
    left, right, none = frame.draw
    # The field's controller comes along X, from beyond the second square.
    assert none.body.mesh.points.shape == (0, 3)
    assert len(left.body.mesh.faces) > 0
    assert 0 < len(right.body.mesh.faces) < 32
    assert left.body.mesh.points[:, 0].max() <= 1
    assert right.body.mesh.points[:, 0].min() >= 1
    for item in (left, right):
        uv = np.stack([item.body.mesh.points[:, 0] % 1, item.body.mesh.points[:, 1]], axis=1)
        inside = (uv[:, 0] > 1e-6) & (uv[:, 0] < 1 - 1e-6)
        np.testing.assert_allclose(item.body.mesh.uv[inside, 0], uv[inside, 0], atol=1e-5)


def test_a_finer_shape_shows_the_same_pictures():
    mesh = read([png(RED_BLUE), png(GREEN)], WHOLE)
    document = recipe()
    document["items"]["ball"]["fineness"] = {"times": 2, "way": "flat"}
    _, frame = drawn(mesh, document)
    assert [len(item.body.mesh.faces) for item in frame.draw] == [32, 32, 0]
    assert frame.draw[1].body.mesh.points[:, 0].min() >= 1


def test_the_picture_travels_once_as_the_bytes_of_its_file():
    mesh = read([png(RED_BLUE), png(GREEN)], WHOLE)
    shot, frame = drawn(mesh, recipe())
    bundler = Bundler(Cache(2**24))
    head = json.loads(bytes(bundler.bundle(shot, frame, set())[1]))
    one = head["items"][0]
    assert one["picture"] == {"kind": "image/png", "wrap": ["repeat", "repeat"], "alpha": "none"}
    sent = bundler.block(one["arrays"]["picture"]["hash"])[: one["arrays"]["picture"]["count"]]
    np.testing.assert_array_equal(np.asarray(Image.open(io.BytesIO(sent.tobytes()))), RED_BLUE)
    assert head["items"][2]["picture"] is None
    held = {name for name, _ in head["sent"]}
    assert json.loads(bytes(bundler.bundle(shot, frame, held)[1]))["sent"] == []


MATERIALS = [
    {},
    {"alphaMode": "MASK", "alphaCutoff": 0.5},
    {"alphaMode": "BLEND", "pbrMetallicRoughness": {"baseColorFactor": [0.5, 1, 1, 1]}},
]
SAMPLERS = [{"wrapS": 33071}, {"wrapT": 33648}, {}]


def test_pictures_out_and_in_again_are_the_same_and_the_validator_finds_nothing():
    mesh = read([png(noise(4, 6, 4, seed)) for seed in range(3)], WHOLE, materials=MATERIALS, samplers=SAMPLERS)
    shot, frame = drawn(mesh, recipe())
    content = write_glb(shot, frame)
    report = issues(content)
    assert (report["numErrors"], report["numWarnings"]) == (0, 0), report["messages"]
    back = read_mesh(content, "glb")
    assert back.pictures is not None
    assert mesh.pictures is not None
    for one, other in zip(mesh.pictures.images, back.pictures.images, strict=True):
        np.testing.assert_array_equal(one.pixels, other.pixels)
        assert (one.wrap, one.alpha) == (other.wrap, other.alpha)
    np.testing.assert_array_equal(back.pictures.shown, mesh.pictures.shown)
    np.testing.assert_allclose(back.uv, mesh.uv, atol=1e-6)
    np.testing.assert_allclose(back.points, mesh.points, atol=1e-6)
    np.testing.assert_allclose(back.colour, mesh.colour, atol=1e-6)


def test_a_file_that_moves_holds_each_picture_once_and_usd_its_colours_at_the_points(tmp_path):
    mesh = read([png(noise(2, 2)), png(GREEN)], WHOLE)
    document = recipe(cut={"kind": "cut_away", "rank": 0, "field": "front"})
    reel = gather(parsed(document), evaluator(held=mesh), [10, 40, 55], lambda done, says: None)
    content = write_moving_glb(reel)
    report = issues(content)
    assert (report["numErrors"], report["numWarnings"]) == (0, 0), report["messages"]
    assert len(told(content)["images"]) == 2
    path = tmp_path / "shot.usdc"
    path.write_bytes(write_usd(reel, lambda item, place: {}))
    assert checked(path) == []
    stage = Usd.Stage.Open(str(path))
    seen = [
        np.array(prim.GetAttribute("primvars:displayColor").Get(10))
        for prim in stage.Traverse()
        if prim.IsA(UsdGeom.Mesh)
    ]  # type: ignore[attr-defined]
    np.testing.assert_allclose(seen[1], np.tile([0, 1, 0], (len(seen[1]), 1)), atol=1e-6)


def test_a_picture_gives_way_to_a_shade_and_then_goes_out_as_colours_of_the_points():
    mesh = read([png(GREEN)], WHOLE)
    white = {"stops": {"a": {"at": 0, "colour": "#FFFFFF", "value": 1}}}
    shade = {"kind": "shade", "rank": 0, "field": None, "amount": 0.25, "ramp": white}
    shot, frame = drawn(mesh, recipe(shade=shade))
    made = frame.draw[0].body.mesh
    np.testing.assert_allclose(made.pictured, 0.75, atol=1e-6)
    np.testing.assert_allclose(made.seen_colour(), [[0.25, 1, 0.25]] * 4, atol=1e-6)
    content = write_glb(shot, frame)
    assert "images" not in told(content)
    np.testing.assert_allclose(read_mesh(content, "glb").colour, [[0.25, 1, 0.25]] * 4, atol=1e-5)


def test_pictures_that_are_broken_or_too_large_are_refused(monkeypatch):
    for content in (b"", b"no picture", png(GREEN)[:40]):
        with pytest.raises(Refusal, match="cannot be read"):
            read([content], WHOLE)
    monkeypatch.setattr(pictures, "PIXEL_LIMIT", 11)
    with pytest.raises(Refusal, match="pixels"):
        read([png(noise(3, 4))], WHOLE)


def test_a_picture_wider_than_is_kept_is_made_smaller(monkeypatch):
    monkeypatch.setattr(pictures, "SIDE_LIMIT", 8)
    image = read([png(noise(4, 16))], WHOLE).pictures.images[0]
    assert image.pixels.shape == (2, 8, 3)


TRANSFORM = "KHR_texture_transform"


@pytest.mark.parametrize("told", [{"scale": [1]}, {"rotation": "x"}, {"offset": [0, 1e999]}])
def test_moves_of_a_picture_that_cannot_be_are_refused(told):
    with pytest.raises(Refusal, match="Nothing was imported"):
        read([png(GREEN)], WHOLE, laid={"extensions": {TRANSFORM: told}})


def test_a_picture_that_is_not_there_is_refused_and_one_without_places_left_out():
    with pytest.raises(Refusal, match="Nothing was imported"):
        read([png(GREEN)], WHOLE, laid={"index": 7})
    assert read([png(GREEN)], WHOLE, laid={"texCoord": 3}).pictures is None
