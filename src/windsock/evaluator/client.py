"""How other processes ask the evaluator."""

from __future__ import annotations

import time
from multiprocessing.connection import Client, Connection
from pathlib import Path
from queue import Empty, SimpleQueue

from windsock.core.refusals import Cancelled, MissingAsset, Refusal, TooMuch
from windsock.evaluator.work import LongWork, MissingDocument, Reply, Request


class EvaluatorAway(Refusal):
    """The evaluator process does not answer."""

    def __init__(self) -> None:
        super().__init__(
            "The evaluator is being started again. The shot is unharmed. The picture comes back by itself in a moment."
        )


class EvaluatorClient:
    """Asks the evaluator over its socket, from any thread; connections are kept and used again."""

    def __init__(self, socket: Path, patience: float = 2.0) -> None:
        """patience: seconds for which a refused connection is tried again."""
        self._socket = str(socket)
        self._patience = patience
        self._idle: SimpleQueue[Connection] = SimpleQueue()

    def ask(self, request: Request) -> tuple[Reply, bytes]:
        """The reply and its bytes. Raises Refusal, MissingAsset, MissingDocument, Cancelled, EvaluatorAway."""
        connection = self._connection()
        try:
            connection.send_bytes(request.model_dump_json().encode())
            reply = Reply.model_validate_json(connection.recv_bytes())
            content = connection.recv_bytes() if reply.bytes_follow else b""
        except (EOFError, OSError):
            connection.close()
            raise EvaluatorAway from None
        self._idle.put(connection)
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

    def _connection(self) -> Connection:
        while True:
            try:
                idle = self._idle.get_nowait()
            except Empty:
                break
            if not idle.poll(0):
                return idle
            idle.close()
        deadline = time.monotonic() + self._patience
        while True:
            try:
                return Client(self._socket, family="AF_UNIX")
            except OSError:
                if time.monotonic() > deadline:
                    raise EvaluatorAway from None
                time.sleep(0.1)
