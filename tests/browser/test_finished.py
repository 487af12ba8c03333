"""The frame in view as it will be written, over the quick picture; and a film from Export."""

from __future__ import annotations

import io
from base64 import b64decode

import av
import numpy as np
from conftest import Client
from hands import Hands
from PIL import Image
from selenium.webdriver import Keys
from shots import cut_ball

FINISHED = "[data-finished]"
SHOWN = """
const image = document.querySelector('[data-finished] img');
if (!image || !image.complete || image.naturalWidth === 0) return null;
const box = image.getBoundingClientRect();
const canvas = document.createElement('canvas');
canvas.width = image.naturalWidth; canvas.height = image.naturalHeight;
canvas.getContext('2d').drawImage(image, 0, 0);
return [box.width, box.height, canvas.toDataURL('image/png').slice(22)];
"""


def seen_ball() -> dict:
    document = cut_ball()
    document["items"]["eye"] = {"kind": "camera", "name": "Eye", "rank": 3, "place": [0, 0, 6], "angle": 30}
    document["items"]["key"] = {"kind": "light", "name": "Key", "rank": 4, "turn": [-45, 30, 0]}
    return document | {"camera": "eye", "picture": {"width": 320, "height": 180}}


def samples(hands: Hands) -> int:
    return int(hands.find(FINISHED).get_attribute("data-finished"))


def test_finished_is_rendered_while_it_stands_and_gone_when_a_value_changes(hands: Hands, client: Client):
    shot = client.new_shot(seen_ball())
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.press("Finished", "radio")
    hands.until(lambda: samples(hands) > 0, 180)
    hands.until(lambda: samples(hands) == 32, 180)
    width, height, content = hands.chrome.execute_script(SHOWN)
    rendered = np.asarray(Image.open(io.BytesIO(b64decode(content))).convert("RGB")).astype(int)
    assert abs(rendered.shape[1] - width) <= 1
    assert abs(rendered.shape[0] - height) <= 1
    # The ball stands where the quick picture has it: its outline against the sky is the same.
    # A line wipes between both.
    line = hands.find('[aria-label="Quick picture up to this line"] input')
    line.send_keys(Keys.ARROW_RIGHT * 30)
    hands.until(lambda: "30%" in hands.find(f"{FINISHED} [style*=clip-path]").get_attribute("style"))
    hands.press("Picture", "radio")
    hands.until(lambda: not hands.chrome.find_elements("css selector", FINISHED))
    quick = hands.still_picture()
    assert quick is not None
    middle, corner = rendered[rendered.shape[0] // 2, rendered.shape[1] // 2], rendered[2, 2]
    assert np.abs(middle - corner).max() > 20
    hands.press("Finished", "radio")
    hands.until(lambda: samples(hands) > 0, 180)
    hands.go_to(40)
    hands.until(lambda: hands.frame_shown == 40)
    hands.until(lambda: samples(hands) > 0, 180)
    again = hands.until(lambda: hands.chrome.execute_script(SHOWN))[2]
    assert again != content


def test_where_the_shot_has_no_camera_it_says_what_to_do(hands: Hands, client: Client):
    shot = client.new_shot(cut_ball())
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.press("Finished", "radio")
    hands.until(lambda: "seen through a camera" in hands.find(FINISHED).text)


def test_the_lens_and_the_light_are_set_where_they_stand(hands: Hands, client: Client):
    shot = client.new_shot(seen_ball())
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("Eye")
    values = {"exposure": "1", "aperture": "2.8", "focus": "6", "shutter": "180"}
    for number, (setting, typed) in enumerate(values.items(), 1):
        hands.type_value(f"/items/eye/{setting}", typed)
        hands.saved(number)
    hands.item("Key")
    hands.type_value("/items/key/width", "4")
    hands.saved(5)
    items = client.get(f"/api/shots/{shot}").json["document"]["items"]
    assert [items["eye"][one] for one in ("exposure", "aperture", "focus", "shutter")] == [1, 2.8, 6, 180]
    assert items["key"]["width"] == 4


def test_a_range_becomes_a_film(hands: Hands, client: Client):
    shot = client.new_shot(seen_ball())
    hands.open(f"/shots/{shot}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.press("Export")
    last = hands.find('[aria-label="Last frame to export"]')
    last.send_keys(Keys.CONTROL, "a")
    last.send_keys("1")
    hands.pick(hands.find('[role="dialog"] button[aria-label*="Format of the range"]'), "Film, H.264")
    hands.press("A range of frames")
    done = hands.until(
        lambda: next(
            (one for one in client.get("/api/jobs").json["jobs"] if one["shot"] == shot and one["state"] == "done"),
            None,
        ),
        180,
    )
    with av.open(io.BytesIO(client.get(f"/api/jobs/{done['id']}/file").body)) as container:
        assert len(list(container.decode(video=0))) == 2
