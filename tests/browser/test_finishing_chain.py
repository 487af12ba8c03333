"""The chain that finishes the picture, made and seen by hand."""

from __future__ import annotations

import io
from base64 import b64decode

import numpy as np
import pytest
from conftest import Client
from hands import Hands
from panoramas import exr, hdr
from PIL import Image
from selenium.webdriver import ActionChains
from test_finished import FINISHED, SHOWN, samples, seen_ball

from windsock.core.kernels.srgb import decoded


def seen(hands: Hands) -> np.ndarray | None:
    """The finished picture that is seen now; None while it is exchanged."""
    found = hands.chrome.execute_script(SHOWN)
    return None if found is None else pixels(found[2])


CANVAS = "return document.querySelector('canvas').toDataURL('image/png').slice(22)"


def pixels(content: str) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(b64decode(content))).convert("RGB")).astype(float)


def finished_picture(hands: Hands) -> np.ndarray:
    hands.until(lambda: samples(hands) == 32, 240)
    return pixels(hands.until(lambda: hands.chrome.execute_script(SHOWN))[2])


def both_pictures(hands: Hands) -> tuple[np.ndarray, np.ndarray]:
    """The quick picture that is seen, and the finished one."""
    hands.still_picture()
    quick = pixels(hands.chrome.execute_script(CANVAS))
    hands.press("Finished", "radio")
    rendered = finished_picture(hands)
    hands.press("Picture", "radio")
    hands.until(lambda: not hands.chrome.find_elements("css selector", FINISHED))
    return quick, rendered


def test_steps_are_added_ordered_turned_off_and_bounded(hands: Hands, client: Client):
    shot = client.new_shot(seen_ball())

    def chain() -> list[tuple[str, dict]]:
        held = client.get(f"/api/shots/{shot}").json["document"]["finishing"]
        return sorted(held.items(), key=lambda entry: entry[1]["rank"])

    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("The picture")
    hands.choose("Add a finishing step", "Exposure")
    hands.saved(1)
    hands.choose("Add a finishing step", "Depth of field")
    hands.saved(2)
    assert [step["kind"] for _, step in chain()] == ["glow", "exposure", "depth_of_field"]
    hands.type_value("/finishing/exposure/stops", "1.5")
    hands.saved(3)
    hands.choose("Commands for Exposure", "Move it up")
    hands.saved(4)
    assert [step["kind"] for _, step in chain()] == ["exposure", "glow", "depth_of_field"]
    hands.choose("Commands for Exposure", "Only in a range of depth")
    hands.saved(5)
    hands.choose("Commands for Exposure", "Everywhere but there")
    hands.saved(6)
    card = hands.find('[aria-label="Finishing 1: Exposure"]')
    hands.pick(card.find_element("css selector", 'button[aria-label*="On what"]'), "on Ball")
    hands.saved(7)
    told = dict(chain())["exposure"]
    assert (told["stops"], told["outside"], told["item"]) == (1.5, True, "ball")
    assert told["depth"]["far"] == 8
    hands.choose("Commands for Depth of field", "Turn it off")
    hands.saved(8)
    assert "This step is off" in hands.find('[aria-label="Finishing 3: Depth of field"]').text
    hands.choose("Commands for Depth of field", "Remove it")
    hands.saved(9)
    assert [step["kind"] for _, step in chain()] == ["exposure", "glow"]
    # What it was on is gone: the step goes off rather than on everything.
    hands.item("Ball")
    hands.press("Remove")
    hands.until(lambda: "the finishing step Exposure" in hands.text())
    hands.press("Remove it")
    hands.saved(10)
    told = dict(chain())["exposure"]
    assert (told["item"], told["on"]) == (None, False)


