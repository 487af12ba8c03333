"""Pieces and copies in the real page: built by hand, seen in the picture, probed, and taken away."""

from __future__ import annotations

import json
import struct

import numpy as np
from conftest import Client
from hands import Hands
from selenium.webdriver import ActionChains
from selenium.webdriver.common.by import By
from shots import recipe_shot


def manifest(client: Client, shot: str, frame: float) -> dict:
    revision = client.get(f"/api/shots/{shot}").json["revision"]
    content = client.post(f"/api/shots/{shot}/frame", {"revision": revision, "frame": frame}).body
    (length,) = struct.unpack_from("<I", content)
    return json.loads(content[4 : 4 + length])


def seen(hands: Hands) -> np.ndarray:
    """(h, w, 3) the picture of the shot, 0..255."""
    return np.array(json.loads(hands.still_picture(360, 220))).reshape(220, 360, 4)[:, :, :3]


def step_named(hands: Hands, words: str):
    return hands.until(
        lambda: next(iter(hands.chrome.find_elements(By.CSS_SELECTOR, f'[aria-label^="{words}"]')), None)
    )


def staged(*steps: dict, parts: tuple[str, ...] = (), **item: object) -> dict:
    """The ball before a camera, with a light."""
    document = recipe_shot(*steps, parts=parts)
    document["items"]["ball"] |= {"look": {"base_colour": "#C8420B", "roughness": 0.4}} | item
    document["items"]["key-light"] = {"kind": "light", "name": "Key light", "rank": 8, "turn": [-40, 30, 0]}
    document["items"]["camera"] = {"kind": "camera", "name": "Camera", "rank": 9, "place": [0, 0, 5]}
    return document | {"camera": "camera"}


def test_flakes_are_scattered_jumbled_and_let_go_by_hand(hands: Hands, client: Client):
    shot = client.new_shot()
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    bare = seen(hands)
    hands.choose("Add a step", "Scatter")
    hands.saved(1)
    hands.until(lambda: "2,000 copies" in hands.text())
    covered = seen(hands)
    assert (np.abs(covered - bare).sum(axis=2) > 30).mean() > 0.01
    hands.type_value("/items/ball/recipe/steps/scatter/count", "400")
    hands.until(lambda: "400 copies" in hands.text())
    # What is added next works on the copies.
    hands.choose("Add a step", "Jumble")
    hands.choose("Add a step", "Release")
    hands.saved(4)
    document = client.get(f"/api/shots/{shot}").json["document"]
    steps = document["items"]["ball"]["recipe"]["steps"]
    assert [steps[name]["part"] for name in ("scatter", "jumble", "release")] == ["body", "copies", "copies"]
    hands.go_to(40)
    fallen = manifest(client, shot, 40)
    copies = next(item for item in fallen["items"] if item["copies"])
    assert copies["copies"]["count"] == 400
    assert copies["copies"]["low"][1] < 0.2
    # Removing what makes the copies takes what works on them along, after asking.
    hands.open_card("/items/ball/recipe/steps/scatter/count")
    step_named(hands, "Step 1: Scatter").find_element(By.CSS_SELECTOR, '[aria-label="Commands for the step"]').click()
    hands.press("Remove it", "menuitem")
    hands.press("Remove them")
    hands.saved(5)
    recipe = client.get(f"/api/shots/{shot}").json["document"]["items"]["ball"]["recipe"]
    assert recipe["steps"] == {}
    assert list(recipe["parts"]) == ["body"]
    assert hands.complaints() == []


def test_no_seam_is_seen_until_a_piece_moves(hands: Hands, client: Client):
    """The picture of a broken ball that has not moved is that of the whole one; then the inside shows."""
    inside = {"base_colour": "#0000FF", "emission_colour": "#0000FF", "emission": 1.0}
    broken = {"kind": "fracture", "count": 60, "inside": inside}
    moved = {"kind": "shift", "field": "front", "move": [0, 0.5, 0], "turn": [0, 30, 0]}
    whole = client.new_shot(staged())
    pieces = client.new_shot(staged(broken, moved))
    hands.open(f"/shots/{whole}")
    hands.until(lambda: hands.frame_shown == 0)
    known = seen(hands)
    hands.open(f"/shots/{pieces}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.until(lambda: "60 pieces, solid" in hands.text())
    apart = np.abs(seen(hands) - known).max(axis=2)
    # The handles in the view are the same; of the ball hardly a pixel differs by more than rounding.
    assert (apart > 12).mean() < 0.0005
    hands.go_to(60)
    loose = seen(hands)
    blue = (loose[:, :, 2] > 150) & (loose[:, :, 0] < 90)
    assert blue.mean() > 0.003
    assert (np.abs(loose - known).max(axis=2) > 40).mean() > 0.02


def test_a_copy_is_probed_and_goes_out_either_way(hands: Hands, client: Client):
    scatter = {"kind": "scatter", "count": 600, "what": "beads", "size": 0.4, "vary": 0, "makes": "copies"}
    shade = {"kind": "shade", "part": "copies", "field": "front"}
    shot = client.new_shot(staged(scatter, shade, parts=("copies",)))
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.go_to(60)
    canvas = hands.find('canvas[aria-label="Picture of the shot"]')

    def probed() -> bool:
        ActionChains(hands.chrome).move_to_element(canvas).move_by_offset(-45, -50).pause(0.2).move_by_offset(
            3, 2
        ).pause(0.4).perform()
        return "at the middle of copy" in hands.text()

    assert hands.until(probed)
    revision = client.get(f"/api/shots/{shot}").json["revision"]
    sizes = []
    for copies in ("kept", "meshes"):
        body = client.post(f"/api/shots/{shot}/frame-file", {"revision": revision, "frame": 60, "copies": copies}).body
        assert (b"EXT_mesh_gpu_instancing" in body) is (copies == "kept")
        sizes.append(len(body))
    assert sizes[0] < sizes[1]
    hands.press("Export")
    hands.until(lambda: "Copies go into a GLB" in hands.text())
    assert hands.complaints() == []
