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
