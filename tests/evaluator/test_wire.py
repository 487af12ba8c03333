"""Messages over a local socket arrive as they were sent, in any number of parts, and no larger than is allowed."""

from __future__ import annotations

import os
import socket
import threading

import pytest

from windsock.core.refusals import TooMuch
from windsock.evaluator.process import _converse
from windsock.protocol import wire
from windsock.protocol.client import EvaluatorClient
from windsock.protocol.replies import Reply
from windsock.protocol.requests import FrameRequest
from windsock.protocol.wire import REQUEST_LIMIT, has_gone, prepared, receive, send


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


class Nothing:
    """A desk that answers with nothing."""

    def answer(self, request: FrameRequest, gone: object) -> tuple[Reply, tuple]:
        del request, gone
        return Reply(data=1), ()


def conversation(monkeypatch, patience: float = 0.5) -> tuple[socket.socket, threading.Thread]:
    monkeypatch.setattr(wire, "PATIENCE", patience)
    ours, theirs = (prepared(one) for one in socket.socketpair())
    thread = threading.Thread(target=_converse, args=(theirs, Nothing()), daemon=True)
    thread.start()
    return ours, thread


def test_a_message_over_the_limit_is_refused_and_the_connection_ends(monkeypatch):
    ours, thread = conversation(monkeypatch)
    ours.sendall((REQUEST_LIMIT + 1).to_bytes(8, "little") + (0).to_bytes(8, "little"))
    told, _ = receive(ours, 2**20)
    assert "more at once" in Reply.model_validate_json(told).refused
    thread.join(10)
    assert not thread.is_alive()
    assert has_gone(ours)


def test_a_message_that_stops_in_its_middle_holds_nobody_for_ever(monkeypatch):
    ours, thread = conversation(monkeypatch)
    ours.sendall((100).to_bytes(8, "little") + (0).to_bytes(8, "little") + b"{")
    thread.join(10)
    assert not thread.is_alive()


def test_one_who_never_reads_holds_nobody_for_ever(monkeypatch):
    """A reply larger than the system holds for a reader who is gone in all but name."""
    monkeypatch.setattr(wire, "PATIENCE", 0.5)
    ours, theirs = (prepared(one) for one in socket.socketpair())
    with pytest.raises(TimeoutError):
        send(theirs, b"head", [bytes(64 * 2**20)])
    ours.close()


def test_a_question_over_the_limit_is_refused_before_it_is_sent(tmp_path):
    client = EvaluatorClient(tmp_path / "nowhere", patience=0)
    with pytest.raises(TooMuch, match="at once"):
        client.ask(FrameRequest(document="x" * (REQUEST_LIMIT + 1)))


def test_a_connection_at_rest_is_not_taken_for_gone(monkeypatch):
    ours, _ = conversation(monkeypatch)
    assert not has_gone(ours)
    for _ in range(2):
        send(ours, FrameRequest().model_dump_json().encode())
        told, _ = receive(ours, 2**20)
        assert Reply.model_validate_json(told).data == 1
    ours.close()
