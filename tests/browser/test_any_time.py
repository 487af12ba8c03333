"""Time in the page: playing every way, what is ready, before and after, the past by hand, and work that takes long."""

from __future__ import annotations

import io
import re
import time
import urllib.request
import zipfile
from itertools import pairwise

import pytest
from conftest import PIXELS, Client
from hands import Hands
from histories import MOVING, around, subject_shot
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By


def document(client: Client, shot: str) -> dict:
    return client.get(f"/api/shots/{shot}").json["document"]


def frames_seen(hands: Hands, seconds: float) -> list[float]:
    """The frames that were shown, in the order in which they came."""
    seen: list[float] = []
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        frame = hands.frame_shown
        if not seen or seen[-1] != frame:
            seen.append(frame)
        time.sleep(0.01)
    return seen


def ready_share(hands: Hands) -> float:
    """How much of the ruler the line of ready frames takes."""
    return hands.chrome.execute_script(
        "const ruler=document.querySelector('[aria-label=\"Frame in view\"]');if(!ruler)return 0;const all=ruler.getBoundingClientRect().width;"
        "return [...ruler.querySelectorAll('[data-ready]')].reduce((sum,one)=>sum+one.getBoundingClientRect().width,0)/all"
    )


def test_frames_about_the_playhead_become_ready_by_themselves(hands: Hands, sock: str):
    hands.open(f"/shots/{sock}")
    hands.until(lambda: hands.frame_shown == 36)
    hands.until(lambda: ready_share(hands) > 0.98)
    hands.go_to(100)
    hands.go_to(3)
    assert ready_share(hands) > 0.98


def test_it_plays_backward_over_a_range_and_there_and_back(hands: Hands, sock: str):
    hands.open(f"/shots/{sock}")
    hands.until(lambda: ready_share(hands) > 0.98)
    hands.press("Play backward")
    seen = frames_seen(hands, 3.0)
    assert len(seen) > 1
    assert sum(now < before for before, now in pairwise(seen)) >= len(seen) - 2
    hands.press("Pause")
    hands.go_to(60)
    hands.press("Around here")
    assert "Playing 35–85" in hands.text()
    hands.drag(hands.find('[aria-label="Last frame played"]'), -60, 0)
    hands.choose("Plays over and over", "Play there and back")
    hands.press("Play")
    seen: list[float] = []

    def turned() -> bool:
        seen.extend(frames_seen(hands, 1.0))
        return {now > before for before, now in pairwise(seen) if now != before} == {True, False}

    hands.until(turned)
    hands.press("Pause")
    assert min(seen) >= 35
    assert max(seen) <= 85
    hands.chrome.find_element(By.XPATH, "//button[contains(., ': play all')]").click()
    hands.choose("Plays there and back", "Play once")
    hands.go_to(120)
    hands.press("Play")
    hands.until(lambda: hands.frame_shown == 124 and hands.named("Play"))


def test_an_end_of_the_range_is_dragged(hands: Hands, sock: str):
    hands.open(f"/shots/{sock}")
    hands.until(lambda: hands.frame_shown == 36)
    hands.press("Around here")
    hands.drag(hands.find('[aria-label="Last frame played"]'), 120, 0)
    last = int(hands.find('[aria-label="Last frame played"]').get_attribute("aria-valuenow") or 0)
    assert 70 < last < 100
    assert hands.frame_shown == 36


