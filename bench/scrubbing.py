"""Frames over HTTP: what is lost on the way, against the same bytes sent as a static file."""

from __future__ import annotations

import re
import time
from concurrent.futures import ThreadPoolExecutor
from itertools import count

from bench.measuring import Bench, Caller, manifest_of, running, side_by_side
from windsock.commands.machine import FRONTEND
from windsock.commands.stack import Stack

SHOT = "/api/shots/fog-over-the-light/frame"
STATIC = FRONTEND / "dist" / "assets" / "bench.bin"


def scrub_cold() -> Bench:
    with running() as (stack, caller):
        return _against_static(stack, caller, "scrub-cold", cold=True)


def scrub_warm() -> Bench:
    with running() as (stack, caller):
        return _against_static(stack, caller, "scrub-warm", cold=False)


def _against_static(stack: Stack, caller: Caller, name: str, cold: bool) -> Bench:
    frames = count(31)
    first, _ = caller.ask("POST", SHOT, {"revision": 0, "frame": 58})
    still = [array["hash"] for item in manifest_of(first)["items"][1:] for array in item["arrays"].values()]
    moving, _ = caller.ask("POST", SHOT, {"revision": 0, "frame": 58.5, "held": still})
    STATIC.write_bytes(moving)

    def ours() -> float:
        wish = {"revision": 0, "frame": next(frames) if cold else 58.5, "held": still}
        started = time.perf_counter()
        _, timing = caller.ask("POST", SHOT, wish)
        spent = time.perf_counter() - started
        core = re.search(r"dur=([\d.]+)", timing)
        return spent - (float(core.group(1)) / 1000 if cold and core else 0.0)

    def reference() -> float:
        started = time.perf_counter()
        caller.ask("GET", f"/assets/{STATIC.name}")
        return time.perf_counter() - started

    try:
        mine, static = side_by_side(ours, reference, rounds=31)
    finally:
        STATIC.unlink()
    what = "a frame not ready, less the core's own time," if cold else "a frame that is ready"
    return Bench(
        name, mine, static, 2, f"{what} of {len(moving) / 1e6:.1f} MB over HTTP, against a static file as large"
    )


def play_first() -> Bench:
    """The first pass through the demo in draft, two requests at a time as the page asks, against its own duration."""
    with running() as (stack, caller):
        lanes = [caller, Caller(stack)]
        held: list[str] = []
        wanted = iter(range(120))

        def lane(one: Caller) -> None:
            for frame in wanted:
                wish = {"revision": 0, "frame": frame, "held": held[-1500:], "ahead": one is not caller}
                content, _ = one.ask("POST", SHOT, wish)
                held.extend(name for name, _ in manifest_of(content)["sent"])

        started = time.perf_counter()
        with ThreadPoolExecutor(2) as pool:
            list(pool.map(lane, lanes))
        spent = time.perf_counter() - started
    return Bench("play-first", spent, 120 / 24, 1, "120 frames of demo 01 never asked for before, against its 5 s")
