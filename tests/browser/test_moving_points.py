"""Steps that move points, laid by starters on a model from outside, and dragged."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from conftest import Client
from hands import Hands, apart
from selenium.webdriver import ActionChains, Keys
from test_ten_acts import rabbit

from windsock.demo.blank import blank_shot


def with_rabbit(hands: Hands, tmp_path: Path, starter: str) -> str:
    """A new shot with a rabbit from outside and a starter laid on it; its id."""
    file, _ = rabbit(tmp_path, 1.2)
    hands.open("/")
    hands.press("New shot")
    hands.until(lambda: hands.frame_shown == 0)
    hands.choose("Add…", "Import a file…")
    hands.find('input[type="file"]').send_keys(str(file))
    hands.press("Add to the shot")
    hands.saved(1)
    hands.choose("Lay a starter", starter)
    hands.saved(2)
    return hands.chrome.current_url.rsplit("/", 1)[-1]


def recipe_of(client: Client, shot: str) -> list[dict]:
    items = client.get(f"/api/shots/{shot}").json["document"]["items"]
    (imported,) = (one for one in items.values() if one["name"] == "rabbit")
    return list(imported["recipe"]["steps"].values())


def test_a_rabbit_springs_after_its_own_motion(hands: Hands, client: Client, tmp_path: Path):
    shot = with_rabbit(hands, tmp_path, "Spring after")
    (step,) = recipe_of(client, shot)
    assert step["kind"] == "follow_through"
    hands.go_to(17)
    swinging = hands.still_picture()
    hands.go_to(40)
    assert hands.still_picture() != swinging
    hands.type_value(f"/items/{item_of(client, shot)}/recipe/steps/{step_of(client, shot)}/swings", "3")
    hands.saved(3)
    hands.go_to(17)
    hands.until(lambda: hands.picture() != swinging)
    assert hands.complaints() == []


def item_of(client: Client, shot: str) -> str:
    items = client.get(f"/api/shots/{shot}").json["document"]["items"]
    return next(key for key, one in items.items() if one["name"] == "rabbit")


def step_of(client: Client, shot: str) -> str:
    items = client.get(f"/api/shots/{shot}").json["document"]["items"]
    return next(iter(items[item_of(client, shot)]["recipe"]["steps"]))


def test_a_rabbit_turns_into_another_shape_while_its_front_is_dragged(hands: Hands, client: Client, tmp_path: Path):
    shot = with_rabbit(hands, tmp_path, "Rising morph")
    assert [step["kind"] for step in recipe_of(client, shot)] == ["morph"]
    hands.go_to(55)
    before = hands.still_picture()
    hands.item("Front")
    hands.drag(hands.find('[data-handle="Y"]'), 0, -40, release=False)
    # Seen while it is dragged; no edit is made until it is let go.
    hands.until(lambda: hands.picture() != before)
    assert hands.revision == 2
    hands.release()
    hands.saved(3)
    assert hands.complaints() == []


def test_a_rabbit_changes_places_with_another_shape(hands: Hands, client: Client, tmp_path: Path):
    shot = with_rabbit(hands, tmp_path, "Pair morph")
    (step,) = recipe_of(client, shot)
    assert (step["kind"], step["makes"]) == ("pair", "other")
    hands.until(lambda: "frames, from" in hands.text())
    pictures = [still_at(hands, frame) for frame in (20, 55, 100)]
    assert all(apart(one, other) > 0.3 for one, other in pairwise(pictures))
    # It begins later: what was half way is the rabbit again.
    hands.type_value(f"/items/{item_of(client, shot)}/recipe/steps/{step_of(client, shot)}/begins_at", "4")
    hands.saved(3)
    assert apart(still_at(hands, 55), pictures[0]) < 0.05
    assert hands.complaints() == []


def still_at(hands: Hands, frame: int) -> bytes:
    hands.go_to(frame)
    hands.until(lambda: hands.frame_shown == frame)
    return hands.still_picture()


def test_an_item_follows_on_springs_and_a_shape_rides_on_another(hands: Hands, client: Client):
    document: dict = blank_shot("Springs")  # type: ignore[assignment]
    keys = {"a": {"frame": 0, "value": [0, 1, 0]}, "b": {"frame": 12, "value": [1, 1, 0]}}
    document["items"]["ball"]["place"] = {"keys": keys}
    document["items"]["block"] = {
        "kind": "shape", "name": "Block", "rank": 9, "place": [0.0, 1.9, 0.0],
        "geometry": {"kind": "box", "width": 0.4, "height": 0.4, "depth": 0.4, "divisions": 4},
    }  # fmt: skip
    shot = client.new_shot(document)
    hands.open(f"/shots/{shot}")
    stiff = still_at(hands, 15)
    hands.item("Block")
    hands.choose("Add a step", "Ride")
    hands.saved(1)
    recipe = client.get(f"/api/shots/{shot}").json["document"]["items"]["block"]["recipe"]
    assert [(step["kind"], step["carrier"]) for step in recipe["steps"].values()] == [("ride", "ball")]
    riding = still_at(hands, 15)
    assert apart(riding, stiff) > 0.3
    hands.item("Ball")
    hands.press("Place, turn, stretch, carrier")
    hands.press("on springs")
    hands.saved(2)
    assert client.get(f"/api/shots/{shot}").json["document"]["items"]["ball"]["springs"]["turns"] is True
    hands.until(lambda: apart(still_at(hands, 15), riding) > 0.2)
    assert hands.complaints() == []


def test_a_wave_closes_the_shot_by_a_press_and_an_item_goes_along_its_path(hands: Hands, client: Client):
    hands.open("/")
    hands.press("New shot")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("Ball")
    hands.choose("Add a step", "Wave")
    hands.saved(1)
    hands.until(lambda: "times in the shot" in hands.text())
    hands.press("More of the step")
    hands.press("Close the shot by the speed")
    hands.saved(2)
    hands.until(lambda: "in the shot and closes" in hands.text())
    hands.choose("Add…", "Path")
    hands.saved(3)
    hands.item("Ball")
    hands.open_card("/items/ball/geometry")
    hands.press("Place, turn, stretch, carrier")
    still = hands.still_picture()
    hands.pick(hands.find('[aria-label="Shape"] [aria-label*="Carried by"]'), "Path")
    hands.saved(4)
    hands.press("going along it")
    hands.saved(5)
    hands.go_to(30)
    hands.until(lambda: hands.picture() != still)
    document = client.get(f"/api/shots/{hands.chrome.current_url.rsplit('/', 1)[-1]}").json["document"]
    assert next(one for one in document["items"].values() if one["name"] == "Ball")["along"]["speed"] == 0.5
    assert hands.complaints() == []


ANGLE = 40.0
MARKED = {
    "name": "Marks",
    "camera": "camera",
    "items": {
        "buoy": {
            "kind": "shape",
            "name": "Buoy",
            "rank": 0,
            "geometry": {"kind": "sphere", "radius": 1.0, "subdivisions": 3},
            "place": [-1.6, 1, 0],
            "recipe": {"steps": {"turn": {"kind": "morph", "rank": 0, "target": "crate", "way": "marks", "amount": 0}}},
        },
        "crate": {"kind": "shape", "name": "Crate", "rank": 1, "geometry": {"kind": "box"}, "place": [1.6, 1, 0]},
        "camera": {"kind": "camera", "name": "Camera", "rank": 4, "place": [0, 1, 9], "angle": ANGLE},
    },
}
"""Two shapes beside each other, seen straight on."""


def test_places_are_marked_on_both_shapes_in_the_view(hands: Hands, client: Client):
    shot = client.new_shot(MARKED)
    hands.open(f"/shots/{shot}")
    hands.item("Buoy")
    hands.still_picture()
    hands.press("Mark places in the view")
    hands.until(lambda: "Mark 1: press a place on Buoy" in hands.text())
    press_at(hands, [1.6, 1, 0])  # that is the other one
    hands.until(lambda: "Nothing of Buoy is there" in hands.text())
    press_at(hands, [-1.6, 1, 0])
    hands.until(lambda: "Now the same place on Crate" in hands.text())
    press_at(hands, [1.6, 1, 0])
    hands.saved(1)
    hands.until(lambda: "Mark 2: press a place on Buoy" in hands.text())
    steps = client.get(f"/api/shots/{shot}").json["document"]["items"]["buoy"]["recipe"]["steps"]
    (mark,) = steps["turn"]["marks"].values()
    assert abs(mark["here"][2] - 1) < 0.05
    assert mark["there"][2] == pytest.approx(0.5, abs=1e-4)
    assert [*mark["here"][:2], *mark["there"][:2]] == pytest.approx([0, 0, 0, 0], abs=0.2)
    hands.until(lambda: len(hands.chrome.find_elements("css selector", "[data-mark='1'] circle")) == 2)
    hands.keys(Keys.ESCAPE)
    hands.until(lambda: "Mark 2: press" not in hands.text())
    hands.press("Without 1: take this mark away")
    hands.saved(2)
    hands.until(lambda: not hands.chrome.find_elements("css selector", "[data-mark]"))
    assert hands.complaints() == []


def press_at(hands: Hands, place: list[float]) -> None:
    """Press in the picture where a place in the world is seen straight on from (0, 1, 9)."""
    left, top, width, height = hands.chrome.execute_script(
        "const b=document.querySelector('canvas').getBoundingClientRect();return [b.left,b.top,b.width,b.height]"
    )
    tangent = np.tan(np.radians(ANGLE / 2)) * max(1, 16 / 9 * height / width)
    scale = height / 2 / (tangent * (9 - place[2]))
    moves = ActionChains(hands.chrome)
    x, y = left + width / 2 + scale * place[0], top + height / 2 - scale * (place[1] - 1)
    moves.w3c_actions.pointer_action.move_to_location(round(x), round(y))
    moves.click().perform()
