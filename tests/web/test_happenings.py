"""What happens is told, however long one of those that are asked takes to answer."""

from __future__ import annotations

import json
import time
from pathlib import Path
from threading import Event

from sqlalchemy.exc import OperationalError

from windsock.core.refusals import Refusal
from windsock.web import happenings
from windsock.web.happenings import Happenings


class Slow:
    """Evaluators that do not answer until they may."""

    def __init__(self) -> None:
        self.may = Event()

    def ask(self, request: object):
        """Wait, then refuse."""
        del request
        self.may.wait(60)
        raise Refusal("nobody answers")


class Away:
    """A database that is away."""

    def session(self):
        """It is not there."""
        raise OperationalError("look", None, Exception("away"))


def told(here: Happenings, expected: list[str]) -> None:
    """Ask as a page does until it is told."""
    deadline = time.monotonic() + 20
    here.look()
    while here.away() != expected:
        assert time.monotonic() < deadline, here.away()
        here.look()
        time.sleep(0.02)


def test_a_slow_evaluator_does_not_keep_the_rest_from_being_told(tmp_path: Path, monkeypatch):
    monkeypatch.setattr(happenings, "UNWATCHED", 0.2)
    monkeypatch.setattr(happenings, "PAUSE", 0.05)
    state = tmp_path / "away.json"
    slow = Slow()
    here = Happenings(Away(), slow, state)  # pyright: ignore[reportArgumentType]
    told(here, [])
    # Nobody asks for a while: the look at the database ends, that at the evaluator still waits for its answer.
    time.sleep(1.0)
    state.write_text(json.dumps(["the database"]))
    told(here, ["the database"])
    slow.may.set()


def test_what_fails_unforeseen_is_looked_at_again(tmp_path: Path, monkeypatch):
    monkeypatch.setattr(happenings, "PAUSE", 0.05)
    state = tmp_path / "away.json"
    slow = Slow()
    slow.may.set()
    here = Happenings(Away(), slow, state)  # pyright: ignore[reportArgumentType]
    told(here, [])
    monkeypatch.setattr(here, "_state", None)
    time.sleep(0.3)
    monkeypatch.setattr(here, "_state", tmp_path / "another.json")
    (tmp_path / "another.json").write_text(json.dumps(["the jobs"]))
    told(here, ["the jobs"])
