"""The main job through the real interface: see the demo, change it, play it, keep it, take it away; then one's own shape."""

from __future__ import annotations

import json
import time
from pathlib import Path

import pytest
import trimesh
from conftest import Client, kill, recover
from hands import Hands
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By

FRONT = "/fields/fog-front"


def document(client: Client, shot: str) -> dict:
    return client.get(f"/api/shots/{shot}").json["document"]


def differ(one: bytes, other: bytes) -> int:
    """The largest difference of a colour component between two pictures."""
    return max(abs(a - b) for a, b in zip(json.loads(one), json.loads(other), strict=True))


def test_one_click_from_home_to_a_playing_effect(hands: Hands):
    hands.open("/")
    hands.press("Open the demo")
    first = hands.until(lambda: hands.frame_shown >= 0 and hands.frame_shown + 1)
    hands.until(lambda: hands.frame_shown + 1 > first + 2)
    assert "playing" in hands.text()
    hands.press("Pause")
    assert hands.complaints() == []


def test_a_level_is_dragged_typed_undone_and_kept(hands: Hands, client: Client, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    before = hands.still_picture()
    hands.drag(hands.value(f"{FRONT}/level"), 80, 0, release=False)
    hands.until(lambda: hands.picture() != before)
    assert hands.revision == 0
    hands.release()
    hands.saved(1)
    dragged = document(client, lighthouse)["fields"]["fog-front"]["level"]
    assert dragged == pytest.approx(0.46 + 80 * 0.0025, abs=0.02)
    hands.type_value(f"{FRONT}/level", "0.3 + 0.05 * 2")
    hands.saved(2)
    assert document(client, lighthouse)["fields"]["fog-front"]["level"] == pytest.approx(0.4)
    hands.chrome.refresh()
    hands.until(lambda: hands.frame_shown == 58)
    hands.press("Undo\n: level 0.40")
    hands.saved(3)
    hands.chord(Keys.CONTROL, "z")
    hands.until(lambda: document(client, lighthouse)["fields"]["fog-front"]["level"] == 0.46)
    # Shadows may differ by a step of one colour component; the change that was undone differs by dozens.
    hands.until(lambda: differ(hands.picture(), before) <= 2)


def test_a_wrong_number_is_said_and_nothing_changes(hands: Hands, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    for text, words in (
        ("7", "It must lie between 0 and 1"),
        ("much", "This is not a number"),
        ("1/0", "not a number"),
    ):
        hands.type_value(f"{FRONT}/level", text)
        hands.until(lambda words=words: words in hands.text())
        hands.keys(Keys.ESCAPE)
    assert hands.revision == 0


def test_scrubbing_the_ruler_shows_that_frame(hands: Hands, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    ruler = hands.find('[aria-label="Frame in view"]')
    ActionChains(hands.chrome).move_to_element_with_offset(ruler, 0, 0).click().perform()
    hands.until(lambda: abs(hands.frame_shown - 59.5) < 2)
    hands.drag(ruler, 160, 0)
    hands.until(lambda: hands.frame_shown == int(ruler.get_attribute("aria-valuenow") or -1) > 75)


def test_keys_step_play_and_jump(hands: Hands, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    hands.keys(".")
    hands.until(lambda: hands.frame_shown == 59)
    hands.chord(Keys.SHIFT, ",")
    hands.until(lambda: hands.frame_shown == 49)
    hands.keys(Keys.HOME)
    hands.until(lambda: hands.frame_shown == 0)
    hands.keys(" ")
    hands.until(lambda: hands.frame_shown > 2)
    hands.keys(" ")
    hands.until(lambda: "playing" not in hands.find('[aria-label="Tracks"]').text)


def test_a_controller_is_moved_by_its_handle_and_keyed(hands: Hands, client: Client, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    hands.item("Fog bank")
    hands.go_to(40)
    strip = hands.find('[data-strip="fog-front"] path').get_attribute("d")
    hands.drag(hands.find('[data-handle="X"]'), -60, 0)
    hands.saved(1)
    keys = document(client, lighthouse)["items"]["fog"]["place"]["keys"]
    (made,) = [key["value"] for key in keys.values() if key["frame"] == 40]
    assert len(keys) == 4
    assert made[0] < 2.5
    hands.until(lambda: hands.find('[data-strip="fog-front"] path').get_attribute("d") != strip)
    assert hands.find('[aria-label="Key at 40"]')


def test_a_keyed_value_shows_its_curve_and_is_eased_there(hands: Hands, client: Client, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.item("Fog bank")
    hands.value("/items/fog/place#0").click()
    hands.find('[role="dialog"] svg[aria-label^="Curve of"]')
    hands.pick(hands.find('[role="dialog"] button[aria-label*="Easing from"]'), "held")
    hands.saved(1)
    assert document(client, lighthouse)["items"]["fog"]["place"]["keys"]["k1"]["easing"] == {"kind": "hold"}


def test_heat_mesh_and_probe(hands: Hands, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    picture = hands.still_picture()
    hands.press("Heat", "radio")
    hands.until(lambda: hands.picture() != picture)
    assert "white: the band" in hands.text()
    hands.press("Mesh", "radio")
    hands.until(lambda: "too coarse" in hands.text())
    canvas = hands.find("canvas")
    ActionChains(hands.chrome).move_to_element_with_offset(canvas, -40, 130).pause(0.3).move_by_offset(2, 0).perform()
    told = hands.until(lambda: hands.find('[role="tooltip"]').text)
    assert "A Fog front" in told
    assert "around" in told
    assert "roughened by noise" in told
    assert "level 0.46" in told


def test_a_change_made_elsewhere_is_shown_with_both_values(hands: Hands, client: Client, chrome, lighthouse: str):
    # A page that does not hear of it in time: its stream is cut off.
    chrome.execute_cdp_cmd("Network.enable", {})
    chrome.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*/api/events*"]})
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    assert client.edit(lighthouse, 0, f"{FRONT}/level", 0.9).status == 200
    hands.type_value(f"{FRONT}/level", "0.2")
    hands.until(lambda: "changed elsewhere" in hands.text())
    chrome.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})
    table = hands.find('[role="alertdialog"] table').text
    assert "0.2" in table
    assert "0.9" in table
    hands.press("Make my change")
    hands.saved(2)
    assert document(client, lighthouse)["fields"]["fog-front"]["level"] == 0.2


def test_the_frame_the_picture_and_the_shot_are_taken_away(hands: Hands, chrome, lighthouse: str, tmp_path: Path):
    chrome.execute_cdp_cmd("Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(tmp_path)})
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    hands.press("Export")
    for button, ending in (
        ("This frame as a file", "0058.glb"),
        ("The picture as PNG", "0058.png"),
        ("The shot as JSON", "light.json"),
    ):
        hands.press(button)
        file = hands.until(
            lambda ending=ending: next((p for p in tmp_path.glob(f"*{ending}") if p.stat().st_size), None)
        )
        content = file.read_bytes()
        if ending.endswith("glb"):
            assert len(trimesh.load_scene(str(file)).geometry) >= 6
        if ending.endswith("png"):
            assert (int.from_bytes(content[16:20], "big"), int.from_bytes(content[20:24], "big")) == (1280, 720)
    hands.open("/")
    hands.until(lambda: "01 Fog over the light" in hands.text())
    before = hands.text().count("01 Fog over the light")
    hands.find('section input[type="file"]').send_keys(str(next(tmp_path.glob("*.json"))))
    hands.until(lambda: hands.text().count("01 Fog over the light") == before + 1)


def test_a_new_user_dissolves_their_own_shape_in_under_ten_actions(hands: Hands, client: Client, tmp_path: Path):
    own = tmp_path / "buoy.obj"
    own.write_text(trimesh.creation.icosphere(4, 1.5).export(file_type="obj"))  # type: ignore[arg-type]
    actions = 0
    hands.open("/")
    hands.press("New shot")
    hands.until(lambda: hands.frame_shown >= 0)
    hands.choose("Add…", "Import a file…")
    actions += 3
    hands.press("Choose a file")
    hands.find('input[type="file"]').send_keys(str(own))
    hands.until(lambda: "3.00 m high" in hands.text())
    hands.press("Add to the shot")
    actions += 2
    hands.until(lambda: "20,480" not in hands.text() and "5,120 faces" in hands.text())
    hands.choose("Add a step", "Cut away")
    actions += 2
    hands.saved(2)
    hands.until(lambda: "→" in hands.text())
    cut = hands.until(
        lambda: [
            e.text for e in hands.chrome.find_elements(By.CSS_SELECTOR, '[aria-label^="Step 1"]') if "→ " in e.text
        ]
    )
    assert "5,120 → 5,120" not in cut[0], "the laid-out field must reach the shape at once"
    hands.drag(
        hands.value("/items/controller/place#0")
        if hands.chrome.find_elements(By.CSS_SELECTOR, '[data-pointer="/items/controller/place#0"]')
        else hands.value("/fields/front/level"),
        -40,
        0,
    )
    actions += 1
    hands.saved(3)
    assert actions < 10
    assert hands.complaints() == []
    shot = hands.chrome.current_url.rsplit("/", 1)[-1]
    assert len(document(client, shot)["fields"]["front"]["sources"]) == 2


def test_a_file_that_cannot_be_read_is_said_in_the_dialog(hands: Hands, client: Client, tmp_path: Path):
    broken = tmp_path / "broken.obj"
    broken.write_text("v 0 0 0\nv nan 0 0\nv 0 1 0\nf 1 2 3\n")
    hands.open(f"/shots/{client.new_shot()}")
    hands.choose("Add…", "Import a file…")
    hands.press("Choose a file")
    hands.find('input[type="file"]').send_keys(str(broken))
    hands.until(lambda: "not numbers" in hands.text())
    assert "Nothing was imported" in hands.text()


def test_the_page_goes_on_when_the_database_and_the_evaluator_come_back(
    hands: Hands, client: Client, lighthouse: str, stack
):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    stack.cluster.stop()
    hands.type_value(f"{FRONT}/level", "0.33")
    hands.until(lambda: "not saved yet, trying again" in hands.text())
    kill(stack, "evaluator")
    # Whole frames are ready already; one between two of them has to be asked for.
    box = hands.named("Frame", "textbox")
    box.click()
    box.send_keys(Keys.CONTROL, "a")
    box.send_keys("58.5", Keys.ENTER)
    hands.until(lambda: "evaluator is being started again" in hands.text())
    recover(stack)
    hands.saved(1)
    hands.until(lambda: hands.frame_shown == 58.5)
    assert document(client, lighthouse)["fields"]["fog-front"]["level"] == 0.33
    assert document(client, lighthouse)["schema_version"] == 1


SETTLED = (
    "return document.getAnimations().every(one => one.playState !== 'running' || "
    "one.effect.getTiming().iterations === Infinity)"
)
"""Colours have come to where they go: what goes on for ever does not count."""

AXE = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"


@pytest.mark.parametrize(
    "screen",
    [
        "home",
        "editor",
        "controller",
        "value",
        "import",
        "export",
        "picture",
        "settings",
        "findings",
        "shade",
        "text",
        "do",
        "keys",
        "history",
        "free",
        "comparing",
        "steps",
        "joining",
    ],
)
def test_axe_finds_nothing(hands: Hands, client: Client, chrome, lighthouse: str, screen: str):
    hands.open("/" if screen == "home" else f"/shots/{lighthouse}")
    if screen == "home":
        hands.until(lambda: "New shot" in hands.text())
    else:
        hands.until(lambda: hands.frame_shown == 58)
    if screen == "controller":
        hands.item("Fog bank")
    elif screen == "value":
        hands.item("Fog bank")
        hands.value("/items/fog/place#0").click()
        hands.find('[role="dialog"]')
    elif screen == "import":
        hands.choose("Add…", "Import a file…")
        hands.find('[role="dialog"]')
    elif screen == "export":
        hands.press("Export")
    elif screen == "picture":
        hands.item("The picture")
        hands.choose("Add a finishing step", "Curve")
        hands.find('[aria-label*="Curve"]')
    elif screen == "findings":
        hands.named("Findings: 0")
        hands.press("Findings: 0")
        hands.find('[role="dialog"]')
    elif screen == "shade":
        hands.choose("Add a step", "Shade")
        hands.press("Shape the ramp")
        hands.press("Put away") if "Put away" in hands.text() else None
    elif screen == "text":
        hands.choose("Add…", "Text")
        hands.find("textarea")
    elif screen in ("do", "keys"):
        hands.chord(Keys.CONTROL, "k") if screen == "do" else hands.keys("?")
        hands.find('[role="dialog"]')
    elif screen == "history":
        hands.press("History of the shot")
        hands.until(lambda: "As it began" in hands.text())
    elif screen == "settings":
        hands.press("Shot settings")
    elif screen == "free":
        hands.press("Free view", "radio")
        hands.choose("Aids", "Floor grid")
        hands.keys(Keys.ESCAPE)
        hands.until(lambda: "Floor: squares of" in hands.text())
    elif screen == "comparing":
        hands.press("History of the shot")
        hands.press("Compare with another shot…")
        hands.press("02 Sign-off", "menuitem")
        hands.find('[aria-label="End comparing"]')
    elif screen == "steps":
        hands.press("Add a step")
        hands.keys("take", Keys.ARROW_DOWN)
        hands.until(lambda: hands.find("[data-trial]").get_attribute("data-trial") == "8")
    elif screen == "joining":
        hands.press("roughened by, joining word")
        hands.find("[data-trial]")
    chrome.execute_cdp_cmd("Runtime.evaluate", {"expression": AXE.read_text()})
    for theme in ("chart", "night"):
        chrome.execute_script("document.documentElement.dataset.theme=arguments[0]", theme)
        hands.until(lambda: chrome.execute_script(SETTLED))
        time.sleep(0.5)
        report = chrome.execute_async_script(
            "const done=arguments[0];axe.run(document,{runOnly:['wcag2a','wcag2aa','wcag21a','wcag21aa','wcag22aa']}).then(r=>done(r.violations))"
        )
        found = [(one["id"], [node["html"][:160] for node in one["nodes"]][:3]) for one in report]
        assert found == [], theme
