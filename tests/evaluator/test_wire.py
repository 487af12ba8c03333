"""Messages over a local socket arrive as they were sent, in any number of parts, and no larger than is allowed."""

from __future__ import annotations

import os
import socket
import threading

import pytest

from windsock.evaluator.wire import prepared, receive, send


@pytest.fixture
def pair():
    one, other = socket.socketpair()
    yield prepared(one), prepared(other)
    one.close()
    other.close()


@pytest.mark.parametrize("sizes", [[], [0], [5], [70_000, 0, 1], [9_000_000], [7] * 2000])
def test_what_is_sent_arrives(pair, sizes):
    parts = [os.urandom(size) for size in sizes]
    thread = threading.Thread(target=send, args=(pair[0], b"head", [memoryview(part) for part in parts]))
    thread.start()
    assert receive(pair[1], 2**26) == (b"head", b"".join(parts))
    thread.join()


def test_too_much_and_an_end_in_the_middle_are_said(pair):
    send(pair[0], b"x" * 100)
    with pytest.raises(ValueError, match="the limit is 50"):
        receive(pair[1], 50)
    one, other = socket.socketpair()
    one.sendall((400).to_bytes(8, "little") + bytes(8) + b"half")
    one.close()
    with pytest.raises(EOFError):
        receive(other, 1000)
    other.close()
