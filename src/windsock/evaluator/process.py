"""The evaluator process: listens on a socket in the data folder and answers one request after another."""

from __future__ import annotations

import argparse
import gc
import logging
import os
import resource
import socket
import threading
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from windsock.evaluator.answers import Answer
from windsock.evaluator.desk import BLOCK_BYTES, CACHE_BYTES, MEGABYTE, Desk
from windsock.evaluator.warming import warm_up
from windsock.processes.standby import wait_for_turn
from windsock.protocol.replies import Reply
from windsock.protocol.requests import REQUEST
from windsock.protocol.wire import REQUEST_LIMIT, has_gone, prepared, receive, send, wait_for_message

log = logging.getLogger("windsock.evaluator")
MEMORY_LIMIT = 8 * 1024 * MEGABYTE


def main() -> None:
    """`python -m windsock.evaluator.process SOCKET CACHE COUNT`: imported files and histories are in folders of the cache; the
    memory is shared out among COUNT of them."""
    arguments = argparse.ArgumentParser()
    arguments.add_argument("socket", type=Path)
    arguments.add_argument("cache", type=Path)
    arguments.add_argument("count", type=int)
    given = arguments.parse_args()
    logging.basicConfig(level=logging.INFO, format="evaluator: %(message)s")
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_LIMIT, MEMORY_LIMIT))
    warm_up()
    # What is there now stays: to look through it again for garbage would stop every frame for a tenth of a second.
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 50)
    wait_for_turn()
    results, blocks = shared_out(given.count)
    serve(given.socket, Desk(given.cache / "assets", given.cache / "history", results, blocks))


def shared_out(count: int) -> tuple[int, int]:
    """The bytes of results and of blocks that one of so many evaluators keeps: a quarter of a small machine's memory for all
    together."""
    machine = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
    share = min(1.0, machine / 4 / (CACHE_BYTES + BLOCK_BYTES)) / count
    return int(CACHE_BYTES * share), int(BLOCK_BYTES * share)


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
            try:
                wait_for_message(connection)
                asked, _ = receive(connection, REQUEST_LIMIT)
            except (EOFError, OSError):
                return
            except ValueError as fault:
                # What follows cannot be read as a message: the connection ends here.
                log.warning("refused %s", fault)
                with suppress(OSError):
                    send(connection, Reply(refused=TOO_LARGE).model_dump_json().encode())
                return
            reply, content = answered(asked, desk, lambda: has_gone(connection))
            try:
                send(connection, reply.model_dump_json().encode(), content)
            except OSError:
                return


TOO_LARGE = "This asks for more at once than the evaluator takes. The shot is unharmed. Load the page again."


def answered(asked: bytes, desk: Desk, gone: Callable[[], bool]) -> Answer:
    """The reply to a message, whatever happens. gone: whether the one who asked has gone meanwhile."""
    try:
        request = REQUEST.validate_json(asked)
    except ValueError:
        log.exception("a request that is none")
        return Reply(refused="The evaluator was asked in words it does not know. The shot is unharmed."), ()
    try:
        return desk.answer(request, gone)
    except OSError as fault:
        log.exception("a file")
        return Reply(
            refused=f"The evaluator cannot use its folder: {fault.strerror or fault}. The shot is unharmed. Make room on the "
            "disk, and look at the rights of the data folder."
        ), ()
    except Exception:
        log.exception("a request failed")
        return Reply(
            refused="The evaluator could not work this out. The shot is unharmed. Undo the last change, or try another value."
        ), ()


if __name__ == "__main__":
    main()
