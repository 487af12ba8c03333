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


def moving(hands: Hands, pictures: int) -> None:
    """Wait until the small moving picture has so many frames, is not of one colour, and moves."""
    hands.until(lambda: int(hands.find("[data-trial]").get_attribute("data-trial") or 0) >= pictures)
    seen = [hands.chrome.execute_script(PIXELS)]
    hands.until(lambda: len(set(seen[-1])) > 20)
    hands.until(lambda: (seen.append(hands.chrome.execute_script(PIXELS)) or seen[-1]) != seen[0])


PIXELS = (
    "const one=document.querySelector('[data-trial] canvas');"
    "return Array.from(one.getContext('2d').getImageData(0,0,one.width,one.height).data).filter((_,place)=>place%4===0)"
)


def test_what_is_pointed_at_in_a_list_is_tried_on_the_persons_own_shape(hands: Hands, client: Client, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    hands.press("Lay a starter")
    hands.until(lambda: "Point at one to see what it would make." in hands.text())
    hands.keys("fades away", Keys.ARROW_DOWN)
    moving(hands, 4)
    hands.keys(Keys.ESCAPE, Keys.ESCAPE)
    hands.press("Add a clause")
    hands.keys("by chance", Keys.ARROW_DOWN)
    hands.until(lambda: hands.find("[data-trial]").get_attribute("data-trial") != "0")
    hands.keys(Keys.ESCAPE, Keys.ESCAPE)
    assert hands.revision == 0
    hands.press("roughened by, joining word")
    hands.keys("left out", Keys.ARROW_DOWN)
    moving(hands, 3)
    hands.keys(Keys.ENTER)
    hands.saved(1)
    sources = client.get(f"/api/shots/{lighthouse}").json["document"]["fields"]["fog-front"]["sources"]
    assert sorted(one["word"] for one in sources.values())[0] == "except"
    assert hands.complaints() == []
