"""What a person's hands do in the page."""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from typing import Any

import numpy as np
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver import ActionChains, Chrome, Keys
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement


def apart(one: bytes, other: bytes) -> float:
    """How much two pictures differ on average, in steps of 0 to 255."""
    return float(np.abs(np.array(json.loads(one)) - np.array(json.loads(other))).mean())


class Hands:
    """One person at one page."""

    def __init__(self, chrome: Chrome, address: str) -> None:
        self.chrome = chrome
        self.address = address

    def open(self, path: str) -> None:
        self.chrome.get(self.address + path)

    def until(self, check: Callable[[], Any], seconds: float = 120.0) -> Any:
        deadline = time.monotonic() + seconds
        while True:
            try:
                found = check()
            except StaleElementReferenceException:
                found = None
            if found:
                return found
            assert time.monotonic() < deadline, f"it did not happen in {seconds} s; the page says: {self.text()[:1500]}"
            time.sleep(0.1)

    def text(self) -> str:
        return self.chrome.find_element(By.TAG_NAME, "body").text

    def find(self, css: str) -> WebElement:
        return self.until(lambda: next(iter(self.chrome.find_elements(By.CSS_SELECTOR, css)), None))

    def named(self, name: str, role: str = "button") -> WebElement:
        """The element of a role by what it is called, as assistive technology reads it."""

        return self.until(lambda: self.chrome.execute_script(NAMED, ROLES[role], name))

    def press(self, name: str, role: str = "button") -> None:
        def click() -> bool:
            self.named(name, role).click()
            return True

        self.until(click)

    def item(self, name: str) -> None:
        """Choose an item of the outline, unfolding what it is under."""
        rows = '[aria-label="Items"] [role=row]'
        if not any(row.get_attribute("aria-label") == name for row in self.chrome.find_elements(By.CSS_SELECTOR, rows)):
            for row in self.chrome.find_elements(By.CSS_SELECTOR, f'{rows}[aria-expanded="false"] [slot=chevron]'):
                row.click()
        self.press(name, "row")

    def choose(self, menu: str, command: str) -> None:
        self.press(menu)
        self.press(command, "menuitem")

    def tick(self, entry: str) -> None:
        """Turn on what a list that stays open has to be turned on or off."""

        def ticked() -> bool:
            element = self.named(entry, "menuitem")
            if element.get_attribute("aria-checked") == "true":
                return True
            element.click()
            return False

        self.until(ticked)

    def pick(self, choice: WebElement, option: str) -> None:
        choice.click()
        self.press(option, "option")

    def value(self, pointer: str) -> WebElement:
        """A value by where it stands in the document; the card of the recipe that it is on is opened first."""
        self.open_card(pointer)
        return self.find(f'[data-pointer="{pointer}"]:not([inert] *)')

    def open_card(self, pointer: str) -> None:
        """Unfold the card of a recipe with something of the document on it, where it is folded."""
        if pointer.startswith("/fields/"):
            return
        item, _, step = pointer.partition("/recipe/steps/")
        name = (
            f'data-place="{item}/recipe/steps#{step.split("/")[0]}"' if step else f'data-shape="{item.split("/")[2]}"'
        )
        for card in self.chrome.find_elements(By.CSS_SELECTOR, f"[{name}][data-folded]"):
            card.find_element(By.CSS_SELECTOR, "button[aria-expanded]").click()

    def type_value(self, pointer: str, text: str) -> None:
        self.value(pointer).click()
        box = self.find('[role="dialog"] input:not([type="checkbox"])')
        box.send_keys(Keys.CONTROL, "a")
        box.send_keys(text, Keys.ENTER)

    def drag(self, element: WebElement, x: int, y: int, release: bool = True) -> None:
        moves = ActionChains(self.chrome).click_and_hold(element)
        for _ in range(4):
            moves = moves.pause(0.05).move_by_offset(x // 4, y // 4)
        moves.pause(0.1).perform()
        if release:
            self.release()

    def release(self) -> None:
        ActionChains(self.chrome).release().perform()

    def keys(self, *keys: str) -> None:
        ActionChains(self.chrome).send_keys(*keys).perform()

    def saved(self, least: int) -> None:
        """Wait until the page says that at least this edit is saved."""
        self.until(lambda: self.status.get_attribute("data-saving") == "saved" and self.revision >= least)

    @property
    def status(self) -> WebElement:
        return self.find("[data-saving]")

    @property
    def revision(self) -> int:
        return int(self.status.get_attribute("data-revision") or 0)

    @property
    def frame_shown(self) -> float:
        return float(self.find('[aria-label="View"]').get_attribute("data-frame") or -1)

    def go_to(self, frame: int) -> None:
        box = self.named("Frame", "textbox")
        box.click()
        box.send_keys(Keys.CONTROL, "a")
        box.send_keys(str(frame), Keys.ENTER)
        self.until(lambda: self.frame_shown == frame)

    def chord(self, held: str, key: str) -> None:
        ActionChains(self.chrome).key_down(held).send_keys(key).key_up(held).perform()

    def do(self, words: str) -> None:
        """A command by its words, as a person with a keyboard does it."""
        self.chord(Keys.CONTROL, "k")
        self.find('[aria-label="Do…"] input')
        self.keys(words)
        self.until(lambda: self.find('[aria-label="Commands"] [role="menuitem"][data-focused]'))
        self.keys(Keys.ENTER)
        self.until(lambda: not self.chrome.find_elements(By.CSS_SELECTOR, '[aria-label="Do…"] input'))

    @property
    def focused(self) -> str:
        """What is focused: the place in the document that it edits, else what it is called."""
        return self.chrome.execute_script(
            "const e=document.activeElement;return e.getAttribute('data-pointer')||e.getAttribute('aria-label')||e.textContent.trim()"
        )

    def tab_to(self, name: str, most: int = 120) -> None:
        for _ in range(most):
            if self.focused == name:
                return
            self.keys(Keys.TAB)
        raise AssertionError(f"{name} is not reached by Tab; the last was {self.focused}")

    def picture(self, width: int = 96, height: int = 60) -> bytes:
        """The pixels of the view's drawing at a size, as JSON: red, green, blue, alpha."""
        return json.dumps(
            self.chrome.execute_script(
                "const [w,h]=arguments,from=document.querySelector('canvas'),to=document.createElement('canvas');to.width=w;to.height=h;"
                "const pen=to.getContext('2d');pen.drawImage(from,0,0,w,h);return Array.from(pen.getImageData(0,0,w,h).data)",
                width,
                height,
            )
        ).encode()

    def still_picture(self, width: int = 96, height: int = 60) -> bytes:
        """The picture once it has stopped changing and there is something in it."""

        def same() -> bytes | None:
            one = self.picture(width, height)
            time.sleep(0.4)
            return one if self.picture(width, height) == one and any(json.loads(one)) else None

        return self.until(same)

    def complaints(self) -> list[str]:
        """What the browser itself complains of: errors, and breaches of the security policy."""
        severe = [entry["message"] for entry in self.chrome.get_log("browser") if entry["level"] == "SEVERE"]
        return [message for message in severe if "Failed to load resource" not in message]


NAMED = """
return [...document.querySelectorAll(arguments[0])].find(element => {
  const name = arguments[1];
  const label = document.getElementById(element.getAttribute('aria-labelledby') ?? '');
  const text = element.innerText.trim();
  const first = arguments[0].includes('menuitem') ? text.split(/[\\r\\n]/)[0] : text;
  const names = [element.getAttribute('aria-label'), text, first, label?.innerText.trim()];
  if (!names.includes(name) || element.closest('[inert]')) return false;
  return element.getClientRects().length > 0 && getComputedStyle(element).visibility !== 'hidden';
});
"""
"""Finds a visible element by its name in one call: asking the browser about each of many is what takes longest."""

ROLES = {
    "button": "button, [role=button]",
    "row": "[role=row]",
    "menuitem": "[role=menuitem], [role=menuitemcheckbox], [role=menuitemradio]",
    "option": "[role=option]",
    "textbox": "input:not([type=checkbox])",
    "radio": "[role=radio], button",
}
