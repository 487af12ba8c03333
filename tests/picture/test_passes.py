"""Passes and mattes as other programs read them."""

from __future__ import annotations

import json
from fractions import Fraction

import numpy as np
import OpenEXR
import pytest
from rendered import sheet
from shots import cut_ball, evaluator

from windsock.core.document.shot import parse_shot
from windsock.picture.cryptomatte import hash_of
from windsock.picture.exr import exr_bytes
from windsock.picture.files import picture_file
from windsock.picture.quality import Quality
from windsock.picture.renderer import Renderer
from windsock.picture.scene import checked
from windsock.picture.still import Studio


def murmur3(key: bytes) -> int:
    """MurmurHash3 x86 32 with seed 0, written out from A. Appleby's public description."""

    def turned(x: int, r: int) -> int:
        return ((x << r) | (x >> (32 - r))) & 0xFFFFFFFF

    h = 0
    whole = len(key) // 4 * 4
    for at in range(0, whole, 4):
        k = int.from_bytes(key[at : at + 4], "little")
        k = turned(k * 0xCC9E2D51 & 0xFFFFFFFF, 15) * 0x1B873593 & 0xFFFFFFFF
        h = (turned(h ^ k, 13) * 5 + 0xE6546B64) & 0xFFFFFFFF
    if key[whole:]:
        k = int.from_bytes(key[whole:], "little")
        h ^= turned(k * 0xCC9E2D51 & 0xFFFFFFFF, 15) * 0x1B873593 & 0xFFFFFFFF
    h ^= len(key)
    h = (h ^ (h >> 16)) * 0x85EBCA6B & 0xFFFFFFFF
    h = (h ^ (h >> 13)) * 0xC2B2AE35 & 0xFFFFFFFF
    return h ^ (h >> 16)


def two_balls() -> dict:
    document = cut_ball()
    document["items"]["other"] = {
        "kind": "shape",
        "name": "Größe zwei",
        "rank": 2,
        "place": [1.2, 0.0, -1.0],
        "geometry": {"kind": "sphere", "radius": 1.0, "subdivisions": 4},
    }
    document["items"]["eye"] = {"kind": "camera", "name": "Eye", "rank": 3, "place": [0, 0, 8], "angle": 30}
    return document | {"camera": "eye", "rate": {"numerator": 24000, "denominator": 1001}}


@pytest.fixture(scope="module")
def file(tmp_path_factory):
    shot = parse_shot(two_balls())
    renderer = Renderer()
    studio = Studio(evaluator(), renderer, Quality(samples=8, noise=0, passes=True))
    still = studio.still(shot, 48, 96, 54, lambda what, share: None)
    renderer.close()
    path = tmp_path_factory.mktemp("exr") / "frame.exr"
    path.write_bytes(picture_file(still, ".exr"))
    return OpenEXR.File(str(path)), still


def part(file, name):
    return next(one for one in file.parts if one.name() == name)


def channel(file, name, wanted):
    """One channel, whichever way the library groups it."""
    channels = part(file, name).channels
    if wanted in channels:
        return channels[wanted].pixels
    stem, _, last = wanted.rpartition(".")
    letters = "XYZ" if last in "XYZ" else "RGBA"
    grouped = (
        channels.get(f"{stem}.{letters}" if stem else letters)
        or channels.get(stem or "RGBA")
        or channels.get(stem or "RGB")
    )
    return grouped.pixels[..., letters.index(last)]


def test_every_pass_is_a_part_of_its_own_with_what_a_compositor_asks_for(file):
    read, _ = file
    names = [one.name() for one in read.parts]
    assert names == [
        "beauty",
        "emission",
        "albedo",
        "normal",
        "position",
        "motion",
        "depth",
        "field_A",
        "crypto_item",
        "crypto_part",
    ]
    head = read.parts[0].header
    assert head["framesPerSecond"] == Fraction(24000, 1001)
    assert np.asarray(head["chromaticities"]).ravel() == pytest.approx(
        [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329]
    )
    code = head["timeCode"]
    assert (code.hours, code.minutes, code.seconds, code.frame) == (0, 0, 2, 0)
    assert channel(read, "depth", "depth.Z").dtype == np.float32


