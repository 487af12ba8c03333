"""Jobs as rows: made, claimed by one worker at a time, told how far they are, cancelled and taken up again."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta

from pydantic import JsonValue
from sqlalchemy import CursorResult, case, delete, or_, select, update
from sqlalchemy.orm import Session

from windsock.core.refusals import Refusal
from windsock.store.editing import NotFound
from windsock.store.models import Job, now

LEASE = timedelta(seconds=6)
"""A job whose worker has not been heard of for so long may be taken by another."""

MOST_TRIES = 3
"""Tries without a frame done after which a job has failed."""

GIVEN_UP = (
    f"The work was begun {MOST_TRIES} times and stopped its process each time. The shot is unharmed. Take fewer frames or "
    "faces, then resume it, or delete it."
)

OPEN = ("waiting", "running")
MOST_OPEN = 50


@dataclass(frozen=True)
class NewJob:
    """A job to be made. `key` names it, so that asking for it again does not make it twice."""

    key: str
    kind: str
    browser: str
    shot_id: str
    name: str
    document: JsonValue
    settings: dict[str, JsonValue]
    total: int


def make_job(session: Session, job_id: str, wanted: NewJob) -> Job:
    """Make a job, or find the one that was made under the same key."""
    there = session.scalar(select(Job).where(Job.key == wanted.key))
    if there is not None:
        return there
    if len(session.scalars(select(Job.id).where(Job.state.in_(OPEN)).limit(MOST_OPEN)).all()) >= MOST_OPEN:
        raise Refusal(f"{MOST_OPEN} jobs are waiting already. Nothing was begun. Wait for some, or cancel them.")
    row = Job(
        id=job_id, key=wanted.key, kind=wanted.kind, browser=wanted.browser, shot_id=wanted.shot_id, name=wanted.name,
        document=wanted.document, settings=wanted.settings, total=wanted.total,
    )  # fmt: skip
    session.add(row)
    session.flush()
    return row


def claim(session: Session, job_id: str, worker: str) -> Job | None:
    """Take a job, unless it is done with, another worker is at it, or it has been tried too often: then it has failed."""
    free = or_(Job.worker.is_(None), Job.worker == worker, Job.changed < now() - LEASE)
    taken = update(Job).where(Job.id == job_id, Job.state.in_(OPEN), free)
    given_up = taken.where(Job.tries >= MOST_TRIES, Job.done <= Job.tried_at).values(
        state="failed", says=GIVEN_UP, worker=None, changed=now()
    )
    session.execute(given_up)
    tries = case((Job.done > Job.tried_at, 1), else_=Job.tries + 1)
    begun = taken.values(state="running", worker=worker, changed=now(), tries=tries, tried_at=Job.done)
    done = session.execute(begun)
    if not isinstance(done, CursorResult) or done.rowcount == 0:
        return None
    return session.get(Job, job_id, populate_existing=True)


def tell(session: Session, job_id: str, worker: str, done: int, says: str) -> bool:
    """Say how far a job is. False when the worker is to stop: it was cancelled, or another has taken it."""
    held = update(Job).where(Job.id == job_id, Job.worker == worker, Job.state == "running", Job.cancelled.is_(False))
    result = session.execute(held.values(done=done, says=says[:200], changed=now()))
    return isinstance(result, CursorResult) and result.rowcount == 1


def finish(session: Session, job_id: str, worker: str, state: str, says: str, file: str = "", size: int = 0) -> bool:
    """A job has ended: done, failed or cancelled. False where another worker has taken it meanwhile."""
    held = update(Job).where(Job.id == job_id, Job.worker == worker, Job.state == "running")
    values = {"state": state, "says": says[:400], "file": file, "size": size, "worker": None, "changed": now()}
    if state == "done":
        values["done"] = Job.total
    result = session.execute(held.values(values))
    return isinstance(result, CursorResult) and result.rowcount == 1


def cancel(session: Session, job_id: str) -> Job:
    """Cancel a job: at once where nobody is at it, otherwise when its worker next looks."""
    row = _found(session, job_id)
    if row.state in OPEN:
        row.cancelled = True
        row.changed = now() if row.state == "waiting" else row.changed
        if row.state == "waiting":
            row.state, row.says = "cancelled", "Cancelled. Frames that are done are kept."
    return row


def resume(session: Session, job_id: str) -> Job:
    """Have a cancelled or failed job go on where it stopped."""
    row = _found(session, job_id)
    if row.state in ("cancelled", "failed"):
        row.state, row.says, row.cancelled, row.worker, row.changed = "waiting", "", False, None, now()
        row.tries = row.tried_at = 0
    return row


def forget(session: Session, job_id: str) -> None:
    """Take a job that has ended out of the list."""
    row = _found(session, job_id)
    if row.state in OPEN:
        raise Refusal("The job is not done yet. Nothing was changed. Cancel it first.")
    session.execute(delete(Job).where(Job.id == job_id))


def forget_done(session: Session, key: str) -> None:
    """A job that is done may be asked for anew under its key."""
    session.execute(delete(Job).where(Job.key == key, Job.state == "done"))


def left_behind(session: Session) -> list[str]:
    """Ids of jobs that should be under way and are not: their worker is gone, or the queue has lost them."""
    stale = or_(Job.worker.is_(None), Job.changed < now() - LEASE)
    return list(session.scalars(select(Job.id).where(Job.state.in_(OPEN), stale, Job.changed < now() - LEASE / 3)))


def listed(session: Session, most: int = 100) -> list[Job]:
    """The newest jobs."""
    return list(session.scalars(select(Job).order_by(Job.created.desc(), Job.id).limit(most)))


def _found(session: Session, job_id: str) -> Job:
    row = session.get(Job, job_id, with_for_update=True)
    if row is None:
        raise NotFound("This job is not here any more.")
    return row
