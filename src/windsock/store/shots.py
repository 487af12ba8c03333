"""Documents into the rows of shots, with what lists show of them; and whether this version can read them."""

from __future__ import annotations

import hashlib
from functools import cache

import orjson
from pydantic import JsonValue
from sqlalchemy import select
from sqlalchemy.orm import Session, undefer

from windsock.core.document.limits import refuse_large
from windsock.core.document.schema import shot_schema
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.refusals import Refusal
from windsock.store.models import ShotRow

LOOKED_AT = 200
"""Documents of another version that are looked at for one list."""


def new_row(shot_id: str, project_id: str, shot: Shot) -> ShotRow:
    """A row for a new shot."""
    row = ShotRow(id=shot_id, project_id=project_id, revision=0)
    put_document(row, shot)
    return row


def put_document(row: ShotRow, shot: Shot) -> None:
    """Make the row hold a shot. Raises TooMuch where it is too large with everything that it leaves to defaults."""
    document = shot.model_dump(mode="json")
    refuse_large(orjson.dumps(document).decode())
    row.document = document
    row.name = shot.name
    row.frames = shot.frames.last - shot.frames.first + 1
    row.fps = shot.rate.fps
    row.opening_frame = shot.opening_frame
    row.readable, row.read_by = True, version()


def readable(document: JsonValue) -> bool:
    """Whether this version can read a document."""
    try:
        parse_shot(document)
    except Refusal:
        return False
    return True


def look_through(session: Session) -> None:
    """Say of shots that another version has written whether this one can read them."""
    unknown = select(ShotRow).where(ShotRow.read_by != version()).options(undefer(ShotRow.document)).limit(LOOKED_AT)
    for row in session.scalars(unknown):
        row.readable, row.read_by = readable(row.document), version()


@cache
def version() -> str:
    """A name for what this version can read: a hash of the document's schema."""
    return hashlib.blake2b(orjson.dumps(shot_schema(), option=orjson.OPT_SORT_KEYS), digest_size=12).hexdigest()
