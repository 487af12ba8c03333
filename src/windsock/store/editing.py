"""Edits of a shot: made, taken back and brought again, each kept with its inverse."""

from __future__ import annotations

import json
from dataclasses import dataclass

from pydantic import JsonValue, TypeAdapter
from sqlalchemy import desc, select
from sqlalchemy.orm import Session

from windsock.core.document.patches import NOTHING, Operation, Patch, difference, inverse, patched, touches, value_at
from windsock.core.document.shot import parse_shot
from windsock.core.refusals import Refusal
from windsock.store.models import Edit, ShotRow, now
from windsock.store.shots import put_document

PATCH = TypeAdapter(Patch)

SETTINGS_SEARCHED = 400
"""Edits that are searched for what a value was before."""


class NotFound(Refusal):
    """A thing that is not there (any more)."""


@dataclass(frozen=True)
class Clash:
    """One value that somebody else changed meanwhile: what was wanted, and what it is now."""

    path: str
    yours: JsonValue
    theirs: JsonValue


class StaleEdit(Refusal):
    """An edit against a revision that is no longer the newest."""

    def __init__(self, revision: int, clashes: list[Clash]) -> None:
        super().__init__(
            "The shot was changed elsewhere meanwhile. Your change is not made yet. Choose which value to keep."
        )
        self.revision = revision
        self.clashes = clashes


class ChangedSince(Refusal):
    """An undo or redo of values that somebody has changed since."""


@dataclass(frozen=True)
class Wish:
    """An edit as a browser sends it. `key` names it among the browser's edits of a shot, so that sending it again does not make
    it twice."""

    key: str
    browser: str
    label: str
    revision: int
    patch: list[Operation]


def make_edit(session: Session, shot_id: str, wish: Wish) -> ShotRow:
    """Make an edit. One against an older revision is rebased where nothing that it touches was edited since.

    Raises Missing, StaleEdit, BadPatch or BadDocument; then nothing is changed.
    """
    row = locked(session, shot_id)
    if _made(session, shot_id, wish.browser, wish.key):
        return row
    if wish.revision != row.revision:
        touched = _touched_since(session, row, wish)
        if touched:
            raise StaleEdit(row.revision, _clashes(row.document, touched))
    _apply(session, row, wish, wish.patch, "edit", None)
    return row


def undo(session: Session, shot_id: str, browser: str, key: str, anyway: bool) -> ShotRow:
    """Take back the newest standing edit of this browser, as a new edit. Raises ChangedSince unless `anyway`."""
    row = locked(session, shot_id)
    if _made(session, shot_id, browser, key):
        return row
    edit = next_undo(session, shot_id, browser)
    if edit is None:
        raise Refusal("There is nothing of yours to undo in this shot.")
    return _invert(session, row, edit, browser, key, "undo", anyway)


def redo(session: Session, shot_id: str, browser: str, key: str, anyway: bool) -> ShotRow:
    """Bring again what this browser last took back, as a new edit. Raises ChangedSince unless `anyway`."""
    row = locked(session, shot_id)
    if _made(session, shot_id, browser, key):
        return row
    edit = next_redo(session, shot_id, browser)
    if edit is None:
        raise Refusal("There is nothing of yours to redo in this shot.")
    return _invert(session, row, edit, browser, key, "redo", anyway)


def document_at(session: Session, shot_id: str, revision: int) -> tuple[int, JsonValue]:
    """The document as it was at a revision, or as it is where the shot has not come that far; and its revision.

    Older documents are made from the one that is kept, by the inverses of the edits since. Raises Missing.
    """
    row = session.get(ShotRow, shot_id)
    if row is None:
        raise NotFound("This shot is not here any more. Go home to see the shots that are.")
    document: JsonValue = row.document
    if revision >= row.revision:
        return row.revision, document
    since = select(Edit).where(Edit.shot_id == shot_id, Edit.revision > revision).order_by(desc(Edit.revision))
    for edit in session.scalars(since):
        document = patched(document, PATCH.validate_python(edit.inverse))
    return revision, document


def settings_before(session: Session, shot_id: str, pointer: str, most: int) -> list[JsonValue]:
    """The last settings that a value had before the one it has, newest first, each once."""
    row = session.get(ShotRow, shot_id)
    if row is None:
        raise NotFound("This shot is not here any more. Go home to see the shots that are.")
    now_there = value_at(row.document, pointer)
    seen = [json.dumps(None if now_there is NOTHING else now_there, sort_keys=True)]
    found: list[JsonValue] = []
    edits = select(Edit).where(Edit.shot_id == shot_id).order_by(desc(Edit.revision)).limit(SETTINGS_SEARCHED)
    for edit in session.scalars(edits):
        for operation in PATCH.validate_python(edit.inverse):
            value = json.dumps(operation.value, sort_keys=True)
            if operation.path == pointer and operation.op != "remove" and value not in seen:
                seen.append(value)
                found.append(operation.value)
        if len(found) >= most:
            break
    return found[:most]


def next_undo(session: Session, shot_id: str, browser: str) -> Edit | None:
    """The newest edit or redo of this browser that stands."""
    query = select(Edit).where(
        Edit.shot_id == shot_id, Edit.browser == browser, Edit.standing, Edit.kind.in_(("edit", "redo"))
    )
    return session.scalars(query.order_by(desc(Edit.revision)).limit(1)).first()


