"""Jobs as rows: one worker at a time, taken over only when it is silent, cancelled, resumed and put back into the queue."""

from __future__ import annotations

import secrets
from collections.abc import Iterator
from datetime import timedelta

import pytest
from sqlalchemy import update

from windsock.commands.stack import Stack
from windsock.core.refusals import Refusal
from windsock.store import jobs
from windsock.store.database import Database
from windsock.store.models import Job, now


@pytest.fixture
def database(stack: Stack) -> Iterator[Database]:
    made = Database(stack.cluster.address)
    yield made
    made.engine.dispose()


@pytest.fixture
def job(database: Database) -> Iterator[str]:
    """A job that no running worker touches: as if one of long ago had it, and heard of just now."""
    name = secrets.token_hex(8)
    with database.session() as session:
        wanted = jobs.NewJob(name, "export", "ann", "none", "A job", {}, {}, 10)
        jobs.make_job(session, name, wanted)
    yield name
    with database.session() as session:
        session.execute(update(Job).where(Job.id == name).values(state="done"))
        jobs.forget(session, name)


def silent(database: Database, job: str) -> None:
    with database.session() as session:
        session.execute(update(Job).where(Job.id == job).values(changed=now() - 2 * jobs.LEASE))


def test_only_one_worker_has_it_until_it_is_silent(database: Database, job: str):
    with database.session() as session:
        assert jobs.claim(session, job, "one") is not None
        assert jobs.claim(session, job, "two") is None
        assert jobs.claim(session, job, "one") is not None
    silent(database, job)
    with database.session() as session:
        assert jobs.claim(session, job, "two") is not None
        assert not jobs.tell(session, job, "one", 5, "late")
        assert not jobs.finish(session, job, "one", "done", "late")
        assert jobs.tell(session, job, "two", 5, "Frame 5")
        assert jobs.finish(session, job, "two", "done", "10 frames", "x.zip", 7)
        assert jobs.claim(session, job, "two") is None
    with database.session() as session:
        row = session.get(Job, job)
        assert row is not None
        assert (row.state, row.done, row.file, row.size, row.worker) == ("done", 10, "x.zip", 7, None)


def test_a_running_one_is_cancelled_when_its_worker_looks(database: Database, job: str):
    with database.session() as session:
        jobs.claim(session, job, "one")
        assert jobs.cancel(session, job).state == "running"
    with database.session() as session:
        assert not jobs.tell(session, job, "one", 3, "Frame 3")
        assert jobs.finish(session, job, "one", "cancelled", "Cancelled.")
        assert jobs.resume(session, job).state == "waiting"
        assert jobs.claim(session, job, "two") is not None
        assert jobs.tell(session, job, "two", 4, "Frame 4")


def test_a_waiting_one_is_cancelled_at_once_and_an_open_one_is_not_forgotten(database: Database, job: str):
    with database.session() as session, pytest.raises(Refusal, match="Cancel it first"):
        jobs.forget(session, job)
    with database.session() as session:
        assert jobs.cancel(session, job).state == "cancelled"
        assert jobs.claim(session, job, "one") is None


def test_what_the_queue_has_lost_is_found(database: Database, job: str):
    with database.session() as session:
        assert job not in jobs.left_behind(session)
        session.execute(update(Job).where(Job.id == job).values(changed=now() - jobs.LEASE))
        assert job in jobs.left_behind(session)
        jobs.claim(session, job, "one")
        assert job not in jobs.left_behind(session)
        session.execute(update(Job).where(Job.id == job).values(changed=now() - jobs.LEASE - timedelta(seconds=1)))
        assert job in jobs.left_behind(session)


def test_asked_for_again_it_is_the_same_and_done_ones_may_be_asked_anew(database: Database, job: str):
    with database.session() as session:
        again = jobs.make_job(session, "another", jobs.NewJob(job, "export", "bob", "none", "Again", {}, {}, 3))
        assert (again.id, again.total) == (job, 10)
        jobs.forget_done(session, job)
        assert session.get(Job, job) is not None
