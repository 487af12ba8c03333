"""Fields in the real page: built by hand from nothing, linked, mended and laid; what the API then says is right."""

from __future__ import annotations

import json
import struct

import pytest
from conftest import Client
from hands import Hands
from selenium.webdriver import Keys
from selenium.webdriver.common.by import By
from shots import cut_ball

REACH = "/fields/field/sources/around/reach"


def document(client: Client, shot: str) -> dict:
    return client.get(f"/api/shots/{shot}").json["document"]


def readings(client: Client, shot: str, frame: float) -> list[dict]:
    """What the steps of a frame say of their fields, by the API."""
    revision = client.get(f"/api/shots/{shot}").json["revision"]
    content = client.post(f"/api/shots/{shot}/frame", {"revision": revision, "frame": frame}).body
    (length,) = struct.unpack_from("<I", content)
    return [step["reading"] for step in json.loads(content[4 : 4 + length])["steps"]]


def covered(distance: float) -> float:
    """The share of a ball of radius 1 that lies within a distance of a point 1.6 from its middle.

    By the law of cosines the edge is a circle of latitude, and areas of caps go with their heights (Archimedes).
    """
    return min(max((distance**2 - 0.6**2) / (4 * 1.6), 0.0), 1.0)


def link(hands: Hands, words: str):
    return hands.until(
        lambda: next(
            (
                one
                for one in hands.chrome.find_elements(By.CSS_SELECTOR, "button")
                if one.get_attribute("aria-label") == words
            ),
            None,
        )
    )


def test_a_field_a_link_a_band_and_a_lag_are_built_by_hand_from_nothing(hands: Hands, client: Client):
    shot = client.new_shot()
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.choose("Add a step", "Shade")
    hands.saved(1)
    hands.pick(hands.find('[aria-label^="Step 1"] [aria-label*="Field"]'), "a new field")
    hands.saved(2)
    # The link: the band instead of the value.
    link(hands, "A Field A drives 1 Shade, by its value").click()
    hands.press("in its band", "menuitem")
    hands.saved(3)
    hands.type_value("/fields/field/band", "0.4")
    hands.saved(4)
    # The reach grows from 0.8 m at the start to 2 m a second later.
    hands.type_value("/fields/field/sources/around/soft", "0.5")
    hands.saved(5)
    hands.type_value(REACH, "0.8")
    hands.saved(6)
    hands.value(REACH).click()
    hands.press("Key at 0")
    hands.saved(7)
    hands.keys(Keys.ESCAPE)
    hands.go_to(24)
    hands.type_value(REACH, "2")
    hands.saved(8)
    # A second step, driven by a second field: the first one, half a second later.
    hands.choose("Add a step", "Shade")
    hands.saved(9)
    link(hands, "A Field A does not drive 2 Shade").click()
    hands.saved(10)
    hands.pick(hands.find('[aria-label^="Step 2"] [aria-label*="Field"]'), "a new field")
    hands.saved(11)
    step = hands.find('[aria-label^="Step 2"]')
    step.find_element(By.CSS_SELECTOR, '[aria-label="More for around"]').click()
    hands.press("Remove it", "menuitem")
    hands.saved(12)
    next(one for one in step.find_elements(By.CSS_SELECTOR, "button") if one.text == "Add a clause").click()
    hands.press("Another field, later", "menuitem")
    hands.saved(13)
    hands.type_value("/fields/field-2/sources/another/lag", "0.5")
    hands.saved(14)

    told = document(client, shot)
    steps = told["items"]["ball"]["recipe"]["steps"]
    assert [(steps[key]["field"], steps[key]["zone"]) for key in ("shade", "shade-2")] == [
        ("field", "band"),
        ("field-2", "value"),
    ]
    assert told["fields"]["field"]["band"] == 0.4
    first, _ = readings(client, shot, 24)
    # At 24 the reach is 2 m: inside from 0.7 on (level + half the band), so up to 2 - 0.7 * 0.5; the band to 0.3.
    assert first["coverage"]["inside"] == pytest.approx(covered(2 - 0.35), abs=0.01)
    assert first["coverage"]["band"] == pytest.approx(covered(2 - 0.15) - covered(2 - 0.35), abs=0.01)
    assert sum(first["histogram"]) == pytest.approx(1, abs=1e-4)
    for frame in (12, 20, 36):
        now, later = readings(client, shot, frame)[0], readings(client, shot, frame + 12)[1]
        assert later["histogram"] == pytest.approx(now["histogram"], abs=1e-5)
    assert readings(client, shot, 5)[1]["histogram"] == pytest.approx(
        readings(client, shot, 0)[0]["histogram"], abs=1e-5
    )
    assert hands.complaints() == []


