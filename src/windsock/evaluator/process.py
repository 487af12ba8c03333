"""The evaluator process: listens on a socket in the data folder and answers one request after another."""

from __future__ import annotations

import argparse
import gc
import logging
import os
import resource
import socket
import threading
from pathlib import Path

from windsock.evaluator.warming import warm_up
from windsock.evaluator.wire import prepared, receive, send
from windsock.evaluator.work import MEGABYTE, Content, Desk, Reply, Request

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
    # What is there now stays: to look through it again for garbage would stop every frame for a tenth of a second.
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 50)
    serve(given.socket, Desk(given.cache / "assets", given.cache / "history"))


def serve(path: Path, desk: Desk) -> None:
    """Answer on the socket until the process is stopped; each connection has a thread of its own."""
    path.unlink(missing_ok=True)
    listener = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
    before = os.umask(0o177)
    listener.bind(str(path))
    os.umask(before)
    listener.listen(64)
    log.info("ready")
    while True:
        connection, _ = listener.accept()
        threading.Thread(target=_converse, args=(prepared(connection), desk), daemon=True).start()


def _converse(connection: socket.socket, desk: Desk) -> None:
    with connection:
        while True:
            content: Content = ()
            try:
                asked, _ = receive(connection, 64 * MEGABYTE)
                reply, content = desk.answer(Request.model_validate_json(asked))
            except (EOFError, OSError):
                return
            except ValueError:
                reply = Reply(refused="The evaluator was asked in words it does not know.")
            except Exception:
                log.exception("a request failed")
                reply = Reply(
                    refused="The evaluator could not work this out. The shot is unharmed. Undo the last change, or try another value."
                )
            try:
                send(connection, reply.model_dump_json().encode(), content)
            except OSError:
                return


if __name__ == "__main__":
    main()
