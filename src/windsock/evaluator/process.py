"""The evaluator process: listens on a socket in the data folder and answers one request after another."""

from __future__ import annotations

import argparse
import logging
import os
import resource
import threading
from multiprocessing.connection import Connection, Listener
from pathlib import Path

from pydantic import ValidationError

from windsock.evaluator.warming import warm_up
from windsock.evaluator.work import MEGABYTE, Desk, Reply, Request

log = logging.getLogger("windsock.evaluator")
MEMORY_LIMIT = 8 * 1024 * MEGABYTE


def main() -> None:
    """`python -m windsock.evaluator.process SOCKET CACHE`: imported files and histories are in folders of the cache."""
    arguments = argparse.ArgumentParser()
    arguments.add_argument("socket", type=Path)
    arguments.add_argument("cache", type=Path)
    given = arguments.parse_args()
    logging.basicConfig(level=logging.INFO, format="evaluator: %(message)s")
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_LIMIT, MEMORY_LIMIT))
    warm_up()
    serve(given.socket, Desk(given.cache / "assets", given.cache / "history"))


def serve(socket: Path, desk: Desk) -> None:
    """Answer on the socket until the process is stopped; each connection has a thread of its own."""
    socket.unlink(missing_ok=True)
    before = os.umask(0o177)
    listener = Listener(str(socket), family="AF_UNIX", backlog=64)
    os.umask(before)
    log.info("ready")
    while True:
        threading.Thread(target=_converse, args=(listener.accept(), desk), daemon=True).start()


def _converse(connection: Connection, desk: Desk) -> None:
    with connection:
        while True:
            try:
                request = Request.model_validate_json(connection.recv_bytes(64 * MEGABYTE))
                reply, content = desk.answer(request)
            except (EOFError, OSError):
                return
            except ValidationError:
                reply, content = Reply(refused="The evaluator was asked in words it does not know."), b""
            except Exception:
                log.exception("a request failed")
                reply, content = (
                    Reply(
                        refused="The evaluator could not work this out. The shot is unharmed. Undo the last change, or try another value."
                    ),
                    b"",
                )
            try:
                connection.send_bytes(reply.model_dump_json().encode())
                if reply.bytes_follow:
                    connection.send_bytes(content)
            except OSError:
                return


if __name__ == "__main__":
    main()