def next_redo(session: Session, shot_id: str, browser: str) -> Edit | None:
    """The newest undo of this browser that stands, unless the browser has made an edit since."""
    mine = select(Edit).where(Edit.shot_id == shot_id, Edit.browser == browser, Edit.standing)
    undone = session.scalars(mine.where(Edit.kind == "undo").order_by(desc(Edit.revision)).limit(1)).first()
    edited = session.scalars(mine.where(Edit.kind == "edit").order_by(desc(Edit.revision)).limit(1)).first()
    return None if undone is None or (edited is not None and edited.revision > undone.revision) else undone


def locked(session: Session, shot_id: str) -> ShotRow:
    """The row of a shot, held until the transaction ends. Raises Missing."""
    row = session.get(ShotRow, shot_id, with_for_update=True)
    if row is None:
        raise NotFound("This shot is not here any more. Go home to see the shots that are.")
    return row


def _made(session: Session, shot_id: str, browser: str, key: str) -> bool:
    """Whether a browser has made an edit of a shot under a key. Keys are a browser's own, for each shot."""
    there = select(Edit.id).where(Edit.shot_id == shot_id, Edit.browser == browser, Edit.key == key)
    return session.scalar(there) is not None


def _invert(session: Session, row: ShotRow, edit: Edit, browser: str, key: str, kind: str, anyway: bool) -> ShotRow:
    back = PATCH.validate_python(edit.inverse)
    if not anyway:
        _refuse_changed_since(session, edit, back)
    label = edit.label
    _apply(session, row, Wish(key, browser, label, row.revision, back), back, kind, edit.revision)
    edit.standing = False
    return row


def _refuse_changed_since(session: Session, edit: Edit, back: list[Operation]) -> None:
    others = session.scalars(
        select(Edit).where(Edit.shot_id == edit.shot_id, Edit.revision > edit.revision, Edit.browser != edit.browser)
    )
    for other in others:
        for operation in PATCH.validate_python(other.patch):
            if any(touches(operation.path, mine.path) for mine in back):
                raise ChangedSince(
                    f"Somebody has changed this since (“{other.label}”). Nothing was undone. Undo it anyway, or leave it."
                )


def _apply(session: Session, row: ShotRow, wish: Wish, patch: list[Operation], kind: str, inverts: int | None) -> None:
    before = _whole(row)
    back = inverse(before, patch)
    put_document(row, parse_shot(patched(before, patch)))
    row.revision += 1
    row.changed = now()
    session.add(
        Edit(
            shot_id=row.id,
            revision=row.revision,
            key=wish.key,
            browser=wish.browser,
            label=wish.label,
            patch=[operation.plain() for operation in patch],
            inverse=[operation.plain() for operation in back],
            kind=kind,
            inverts=inverts,
            standing=True,
        )
    )
    session.flush()


def return_to(session: Session, shot_id: str, revision: int, browser: str, key: str) -> ShotRow:
    """Make the shot what it was at a revision, as a new edit that can be undone. Raises Missing, Refusal."""
    row = locked(session, shot_id)
    if _made(session, shot_id, browser, key):
        return row
    if not 0 <= revision < row.revision:
        raise Refusal("The shot stands there already. Nothing was changed.")
    _, then = document_at(session, shot_id, revision)
    patch = difference(_whole(row), parse_shot(then).model_dump(mode="json"))
    if not patch:
        raise Refusal("The shot is the same now as it was then. Nothing was changed.")
    label = f"return to {revision}, {label_of(session, shot_id, revision)}"[:100]
    _apply(session, row, Wish(key, browser, label, row.revision, patch), patch, "edit", None)
    return row


def label_of(session: Session, shot_id: str, revision: int) -> str:
    """What the edit did that made a revision."""
    query = select(Edit.label).where(Edit.shot_id == shot_id, Edit.revision == revision)
    return session.scalar(query) or "as it began"


def history(session: Session, shot_id: str, before: int, most: int) -> list[Edit]:
    """Edits of a shot before a revision, newest first."""
    query = select(Edit).where(Edit.shot_id == shot_id, Edit.revision < before)
    return list(session.scalars(query.order_by(desc(Edit.revision)).limit(most)))


def _touched_since(session: Session, row: ShotRow, wish: Wish) -> list[Operation]:
    """The operations of a wish whose values somebody has edited since; all of them where that cannot be told."""
    if wish.revision > row.revision:
        return wish.patch
    since = session.scalars(select(Edit.patch).where(Edit.shot_id == row.id, Edit.revision > wish.revision))
    paths = {operation["path"] for patch in since for operation in patch}
    return [mine for mine in wish.patch if any(touches(mine.path, path) for path in paths)]


def _whole(row: ShotRow) -> JsonValue:
    """The document with everything that it leaves to defaults, as pages see it: one that was stored by an older version
    does not have what came since."""
    return parse_shot(row.document).model_dump(mode="json")


def _clashes(document: JsonValue, patch: list[Operation]) -> list[Clash]:
    found: list[Clash] = []
    for operation in patch:
        now_there = value_at(document, operation.path)
        theirs = None if now_there is NOTHING else now_there
        found.append(Clash(operation.path, operation.value, theirs))  # pyright: ignore[reportArgumentType]
    return found
