"""`./windsock start`"""

from __future__ import annotations

import argparse
import fcntl
import signal
import time
from pathlib import Path

from windsock.commands.cluster import data_folder
from windsock.commands.machine import HOME, ensure_frontend, ensure_postgres
from windsock.commands.say import Trouble, say
from windsock.commands.stack import Stack


def start(words: list[str]) -> int:
    """Install what is missing, start everything, and keep it running until Ctrl-C."""
    given = argparse.ArgumentParser(prog="./windsock start")
    given.add_argument("--port", type=int, help="instead of the first free one from 8420")
    given.add_argument("--data", type=Path, default=HOME / "data", help="where everything is kept")
    asked = given.parse_args(words)
    if asked.port is not None and not 1 <= asked.port <= 65535:
        raise Trouble("A port lies between 1 and 65535. Nothing was started.")
    programs = ensure_postgres()
    ensure_frontend()
    data = data_folder(asked.data.resolve())
    with (data / "running").open("a+") as running:
        try:
            fcntl.flock(running, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            running.seek(0)
            raise Trouble(f"Wind Sock is already running: {running.read().strip() or 'it is just starting'}") from None
        stack = Stack(programs, data, asked.port)
        signal.signal(signal.SIGTERM, _end)
        signal.signal(signal.SIGHUP, _end)
        try:
            say("Starting ...")
            stack.start()
            running.truncate(0)
            running.write(stack.address)
            running.flush()
            say(
                f"\n  Wind Sock is at {stack.address}\n  Open it, and press “Open the demo”. Ctrl-C here stops everything.\n"
            )
            while True:
                time.sleep(0.5)
                stack.watch()
        except KeyboardInterrupt:
            say("\nStopping ...")
        finally:
            running.truncate(0)
            stack.stop()
    say("Stopped. Everything is kept.")
    return 0


def _end(*_: object) -> None:
    raise KeyboardInterrupt
