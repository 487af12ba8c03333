"""What it was and what it is: the last settings of a value while B is held, and the line between two edits or two shots."""

from __future__ import annotations

import json

import numpy as np
import pytest
from conftest import Client
from hands import Hands
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By

from windsock.demo.blank import blank_shot

COLOUR = "/items/ball/look/base_colour"


def document(client: Client, shot: str) -> dict:
    return client.get(f"/api/shots/{shot}").json["document"]


def coloured(client: Client, *colours: str) -> str:
    """A shot with a large ball that has had one colour after the other."""
    made: dict = blank_shot("Colours")  # type: ignore[assignment]
    made["items"]["ball"] |= {"place": [0, 1.6, 0], "scale": [40, 40, 1]}
    shot = client.new_shot(made)
    for number, colour in enumerate(colours):
        assert client.edit(shot, number, COLOUR, colour).status == 200
    return shot


def halves(hands: Hands) -> tuple[np.ndarray, np.ndarray]:
    """The mean colour, red, green and blue, a quarter and three quarters across the picture, in the middle."""
    pixels = np.array(json.loads(hands.picture(96, 60))).reshape(60, 96, 4)[25:35, :, :3]
    return pixels[:, 16:32].mean(axis=(0, 1)), pixels[:, 64:80].mean(axis=(0, 1))


def red(colour: np.ndarray) -> bool:
    return colour[0] > 1.5 * max(colour[1], colour[2])


def blue(colour: np.ndarray) -> bool:
    return colour[2] > 1.5 * max(colour[0], colour[1])


def test_the_line_stands_between_two_edits_and_is_dragged(hands: Hands, client: Client):
    shot = coloured(client, "#ff0000", "#00ff00", "#0000ff")
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0 and blue(halves(hands)[0]))
    hands.press("History of the shot")
    rows = hands.until(
        lambda: hands.chrome.find_elements(By.CSS_SELECTOR, 'ol[aria-label="Edits, newest first"] button')
    )
    rows[2].click()
    hands.press("Compare with now")
    hands.until(lambda: red(halves(hands)[0]) and blue(halves(hands)[1]))
    thumb = hands.find('[aria-label="Compare line"] input, input[aria-label="Compare line"]')
    hands.chrome.execute_script("arguments[0].focus()", thumb)
    for _ in range(40):
        hands.keys(Keys.ARROW_LEFT)
    hands.until(lambda: all(blue(half) for half in halves(hands)))
    # Another edit on the right.
    for _ in range(40):
        hands.keys(Keys.ARROW_RIGHT)
    hands.press("History of the shot")
    hands.until(
        lambda: len(hands.chrome.find_elements(By.CSS_SELECTOR, 'ol[aria-label="Edits, newest first"] button')) > 1
    )
    hands.chrome.find_elements(By.CSS_SELECTOR, 'ol[aria-label="Edits, newest first"] button')[1].click()
    green = lambda colour: colour[1] > 1.5 * max(colour[0], colour[2])  # noqa: E731
    hands.until(lambda: red(halves(hands)[0]) and green(halves(hands)[1]))
    assert "Edit 2" in hands.text()
    hands.keys(Keys.ESCAPE)
    hands.press("End comparing")
    hands.until(lambda: all(blue(half) for half in halves(hands)))
    assert document(client, shot)["items"]["ball"]["look"]["base_colour"] == "#0000ff"
    assert hands.complaints() == []


def test_the_line_stands_between_two_shots_and_the_other_is_seen_as_it_stands_now(hands: Hands, client: Client):
    one, other = coloured(client, "#0000ff"), coloured(client)
    made = document(client, other)
    assert client.edit(other, 0, "/name", "The other one").status == 200
    assert client.edit(other, 1, COLOUR, "#ff0000").status == 200
    assert made["items"]["ball"]
    hands.open(f"/shots/{one}")
    hands.until(lambda: hands.frame_shown == 0 and blue(halves(hands)[0]))
    hands.press("History of the shot")
    hands.press("Compare with another shot…")
    hands.press("The other one", "menuitem")
    hands.until(lambda: red(halves(hands)[0]) and blue(halves(hands)[1]))
    assert "The other one" in hands.text()
    assert client.edit(other, 2, COLOUR, "#0000ff").status == 200
    hands.until(lambda: all(blue(half) for half in halves(hands)))


def test_while_b_is_held_digits_show_the_last_settings_and_enter_keeps_one(hands: Hands, client: Client):
    shot = coloured(client, "#0000ff")
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.press("Ball", "row")
    angle = "/items/camera/angle"
    hands.item("Camera")
    for revision, text in ((2, "30"), (3, "40"), (4, "50")):
        hands.type_value(angle, text)
        hands.saved(revision)
    held = ActionChains(hands.chrome).key_down("b")
    held.perform()
    hands.until(lambda: len(hands.chrome.find_elements(By.CSS_SELECTOR, 'ol[aria-label^="Last settings"] li')) == 4)
    assert "Before the last change" in hands.text()
    field = hands.find('[aria-label="View"]').get_attribute("data-frame")
    ActionChains(hands.chrome).send_keys("2").perform()
    hands.until(lambda: "setting 2 back" in hands.text())
    assert hands.find("ol[aria-label^='Last settings'] li[data-shown]").text.startswith("2 30")
    ActionChains(hands.chrome).send_keys(Keys.ENTER).perform()
    ActionChains(hands.chrome).key_up("b").perform()
    hands.saved(5)
    assert document(client, shot)["items"]["camera"]["angle"] == pytest.approx(30)
    assert field is not None
    hands.until(lambda: not hands.chrome.find_elements(By.CSS_SELECTOR, 'ol[aria-label^="Last settings"]'))
