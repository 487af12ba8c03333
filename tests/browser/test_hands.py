"""Everything by keyboard, every command by name, keys of one's own; text, paths and drawings; two people at one shot."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
from conftest import Client
from fuzzing import SVG
from gltf_files import pictured_glb, png
from hands import Hands, apart
from selenium.webdriver import Keys
from selenium.webdriver.common.by import By

from windsock.demo.blank import blank_shot


def document(client: Client, shot: str) -> dict:
    return client.get(f"/api/shots/{shot}").json["document"]


def small_shot(client: Client) -> str:
    told: dict = blank_shot("Small")  # type: ignore[assignment]
    told["items"]["ball"]["geometry"] |= {"subdivisions": 3}
    return client.new_shot(told)


def last_of(place: dict) -> tuple[float, float]:
    """The frame of the last key of a place, and its X there."""
    return max((key["frame"], key["value"][0]) for key in place["keys"].values())


def level_of(client: Client, shot: str) -> float:
    return document(client, shot)["fields"]["front"]["level"]


def test_the_whole_main_job_by_keyboard_alone(hands: Hands, client: Client):
    """From a blank shot to a shape that is dissolved by a keyed controller, played, undone and taken away: no pointer."""
    shot = small_shot(client)
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.tab_to("Ball")
    hands.keys(Keys.ENTER)
    hands.tab_to("Add a step")
    hands.keys(Keys.ENTER)
    hands.find('[role="menu"]')
    hands.keys(Keys.ENTER)
    hands.until(lambda: "Cut away" in hands.text())
    # Enter on an item has brought it into view; so it is not counted here which edit it is.
    # The value of the level: by arrows, then typed.
    hands.tab_to("/fields/front/level")
    hands.keys(Keys.ARROW_UP)
    hands.until(lambda: level_of(client, shot) == 0.525)
    hands.tab_to("/fields/front/level")
    hands.keys(Keys.ENTER)
    hands.find('[role="dialog"] input')
    hands.chord(Keys.CONTROL, "a")
    hands.keys("0.4", Keys.ENTER)
    hands.until(lambda: level_of(client, shot) == 0.4)
    hands.keys(Keys.ESCAPE)
    # The controller, keyed at both ends.
    hands.do("next item")
    hands.until(lambda: "Key its place here" in hands.text())
    hands.do("key the place")
    hands.until(lambda: "keys" in document(client, shot)["items"]["controller"]["place"])
    hands.do("last frame")
    hands.until(lambda: hands.frame_shown == 119)
    hands.do("key the place")
    hands.until(lambda: last_of(document(client, shot)["items"]["controller"]["place"])[0] == 119)
    hands.tab_to("/items/controller/place#0")
    hands.keys(Keys.ENTER)
    hands.find('[role="dialog"] input')
    hands.chord(Keys.CONTROL, "a")
    hands.keys("-2", Keys.ENTER)
    hands.until(lambda: last_of(document(client, shot)["items"]["controller"]["place"]) == (119, -2))
    hands.keys(Keys.ESCAPE)
    hands.do("play or stop")
    hands.until(lambda: 0 < hands.frame_shown < 119)
    hands.do("play or stop")
    hands.chord(Keys.CONTROL, "z")
    hands.until(lambda: last_of(document(client, shot)["items"]["controller"]["place"]) != (119, -2))
    hands.do("export")
    hands.until(lambda: "Take away" in hands.text())
    hands.tab_to("This frame as a file")
    hands.keys(Keys.ENTER)
    hands.until(lambda: ".glb is in your downloads" in hands.text())
    assert hands.complaints() == []


def test_keys_are_changed_told_when_taken_and_brought_back(hands: Hands, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    hands.keys("?")
    hands.press("Change the key of Next frame")
    hands.keys(",")
    hands.until(lambda: "was taken from “Frame before”" in hands.text())
    hands.press("Done")
    hands.keys(",")
    hands.until(lambda: hands.frame_shown == 59)
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    hands.keys(",")
    hands.until(lambda: hands.frame_shown == 59)
    hands.keys("?")
    hands.press("All as they were")
    hands.press("Done")
    hands.keys(",")
    hands.until(lambda: hands.frame_shown == 58)


def test_text_is_typed_seen_while_typed_and_one_edit(hands: Hands, client: Client):
    shot = small_shot(client)
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.choose("Add…", "Text")
    hands.saved(1)
    hands.until(lambda: "faces" in hands.text())
    before = hands.still_picture()
    box = hands.find("textarea")
    box.send_keys(Keys.CONTROL, "a")
    box.send_keys("KP\nW")
    hands.until(lambda: hands.picture() != before)
    assert hands.revision == 1
    box.send_keys(Keys.TAB)
    hands.saved(2)
    told = document(client, shot)["items"]["text"]["geometry"]
    assert told["words"] == "KP\nW"
    hands.pick(hands.find('[aria-label="Shape"] [aria-label*="Font"]'), "a stencil")
    hands.saved(3)
    hands.type_value("/items/text/geometry/bevel", "3 cm")
    hands.saved(4)
    told = document(client, shot)["items"]["text"]["geometry"]
    assert (told["font"], told["bevel"]) == ("stencil", 0.03)
    assert hands.complaints() == []


def test_a_path_is_drawn_out_and_a_sweep_lies_on_it(hands: Hands, client: Client):
    shot = small_shot(client)
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.choose("Add…", "Sweep along a path")
    hands.saved(1)
    hands.item("Path")
    hands.press("Add a point after it")
    hands.saved(2)
    before = document(client, shot)["items"]["path"]["points"]
    assert len(before) == 5
    point = hands.find('[data-path-point="5"]')
    hands.drag(point, 40, -40)
    hands.saved(3)
    after = document(client, shot)["items"]["path"]["points"]
    moved = [key for key in before if before[key]["place"] != after[key]["place"]]
    assert len(moved) == 1
    assert after[moved[0]]["place"][1] > before[moved[0]]["place"][1]
    # Kept to steps, a point goes to multiples of 10 cm.
    hands.press("Steps")
    hands.drag(hands.find('[data-path-point="5"]'), 33, 17)
    hands.saved(4)
    place = document(client, shot)["items"]["path"]["points"][moved[0]]["place"]
    assert [round(value * 10, 4) % 1 for value in place] == [0, 0, 0]
    assert document(client, shot)["items"]["sweep"]["parent"] == "path"
    assert hands.complaints() == []


def test_a_drawing_becomes_a_shape_and_its_outlines_paths(hands: Hands, client: Client, tmp_path: Path):
    sign = tmp_path / "sign.svg"
    sign.write_bytes(SVG)
    shot = small_shot(client)
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    for revision, button in ((1, "Add as a shape"), (2, "Add its outlines as paths")):
        hands.choose("Add…", "Import a file…")
        hands.press("Choose a file")
        hands.find('input[type="file"]').send_keys(str(sign))
        hands.until(lambda: "filled parts" in hands.text())
        hands.press(button)
        hands.saved(revision)
    kinds = [item["kind"] for item in document(client, shot)["items"].values()]
    assert kinds.count("path") > 3
    assert document(client, shot)["items"]["sign"]["geometry"]["kind"] == "extrude"
    assert hands.complaints() == []


def test_a_brought_shape_shows_its_picture_in_place_of_the_first_one(hands: Hands, tmp_path: Path):
    halves = np.zeros((8, 16, 3), dtype=np.uint8)
    halves[:, :8, 0] = halves[:, 8:, 2] = 255
    board = tmp_path / "board.glb"
    board.write_bytes(pictured_glb([png(halves)], [[0, 1], [1, 1], [1, 0], [0, 0]]))
    hands.open("/")
    hands.press("New shot")
    hands.until(lambda: hands.frame_shown >= 0)
    hands.choose("Add…", "Import a file…")
    hands.press("Choose a file")
    hands.find('input[type="file"]').send_keys(str(board))
    hands.until(lambda: "with a picture" in hands.text())
    assert "In place of Ball" in hands.text()
    hands.press("Add to the shot")
    hands.saved(1)
    hands.until(lambda: "Ball" not in hands.find('[aria-label="Items of the shot"]').text)

    def halves_seen() -> bool:
        red, _, blue = np.array(json.loads(hands.picture())).reshape(60, 96, 4)[..., :3].transpose(2, 0, 1).astype(int)
        left, right = np.argwhere(red > blue + 80), np.argwhere(blue > red + 80)
        return len(left) > 50 and len(right) > 50 and bool(left[:, 1].max() <= right[:, 1].min())

    hands.until(halves_seen)
    assert hands.complaints() == []


def test_what_somebody_else_does_appears_and_the_history_is_returned_to(hands: Hands, client: Client, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    level = "/fields/fog-front/level"
    before = hands.still_picture()
    assert client.edit(lighthouse, 0, level, 0.8, label="level 0.8").status == 200
    hands.until(lambda: "Changed elsewhere: level 0.8" in hands.text())
    hands.press("Put away")
    hands.until(lambda: "0.80" in hands.value(level).text)
    hands.until(lambda: hands.picture() != before)
    hands.type_value("/fields/fog-front/band", "0.2")
    hands.saved(2)
    changed = hands.still_picture()
    hands.press("History of the shot")
    hands.until(lambda: "As it began" in hands.text())
    first = hands.find("ol li:last-child button")
    first.click()
    hands.until(lambda: "As it was after edit 0" in hands.text())
    hands.until(lambda: apart(hands.picture(), before) < 0.5 < apart(changed, before), 60)
    assert hands.revision == 2
    hands.press("Return to edit 0")
    hands.saved(3)
    told = document(client, lighthouse)["fields"]["fog-front"]
    assert (told["level"], told["band"]) == (0.46, 0.08)
    hands.chord(Keys.CONTROL, "z")
    hands.saved(4)
    assert document(client, lighthouse)["fields"]["fog-front"]["level"] == 0.8


def test_a_shot_is_deleted_and_brought_back_at_home(hands: Hands, client: Client):
    shot = client.new_shot(blank_shot("Gone and back"))
    hands.open("/")
    hands.choose("Commands for Gone and back", "Delete it")
    hands.until(lambda: "can be brought back" in hands.text())
    hands.until(lambda: not hands.chrome.find_elements(By.CSS_SELECTOR, '[aria-label="Commands for Gone and back"]'))
    hands.until(lambda: "What is put away" in hands.text())
    hands.press("Put away")
    hands.find('[aria-label="Put away"] button').click()
    hands.press("Bring Gone and back back")
    hands.find('[aria-label="Commands for Gone and back"]')
    assert client.get(f"/api/shots/{shot}").status == 200


@pytest.mark.parametrize("width", [1024, 1920])
def test_nothing_is_cut_off_and_nothing_moves_for_who_wants_it_still(hands: Hands, client: Client, chrome, width: int):
    size = {"width": width, "height": 800, "deviceScaleFactor": 0.4, "mobile": False}
    chrome.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    still = {"features": [{"name": "prefers-reduced-motion", "value": "reduce"}]}
    chrome.execute_cdp_cmd("Emulation.setEmulatedMedia", still)
    try:
        hands.open(f"/shots/{small_shot(client)}")
        hands.until(lambda: hands.frame_shown == 0)
        hands.choose("Add…", "Text")
        hands.saved(1)
        wide = chrome.execute_script("return [document.documentElement.scrollWidth, innerWidth]")
        assert wide[0] <= wide[1]
        outside = chrome.execute_script(
            "return [...document.querySelectorAll('header button, header a')].filter(e => {"
            "const b = e.getBoundingClientRect(); return b.width > 0 && (b.right > innerWidth || b.left < 0)}).map(e => e.textContent)"
        )
        assert outside == []
        moving = chrome.execute_script(
            "return [...document.querySelectorAll('*')].filter(e => {const s = getComputedStyle(e);"
            "return parseFloat(s.transitionDuration) > 0.001 || (s.animationName !== 'none' && parseFloat(s.animationDuration) > 0.001)})"
            ".map(e => e.tagName + ' ' + e.className)"
        )
        assert moving == []
    finally:
        chrome.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})
        chrome.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size | {"width": 1280})
