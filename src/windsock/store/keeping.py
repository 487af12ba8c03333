"""Projects and shots put away: archived, or deleted and still to be brought back for a while."""

from __future__ import annotations

from datetime import timedelta

from sqlalchemy import delete
from sqlalchemy.orm import Session

from windsock.store.editing import NotFound
from windsock.store.models import Project, ShotRow, now

RETURN_DAYS = 30
"""How long what was deleted can be brought back."""


def put(session: Session, what: type[Project] | type[ShotRow], key: str, kept: str) -> None:
    """Put a project or a shot here, into the archive, or among what is deleted. Raises Missing."""
    row = session.get(what, key, with_for_update=True)
    if row is None:
        raise NotFound("This is not here any more. Nothing was changed.")
    if row.kept != kept:
        row.kept, row.kept_since = kept, now()


def clear(session: Session) -> None:
    """Take away for good what was deleted longer ago than it can be brought back."""
    limit = now() - timedelta(days=RETURN_DAYS)
    for what in (ShotRow, Project):
        session.execute(delete(what).where(what.kept == "deleted", what.kept_since < limit))