def test_links_are_let_go_and_what_nothing_drives_is_hatched(hands: Hands, client: Client):
    shot = client.new_shot(cut_ball())
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    link(hands, "A Front drives 1 Cut away, inside").click()
    hands.press("Let go", "menuitem")
    hands.saved(1)
    assert document(client, shot)["items"]["ball"]["recipe"]["steps"]["cut"]["field"] is None
    tracks = hands.find('[aria-label="Tracks"]')
    hands.until(lambda: tracks.find_elements(By.CSS_SELECTOR, "[data-undriven]"))
    assert tracks.find_elements(By.CSS_SELECTOR, "[data-idle]")
    link(hands, "A Front drives every step").click()
    hands.saved(2)
    assert document(client, shot)["items"]["ball"]["recipe"]["overall"] == "front"
    hands.until(lambda: not tracks.find_elements(By.CSS_SELECTOR, "[data-undriven], [data-idle]"))
    link(hands, "A Front does not drive 1 Cut away").click()
    hands.saved(3)
    link(hands, "A Front drives 1 Cut away, inside").click()
    hands.press("outside", "menuitem")
    hands.saved(4)
    assert document(client, shot)["items"]["ball"]["recipe"]["steps"]["cut"]["zone"] == "outside"


def test_a_finding_is_told_shown_and_mended_with_a_press(hands: Hands, client: Client):
    told = cut_ball(field={"level": 0.99}, source={"reach": 0.3})
    told["items"]["fog"]["place"] = [1.2, 0, 0]
    shot = client.new_shot(told)
    hands.open(f"/shots/{shot}")
    hands.press("Findings: 1")
    hands.until(lambda: "never comes to its level" in hands.text())
    hands.press("Show it")
    hands.until(lambda: not hands.chrome.find_elements(By.CSS_SELECTOR, "[data-finding]"))
    hands.press("Findings: 1")
    mend = hands.until(
        lambda: [
            one for one in hands.chrome.find_elements(By.CSS_SELECTOR, "[data-finding] button") if "level" in one.text
        ]
    )
    mend[0].click()
    hands.saved(1)
    hands.until(lambda: "Nothing is amiss" in hands.text())
    assert document(client, shot)["fields"]["front"]["level"] < 0.2


def test_a_starter_lays_itself_and_says_what_to_change_first(hands: Hands, client: Client):
    shot = client.new_shot()
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.choose("Lay a starter", "Sweep")
    hands.saved(1)
    hands.until(lambda: "Sweep is laid on Ball. Change first: the controller Sweep" in hands.text())
    told = document(client, shot)
    assert [step["kind"] for step in told["items"]["ball"]["recipe"]["steps"].values()] == ["cut_away", "shade"]
    hands.go_to(60)
    before = readings(client, shot, 60)[0]["coverage"]["inside"]
    assert 0.2 < before < 0.8
    hands.chord(Keys.CONTROL, "z")
    hands.saved(2)
    assert document(client, shot)["fields"] == {}


def many() -> dict:
    """A ball with 12 fields and 10 steps."""
    told = cut_ball(camera="camera")
    told["items"]["camera"] = {"kind": "camera", "name": "Camera", "rank": 5, "place": [0, 0, 6]}
    for place in range(1, 12):
        noise = {"kind": "noise", "rank": 0, "size": 0.1 * place}
        told["fields"][f"f{place}"] = {
            "letter": chr(65 + place),
            "name": f"Patches of frost, number {place}",
            "rank": place,
            "sources": {"n": noise},
        }
    steps = told["items"]["ball"]["recipe"]["steps"]
    for place in range(1, 10):
        steps[f"s{place}"] = {"kind": "shade", "rank": place, "field": f"f{place}", "zone": "band"}
    return told


OVERLAPS = """
const boxes=[...arguments[0].querySelectorAll(arguments[1])].map((one)=>one.getBoundingClientRect());
return boxes.flatMap((one,i)=>boxes.slice(i+1).filter((other)=>one.left<other.right-1&&other.left<one.right-1&&
one.top<other.bottom-1&&other.top<one.bottom-1)).length;
"""


