"""A recipe is read as a whole: each step folds to its sentence, one is open."""

from __future__ import annotations

import pytest
from conftest import Client
from hands import Hands
from selenium.webdriver import Keys
from selenium.webdriver.common.by import By

from windsock.demo.loading import SHOTS

HEIGHT = "return document.querySelector('[aria-label=\"Recipe\"]').scrollHeight"
OPEN = "return [...document.querySelectorAll('section[aria-label^=\"Step \"]')].map(one => !one.dataset.folded)"


def test_one_step_is_open_and_the_others_lead_to_theirs(hands: Hands):
    hands.open("/shots/storm-warning")

    def opened() -> list[bool]:
        return hands.chrome.execute_script(OPEN)

    hands.until(lambda: opened() == [True, False, False, False, False])
    folded = hands.find('section[aria-label="Step 4: Cut away"]')
    assert "Burning edge" in folded.text
    hands.press("Open step 4: Cut away, inside of A Burning edge")
    hands.until(lambda: opened() == [False, False, False, True, False])
    hands.until(lambda: "in the band" in hands.find('section[aria-label="Step 4: Cut away"]').text)
    hands.keys("]")
    hands.until(lambda: opened() == [False] * 4 + [True])
    hands.keys("[", "[", "[", "[", "[")
    hands.until(lambda: opened() == [False] * 5)
    assert "along each edge. Refined" in hands.find('section[aria-label="Shape"]').text
    hands.press("Step 2: Shade")  # over the links
    hands.until(lambda: opened() == [False, True, False, False, False])
    hands.press("Fold step 2: Shade")
    hands.until(lambda: opened() == [False] * 5)
    assert hands.complaints() == []


def test_a_step_is_found_by_what_it_should_do(hands: Hands, client: Client, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    hands.press("Add a step")
    groups = [one.text for one in hands.chrome.find_elements(By.CSS_SELECTOR, "[role=menu] header")]
    assert groups == [*dict.fromkeys(groups)] != []
    hands.keys("tubes")
    hands.until(lambda: len(hands.chrome.find_elements(By.CSS_SELECTOR, "[role=menuitem]")) == 1)
    hands.keys(Keys.ARROW_DOWN, Keys.ENTER)
    hands.saved(1)
    steps = client.get(f"/api/shots/{lighthouse}").json["document"]["items"]["lighthouse"]["recipe"]["steps"]
    assert sorted(step["kind"] for step in steps.values()) == ["cut_away", "wire"]
    # A step that is added is the one that is open.
    hands.until(lambda: hands.chrome.execute_script(OPEN) == [False, True])


@pytest.mark.parametrize("name", SHOTS)
def test_the_recipe_of_a_demo_shot_is_read_as_a_whole(hands: Hands, name: str):
    hands.open(f"/shots/{name}")
    hands.until(lambda: "faces" in hands.find('[aria-label="Recipe"]').text)
    assert hands.chrome.execute_script(HEIGHT) <= 1100
