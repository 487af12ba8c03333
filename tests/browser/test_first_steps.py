"""The first steps on the first demo: each waits for its act, says what was done, and can be left and taken up."""

from __future__ import annotations

from conftest import Client
from hands import Hands
from selenium.webdriver import Keys

GUIDE = '[aria-label="First steps"]'
GUIDED = "fog-over-the-light"


def test_each_act_is_waited_for_and_said(hands: Hands, client: Client):
    before = client.get(f"/api/shots/{GUIDED}").json["document"]
    hands.open(f"/shots/{GUIDED}")
    hands.until(lambda: "1 of 7" in hands.find(GUIDE).text)
    hands.keys(" ")
    hands.until(lambda: "2 of 7" in hands.find(GUIDE).text and "It plays." in hands.find(GUIDE).text)
    hands.keys(" ")
    hands.until(lambda: "You stopped at frame" in hands.find(GUIDE).text)
    # It can be left, and is taken up where it was, also after a reload.
    hands.press("Leave")
    hands.chrome.refresh()
    hands.until(lambda: hands.frame_shown >= 0)
    assert not hands.chrome.find_elements("css selector", GUIDE)
    hands.press("Do…")
    hands.find('[role="dialog"] input').send_keys("First steps")
    hands.keys(Keys.ENTER)
    hands.until(lambda: "3 of 7" in hands.find(GUIDE).text)
    hands.drag(hands.value("/fields/fraying/level"), 40, 0)
    hands.until(lambda: "You made it “level" in hands.find(GUIDE).text)
    hands.chord(Keys.CONTROL, "z")
    hands.until(lambda: client.get(f"/api/shots/{GUIDED}").json["document"] == before)
    hands.press("Leave")
    assert hands.complaints() == []
