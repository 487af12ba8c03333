"""A press is answered in the page at once, also while the evaluators stand still."""

from __future__ import annotations

import os

from conftest import Client, standing_still
from hands import Hands
from selenium.webdriver import Keys

from windsock.demo.blank import blank_shot

ANSWERED = """
const [name, done] = arguments;
const frame = () => new Promise(requestAnimationFrame);
(async () => {
  window.dispatchEvent(new KeyboardEvent('keydown', {key: 'k', code: 'KeyK', ctrlKey: true, bubbles: true}));
  const list = () => [...document.querySelectorAll('[aria-label="Commands"] [role=menuitem]')];
  for (let tries = 0; tries < 200 && list().length === 0; tries++) await frame();
  const command = list().find(one => one.querySelector('span')?.firstChild?.textContent === name);
  if (!command) return done(`no command ${name}`);
  const html = () => [...document.body.children].filter(one => !one.querySelector('[role=dialog][aria-label="Do…"]'))
    .map(one => one.innerHTML).join('');
  const before = html();
  const start = performance.now();
  const told = milliseconds => { watch.disconnect(); clearTimeout(late); done(milliseconds); };
  const watch = new MutationObserver(() => { if (html() !== before) told(performance.now() - start); });
  const late = setTimeout(() => told(null), 4000);
  watch.observe(document.body, {subtree: true, childList: true, attributes: true, characterData: true});
  command.click();
})();
"""
"""Runs a command by its name; gives the milliseconds until something else than the list of commands is different."""

EVERY = bool(os.environ.get("WINDSOCK_EVERY_COMMAND"))

ASKING = [
    "Bring what is chosen into view", "Bring the band of the field into view", "Add step: Scatter", "Add: Box",
    "Lay a starter: Sweep", "Copy the chosen item", "Undo", "Findings", "Compare with an edit or another shot",
]  # fmt: skip
"""Those that ask the server for something before they are done."""

OTHERS = [
    "Play or stop", "Next frame", "Last frame", "See heat", "See the mesh", "Look freely", "Look freely from the front",
    "Look freely from the side", "Handles that turn", "Keep to steps, or not", "Choose the next item",
    "Choose the item before", "Key the place of the chosen item here", "Remove the chosen item",
    "Bring everything into view", "History", "Where the time goes", "Shot settings", "Export", "Add step: Cut away",
    "Add: Controller", "Add: Import a file…", "Redo", "Keys",
]  # fmt: skip


def test_every_kind_of_command_is_answered_in_the_page_while_the_evaluators_stand_still(
    hands: Hands, client: Client, stack
):
    made: dict = blank_shot("Answers")  # type: ignore[assignment]
    made["items"]["ball"]["recipe"] = {"steps": {"cut": {"kind": "cut_away", "rank": 0, "field": "front"}}}
    around = {"kind": "around", "controller": "controller", "reach": 3.0, "soft": 2.0}
    made["fields"]["front"] = {"letter": "A", "name": "Front", "rank": 0, "sources": {"s": around}}
    shot = client.new_shot(made)
    hands.chrome.set_script_timeout(20)
    told: dict[str, float | None] = {}
    for name in ASKING + (OTHERS if EVERY else []):
        if EVERY or not told:
            hands.open(f"/shots/{shot}")
        hands.until(lambda: hands.frame_shown == 0 and not hands.chrome.find_elements("css selector", "[data-asked]"))
        with standing_still(stack):
            told[name] = hands.chrome.execute_async_script(ANSWERED, name)
        hands.keys(Keys.ESCAPE)
        hands.until(lambda: hands.status.get_attribute("data-saving") == "saved")
    print({name: milliseconds and round(milliseconds) for name, milliseconds in told.items()})
    assert all(isinstance(one, int | float) for one in told.values()), f"Nothing is seen of some: {told}"
