"""One person beside others: what a greedy one costs them."""

from __future__ import annotations

import http.client
import json
import time
from itertools import count
from statistics import median
from threading import Event, Thread

from bench.measuring import Bench, Caller, running
from windsock.commands.stack import Stack
from windsock.demo.fog_over_the_light import fog_over_the_light
from windsock.demo.loading import PROJECT

SHOT = "/api/shots/fog-over-the-light/frame"
GREEDY = 40


def fairness() -> Bench:
    """A ready frame while another browser asks for forty new ones at once, again and again, against the same alone."""
    with running() as (stack, caller):
        alone = _ready_frames(caller)
        ended, numbers = Event(), count(1)
        greedy = [Thread(target=_greedy, args=(stack, ended, numbers), daemon=True) for _ in range(GREEDY)]
        for thread in greedy:
            thread.start()
        time.sleep(2)
        beside = _ready_frames(caller)
        ended.set()
        for thread in greedy:
            thread.join()
    meaning = "a ready frame beside a browser with forty requests at once, against the same alone"
    return Bench("fairness", beside, alone, 2, meaning)


def _ready_frames(caller: Caller) -> float:
    """The median seconds of a frame that is ready, asked for as a person scrubs."""
    wish = {"revision": 0, "frame": 58}
    caller.ask("POST", SHOT, wish)
    spent = []
    for _ in range(60):
        started = time.perf_counter()
        caller.ask("POST", SHOT, wish)
        spent.append(time.perf_counter() - started)
        time.sleep(0.03)
    return median(spent)


def _greedy(stack: Stack, ended: Event, numbers: count) -> None:
    connection = http.client.HTTPConnection("127.0.0.1", stack.port, timeout=120)
    headers = {"X-Windsock-Browser": "greedygreedy", "Content-Type": "application/json"}
    while not ended.is_set():
        number = next(numbers)
        wish = {"revision": 0, "frame": 20 + (number * 0.377) % 80, "view": f"v{number % GREEDY}", "wish": number}
        connection.request("POST", SHOT, json.dumps(wish).encode(), headers)
        reply = connection.getresponse()
        reply.read()
        if reply.status == 429:
            time.sleep(float(reply.headers.get("Retry-After", 1)))


CLIENTS, MINUTE = 20, 30.0
"""People at once, and the seconds for which they work."""


def twenty() -> list[Bench]:
    """Twenty people on shots of their own, who scrub and edit: frames that are made, and a ready frame beside them."""
    with running() as (stack, caller):
        shots = [_copied(caller) for _ in range(CLIENTS)]
        own = [_frame_of(caller, shots[0], 0, 30 + 0.37 * place) for place in range(12)]
        alone = _ready_frames(caller)
        spent: list[float] = []
        ended = time.monotonic() + MINUTE
        people = [Thread(target=_at_work, args=(stack, shot, ended, spent), daemon=True) for shot in shots]
        for person in people:
            person.start()
        time.sleep(MINUTE / 3)
        beside = _ready_frames(caller)
        for person in people:
            person.join()
    late = sorted(spent)[int(len(spent) * 0.99)]
    return [
        Bench(
            "twenty",
            late,
            CLIENTS * median(own),
            1.0,
            f"p99 of {len(spent)} frames of twenty people, against 20 frames alone",
        ),
        Bench("twenty-ready", beside, alone, 2.0, "a ready frame beside twenty people, against the same alone"),
    ]


def _copied(caller: Caller) -> str:
    content, _ = caller.ask("POST", f"/api/projects/{PROJECT}/shots", {"document": fog_over_the_light()})
    return json.loads(content)["id"]


def _frame_of(caller: Caller, shot: str, revision: int, frame: float) -> float:
    started = time.perf_counter()
    caller.ask("POST", f"/api/shots/{shot}/frame", {"revision": revision, "frame": frame, "view": "current"})
    return time.perf_counter() - started


def _at_work(stack: Stack, shot: str, ended: float, spent: list[float]) -> None:
    caller = Caller(stack, browser=f"b{shot}")
    revision = 0
    while time.monotonic() < ended:
        for step in range(12):
            spent.append(_frame_of(caller, shot, revision, 20 + (revision * 13 + step * 2.3) % 80))
            time.sleep(0.1)
        level = 0.3 + (revision * 0.37) % 0.4
        patch = [{"op": "replace", "path": "/fields/fog-front/level", "value": level}]
        wish = {"key": f"{shot}-{revision}", "label": "Level", "patch": patch}
        content, _ = caller.ask("PATCH", f"/api/shots/{shot}", wish, **{"If-Match": f'"{revision}"'})
        revision = json.loads(content)["revision"]
