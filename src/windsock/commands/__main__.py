"""`./windsock COMMAND`: finds the command and runs it."""

from __future__ import annotations

import sys
from collections.abc import Callable

from windsock.commands.bench import bench
from windsock.commands.describe import describe
from windsock.commands.evaluate import evaluate
from windsock.commands.film import demo_films, film
from windsock.commands.picture import picture
from windsock.commands.say import Trouble, complain
from windsock.commands.start import start
from windsock.commands.test import test

COMMANDS: dict[str, tuple[Callable[[list[str]], int], str]] = {
    "start": (start, "start [--port N] [--data FOLDER]   install what is missing, start everything, say where to look"),
    "test": (test, "test [PYTEST ARGUMENTS]            install what tests need, run all checks and tests"),
    "bench": (bench, "bench [NAME ...] [--json FILE]       speed, as ratios measured side by side"),
    "describe": (
        describe,
        "describe                          write the published schema, API description and client anew",
    ),
    "evaluate": (
        evaluate,
        "evaluate SHOT.json --frame N [--detail draft|final] [--assets FOLDER] --out X.glb|X.ply\n"
        "                                              one frame of a shot, without web or database",
    ),
    "picture": (
        picture,
        "picture SHOT.json --frame N [--size WxH] [--samples N] --out X.png|X.exr\n"
        "                                              one finished frame, rendered, without web or database",
    ),
    "film": (
        film,
        "film SHOT.json [--first N] [--last N] [--size WxH] --out X.mp4|X.mov|X.webm|X.mkv\n"
        "                                              finished frames as a film, without web or database",
    ),
    "demo-films": (
        demo_films,
        "demo-films FOLDER [--seconds 5] [--size WxH] [--samples N]\n"
        "                                              a short film of each demo shot",
    ),
}


def main() -> int:
    """Run what the first word asks for."""
    name = sys.argv[1] if len(sys.argv) > 1 else "help"
    if name in ("help", "--help", "-h"):
        print("Wind Sock: effects that look simulated, at any frame, at once.\n")
        for _, says in COMMANDS.values():
            print(f"  ./windsock {says}")
        print("  ./windsock help                               this list")
        return 0
    if name not in COMMANDS:
        complain(f"There is no command “{name}”. ./windsock help lists all.")
        return 2
    try:
        return COMMANDS[name][0](sys.argv[2:])
    except Trouble as trouble:
        complain(str(trouble))
        return 1
    except KeyboardInterrupt:
        return 130


sys.exit(main())
