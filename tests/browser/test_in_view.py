"""What is brought in is seen: in the picture whatever its size, and never a black view or two notices at once."""

from __future__ import annotations

import time

import pytest
import trimesh
from conftest import Client, kill, recover, standing_still
from hands import Hands, apart
from selenium.webdriver import Keys
from sqlalchemy import text

from windsock.demo.blank import blank_shot
from windsock.store.database import Database

HIGH = """
const area = document.querySelector('section[aria-label="View"]');
const still = [...area.querySelectorAll('div')].some(one => one.style.backgroundImage.includes('/picture'));
return [area.dataset.frame, area.querySelectorAll('[role=status], [role=alert]').length, still];
"""


def document(client: Client, shot: str) -> dict:
    return client.get(f"/api/shots/{shot}").json["document"]


@pytest.mark.parametrize("size", [0.1, 10.0])
def test_an_import_of_any_size_is_brought_into_the_picture_by_the_same_edit(
    hands: Hands, client: Client, tmp_path, size
):
    own = tmp_path / "ring.obj"
    own.write_text(trimesh.creation.torus(size * 0.4, size * 0.1).export(file_type="obj"))
    shot = client.new_shot(blank_shot("In view"))
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    before = document(client, shot)["items"]["camera"]["place"]
    hands.choose("Add…", "Import a file…")
    hands.find('input[type="file"]').send_keys(str(own))
    hands.until(lambda: "1,024" in hands.text() or "faces" in hands.text())
    hands.press("Add to the shot")
    hands.saved(1)
    state = document(client, shot)
    assert state["items"]["camera"]["place"] != before
    assert "ring" in state["items"]
    # It is seen: the picture's middle column is not the sky or the sea from top to bottom.
    hands.still_picture()
    hands.chord(Keys.CONTROL, "z")
    hands.saved(2)
    state = document(client, shot)
    assert state["items"]["camera"]["place"] == before
    assert "ring" not in state["items"]


def test_what_is_chosen_comes_into_view_by_a_key_and_everything_too(hands: Hands, client: Client):
    made: dict = blank_shot("In view")  # type: ignore[assignment]
    made["items"]["far"] = {
        "kind": "shape", "name": "Far", "rank": 7, "geometry": {"kind": "box"}, "place": [30, 2, -90],
    }  # fmt: skip
    shot = client.new_shot(made)
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("Far")
    hands.keys("v")
    hands.saved(1)
    x, y, z = document(client, shot)["items"]["camera"]["place"]
    assert abs(x - 30) < 1
    assert abs(y - 2) < 1
    assert -90 < z < -85
    hands.chord(Keys.SHIFT, "v")
    hands.saved(2)
    assert document(client, shot)["items"]["camera"]["place"][2] > -20
    hands.chord(Keys.CONTROL, "z")
    hands.saved(3)
    assert document(client, shot)["items"]["camera"]["place"] == [x, y, z]


def test_the_first_frame_is_waited_for_with_the_small_picture_and_one_line(hands: Hands, client: Client, stack):
    """A demo shot whose evaluators are held still: its small picture is there, with one notice at most, until its frame is."""
    with standing_still(stack):
        hands.open("/shots/storm-warning")
        hands.find('section[aria-label="View"]')
        for _ in range(20):
            frame, notices, still = hands.chrome.execute_script(HIGH)
            assert (frame, still) == (None, True)
            assert notices <= 1
            time.sleep(0.1)
    hands.until(lambda: hands.chrome.execute_script(HIGH)[0] is not None)
    picture = client.get("/api/shots/storm-warning/picture")
    assert picture.headers["Content-Type"] == "image/webp"


WATCH = """
const canvas = document.querySelector('canvas'), small = document.createElement('canvas');
small.width = small.height = 8;
const pen = small.getContext('2d', { willReadFrequently: true });
window.darkest = 255;
window.looks = 0;
setInterval(() => {
  pen.clearRect(0, 0, 8, 8);
  pen.drawImage(canvas, 0, 0, 8, 8);
  const pixels = pen.getImageData(0, 0, 8, 8).data;
  let sum = 0;
  for (let at = 0; at < pixels.length; at += 4) sum += (pixels[at] + pixels[at + 1] + pixels[at + 2]) / 3;
  window.darkest = Math.min(window.darkest, sum / 64);
  window.looks += 1;
}, 50);
"""
"""Reads the picture every 50 ms: the darkest mean that it ever had, and how often it was looked at."""


