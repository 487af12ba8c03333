"""What happens on this server, kept at hand for all who ask: work under way, jobs, edits, and what is away.

Two threads look for as long as anybody asks: one at the evaluator, one at the database. So a browser more costs nothing.
"""

from __future__ import annotations

import json
import logging
import time
from collections.abc import Callable
from pathlib import Path
from threading import Condition, Thread

from pydantic import JsonValue
from sqlalchemy import select
from sqlalchemy.exc import SQLAlchemyError

from windsock.core.refusals import Refusal
from windsock.protocol.evaluators import Evaluators
from windsock.protocol.requests import ActivityRequest
from windsock.store import jobs as rows
from windsock.store.database import Database
from windsock.store.models import Edit, Job, ShotRow

log = logging.getLogger("windsock.web")

PAUSE = 0.4
"""Seconds between two looks at the database."""

UNWATCHED = 15.0
"""Seconds without a question after which nobody looks any more."""


class Happenings:
    """Knows what happens, by looking while it is asked for."""

    def __init__(self, database: Database, evaluators: Evaluators, state: Path) -> None:
        """state: the file in which the start command says which processes are away."""
        self._database = database
        self._evaluators = evaluators
        self._state = state
        self._work: dict[str, JsonValue] = {}
        self._jobs: list[Job] = []
        self._edits: list[tuple[str, int, str, str]] = []
        self._away: list[str] = []
        self._asked = 0.0
        self._running: list[Callable[[], None]] = []
        self._looked = False
        self._change = Condition()

    def work(self, browser: str) -> JsonValue:
        """What is worked on for a browser, and how far it is."""
        return self._work.get(browser, [])

    def jobs(self) -> list[Job]:
        """The newest jobs."""
        return self._jobs

    def edits(self) -> list[tuple[str, int, str, str]]:
        """The shots that were edited last: id, revision, what made it, and the browser it came from."""
        return self._edits

    def away(self) -> list[str]:
        """What does not run just now, in words."""
        return self._away

    def look(self) -> None:
        """Somebody asks: what is known is at most a moment old from now on."""
        with self._change:
            self._asked = time.monotonic()
            if self._watch_database not in self._running:
                self._looked = False
            # Each by itself: one may still wait for its answer when the other has long gone home.
            for watch in (self._watch_evaluator, self._watch_database):
                if watch not in self._running:
                    self._running.append(watch)
                    Thread(target=self._watched, args=(watch,), daemon=True).start()
            self._change.wait_for(lambda: self._looked, 2.0)

    def _watched(self, watch: Callable[[], None]) -> None:
        while True:
            with self._change:
                if time.monotonic() - self._asked >= UNWATCHED:
                    self._running.remove(watch)
                    return
            try:
                watch()
            except Exception:
                log.exception("looking at what happens")
                time.sleep(PAUSE)

    def _watch_evaluator(self) -> None:
        try:
            reply, _ = self._evaluators.ask(ActivityRequest())
            data = reply.data
            self._work = data if isinstance(data, dict) else {}
        except Refusal:
            self._work = {}
            time.sleep(PAUSE)

    def _watch_database(self) -> None:
        recent = select(ShotRow.id, ShotRow.revision).order_by(ShotRow.changed.desc()).limit(12).subquery()
        query = select(recent.c.id, recent.c.revision, Edit.label, Edit.browser).join(
            Edit, (Edit.shot_id == recent.c.id) & (Edit.revision == recent.c.revision)
        )
        try:
            with self._database.session() as session:
                self._jobs = rows.listed(session, 20)
                self._edits = sorted(
                    (shot, revision, label, by) for shot, revision, label, by in session.execute(query)
                )
        except SQLAlchemyError as fault:
            log.warning("looking at the database: %s", type(fault).__name__)
        try:
            names = json.loads(self._state.read_text())
            self._away = [str(one) for one in names] if isinstance(names, list) else []
        except (OSError, ValueError):
            self._away = []
        with self._change:
            self._looked = True
            self._change.notify_all()
        time.sleep(PAUSE)
