"""The picture looked at closely, only a part of it finished, and two edits finished side by side."""

from __future__ import annotations

import json

import numpy as np
from conftest import Client
from hands import Hands
from selenium.webdriver import ActionChains, Keys
from test_finished import FINISHED, samples, seen_ball

WHEEL = """
const canvas = document.querySelector('[aria-label="View"] canvas');
const box = canvas.getBoundingClientRect();
const at = {clientX: box.left + arguments[0] * box.width, clientY: box.top + arguments[1] * box.height};
for (let step = 0; step < arguments[2]; step++)
  canvas.dispatchEvent(new WheelEvent('wheel', {deltaY: -100, bubbles: true, cancelable: true, ...at}));
"""
IMAGES = """
const view = document.querySelector('[aria-label="View"]').getBoundingClientRect();
return [...document.querySelectorAll('[data-finished] img')].map(image => {
  const box = image.getBoundingClientRect();
  return [(box.left - view.left) / view.width, (box.top - view.top) / view.height, box.width / view.width,
    box.height / view.height, image.naturalWidth / view.width];
});
"""
COLUMNS = 96


def covered(hands: Hands) -> np.ndarray:
    """The columns of the middle row of the picture that the red ball covers."""
    pixels = np.array(json.loads(hands.still_picture(COLUMNS, 60)), dtype=float).reshape(60, COLUMNS, -1)
    row = pixels[30]
    return np.flatnonzero(row[:, 0] > 1.4 * row[:, 2])


def red_ball() -> dict:
    document = seen_ball()
    document["items"]["ball"]["look"] = {"base_colour": "#cc1100"}
    del document["items"]["ball"]["recipe"]
    return document


def images(hands: Hands) -> list[list[float]]:
    return hands.chrome.execute_script(IMAGES)


