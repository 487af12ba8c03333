"""Frames over HTTP: what is lost on the way, against the same bytes sent as a static file."""

from __future__ import annotations

import re
import time
from concurrent.futures import ThreadPoolExecutor
from itertools import count
from statistics import median

from bench.evaluating import fresh
from bench.measuring import Bench, Caller, clocked, manifest_of, running, side_by_side
from windsock.commands.machine import FRONTEND
from windsock.commands.stack import Stack
from windsock.core.document.shot import Shot, parse_shot
from windsock.demo.loading import SHOTS

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


def play_first() -> list[Bench]:
    """The first pass through each demo shot, two requests at a time as the page asks, against its own duration."""
    ratios: dict[str, float] = {}
    with running() as (stack, caller):
        for name, make in SHOTS.items():
            shot = parse_shot(make())
            lasts = (shot.frames.last - shot.frames.first + 1) / shot.rate.fps
            ratios[name] = _first_pass(stack, caller, name, shot) / lasts
    worst = max(ratios, key=lambda name: ratios[name])
    listed = ", ".join(f"{name} {ratio:.2f}" for name, ratio in ratios.items())
    return [
        Bench(
            "play-first",
            median(ratios.values()),
            1,
            0.6,
            f"a first pass, against the shot's duration, median ({listed})",
        ),
        Bench("play-worst", ratios[worst], 1, 2.2, f"the same, the slowest: {worst}"),
    ]


def _first_pass(stack: Stack, caller: Caller, name: str, shot: Shot) -> float:
    lanes = [caller, Caller(stack)]
    held: list[str] = []
    wanted = iter(range(shot.frames.first, shot.frames.last + 1))

    def lane(one: Caller) -> None:
        for frame in wanted:
            ahead = one is not caller
            wish = {"revision": 0, "frame": frame, "held": held[-1500:], "ahead": ahead, "looked_at": []}
            content, _ = one.ask("POST", f"/api/shots/{name}/frame", wish)
            held.extend(name for name, _ in manifest_of(content)["sent"])

    started = time.perf_counter()
    with ThreadPoolExecutor(2) as pool:
        list(pool.map(lane, lanes))
    return time.perf_counter() - started


def open_cold() -> Bench:
    """The first frame of each demo shot after a start with empty caches, against the same evaluated by itself."""
    found: dict[str, tuple[float, float]] = {}
    with running() as (_, caller):
        for name, make in SHOTS.items():
            shot = parse_shot(make())
            started = time.perf_counter()
            caller.ask("POST", f"/api/shots/{name}/frame", {"revision": 0, "frame": shot.opening_frame})
            opened = time.perf_counter() - started
            alone = clocked(lambda shot=shot: fresh().frame(shot, shot.opening_frame))
            found[name] = opened, median(alone() for _ in range(3))
    worst = max(found, key=lambda name: found[name][0] / found[name][1])
    listed = ", ".join(f"{name} {opened:.2f} s" for name, (opened, _) in found.items())
    return Bench(
        "open-cold",
        *found[worst],
        1.5,
        f"a first frame after a start, against its evaluation alone: {worst} ({listed})",
    )