def test_the_view_is_never_black_once_there_was_a_picture(hands: Hands, lighthouse: str, stack):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    hands.still_picture()
    hands.chrome.execute_script(WATCH)
    light = hands.until(lambda: hands.chrome.execute_script("return window.looks > 3 && window.darkest"))
    hands.go_to(30)
    hands.item("Fog bank")
    hands.press("Heat", "radio")
    hands.press("Picture", "radio")
    kill(stack, "evaluator")
    hands.keys(".", ".", ".")
    recover(stack)
    hands.until(lambda: hands.frame_shown == 33)
    hands.press("Free view", "radio")
    hands.press("Camera", "radio")
    looks, darkest = hands.chrome.execute_script("return [window.looks, window.darkest]")
    assert looks > 20
    assert darkest > 0.5 * light


def test_the_view_is_drawn_again_where_the_browser_took_its_graphics_memory_away(hands: Hands, lighthouse: str):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    seen = hands.still_picture()
    hands.chrome.execute_script(
        "window.taken = document.querySelector('canvas').getContext('webgl2').getExtension('WEBGL_lose_context');"
        "window.taken.loseContext()"
    )
    hands.until(lambda: apart(hands.picture(), seen) > 50)
    hands.chrome.execute_script("window.taken.restoreContext()")
    hands.until(lambda: apart(hands.picture(), seen) < 2)


def test_a_shot_that_cannot_be_read_is_shown_as_such_at_home(hands: Hands, client: Client, stack):
    shot = client.new_shot(blank_shot("Of tomorrow"))
    with Database(stack.cluster.address).session() as session:
        changed = (
            "UPDATE shots SET document = (document::jsonb || '{\"of_tomorrow\": 1}')::json, read_by = '' WHERE id = :id"
        )
        session.execute(text(changed), {"id": shot})
    hands.open("/")
    hands.until(lambda: "cannot read it" in hands.text())
    assert "Kestrel Point idents" in hands.text() or "01 Fog over the light" in hands.text()
    # It is offered as a file, and not to be opened as well.
    offered = [one for one in hands.chrome.find_elements("css selector", "li a") if "Of tomorrow" in one.text]
    assert [one.get_attribute("href").rpartition("/")[2] for one in offered] == ["document.json"]
    client.ask("DELETE", f"/api/shots/{shot}")


def test_the_page_says_while_the_server_does_not_answer_and_goes_on(hands: Hands, lighthouse: str, stack):
    hands.open(f"/shots/{lighthouse}")
    hands.until(lambda: hands.frame_shown == 58)
    kill(stack, "web")
    try:
        hands.until(lambda: "The server does not answer" in hands.text())
    finally:
        recover(stack)
    hands.until(lambda: "The server does not answer" not in hands.text())


def test_where_a_fields_band_is_comes_into_view_by_a_press_and_a_key(hands: Hands, client: Client):
    """A band about the top of a far tower: the camera comes to the top, not to the whole."""
    made: dict = blank_shot("In view")  # type: ignore[assignment]
    made["items"]["tower"] = {
        "kind": "shape", "name": "Tower", "rank": 7, "place": [20, 50, -60],
        "geometry": {"kind": "box", "width": 2, "height": 100, "depth": 2, "divisions": 100},
        "recipe": {"steps": {"cut": {"kind": "cut_away", "rank": 0, "field": "front"}}},
    }  # fmt: skip
    made["items"]["top"] = {"kind": "controller", "name": "Top", "rank": 8, "place": [20, 100, -60]}
    around = {"kind": "around", "controller": "top", "reach": 3.0, "soft": 2.0}
    made["fields"]["front"] = {"letter": "A", "name": "Front", "rank": 0, "band": 0.5, "sources": {"s": around}}
    shot = client.new_shot(made)
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("Tower")
    hands.press("Bring it into view")
    hands.saved(1)
    x, y, z = document(client, shot)["items"]["camera"]["place"]
    assert (x, y) == pytest.approx((20, 98), abs=1.5)
    assert -58 < z < -48
    hands.chord(Keys.CONTROL, "z")
    hands.saved(2)
    hands.chord(Keys.ALT, "v")
    hands.saved(3)
    assert document(client, shot)["items"]["camera"]["place"] == [x, y, z]
