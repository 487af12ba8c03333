"""The rules that are left in the page: numbers as people type them, and the order in which frames are played."""

from __future__ import annotations

import json
import math
import subprocess
from pathlib import Path

import pytest

FRONTEND = Path(__file__).parents[2] / "frontend"
RUN = """
const typescript = require("typescript");
const { readFileSync } = require("node:fs");
const { module, calls } = JSON.parse(readFileSync(0, "utf8"));
const text = typescript.transpileModule(readFileSync(module, "utf8"), {
  compilerOptions: { module: "ESNext", target: "ES2022" },
}).outputText;
import("data:text/javascript," + encodeURIComponent(text)).then((made) => {
  const answers = calls.map(([name, ...given]) => {
    const answer = made[name](...given);
    return answer?.[Symbol.iterator] && typeof answer !== "string" ? [...answer] : answer;
  });
  console.log(JSON.stringify(answers));
});
"""


def answers(module: str, calls: list[list]) -> list:
    """What functions of a module of the page answer."""
    asked = json.dumps({"module": str(FRONTEND / "src" / module), "calls": calls})
    done = subprocess.run(["node", "-e", RUN], input=asked, cwd=FRONTEND, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    return json.loads(done.stdout)


@pytest.mark.parametrize(
    ("typed", "unit", "value"),
    [
        ("0.4", "m", 0.4),
        ("40 cm", "m", 0.4),
        ("2 * 0.3 m", "m", 0.6),
        ("1,5", "m", 1.5),
        ("-(2 + 1) / 4", "", -0.75),
        ("2 - -1", "", 3.0),
        ("8 / 2 / 2", "", 2.0),
        ("1 + 2 * 3", "", 7.0),
        ("1e-3 km", "m", 1.0),
        ("3 mm", "m", 0.003),
        (".5", "", 0.5),
        ("pi", "", None),
        ("1 rad", "°", math.degrees(1)),
        ("2 x", "×", 2.0),
        ("50 %", "%", 50.0),
        ("3 furlongs", "m", None),
        ("2 °", "m", None),
        ("1 / 0", "", None),
        ("(1", "", None),
        ("1 2", "", None),
        ("", "", None),
        ("1 +", "", None),
        ("constructor", "m", None),
        ("+".join(["1"] * 60), "", None),
    ],
)
def test_numbers_are_read_as_arithmetic_with_a_unit(typed, unit, value):
    (read,) = answers("document/arithmetic.ts", [["readNumber", typed, unit]])
    assert read == (None if value is None else pytest.approx(value))


def test_numbers_are_told_short_enough_to_read_and_long_enough_to_tell():
    shown = {
        0: "0.00",
        1.005: "1.00",
        12345.6: "12346",
        123.44: "123.4",
        0.0123456: "0.0123",
        0.00001234: "0.000012",
        -0.001: "-0.001",
    }
    assert answers("document/arithmetic.ts", [["shown", value] for value in shown]) == list(shown.values())


FRAMES = {"first": 3, "last": 7}


STEPS = [
    {"range": given, "frame": frame, "direction": direction, "loop": loop}
    for given in (None, {"first": 5, "last": 6})
    for frame in range(3, 8)
    for direction in (1, -1)
    for loop in ("loop", "there and back", "once")
]


@pytest.fixture(scope="module")
def stepped() -> dict[str, dict | None]:
    """What follows on each frame, however it is played; asked in one go."""
    told = answers("view/playing.ts", [["nextFrame", step, FRAMES] for step in STEPS])
    return dict(zip(map(json.dumps, STEPS), told, strict=True))


def played(
    stepped: dict, loop: str, direction: int, frame: int, given: dict | None = None, most: int = 12
) -> list[int]:
    """The frames that are shown one after the other."""
    seen: list[int] = []
    while len(seen) < most:
        step = stepped[json.dumps({"range": given, "frame": frame, "direction": direction, "loop": loop})]
        if step is None:
            break
        frame, direction = step["frame"], step["direction"]
        seen.append(frame)
    return seen


def test_frames_are_played_over_and_over_there_and_back_or_once(stepped):
    assert played(stepped, "loop", 1, 6, most=7) == [7, 3, 4, 5, 6, 7, 3]
    assert played(stepped, "loop", -1, 4, most=4) == [3, 7, 6, 5]
    assert played(stepped, "there and back", 1, 6, most=7) == [7, 6, 5, 4, 3, 4, 5]
    assert played(stepped, "once", 1, 5) == [6, 7]
    assert played(stepped, "once", -1, 5) == [4, 3]
    assert played(stepped, "loop", 1, 5, {"first": 5, "last": 6}, most=4) == [6, 5, 6, 5]


def test_frames_are_made_ready_outward_from_the_playhead_and_onward_while_playing():
    still = {"range": None, "frame": 5, "direction": 1, "loop": "loop", "playing": False}
    calls = [["aroundOrder", still | change, FRAMES] for change in ({}, {"frame": 3}, {"playing": True})]
    assert answers("view/playing.ts", calls) == [[6, 4, 7, 3], [4, 5, 6, 7], [5, 6, 7, 3, 4]]


def test_the_frames_about_one_are_a_second_to_either_side_within_the_shot():
    calls = [["aroundHere", 50, 24, {"first": 0, "last": 60}], ["aroundHere", 5, 0.2, {"first": 0, "last": 60}]]
    assert answers("view/playing.ts", calls) == [{"first": 26, "last": 60}, {"first": 4, "last": 6}]
