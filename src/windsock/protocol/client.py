"""How other processes ask the evaluator."""

from __future__ import annotations

import select
import socket
import time
from collections.abc import Callable
from pathlib import Path
from queue import Empty, SimpleQueue

from windsock.core.refusals import Cancelled, MissingAsset, Refusal, TooMuch
from windsock.protocol.replies import LongWork, MissingDocument, Reply
from windsock.protocol.requests import AnyRequest
from windsock.protocol.wire import REQUEST_LIMIT, prepared, receive, send, wait_for_message

REPLY_LIMIT = 2 * 2**30
LOOK = 0.3
"""Seconds between two looks whether the one who asked is still there."""


class EvaluatorAway(Refusal):
    """The evaluator process does not answer."""

    def __init__(self) -> None:
        super().__init__(
            "The evaluator is being started again. The shot is unharmed. The picture comes back by itself in a moment."
        )


class NobodyListens(EvaluatorAway):
    """It does not even take the question."""


class EvaluatorClient:
    """Asks the evaluator over its socket, from any thread; connections are kept and used again."""

    def __init__(self, path: Path, patience: float = 2.0) -> None:
        """patience: seconds for which a refused connection is tried again."""
        self._path = str(path)
        self._patience = patience
        self._idle: SimpleQueue[socket.socket] = SimpleQueue()

    def ask(self, request: AnyRequest, gone: Callable[[], bool] | None = None) -> tuple[Reply, bytes]:
        """The reply and its bytes. gone: whether the one who asked has gone meanwhile; then the work is given up.

        Raises Refusal, MissingAsset, MissingDocument, LongWork, Cancelled, EvaluatorAway.
        """
        asked = request.model_dump_json().encode()
        if len(asked) > REQUEST_LIMIT:
            raise TooMuch(
                f"This asks with {len(asked) / 2**20:.0f} MB at once; the limit is {REQUEST_LIMIT // 2**20} MB. The shot is "
                "unharmed. Load the page again."
            )
        connection = self._connection()
        try:
            send(connection, asked)
            while not wait_for_message(connection, LOOK):
                if gone is not None and gone():
                    connection.close()
                    raise Cancelled
            text, content = receive(connection, REPLY_LIMIT)
        except (EOFError, OSError, ValueError):
            connection.close()
            raise EvaluatorAway from None
        self._idle.put(connection)
        reply = Reply.model_validate_json(text)
        if reply.cancelled:
            raise Cancelled
        if reply.long:
            raise LongWork(reply.long)
        if reply.missing_document:
            raise MissingDocument
        if reply.missing_asset:
            raise MissingAsset(reply.missing_asset)
        if reply.refused:
            raise (TooMuch if reply.too_much else Refusal)(reply.refused)
        return reply, content

    def _connection(self) -> socket.socket:
        while True:
            try:
                idle = self._idle.get_nowait()
            except Empty:
                break
            # Nothing is to be read from a connection at rest but that the other side has gone.
            if not select.select([idle], [], [], 0)[0]:
                return idle
            idle.close()
        deadline = time.monotonic() + self._patience
        while True:
            connection = prepared(socket.socket(socket.AF_UNIX, socket.SOCK_STREAM))
            try:
                connection.connect(self._path)
                return connection
            except OSError:
                connection.close()
                if time.monotonic() > deadline:
                    raise NobodyListens from None
                time.sleep(0.1)