def test_what_is_written_is_what_was_rendered(file):
    read, still = file
    assert channel(read, "depth", "depth.Z") == pytest.approx(still.layers.depth)
    assert channel(read, "position", "position.X") == pytest.approx(still.layers.position[..., 0])
    assert channel(read, "beauty", "R") == pytest.approx(still.finished.light[..., 0], rel=2e-3, abs=1e-4)
    assert channel(read, "beauty", "A") == pytest.approx(still.layers.opacity, abs=1e-3)


def test_mattes_are_read_back_by_code_of_their_own(file):
    """Cryptomatte 1.2.0, read as its specification says, with nothing of what has written it."""
    read, still = file
    head = part(read, "crypto_item").header
    key = f"cryptomatte/{format(murmur3(b'crypto_item'), '08x')[:7]}"
    assert head[f"{key}/name"] == "crypto_item"
    assert head[f"{key}/hash"] == "MurmurHash3_32"
    assert head[f"{key}/conversion"] == "uint32_to_float32"
    manifest = json.loads(head[f"{key}/manifest"])
    assert set(manifest) == {"Ball", "Größe zwei"}
    total = np.zeros((54, 96))
    for number, name in enumerate(manifest):
        wanted = int(manifest[name], 16)
        hashed = murmur3(name.encode())
        assert wanted in (hashed, hashed ^ (1 << 23))
        covered = np.zeros((54, 96))
        for layer in ("00", "01", "02"):
            for ids, cover in (("R", "G"), ("B", "A")):
                here = channel(read, "crypto_item", f"crypto_item{layer}.{ids}")
                bits = np.ascontiguousarray(here).view(np.uint32)
                covered += np.where(bits == wanted, channel(read, "crypto_item", f"crypto_item{layer}.{cover}"), 0)
        item = {"Ball": "ball", "Größe zwei": "other"}[name]
        own = [one for one, named in enumerate(still.layers.identity.named) if named.item == item]
        assert covered == pytest.approx(still.layers.identity.covered(own), abs=1e-5)
        assert covered.max() == pytest.approx(1), number
        total += covered
    assert total == pytest.approx(still.layers.opacity, abs=1e-5)


def test_hashes_are_numbers_and_those_of_the_specification():
    # From the specification's own sample: "hello" and a few names; worked out by the description above.
    for name in ("hello", "cube", "crypto_object", "a", ""):
        found = int(hash_of(name))
        assert found in (murmur3(name.encode()), murmur3(name.encode()) ^ (1 << 23))
        assert np.isfinite(np.uint32(found).view(np.float32))


def test_two_things_of_one_name_are_one_matte(file):
    _, still = file
    both = exr_bytes(still, {"ball": "Same", "other": "Same"}, {one[:2]: "Same" for one in still.layers.identity.named})
    assert both[:4] == bytes.fromhex("762f3101")


def test_what_a_renderer_stumbles_over_is_taken_out_before():
    one = sheet(2.0)
    bad = one.points.copy()
    bad[3] = np.nan
    left = checked(type(one)(**{**vars(one), "points": bad, "normals": np.zeros_like(one.normals)}))
    assert left is not None
    assert len(left.faces) == 1
    assert np.isfinite(left.points).all()
    assert left.normals[0] == pytest.approx([0, 0, 1])
    flat = type(one)(**{**vars(one), "points": np.zeros_like(one.points)})
    assert checked(flat) is None
    assert checked(type(one)(**{**vars(one), "faces": np.zeros((0, 3), np.uint32)})) is None
    wrong = type(one)(**{**vars(one), "faces": np.array([[0, 1, 9]], np.uint32)})
    with pytest.raises(ValueError, match="names point 9 of 4"):
        checked(wrong)
    odd = checked(type(one)(**{**vars(one), "colour": np.full((1, 3), np.nan, np.float32)}))
    assert odd is not None
    assert (odd.colour == 0).all()