def test_what_only_the_finishing_changes_is_seen_while_it_is_dragged(hands: Hands, client: Client):
    document = seen_ball() | {"finishing": {"more": {"kind": "exposure", "rank": 0, "stops": 0.0}}}
    shot = client.new_shot(document)
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("The picture")
    hands.press("Finished", "radio")
    before = finished_picture(hands)
    # A drag that goes on: the finished picture follows while the button is held.
    value = hands.value("/finishing/more/stops")
    hands.drag(value, 60, 0, release=False)
    hands.until(lambda: (now := seen(hands)) is not None and now.mean() > before.mean() + 20, 60)
    assert samples(hands) == 32
    hands.release()
    hands.saved(1)
    brighter = finished_picture(hands)
    assert brighter.mean() > before.mean() + 20
    hands.press("Without finishing: the picture before the steps", "button")
    hands.until(
        lambda: (now := seen(hands)) is not None and now.shape == before.shape and abs(now - before).max() <= 1, 60
    )
    hands.press("Without finishing: the picture before the steps", "button")
    hands.until(
        lambda: (now := seen(hands)) is not None and now.shape == brighter.shape and abs(now - brighter).max() <= 1, 60
    )


def test_page_and_picture_show_light_the_same_way(hands: Hands, client: Client):
    """The sky over the ball, by each view: the quick picture has it as the finished one has it."""
    shot = client.new_shot(seen_ball() | {"environment": {"kind": "day", "strength": 1.0}})
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("The picture")
    seen = []
    for number, words in enumerate(("by ACES 1.3", "as plain sRGB", "by ACES 2"), 1):
        hands.pick(hands.find('button[aria-label*="How light is shown"]'), words)
        hands.saved(number)
        quick, rendered = both_pictures(hands)
        sky = [
            one[one.shape[0] // 8 : one.shape[0] // 5, one.shape[1] // 3 : one.shape[1] // 2]
            for one in (quick, rendered)
        ]
        assert np.abs(sky[0].mean(axis=(0, 1)) - sky[1].mean(axis=(0, 1))).max() < 4, words
        seen.append(sky[1].mean())
    assert max(seen) - min(seen) > 5


@pytest.mark.parametrize("ending", ["png", "hdr", "exr"])
def test_a_picture_of_all_round_lights_page_and_picture_alike(hands: Hands, client: Client, tmp_path, ending):
    """Four colours round about: what is ahead, and what is there after a turn, on the page as in the finished picture."""
    colours = np.zeros((64, 128, 3), np.uint8)
    for place, colour in enumerate(((200, 60, 50), (60, 180, 80), (70, 90, 210), (190, 180, 90))):
        colours[:, 32 * place : 32 * place + 32] = colour
    colours = np.roll(colours, 16, axis=1)
    colours[32:] //= 3  # below it is darker: up is up, whichever way a file has its rows
    path = tmp_path / f"round.{ending}"
    light = decoded(colours / 255).astype(np.float32)
    if ending == "png":
        Image.fromarray(colours).save(path)
    elif ending == "hdr":
        path.write_bytes(hdr(light))
    else:
        exr(light, path)
    shot = client.new_shot(seen_ball())
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("The picture")
    hands.chrome.find_element("css selector", 'input[type="file"]').send_keys(str(path))
    hands.saved(1)
    hands.until(lambda: path.name in hands.text())
    told = client.get(f"/api/shots/{shot}").json["document"]["environment"]
    assert len(told["asset"]) == 64
    seen = []
    for number, turn in ((2, "0.5"), (3, "90")):
        hands.type_value("/environment/turn", turn)
        hands.saved(number)
        quick, rendered = both_pictures(hands)
        behind = [one[one.shape[0] // 3, one.shape[1] // 3] for one in (quick, rendered)]
        assert np.abs(behind[0] - behind[1]).max() < 8, turn
        ball = [one[one.shape[0] // 2, one.shape[1] // 2] for one in (quick, rendered)]
        assert np.abs(ball[0] - ball[1]).max() < 40, turn
        seen.append(behind[1])
    assert np.abs(seen[0] - seen[1]).max() > 60


def test_what_is_pressed_is_what_is_sharp(hands: Hands, client: Client):
    shot = client.new_shot(seen_ball())
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("Eye")
    hands.press("pick it in the view")
    hands.until(lambda: "Press what is to be sharp" in hands.text())
    canvas = hands.find("canvas")
    ActionChains(hands.chrome).move_to_element(canvas).click().perform()
    hands.saved(1)
    eye = client.get(f"/api/shots/{shot}").json["document"]["items"]["eye"]
    # The ball's front, a metre before its middle.
    assert abs(eye["focus"] - 5.0) < 0.05
    assert "Press what is to be sharp" not in hands.text()
