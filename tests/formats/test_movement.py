"""Movement from files: laid on an item it is where the file says, as nearly as was asked for."""

from __future__ import annotations

import json

import numpy as np
import pytest
from gltf_files import PackedCopies, as_gltf, parts_of_glb, skinned_glb, zipped
from shots import cut_ball, evaluator, parsed

from windsock.core.document.patches import Operation, patched
from windsock.core.document.shot import parse_shot
from windsock.core.geometry.movement import Fit, Movement, keyed_movement
from windsock.core.geometry.placement import rotation
from windsock.core.refusals import Refusal
from windsock.formats.movement import read_movements, restored_movements, store_movements
from windsock.writers.glb_moving import write_moving_glb
from windsock.writers.moving import gather

HALF = np.sqrt(0.5)


def carried_glb(how: str = "LINEAR") -> bytes:
    """A node without faces that turns by 90 degrees about Y in two seconds, and one that it carries 2 to its right."""
    data = PackedCopies()
    clock = data.add([0.5, 2.5], "SCALAR")
    turns = data.add([[0, 0, 0, 1], [0, HALF, 0, HALF]], "VEC4")
    return data.file(
        scenes=[{"nodes": [0]}],
        nodes=[{"name": "Arm", "children": [1]}, {"name": "Hand", "translation": [2, 0, 0]}, {"name": "Still"}],
        animations=[
            {
                "samplers": [{"input": clock, "output": turns, "interpolation": how}],
                "channels": [{"sampler": 0, "target": {"node": 0, "path": "rotation"}}],
            }
        ],
    )


def laid(movement: Movement, within: float = 0.001, fps: float = 24.0, begins: float = 0.0, unit: float = 1.0):
    """A shot whose ball follows, and the fit."""
    document = cut_ball({"kind": "sphere", "subdivisions": 2})
    fitted = keyed_movement(movement, {"place", "turn", "scale"}, Fit(begins, unit, within, within * 100), fps)
    patch = [Operation(op="add", path=f"/items/ball/{name}", value=one.value) for name, one in fitted.items()]
    return parse_shot(patched(parsed(document).model_dump(mode="json"), patch)), fitted


def stands(shot, frame: float) -> np.ndarray:
    return shot.placement("ball", shot.moment(frame))


@pytest.mark.parametrize("kind", ["glb", "gltf", "zip"])
def test_a_node_that_is_carried_goes_round(kind):
    """Closed form: on a circle of radius 2, 45 degrees in each second; the file's time begins with its first key."""
    content = carried_glb()
    if kind == "gltf":
        content = as_gltf(content)
    if kind == "zip":
        binary = parts_of_glb(content)[1]
        content = zipped({"a/b.gltf": as_gltf(content, "b.bin"), "a/b.bin": binary})
    arm, hand = read_movements(content, kind)
    assert (arm.name, hand.name) == ("Arm", "Hand")
    shot, fitted = laid(hand, 0.0005, begins=10)
    assert fitted["place"].off <= 0.0005
    assert fitted["turn"].off <= 0.05
    # An arc of 90 degrees by chords that are off by so little: the height of a segment, and at most twice as many.
    assert fitted["place"].count <= 2 * np.pi / 4 / np.arccos(1 - 0.0005 / 2) + 2
    for frame in (10, 17, 29.3, 58):
        angle = np.pi / 4 * (frame - 10) / 24
        found = stands(shot, frame)
        expected = rotation((0, np.degrees(angle), 0))
        np.testing.assert_allclose(found[:3, 3], 2 * expected[:, 0], atol=0.0006)
        np.testing.assert_allclose(found[:3, :3], expected, atol=0.001)


def test_a_jump_is_a_jump():
    _, hand = read_movements(carried_glb("STEP"), "glb")
    shot, _ = laid(hand)
    assert stands(shot, 47.99)[0, 3] == pytest.approx(2)
    assert stands(shot, 48)[2, 3] == pytest.approx(-2)


def test_what_was_written_comes_back():
    """A shot as a GLB that moves, as its own writer makes it, laid on a ball of another shot."""
    document = cut_ball({"kind": "sphere", "subdivisions": 2})
    ball = document["items"]["ball"]
    ball["recipe"]["steps"] = {}
    linear = {"kind": "linear"}
    ball["place"] = {
        "keys": {"a": {"frame": 0, "value": [0, 0, 0], "easing": linear}, "b": {"frame": 24, "value": [3, 1, 0]}}
    }
    ball["turn"] = {
        "keys": {"a": {"frame": 0, "value": [0, 0, 0], "easing": linear}, "b": {"frame": 24, "value": [40, 250, 10]}}
    }
    source = parsed(document)
    reel = gather(source, evaluator(), list(range(25)), lambda *_: None)
    (movement,) = [one for one in read_movements(write_moving_glb(reel), "glb") if one.name.startswith("Ball")]
    shot, fitted = laid(movement)
    assert fitted["place"].count == 2
    for frame in (0, 5, 12, 24):
        np.testing.assert_allclose(stands(shot, frame), stands(source, frame), atol=0.002)


