"""The items of a shot as an outline: found, chosen together, hidden, locked, renamed, carried; and chosen in the view."""

from __future__ import annotations

import pytest
from conftest import Client, standing_still
from hands import Hands, apart
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By

CHOSEN = "return [...document.querySelectorAll('[role=row][aria-selected=true]')].map(row => row.dataset.item)"
MIDDLE = """
const box = document.querySelector('canvas').getBoundingClientRect();
return [box.left + box.width / 2, box.top + box.height / 2];
"""


def box(rank: float, name: str, place: list, **given: object) -> dict:
    return {"kind": "shape", "name": name, "rank": rank, "geometry": {"kind": "box"}, "place": place} | given


@pytest.fixture
def boxes(client: Client) -> str:
    """A near box before a far one, an arm beside them that carries a third; looked at from straight ahead."""
    items = {
        "near": box(0, "Near", [0, 0, 2], look={"base_colour": "#B04020"}),
        "far": box(1, "Far", [0, 0, -3]),
        "arm": {"kind": "controller", "name": "Arm", "rank": 2, "place": [4, 0, 0]},
        "third": box(3, "Third", [-3, 0, 0]),
        "camera": {"kind": "camera", "name": "Camera", "rank": 4, "place": [0, 0, 12]},
    }
    for one in ("near", "far", "third"):  # without steps they would be scenery
        items[one]["recipe"] = {"steps": {"refine": {"kind": "refine", "rank": 0}}}
    return client.new_shot({"name": "Boxes", "camera": "camera", "items": items})


def document(client: Client, shot: str) -> dict:
    return client.get(f"/api/shots/{shot}").json["document"]


def open_shot(hands: Hands, shot: str) -> None:
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)


def chosen(hands: Hands) -> list[str]:
    return hands.chrome.execute_script(CHOSEN)


def row(hands: Hands, item: str):
    return hands.find(f'[role=row][data-item="{item}"]')


def press_in_view(hands: Hands, held: str = "") -> None:
    """Press on the middle of the picture."""
    x, y = hands.chrome.execute_script(MIDDLE)
    moves = ActionChains(hands.chrome)
    moves.w3c_actions.pointer_action.move_to_location(round(x) + 4, round(y) + 4)
    moves = moves.key_down(held) if held else moves
    moves = moves.click()
    (moves.key_up(held) if held else moves).perform()


def test_scenery_is_folded_and_found_by_typing(hands: Hands):
    hands.open("/shots/storm-warning")
    hands.until(lambda: "Scenery, 11" in hands.find('[aria-label="Items"]').text)
    assert "Quay" not in hands.find('[aria-label="Items"]').text
    hands.find('[aria-label="Find an item"]').send_keys("quay", Keys.ENTER)
    hands.until(lambda: chosen(hands) == ["quay"])
    # What is chosen is unfolded.
    assert "Quay" in hands.find('[aria-label="Items"]').text


def test_items_are_chosen_together_and_changed_by_one_edit(hands: Hands, client: Client, boxes: str):
    open_shot(hands, boxes)
    row(hands, "far").click()
    ActionChains(hands.chrome).key_down(Keys.CONTROL).click(row(hands, "arm")).key_up(Keys.CONTROL).perform()
    hands.until(lambda: sorted(chosen(hands)) == ["arm", "far"])
    assert "2 items" in hands.find('[aria-label="Several items"]').text
    hands.drag(hands.find('[data-handle="Y"]'), 0, -60)
    hands.saved(1)
    items = document(client, boxes)["items"]
    assert items["far"]["place"][1] == items["arm"]["place"][1] > 0.1
    hands.press("Group")
    hands.saved(2)
    (group,) = document(client, boxes)["groups"].values()
    assert sorted(group["members"]) == ["arm", "far"]
    hands.until(lambda: "Group Group, 2" in hands.find('[aria-label="Items"]').text)
    group = hands.named("Group Group", "row")
    hands.chrome.execute_script("arguments[0].focus()", group)
    hands.keys(Keys.F2)
    hands.find('[aria-label="Name of Group"]').send_keys("Pair", Keys.ENTER)
    hands.saved(3)
    hands.until(lambda: "Group Pair, 2" in hands.find('[aria-label="Items"]').text)
    hands.press("Remove")
    hands.press("Remove them")
    hands.saved(4)
    assert not {"arm", "far"} & set(document(client, boxes)["items"])
    hands.chord(Keys.CONTROL, "z")
    hands.until(lambda: {"arm", "far"} <= set(document(client, boxes)["items"]))
    hands.press("Remove the group Pair")
    hands.saved(6)
    assert document(client, boxes)["groups"] == {}


def test_an_item_is_hidden_locked_and_renamed_where_it_stands(hands: Hands, client: Client, boxes: str):
    open_shot(hands, boxes)
    row(hands, "near").click()
    hands.press("Hide Near")
    hands.saved(1)
    assert document(client, boxes)["items"]["near"]["shown"] == 0
    hands.press("Lock Near")
    hands.saved(2)
    assert document(client, boxes)["items"]["near"]["locked"]
    hands.until(lambda: not hands.chrome.find_elements(By.CSS_SELECTOR, "[data-handle]"))
    row(hands, "far").click()
    hands.until(lambda: chosen(hands) == ["far"])
    hands.keys(Keys.F2)
    name = hands.find('[aria-label="Name of Far"]')
    name.send_keys("Away", Keys.ENTER)
    hands.saved(3)
    assert document(client, boxes)["items"]["far"]["name"] == "Away"


