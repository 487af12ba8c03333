"""A press is answered in the page at once, also while the evaluators stand still."""

from __future__ import annotations

import os
import signal
from collections.abc import Iterator
from contextlib import contextmanager

import pytest
from conftest import Client
from hands import Hands

from windsock.demo.blank import blank_shot

ANSWERED = """
const [name, done] = arguments;
const seen = () => [...document.body.children].filter(one => !one.querySelector('[role=dialog][aria-label="Do…"]'))
  .map(one => one.innerHTML).join('');
const frame = () => new Promise(requestAnimationFrame);
(async () => {
  window.dispatchEvent(new KeyboardEvent('keydown', {key: 'k', code: 'KeyK', ctrlKey: true, bubbles: true}));
  const list = () => [...document.querySelectorAll('[aria-label="Commands"] [role=menuitem]')];
  for (let tries = 0; tries < 200 && list().length === 0; tries++) await frame();
  const command = list().find(one => one.querySelector('span')?.firstChild?.textContent === name);
  if (!command) return done(`no command ${name}`);
  const before = seen();
  const start = performance.now();
  command.click();
  while (performance.now() - start < 4000) {
    await frame();
    if (seen() !== before) return done(performance.now() - start);
  }
  done(null);
})();
"""
"""Runs a command by its name; gives the milliseconds until something else than the list of commands looks different."""

COMMANDS = [
    "Play or stop", "Next frame", "Last frame", "See heat", "See the mesh", "See the picture", "Look freely",
    "Look freely from the front", "Look freely from the side", "Look through the camera", "Handles that turn",
    "Handles that move", "Keep to steps, or not", "Choose the next item", "Choose the item before", "Open the next step",
    "Key the place of the chosen item here", "Copy the chosen item", "Remove the chosen item",
    "Bring what is chosen into view", "Bring everything into view", "Bring the band of the field into view",
    "History", "Findings", "Where the time goes", "Shot settings", "Export", "Other theme", "Add step: Cut away",
    "Add step: Scatter", "Add: Box", "Add: Controller", "Add: Import a file…", "Undo", "Redo", "Keys",
    "Lay a starter: Sweep", "Compare with an edit or another shot",
]  # fmt: skip


@contextmanager
def standing_still(stack) -> Iterator[None]:
    for process in stack.evaluators:
        os.kill(process.pid, signal.SIGSTOP)
    try:
        yield
    finally:
        for process in stack.evaluators:
            os.kill(process.pid, signal.SIGCONT)


def test_every_kind_of_command_is_answered_in_the_page_while_the_evaluators_stand_still(
    hands: Hands, client: Client, stack
):
    made: dict = blank_shot("Answers")  # type: ignore[assignment]
    made["items"]["ball"]["recipe"] = {"steps": {"cut": {"kind": "cut_away", "rank": 0, "field": "front"}}}
    around = {"kind": "around", "controller": "controller", "reach": 3.0, "soft": 2.0}
    made["fields"]["front"] = {"letter": "A", "name": "Front", "rank": 0, "sources": {"s": around}}
    shot = client.new_shot(made)
    hands.chrome.set_script_timeout(20)
    late: dict[str, object] = {}
    for name in COMMANDS:
        hands.open(f"/shots/{shot}")
        hands.until(lambda: hands.frame_shown == 0 and hands.chrome.find_elements("css selector", "[role=row]"))
        with standing_still(stack):
            told = hands.chrome.execute_async_script(ANSWERED, name)
        if not isinstance(told, int | float):
            late[name] = told
    if late:
        pytest.fail(f"Nothing is seen of these: {late}")