def test_the_picture_is_looked_at_closely_and_the_shot_stays(hands: Hands, client: Client):
    shot = client.new_shot(red_ball())
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    whole = covered(hands)
    hands.chrome.execute_script(WHEEL, 0.5, 0.5, 2)
    hands.until(lambda: "1.6 times closer" in hands.text())
    close = covered(hands)
    assert abs(len(close) - 1.5625 * len(whole)) <= 2
    assert abs(close.mean() - whole.mean()) <= 1
    # A drag beside the handles takes the picture along.
    view = hands.find('[aria-label="View"]')
    width, height = view.size["width"], view.size["height"]
    start = ActionChains(hands.chrome).move_to_element_with_offset(view, -width // 3, height // 3).click_and_hold()
    start.move_by_offset(width // 8, 0).release().perform()
    slid = covered(hands)
    assert abs(slid.mean() - close.mean() - COLUMNS / 8) <= 2
    # What is under the pointer stays there.
    hands.press("See the whole picture")
    assert list(covered(hands)) == list(whole)
    left = whole[0] / COLUMNS
    hands.chrome.execute_script(WHEEL, left, 0.5, 3)
    assert abs(covered(hands)[0] - whole[0]) <= 1
    # By the keyboard alone.
    hands.do("See the whole picture")
    hands.do("Look closer at the picture")
    hands.until(lambda: "2.0 times closer" in hands.text())
    hands.chrome.execute_script("arguments[0].focus()", view)
    hands.keys("-", Keys.ARROW_RIGHT)
    hands.until(lambda: "1.6 times closer" in hands.text())
    assert client.get(f"/api/shots/{shot}").json["revision"] == 0


def test_a_part_alone_is_finished_and_from_close_by_with_more_pixels(hands: Hands, client: Client):
    shot = client.new_shot(red_ball())
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.press("Finished", "radio")
    hands.until(lambda: samples(hands) == 32, 180)
    ((left, top, wide, high, pixels),) = images(hands)
    assert (round(left, 2), round(top, 2), round(wide, 2), round(high, 2), round(pixels, 2)) == (0, 0, 1, 1, 1)
    hands.chrome.execute_script(WHEEL, 0.5, 0.5, 3)
    hands.until(lambda: samples(hands) == 0)
    # What is there is enlarged until there is more.
    assert images(hands)[0][2] > 1.9
    hands.until(lambda: samples(hands) == 32, 180)
    hands.until(lambda: [round(one, 2) for one in images(hands)[0]] == [0, 0, 1, 1, 1])
    hands.press("See the whole picture")
    hands.until(lambda: samples(hands) == 32, 180)
    hands.press("Only a part: a frame in the view that alone is rendered", "button")
    hands.until(
        lambda: samples(hands) == 32 and [round(one, 2) for one in images(hands)[0]] == [0.3, 0.3, 0.4, 0.4, 0.4]
    )
    view = hands.find('[aria-label="View"]')
    width, height = view.size["width"], view.size["height"]
    drawn = ActionChains(hands.chrome).move_to_element_with_offset(view, -width // 4, -height // 4).click_and_hold()
    drawn.move_by_offset(width // 4, height // 4).release().perform()
    hands.until(lambda: samples(hands) == 32 and np.allclose(images(hands)[0], [0.25] * 5, atol=0.01), 180)
    frame = hands.find('[aria-label^="The part that is rendered"]')
    hands.chrome.execute_script("arguments[0].focus()", frame)
    hands.keys(Keys.ARROW_RIGHT)
    hands.until(lambda: samples(hands) == 32 and abs(images(hands)[0][0] - 0.27) < 0.01, 180)
    hands.press("Only a part: a frame in the view that alone is rendered", "button")
    hands.until(lambda: samples(hands) == 32 and images(hands)[0][2] > 0.99)
    assert hands.complaints() == []


def test_two_edits_are_seen_finished_beside_each_other(hands: Hands, client: Client):
    shot = client.new_shot(red_ball())
    assert client.edit(shot, 0, "/items/ball/look/base_colour", "#0044cc", label="blue").status == 200
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.press("Finished", "radio")
    hands.until(lambda: samples(hands) == 32, 180)
    hands.press("History of the shot")
    rows = hands.until(
        lambda: hands.chrome.find_elements("css selector", 'ol[aria-label="Edits, newest first"] button')
    )
    rows[1].click()
    hands.press("Compare with now")
    hands.until(lambda: hands.find(FINISHED).get_attribute("data-beside") == "32", 240)
    beside, now = hands.chrome.find_elements("css selector", f"{FINISHED} img")
    assert "Edit 0" in beside.get_attribute("alt")
    middle = (
        "const image=arguments[0];const canvas=document.createElement('canvas');"
        "canvas.width=image.naturalWidth;canvas.height=image.naturalHeight;const at=canvas.getContext('2d');"
        "at.drawImage(image,0,0);return [...at.getImageData(canvas.width/2,canvas.height/2,1,1).data]"
    )
    red, _, blue, _ = hands.chrome.execute_script(middle, beside)
    assert red > 1.5 * blue
    red, _, blue, _ = hands.chrome.execute_script(middle, now)
    assert blue > 1.5 * red
    clips = [one.find_element("xpath", "..").get_attribute("style") for one in (beside, now)]
    assert "0px 50% 0px 0px" in clips[0]
    assert "0px 0px 0px 50%" in clips[1]
    hands.press("End comparing")
    hands.until(lambda: len(images(hands)) == 1)


def test_a_layer_is_made_and_pictured(hands: Hands, client: Client):
    document = red_ball()
    other = document["items"]["ball"] | {"name": "Other", "rank": 6, "place": [1.2, 0, 0]}
    document["items"]["other"] = other
    shot = client.new_shot(document)
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("Other")
    hands.do("Picture what is chosen in a layer of its own")
    hands.saved(1)
    hands.item("The picture")
    hands.choose("Add an item to Layer", "Ball")
    hands.saved(2)
    hands.pick(
        hands.find('[aria-label="Layer: Layer"] button[aria-label*="How Ball is in Layer"]'),
        "held out: a hole where it is",
    )
    hands.saved(3)
    held = client.get(f"/api/shots/{shot}").json["document"]
    assert held["pictured"] == "layer"
    assert {key: one["role"] for key, one in held["layers"]["layer"]["items"].items()} == {
        "other": "shown",
        "ball": "held_out",
    }
    box = hands.find('[aria-label="Name of the layer Layer"]')
    box.send_keys(Keys.CONTROL, "a")
    box.send_keys("Fore", Keys.ENTER)
    hands.saved(4)
    hands.pick(hands.find('button[aria-label*="What finished pictures show"]'), "everything")
    hands.saved(5)
    hands.choose("Commands for Fore", "Remove it")
    hands.saved(6)
    held = client.get(f"/api/shots/{shot}").json["document"]
    assert (held["layers"], held["pictured"]) == ({}, None)
