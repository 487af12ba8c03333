"""`./windsock start`"""

from __future__ import annotations

import argparse
import fcntl
import signal
import socket
import threading
import time
from pathlib import Path
from typing import TextIO

from windsock.commands.cluster import data_folder
from windsock.commands.machine import (
    HOME,
    compiling_kernels,
    ensure_frontend,
    ensure_picture_packages,
    ensure_postgres,
)
from windsock.commands.say import Trouble, say
from windsock.commands.stack import Stack


def start(words: list[str]) -> int:
    """Install what is missing, start everything, and keep it running until Ctrl-C."""
    given = argparse.ArgumentParser(prog="./windsock start")
    given.add_argument("--port", type=int, help="instead of the first free one from 8420")
    given.add_argument("--data", type=Path, default=HOME / "data", help="where everything is kept")
    given.add_argument(
        "--evaluators", type=int, help="evaluator processes, from 1 to 16; one for each core, up to 4, if left out"
    )
    asked = given.parse_args(words)
    if asked.evaluators is not None and not 1 <= asked.evaluators <= 16:
        raise Trouble("There may be 1 to 16 evaluators. Nothing was started.")
    if asked.port is not None and not 1 <= asked.port <= 65535:
        raise Trouble("A port lies between 1 and 65535. Nothing was started.")
    with compiling_kernels():
        programs = ensure_postgres()
        ensure_frontend()
    data = data_folder(asked.data.resolve())
    with _opened(data / "running") as running:
        try:
            fcntl.flock(running, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            running.seek(0)
            raise Trouble(f"Wind Sock is already running: {running.read().strip() or 'it is just starting'}") from None
        if asked.port is not None:
            refuse_held_port(asked.port)
        stack = Stack(programs, data, asked.port, asked.evaluators)
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
            threading.Thread(target=_add_pictures, daemon=True).start()
            while True:
                time.sleep(0.1)
                stack.watch()
        except KeyboardInterrupt:
            say("\nStopping ...")
        finally:
            running.truncate(0)
            stack.stop()
    say("Stopped. Everything is kept.")
    return 0


def _add_pictures() -> None:
    """Install what renders pictures beside the running application; without it all else works."""
    try:
        ensure_picture_packages()
    except Trouble as trouble:
        say(f"Finished pictures and films cannot be made yet: {trouble} All else works.")


def refuse_held_port(port: int) -> None:
    """Raise Trouble where somebody listens on a port already."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as fault:
            raise Trouble(
                f"Port {port} is taken or not to be had ({fault.strerror}); perhaps another Wind Sock is there. Nothing was "
                "started. Name another with --port, or leave it out."
            ) from None


def _opened(path: Path) -> TextIO:
    try:
        return path.open("a+")
    except OSError as fault:
        raise Trouble(
            f"{path.parent} cannot be written ({fault.strerror}). Nothing was started. Name another folder with --data."
        ) from None


def _end(*_: object) -> None:
    raise KeyboardInterrupt