def test_an_item_is_dragged_to_another_carrier(hands: Hands, client: Client, boxes: str):
    open_shot(hands, boxes)
    # By keyboard: from the row to its grip, Enter begins, arrows go from place to place.
    row(hands, "third").click()
    hands.keys(Keys.ARROW_RIGHT, Keys.ENTER)
    focused = "return document.activeElement.getAttribute('aria-label') ?? ''"

    def come_to_arm() -> bool:
        if str(hands.chrome.execute_script(focused)).endswith("Arm"):
            return True
        hands.keys(Keys.ARROW_DOWN)
        return False

    hands.until(come_to_arm, 20)
    hands.keys(Keys.ENTER)
    hands.saved(1)
    third = document(client, boxes)["items"]["third"]
    assert third["parent"] == "arm"
    assert third["place"] == [-7, 0, 0]  # it stays where it is
    assert row(hands, "third").get_attribute("aria-level") == "2"


def test_a_press_in_the_view_chooses_what_is_there_and_then_what_is_behind(hands: Hands, client: Client, boxes: str):
    open_shot(hands, boxes)
    row(hands, "third").click()
    hands.still_picture()
    press_in_view(hands)
    hands.until(lambda: chosen(hands) == ["near"])
    press_in_view(hands)
    hands.until(lambda: chosen(hands) == ["far"])
    press_in_view(hands, Keys.SHIFT)
    hands.until(lambda: sorted(chosen(hands)) == ["far", "near"])
    hands.press("Lock Near")
    hands.saved(1)
    row(hands, "third").click()
    press_in_view(hands)
    hands.until(lambda: chosen(hands) == ["far"])


def test_what_is_chosen_is_outlined_and_the_outline_stays_out_of_the_picture(hands: Hands, boxes: str):
    open_shot(hands, boxes)
    row(hands, "third").click()
    third = hands.still_picture(452, 264)
    row(hands, "camera").click()
    assert hands.still_picture(452, 264) != third


def test_the_free_view_turns_about_what_is_chosen_and_keeps_its_place(hands: Hands, client: Client, boxes: str):
    open_shot(hands, boxes)
    row(hands, "third").click()
    hands.press("Free view", "radio")
    before = hands.find('[data-handle="middle"]').get_attribute("transform")
    view = hands.find('[aria-label="View"]')
    picture = hands.still_picture()
    ActionChains(hands.chrome).move_to_element_with_offset(view, 0, 120).click_and_hold().move_by_offset(
        90, 30
    ).release().perform()
    assert hands.still_picture() != picture

    def middle() -> list[float]:
        told = hands.find('[data-handle="middle"]').get_attribute("transform")
        return [float(one) for one in told[10:-1].split()]

    # The middle of what is chosen stays where it is in the picture.
    assert middle() == pytest.approx([float(one) for one in before[10:-1].split()], abs=2)
    turned = hands.still_picture()
    hands.chrome.refresh()
    hands.until(lambda: hands.frame_shown == 0)
    row(hands, "third").click()
    hands.press("Free view", "radio")
    hands.until(lambda: apart(hands.picture(), turned) < 0.5 < apart(picture, turned))
    hands.choose("From…", "Bring the camera to where the free view is")
    hands.saved(1)
    camera = document(client, boxes)["items"]["camera"]
    assert camera["place"] != [0, 0, 12]
    assert camera["turn"] != [0, 0, 0]


def test_a_focal_length_is_typed_and_guides_are_shown(hands: Hands, client: Client, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    row(hands, "camera").click()
    wide = hands.still_picture()
    length = hands.find('[aria-label="Focal length in millimetres"]')
    length.send_keys(Keys.CONTROL, "a")
    length.send_keys("50", Keys.ENTER)
    hands.saved(1)
    assert document(client, lighthouse)["items"]["camera"]["angle"] == pytest.approx(22.9, abs=0.1)
    hands.until(lambda: hands.picture() != wide)
    plain = hands.still_picture()
    hands.choose("Aids", "Thirds")
    hands.find("[data-guides='1']")
    hands.tick("Floor grid")
    hands.until(lambda: "squares of" in hands.text() and hands.picture() != plain)
    hands.press("Floor grid", "menuitem")
    hands.press("Thirds", "menuitem")
    hands.until(lambda: hands.picture() == plain)


def test_a_shot_that_was_changed_and_left_has_its_small_picture(hands: Hands, client: Client, boxes: str, stack):
    """It is made of the frame at hand: nothing is worked out for it."""
    open_shot(hands, boxes)
    hands.still_picture()
    row(hands, "near").click()
    hands.press("Hide Near")
    hands.saved(1)
    hands.still_picture()
    with standing_still(stack):
        hands.find('a[aria-label="Home"]').click()
        hands.until(lambda: client.get(f"/api/shots/{boxes}/picture?revision=1").status == 200, 20)
    assert hands.complaints() == []