def test_joints_of_a_skin_are_things_that_move():
    assert len(read_movements(skinned_glb(), "glb")) >= 1


def test_a_table_of_a_fall(tmp_path):
    """Closed form of a throw, in centimetres, at an odd rate; kept as an archive on the way."""
    rows = ["seconds,x,y,z,name"]
    rows += [f"{t:.6f},{100 * t:.6f},{100 * (5 * t - 4.905 * t * t):.6f},0,Stone" for t in np.linspace(0, 1, 181)]
    store_movements(read_movements("\n".join(rows).encode(), "csv"), tmp_path / "a")
    (stone,) = restored_movements(tmp_path / "a")
    assert stone.name == "Stone"
    assert stone.moves == ["place"]
    shot, fitted = laid(stone, 0.002, fps=30000 / 1001, begins=-3.5, unit=0.01)
    assert fitted["turn"].count == 2
    for seconds in (0.0, 0.21, 0.5, 1.0):
        found = stands(shot, -3.5 + seconds * 30000 / 1001)[:3, 3]
        np.testing.assert_allclose(found, [seconds, 5 * seconds - 4.905 * seconds**2, 0], atol=0.0025)


def test_a_table_that_counts_frames_turns_and_stretches():
    text = "frame,x,y,z,turn x,turn y,turn z,scale x,scale y,scale z\n10,0,0,0,0,0,0,1,1,1\n20,0,0,0,0,720,0,2,1,1\n"
    (movement,) = read_movements(text.encode(), "csv")
    assert movement.moves == ["place", "turn", "scale"]
    shot, fitted = laid(movement, begins=10)
    assert fitted["turn"].value["keys"]["k2"]["value"] == [0, 720, 0]  # type: ignore[index]
    np.testing.assert_allclose(stands(shot, 15)[:3, :3], np.diag([1.5, 1, 1]), atol=1e-9)


WRONG = {
    "seconds,x,y\n0,1,2\n": "The first line",
    "seconds,frame,x,y,z\n0,0,1,2,3\n": "The first line",
    "seconds,x,y,z,weight\n0,0,1,2,3\n": "The first line",
    "seconds,x,y,z,turn x\n0,0,1,2,3\n": "The first line",
    "seconds,x,y,z\n0,1,2,3\n": "two lines or more",
    "seconds,x,y,z\n0,1,2,3\n0,1,2,3\n": "Line 3: its seconds is not after",
    "seconds,x,y,z\n0,1,2,3\n1,1,nan,3\n": "Line 3: a number is beyond",
    "seconds,x,y,z\n0,1,2,3\n1,1,,3\n": "Line 3: a number is missing",
    '"': "not CSV",
    "\xff": "The first line",
}


@pytest.mark.parametrize("text", WRONG)
def test_a_table_that_is_wrong_is_refused_by_its_line(text):
    with pytest.raises(Refusal, match=WRONG[text]):
        read_movements(text.encode(), "csv")


def test_files_without_movement_and_damaged_ones_are_refused():
    still = json.loads(json.dumps(parts_of_glb(carried_glb())[0]))
    del still["animations"]
    with pytest.raises(Refusal, match="Nothing in the file is moved"):
        read_movements(json.dumps(still | {"buffers": []}).encode(), "gltf")
    for kind in ("obj", "none"):
        with pytest.raises(Refusal, match="is not read from"):
            read_movements(b"v 0 0 0", kind)
    content = carried_glb()
    random = np.random.default_rng(5)
    for _ in range(60):
        broken = bytearray(content)
        for place in random.integers(12, len(broken), 4):
            broken[place] = random.integers(0, 256)
        try:
            read_movements(bytes(broken), "glb")
        except Refusal:
            continue


def test_more_keys_than_are_kept_are_refused_with_what_to_do():
    noise = np.random.default_rng(2).normal(size=(3000, 3))
    rows = [f"{row},{x},{y},{z}" for row, (x, y, z) in enumerate(noise)]
    (movement,) = read_movements(("frame,x,y,z\n" + "\n".join(rows)).encode(), "csv")
    with pytest.raises(Refusal, match="Let the keys be off by more"):
        laid(movement)