def test_before_is_shown_while_b_is_held_and_also_while_playing(hands: Hands, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    hands.type_value("/fields/fog-front/level", "0.2")
    hands.saved(1)
    cut = 'return Number(document.querySelector("[aria-label$=\'Cut away\']").innerText.match(/→ ([\\d,]+) faces/)[1].replace(",",""))'
    after = hands.until(lambda: (hands.chrome.execute_script(cut) < 4000) and hands.chrome.execute_script(cut))
    ActionChains(hands.chrome).key_down("b").perform()
    before = hands.until(lambda: (now := hands.chrome.execute_script(cut)) > after and now)
    assert "Before the last change" in hands.text()
    ActionChains(hands.chrome).key_up("b").perform()
    hands.until(lambda: hands.chrome.execute_script(cut) == after)
    assert before > after
    assert hands.revision == 1
    hands.press("Play")
    ActionChains(hands.chrome).key_down("b").perform()
    seen: list[float] = []
    hands.until(lambda: seen.extend(frames_seen(hands, 0.5)) or len(set(seen)) > 3)
    ActionChains(hands.chrome).key_up("b").perform()
    hands.press("Pause")


def test_the_last_settings_of_a_value_are_shown_and_kept(hands: Hands, client: Client, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    level = "/fields/fog-front/level"
    for number, text in enumerate(("0.3", "0.55"), 1):
        hands.type_value(level, text)
        hands.saved(number)
    hands.type_value("/fields/fog-front/band", "0.2")
    hands.saved(3)
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    hands.value(level).click()
    group = hands.find('[aria-label="Last settings of level"]')
    hands.until(lambda: [one.text for one in group.find_elements(By.TAG_NAME, "button")] == ["0.30", "0.46"])
    picture = hands.still_picture()
    ActionChains(hands.chrome).move_to_element(group.find_elements(By.TAG_NAME, "button")[0]).perform()
    hands.until(lambda: hands.picture() != picture)
    assert hands.revision == 3
    group.find_elements(By.TAG_NAME, "button")[0].click()
    hands.saved(4)
    told = document(client, lighthouse)["fields"]["fog-front"]
    assert (told["level"], told["band"]) == (0.3, 0.2)


def blank(client: Client) -> str:
    fields = {"seed": around(0.6, 0.3)}
    shot = subject_shot({"kind": "sphere", "subdivisions": 4}, fields, place=MOVING)
    shot["items"]["camera"] = {"kind": "camera", "name": "Camera", "rank": 5, "place": [0, 0, 6]}
    steps = {"cut": {"kind": "cut_away", "rank": 0, "field": "seed"}}
    shot["items"]["it"]["recipe"] = {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": steps}
    return client.new_shot(shot | {"camera": "camera"})


def test_a_front_a_memory_and_a_swing_are_built_by_hand(hands: Hands, client: Client):
    shot = blank(client)
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    card = '[aria-label^="Step 1"]'
    hands.pick(hands.find(f'{card} [aria-label*="Field"]'), "a new field")
    hands.saved(1)
    hands.press("More for around")
    hands.press("Remove it", "menuitem")
    hands.saved(2)
    hands.choose("Add a clause", "A spread from another field")
    hands.saved(3)
    hands.type_value("/fields/field/sources/spread/speed", "0.8")
    hands.choose("Add a clause", "Remember the most it was")
    hands.saved(5)
    told = document(client, shot)
    field = told["fields"]["field"]
    assert told["items"]["it"]["recipe"]["steps"]["cut"]["field"] == "field"
    assert field["sources"]["spread"] | {"curve": None} == field["sources"]["spread"]
    assert (field["sources"]["spread"]["seeds"], field["sources"]["spread"]["speed"]) == ("seed", 0.8)
    assert field["memory"]["kind"] == "hold"
    hands.go_to(48)
    hands.until(lambda: "front in " in hands.text())
    hands.choose("Add a step", "Follow through")
    hands.saved(6)
    hands.until(lambda: "swung here in" in hands.text())
    assert "every point is equally loose" in hands.text()
    assert hands.complaints() == []


def test_the_slowest_is_marked_and_costs_are_told(hands: Hands, client: Client):
    # One step that listens to no field: whatever else the machine does, nothing takes longer.
    document = subject_shot({"kind": "sphere", "subdivisions": 5}, {}, opening_frame=36)
    follow = {"kind": "follow_through", "rank": 0, "swings": 1.15, "damping": 0.24}
    document["items"]["it"] |= {"place": MOVING}
    document["items"]["it"]["recipe"] = {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": {"follow": follow}}
    hands.open(f"/shots/{client.new_shot(document)}")
    hands.until(lambda: hands.frame_shown == 36)
    card = hands.find('section[aria-label^="Step 1"]')
    hands.until(lambda: "slowest" in card.text)
    assert re.search(r"\d m?s, ", card.text), card.text
    assert re.search(r"\d [kM]B", card.text), card.text
    hands.press("Slowest: where the time goes")
    sheet = hands.find('[role="dialog"]')
    assert "Follow through, " in sheet.text
    assert "walked tick by tick" in sheet.text
    assert re.search(r"All kept together: [\d.]+ [kM]B", sheet.text), sheet.text


def test_a_range_is_exported_by_a_job_and_saved(hands: Hands, sock: str, stack):
    hands.open(f"/shots/{sock}")
    hands.until(lambda: hands.frame_shown == 36)
    hands.press("Export")
    for name, value in (("First frame to export", "30"), ("Last frame to export", "34")):
        box = hands.named(name, "textbox")
        box.send_keys(Keys.CONTROL, "a")
        box.send_keys(value)
    hands.pick(hands.find('[role="dialog"] button[aria-label*="Format of the range"]'), "GLB")
    hands.press("A range of frames")
    link = hands.until(lambda: hands.chrome.find_elements(By.LINK_TEXT, "Save the file"))[0]
    with urllib.request.urlopen(link.get_attribute("href")) as answer:
        names = zipfile.ZipFile(io.BytesIO(answer.read())).namelist()
    assert names == [f"frame_{frame:05d}.glb" for frame in range(30, 35)]
    hands.press("Take off the list")
    hands.until(lambda: not hands.chrome.find_elements(By.LINK_TEXT, "Save the file"))


def test_long_work_says_how_far_it_is_and_is_stopped(hands: Hands, client: Client):
    told = "return /Finding when the field comes to each point.* left/.test(document.body.textContent)"

    def seen(radius: float) -> bool:
        """Whether the words were seen while there was work: a quick machine may be done before they are looked for."""
        shot = subject_shot(
            {"kind": "sphere", "subdivisions": 6},
            {"seed": around(radius, 0.3), "front": {"sources": {"s": {"kind": "spread", "seeds": "seed"}}}},
            place=MOVING,
            frames={"first": 0, "last": 880},
        )
        shot["items"]["camera"] = {"kind": "camera", "name": "Camera", "rank": 5, "place": [0, 0, 6]}
        steps = {"cut": {"kind": "cut_away", "rank": 0, "field": "front"}}
        shot["items"]["it"]["recipe"] = {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": steps}
        hands.open(f"/shots/{client.new_shot(shot | {'camera': 'camera'})}")
        shown = "return document.querySelector('[aria-label=\"View\"]')?.dataset.frame !== undefined"
        hands.until(lambda: hands.chrome.execute_script(told) or hands.chrome.execute_script(shown))
        return hands.chrome.execute_script(told)

    assert any(seen(0.6 + 0.01 * number) for number in range(5))
    hands.press("Stop")
    hands.until(lambda: "Stopped." in hands.text())
    hands.press("Go on")
    hands.until(lambda: hands.frame_shown == 0)


def test_all_tabs_share_one_event_stream(hands: Hands, sock: str):
    hands.open(f"/shots/{sock}")
    hands.until(lambda: hands.frame_shown == 36)
    first = hands.chrome.current_window_handle
    hands.chrome.switch_to.new_window("tab")
    hands.open("/")
    hands.until(lambda: "New shot" in hands.text())
    ask = "const done=arguments[0];navigator.locks.query().then(({held,pending})=>done([held.length,pending.length]))"
    assert hands.until(lambda: hands.chrome.execute_async_script(ask) == [1, 1])
    hands.chrome.close()
    hands.chrome.switch_to.window(first)


@pytest.mark.parametrize("width", [1024, 1920])
def test_the_transport_fits(hands: Hands, chrome, sock: str, width: int):
    size = {"deviceScaleFactor": PIXELS, "mobile": False, "height": 800}
    chrome.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size | {"width": width})
    try:
        hands.open(f"/shots/{sock}")
        hands.until(lambda: hands.frame_shown == 36)
        hands.press("Around here")
        tracks = hands.find('[aria-label="Tracks"]')
        assert chrome.execute_script("return arguments[0].scrollWidth<=arguments[0].clientWidth", tracks)
    finally:
        chrome.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size | {"width": 1280})


def test_what_came_before_is_not_sent_again_after_a_reload(hands: Hands, sock: str):
    hands.open(f"/shots/{sock}")
    opened = hands.chrome.execute_script("return Date.now()")
    hands.until(lambda: ready_share(hands) > 0.98)
    # The browser is the one of other checks: only what is used from here on counts.
    used = (
        "const [since,done]=arguments;const open=indexedDB.open('windsock-blocks');open.onsuccess=()=>{"
        "const all=open.result.transaction('sizes').objectStore('sizes').getAll();"
        "all.onsuccess=()=>done(all.result.filter((one)=>one.used>since).length)}"
    )
    hands.until(lambda: hands.chrome.execute_async_script(used, opened) > 100)
    hands.chrome.refresh()
    hands.until(lambda: hands.frame_shown == 36)
    received = (
        "return performance.getEntriesByType('resource').filter((one)=>one.name.endsWith('/frame'))"
        ".slice(0,3).map((one)=>one.encodedBodySize)"
    )
    sizes = hands.until(lambda: hands.chrome.execute_script(received))
    # A manifest alone; the sock and the shore are some hundred thousand bytes.
    assert max(sizes) < 40_000