def motion_of(document: dict, frame: float = 4.0) -> tuple[np.ndarray, np.ndarray]:
    """The motion of a frame, (90, 160, 2), and where something is seen."""
    renderer = Renderer()
    studio = Studio(evaluator(), renderer, Quality(samples=4, noise=0, passes=True))
    layers = studio.still(parse_shot(document), frame, 160, 90, lambda what, share: None).layers
    renderer.close()
    return layers.motion, layers.depth > 0


def pixels_a_metre(away: float) -> float:
    return 90 / (2 * np.tan(np.radians(15)) * away)


def test_motion_says_where_things_are_one_frame_later():
    """A ball that goes 0.05 m to the right and 0.1 m up in each frame, 8 m away: as many pixels as a pinhole shows. Behind it nothing
    moves, as the camera stands."""
    document = cut_ball() | {"camera": "eye"}
    ends = {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 20, "value": [1.0, 2.0, 0]}}
    for key in ends.values():
        key["easing"] = {"kind": "linear"}
    document["items"]["ball"] |= {"place": {"keys": ends}}
    document["items"]["ball"]["recipe"]["steps"] = {}
    document["items"]["eye"] = {"kind": "camera", "name": "Eye", "rank": 3, "place": [0, 0, 8], "angle": 30}
    motion, seen = motion_of(document)
    row, column = (int(value) for value in np.argwhere(seen).mean(axis=0))
    # The ball's front is nearer than its middle.
    wide = pixels_a_metre(8 - 1)
    assert motion[row, column] == pytest.approx([0.05 * wide, 0.1 * wide], rel=0.05)
    assert motion[~seen] == pytest.approx(0, abs=1e-3)


def test_a_camera_that_turns_moves_all_the_other_way():
    document = cut_ball() | {"camera": "eye"}
    keys = {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 10, "value": [0, 5.0, 0]}}
    for key in keys.values():
        key["easing"] = {"kind": "linear"}
    document["items"]["eye"] = {
        "kind": "camera",
        "name": "Eye",
        "rank": 3,
        "place": [0, 0, 8],
        "angle": 30,
        "turn": {"keys": keys},
    }
    motion, _ = motion_of(document, 0.0)
    # Half a degree to the left in a frame: the middle of the picture goes to the right by its tangent.
    assert motion[45, 80, 0] == pytest.approx(np.tan(np.radians(0.5)) * 45 / np.tan(np.radians(15)), rel=0.02)
    assert motion[45, 80, 1] == pytest.approx(0, abs=0.02)


def test_pieces_have_mattes_of_their_own(tmp_path):
    document = two_balls()
    document["items"]["ball"]["recipe"] = {"steps": {"break": {"kind": "fracture", "rank": 0, "count": 12}}}
    shot, renderer = parse_shot(document), Renderer()
    still = Studio(evaluator(), renderer, Quality(samples=4, noise=0, passes=True)).still(
        shot, 0, 96, 54, lambda what, share: None
    )
    renderer.close()
    (tmp_path / "x.exr").write_bytes(picture_file(still, ".exr"))
    read = OpenEXR.File(str(tmp_path / "x.exr"))
    head = part(read, "crypto_piece").header
    key = f"cryptomatte/{format(murmur3(b'crypto_piece'), '08x')[:7]}"
    manifest = json.loads(head[f"{key}/manifest"])
    pieces = [name for name in manifest if "piece" in name]
    assert len(pieces) > 4
    assert "Größe zwei, Body" in manifest
    whole = [one for one, named in enumerate(still.layers.identity.named) if named.item == "ball"]
    total = np.zeros((54, 96))
    for layer in ("00", "01", "02"):
        for ids, cover in (("R", "G"), ("B", "A")):
            bits = np.ascontiguousarray(channel(read, "crypto_piece", f"crypto_piece{layer}.{ids}")).view(np.uint32)
            mine = np.isin(bits, [int(manifest[name], 16) for name in pieces])
            total += np.where(mine, channel(read, "crypto_piece", f"crypto_piece{layer}.{cover}"), 0)
    assert total == pytest.approx(still.layers.identity.covered(whole), abs=1e-4)
