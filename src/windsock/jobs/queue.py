"""The queue that lives in the database (procrastinate), and its one task. Our own row of a job is the truth."""

from __future__ import annotations

import logging
from collections.abc import Callable
from contextlib import suppress

import procrastinate
import psycopg
from procrastinate.exceptions import AlreadyEnqueued, ConnectorException

log = logging.getLogger("windsock.jobs")

TASK = "windsock.job"


def plain_address(address: str) -> str:
    """A database address as the driver itself takes it."""
    return address.replace("postgresql+psycopg", "postgresql")


def prepare_queue(address: str) -> None:
    """Make the queue's tables where they are not there yet."""
    with psycopg.connect(plain_address(address)) as connection:
        there = connection.execute("SELECT to_regclass('procrastinate_jobs')").fetchone()
    if there is not None and there[0] is None:
        app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=plain_address(address)))
        with app.open():
            app.schema_manager.apply_schema()


class Queue:
    """Puts jobs into the queue. A job that already waits there is not put in twice."""

    def __init__(self, address: str) -> None:
        self._address = plain_address(address)

    def defer(self, *jobs: str) -> None:
        """Have jobs done, by their ids. Where the queue does not answer, the worker's sweep puts them in later."""
        try:
            self._defer(jobs)
        except (ConnectorException, psycopg.Error) as fault:
            log.warning("the queue does not answer: %s", type(fault).__name__)

    def _defer(self, jobs: tuple[str, ...]) -> None:
        app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=self._address))
        with app.open():
            for job in jobs:
                with suppress(AlreadyEnqueued):
                    app.configure_task(TASK, queueing_lock=job).defer(job=job)


def worker_app(address: str, work: Callable[[str], None]) -> procrastinate.App:
    """The application that a worker runs: it does a job by its id."""
    app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=plain_address(address)))

    @app.task(name=TASK)
    def do(job: str) -> None:  # pyright: ignore[reportUnusedFunction]
        work(job)

    return app
