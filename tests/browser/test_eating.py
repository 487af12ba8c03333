"""Eating a shape away as a designer does: the step is added, the front's way and pace are said, and any frame is there."""

from __future__ import annotations

from conftest import Client
from hands import Hands, apart
from selenium.webdriver.common.by import By

from windsock.demo.blank import blank_shot


def steps_of(client: Client, shot: str) -> list[dict]:
    return list(client.get(f"/api/shots/{shot}").json["document"]["items"]["ball"]["recipe"]["steps"].values())


def test_a_shape_is_eaten_at_a_speed_grown_back_and_ruled_by_a_share(hands: Hands, client: Client):
    shot = client.new_shot(blank_shot("Eaten"))
    hands.open(f"/shots/{shot}")
    hands.item("Ball")
    whole = hands.still_picture()
    hands.choose("Add a step", "Erode")
    hands.saved(1)
    (step,) = steps_of(client, shot)
    assert step["kind"] == "erode"
    # How much it works on is said before anybody waits for more of it.
    hands.until(lambda: "voxels" in hands.text())
    hands.go_to(60)
    eaten = hands.still_picture()
    assert apart(eaten, whole) > 1
    # Twice the speed is further on.
    steps = client.get(f"/api/shots/{shot}").json["document"]["items"]["ball"]["recipe"]["steps"]
    item = f"/items/ball/recipe/steps/{next(iter(steps))}"
    hands.type_value(f"{item}/speed", str(step["speed"] * 2))
    hands.saved(2)
    hands.until(lambda: apart(hands.still_picture(), eaten) > 0.5)
    hands.press("Run")
    hands.press("backwards, so that it comes into being", "option")
    hands.saved(3)
    hands.go_to(0)
    hands.until(lambda: apart(hands.still_picture(), whole) > 1)
    hands.press("By")
    hands.press("by a share", "option")
    hands.saved(4)
    hands.type_value(f"{item}/share", "1")
    hands.saved(5)
    hands.until(lambda: apart(hands.still_picture(), whole) < 2)
    assert hands.complaints() == []


def test_a_voxel_that_is_too_fine_is_refused_in_words_and_nothing_is_lost(hands: Hands, client: Client):
    shot = client.new_shot(blank_shot("Fine"))
    hands.open(f"/shots/{shot}")
    hands.item("Ball")
    hands.choose("Add a step", "Erode")
    hands.saved(1)
    key = next(iter(client.get(f"/api/shots/{shot}").json["document"]["items"]["ball"]["recipe"]["steps"]))
    hands.press("More of the step")
    hands.type_value(f"/items/ball/recipe/steps/{key}/voxel", "0.0005")
    hands.until(lambda: "would fit" in hands.text())
    hands.type_value(f"/items/ball/recipe/steps/{key}/voxel", "0.03")
    hands.until(lambda: "would fit" not in hands.text())


def test_what_has_been_eaten_colours_what_is_left_and_one_step_can_be_chosen(hands: Hands, client: Client):
    made: dict = blank_shot("Stained")  # type: ignore[assignment]
    fields = {letter: field(letter, place) for place, letter in enumerate("AB")}
    erode = {"kind": "erode", "voxel": 0.06, "way": "seeds", "seeds": "A", "speed": 0.2, "makes": "opened"}
    shade = {"kind": "shade", "field": "B", "channel": "base_colour", "zone": "value"}
    made["fields"] = fields
    made["items"]["ball"]["recipe"] = {
        "parts": {"body": {"name": "Body", "rank": 0}, "opened": {"name": "Opened", "rank": 1}, "more": {"name": "More", "rank": 2}},
        "steps": {
            "e1": {"rank": 0} | erode, "e2": {"rank": 1} | erode | {"makes": "more", "speed": 0.0}, "s": {"rank": 2} | shade,
        },
    }  # fmt: skip
    shot = client.new_shot(made)
    hands.open(f"/shots/{shot}")
    hands.item("Ball")
    hands.open_card("/items/ball/recipe/steps/s/amount")
    hands.go_to(40)
    plain = hands.still_picture()
    step = hands.find('[aria-label^="Step 3"]')
    next(one for one in step.find_elements(By.CSS_SELECTOR, "button") if one.text == "Add a clause").click()
    hands.press("Eaten until now", "menuitem")
    hands.saved(1)
    hands.type_value("/fields/B/sources/eaten/soft", "0.6")
    hands.saved(2)
    stained = hands.until(lambda: apart(now := hands.still_picture(), plain) > 0.3 and now)
    hands.press("Eaten by")
    hands.press("step 2, Erode", "option")
    hands.saved(3)
    hands.until(lambda: apart(hands.still_picture(), stained) > 0.3)
    (clause,) = client.get(f"/api/shots/{shot}").json["document"]["fields"]["B"]["sources"].values()
    assert (clause["kind"], clause["step"]) == ("eaten", "e2")
    assert hands.complaints() == []


def field(letter: str, rank: int) -> dict:
    """A is 1 on one side of the ball, 0 on the other; B is still to be told."""
    half = {"kind": "across", "rank": 0, "controller": "controller", "axis": "x", "at": -1.4, "soft": 0.3}
    sources = {"half": half} if letter == "A" else {}
    return {"letter": letter, "name": letter, "rank": rank, "level": 0.5, "band": 0.2, "sources": sources}
