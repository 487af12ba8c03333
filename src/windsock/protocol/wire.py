"""Messages over a local socket: lengths first, then the bytes, received in one piece."""

from __future__ import annotations

import select
import socket
from collections.abc import Sequence

Buffer = bytes | bytearray | memoryview
BUFFER = 4 * 2**20
"""Bytes that the system may hold of a message, so that most are sent at once."""

PARTS_AT_ONCE = 512
REQUEST_LIMIT = 32 * 2**20
"""Bytes of a question: a document, and a few thousand names of blocks."""

PATIENCE = 20.0
"""Seconds for which either side waits for the next bytes of a message, or for room to send some."""


def prepared(connection: socket.socket) -> socket.socket:
    """A connection with room for a message of the usual size, that does not wait for ever within one."""
    connection.settimeout(PATIENCE)
    connection.setsockopt(socket.SOL_SOCKET, socket.SO_SNDBUF, BUFFER)
    connection.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, BUFFER)
    return connection


def send(connection: socket.socket, head: bytes, parts: Sequence[Buffer] = ()) -> None:
    """Send a head and the parts of a body, none of them copied together."""
    views = [memoryview(part).cast("B") for part in parts if len(part)]
    body = sum(len(view) for view in views)
    waiting = [memoryview(len(head).to_bytes(8, "little") + body.to_bytes(8, "little") + head), *views]
    while waiting:
        sent = connection.sendmsg(waiting[:PARTS_AT_ONCE])
        while waiting and sent >= len(waiting[0]):
            sent -= len(waiting[0])
            waiting.pop(0)
        if sent:
            waiting[0] = waiting[0][sent:]


def wait_for_message(connection: socket.socket, seconds: float | None = None) -> bool:
    """Whether a message (or the end) comes within so many seconds; without a number it is waited for."""
    return bool(select.select([connection], [], [], seconds)[0])


def has_gone(connection: socket.socket) -> bool:
    """Whether the other side has closed the connection, as far as can be told while nothing is to be read from it."""
    try:
        return wait_for_message(connection, 0) and connection.recv(1, socket.MSG_PEEK) == b""
    except (OSError, ValueError):
        return True


def receive(connection: socket.socket, limit: int) -> tuple[bytes, bytes]:
    """A head and a body. Raises EOFError where the other side has gone, TimeoutError where it stops within a message,
    ValueError for more bytes than the limit."""
    lengths = _exactly(connection, 16)
    head, body = int.from_bytes(lengths[:8], "little"), int.from_bytes(lengths[8:], "little")
    if head + body > limit:
        raise ValueError(f"a message of {head + body:,} bytes; the limit is {limit:,}")
    return _exactly(connection, head), _exactly(connection, body)


def _exactly(connection: socket.socket, count: int) -> bytes:
    content = connection.recv(count, socket.MSG_WAITALL) if count else b""
    while len(content) < count:
        more = connection.recv(count - len(content), socket.MSG_WAITALL)
        if not more:
            raise EOFError("the other side has gone")
        content += more
    return content