@pytest.mark.parametrize("width", [1024, 1280])
def test_tracks_stay_readable_with_12_fields_and_10_steps(hands: Hands, client: Client, chrome, width: int):
    size = {"deviceScaleFactor": 0.4, "mobile": False, "height": 800}
    shot = client.new_shot(many())
    chrome.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size | {"width": width})
    try:
        hands.open(f"/shots/{shot}")
        hands.until(lambda: hands.frame_shown == 0)
        tracks = hands.find('[aria-label="Tracks"]')
        hands.until(lambda: len(tracks.find_elements(By.CSS_SELECTOR, "[data-field]")) == 12)
        assert chrome.execute_script("return arguments[0].scrollWidth<=arguments[0].clientWidth", tracks)
        assert chrome.execute_script(OVERLAPS, tracks, "[data-field] > *") == 0
        assert (
            chrome.execute_script(
                "return arguments[0].getBoundingClientRect().width",
                tracks.find_element(By.CSS_SELECTOR, "[data-strip]"),
            )
            >= 120
        )
        # Scrolled to its end, the ruler is still in sight, and there is nothing below the last field.
        chrome.execute_script("arguments[0].scrollTop=1e6", tracks)
        ruler, last = (
            hands.find('[aria-label="Frame in view"]'),
            tracks.find_elements(By.CSS_SELECTOR, "[data-strip]")[-1],
        )
        assert tracks.rect["y"] <= ruler.rect["y"] < last.rect["y"]
        assert last.rect["y"] + last.rect["height"] > tracks.rect["y"] + tracks.rect["height"] - 60
    finally:
        chrome.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size | {"width": 1280})


def test_steps_and_clauses_are_brought_to_another_place_by_keyboard_and_by_pointer(hands: Hands, client: Client):
    shot = client.new_shot()
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    for number, step in enumerate(("Cut away", "Shade", "Wire"), start=1):
        hands.choose("Add a step", step)
        hands.saved(number)

    def steps() -> list[str]:
        cards = hands.chrome.find_elements(By.CSS_SELECTOR, 'section[aria-label^="Step "]')
        return [str(card.get_attribute("aria-label")).partition(": ")[2] for card in cards]

    def grips(what: str):
        return hands.chrome.find_elements(By.CSS_SELECTOR, f'[aria-label="Drag the {what} to another place"]')

    def bring(grip, onto: str) -> None:
        """By keyboard: Enter takes it up, Tab goes from place to place, Enter puts it there."""
        hands.chrome.execute_script("arguments[0].focus()", grip)
        key = Keys.ENTER
        for _ in range(8):
            before = hands.chrome.switch_to.active_element
            hands.keys(key)
            hands.until(lambda before=before: hands.chrome.switch_to.active_element != before, 10)
            if hands.chrome.find_elements(By.CSS_SELECTOR, f"{onto}:focus"):
                break
            key = Keys.TAB
        hands.keys(Keys.ENTER)

    hands.until(lambda: steps() == ["Cut away", "Shade", "Wire"])
    bring(grips("step")[2], '[aria-label="Step 1: Cut away"]')
    hands.until(lambda: steps() == ["Wire", "Cut away", "Shade"], 20)
    hands.saved(4)
    hands.drag(grips("step")[0], 4, grips("step")[1].rect["y"] - grips("step")[0].rect["y"])
    hands.until(lambda: steps() == ["Cut away", "Wire", "Shade"], 20)
    hands.saved(5)
    shape = next(item for item in document(client, shot)["items"].values() if item["kind"] == "shape")
    kinds = [step["kind"] for step in sorted(shape["recipe"]["steps"].values(), key=lambda step: step["rank"])]
    assert kinds == ["cut_away", "wire", "shade"]
    hands.find('section[aria-label="Step 1: Cut away"] button[aria-expanded]').click()
    hands.until(lambda: len(grips("clause")) == 2)
    bring(grips("clause")[1], '[data-place$="around"]')
    hands.until(lambda: hands.revision == 6, 20)
    hands.saved(6)
    sources = next(iter(document(client, shot)["fields"].values()))["sources"]
    assert sorted(sources, key=lambda key: sources[key]["rank"]) == ["noise", "around"]
