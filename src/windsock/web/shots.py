"""One shot: its document, edits, undo and redo."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from apiflask import APIBlueprint
from flask import Response, json, request
from pydantic import BaseModel, ConfigDict, Field, JsonValue, StringConstraints
from sqlalchemy.orm import Session

from windsock.core.document.patches import Operation, Patch
from windsock.core.document.relations import Relations, relations
from windsock.core.document.shot import BadDocument, Shot, parse_shot
from windsock.core.refusals import Refusal
from windsock.formats.keys import read_keys, write_keys
from windsock.store import keeping
from windsock.store.editing import (
    NotFound,
    Wish,
    history,
    make_edit,
    next_redo,
    next_undo,
    redo,
    return_to,
    settings_before,
    undo,
)
from windsock.store.models import ShotRow
from windsock.web.guard import browser
from windsock.web.problems import problem
from windsock.web.service import service

shots = APIBlueprint("shots", __name__, url_prefix="/api/shots")

EditKey = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{8,64}$")]
Label = Annotated[str, StringConstraints(min_length=1, max_length=100)]


class ShotState(BaseModel):
    """A shot as it stands, what depends on what in it, and what undo and redo would do for this browser."""

    id: str
    project: str
    project_name: str
    revision: int
    document: Shot
    relations: Relations
    undo: str | None
    redo: str | None


class EditWish(BaseModel):
    """An edit: a JSON Patch with a label, and a key under which it is made once however often it is sent."""

    model_config = ConfigDict(extra="forbid")
    key: EditKey
    label: Label
    patch: Patch


class Kept(BaseModel):
    """Where a project or shot is kept."""

    model_config = ConfigDict(extra="forbid")
    kept: Literal["here", "archived", "deleted"]


class UndoRequest(BaseModel):
    """An undo or redo. `anyway` does it even if somebody has changed the same value since."""

    model_config = ConfigDict(extra="forbid")
    key: EditKey
    anyway: Annotated[bool, Field(default=False)] = False


@shots.get("/<shot_id>")
@shots.output(ShotState)
def get_shot(shot_id: str):
    """The shot as it stands."""
    with service().database.session() as session:
        row = session.get(ShotRow, shot_id)
        if row is None:
            raise NotFound("This shot is not here. It may have been deleted. Go home to see the shots that are.")
        return _state(session, row)


@shots.patch("/<shot_id>")
@shots.input(EditWish)
@shots.output(ShotState)
@shots.doc(responses={412: "The shot was changed meanwhile; `clashes` has both values", 428: "If-Match is missing"})
def edit_shot(shot_id: str, json_data: EditWish):
    """Make an edit against the revision named in If-Match."""
    revision = _revision()
    if revision is None:
        return problem(428, "An edit must say in If-Match which revision it is made against. Nothing was changed.")
    with service().database.session() as session:
        wish = Wish(json_data.key, browser(), json_data.label, revision, json_data.patch)
        return _state(session, make_edit(session, shot_id, wish))


@shots.post("/<shot_id>/undo")
@shots.input(UndoRequest)
@shots.output(ShotState)
def undo_edit(shot_id: str, json_data: UndoRequest):
    """Take back the newest standing edit of this browser."""
    with service().database.session() as session:
        return _state(session, undo(session, shot_id, browser(), json_data.key, json_data.anyway))


@shots.post("/<shot_id>/redo")
@shots.input(UndoRequest)
@shots.output(ShotState)
def redo_edit(shot_id: str, json_data: UndoRequest):
    """Bring again what this browser last took back."""
    with service().database.session() as session:
        return _state(session, redo(session, shot_id, browser(), json_data.key, json_data.anyway))


@shots.delete("/<shot_id>")
@shots.output({}, status_code=204)
def delete_shot(shot_id: str):
    """Delete a shot with all its edits; for thirty days it can be brought back."""
    with service().database.session() as session:
        keeping.put(session, ShotRow, shot_id, "deleted")
    return ""


@shots.put("/<shot_id>/kept")
@shots.input(Kept)
@shots.output({}, status_code=204)
def keep_shot(shot_id: str, json_data: Kept):
    """Archive a shot, delete it, or bring it back."""
    with service().database.session() as session:
        keeping.put(session, ShotRow, shot_id, json_data.kept)
    return ""


class Returning(BaseModel):
    """A return to an earlier revision."""

    model_config = ConfigDict(extra="forbid")
    key: EditKey
    revision: Annotated[int, Field(ge=0, strict=True)]


@shots.post("/<shot_id>/return")
@shots.input(Returning)
@shots.output(ShotState)
def return_shot(shot_id: str, json_data: Returning):
    """Make the shot what it was at a revision, as a new edit."""
    with service().database.session() as session:
        return _state(session, return_to(session, shot_id, json_data.revision, browser(), json_data.key))


class Before(BaseModel):
    """Where a page of the history ends."""

    before: Annotated[int, Field(ge=0, description="Revisions below this one")] = 2**31 - 1


class HistoryEdit(BaseModel):
    """One edit of a shot's history. mine: made by this browser. standing: not taken back."""

    revision: int
    label: str
    kind: Literal["edit", "undo", "redo"]
    mine: bool
    standing: bool
    made: datetime


class History(BaseModel):
    """Edits, newest first."""

    edits: list[HistoryEdit]


@shots.get("/<shot_id>/history")
@shots.input(Before, location="query")
@shots.output(History)
def shot_history(shot_id: str, query_data: Before):
    """Sixty edits of a shot, newest first."""
    with service().database.session() as session:
        edits = history(session, shot_id, query_data.before, 60)
        listed = [
            HistoryEdit(
                revision=edit.revision,
                label=edit.label,
                kind=edit.kind,  # pyright: ignore[reportArgumentType]
                mine=edit.browser == browser(),
                standing=edit.standing,
                made=edit.made,
            )
            for edit in edits
        ]
    return History(edits=listed)


@shots.get("/<shot_id>/document.json")
@shots.doc(summary="The document as a file", responses={200: {"description": "The shot as JSON"}})
def document_file(shot_id: str) -> Response:
    """The shot as its JSON document, to keep or to read back elsewhere."""
    with service().database.session() as session:
        row = session.get(ShotRow, shot_id)
        if row is None:
            raise NotFound("This shot is not here any more.")
        text = json.dumps(row.document, indent=1, sort_keys=False)
    return Response(
        text, content_type="application/json", headers={"Content-Disposition": 'attachment; filename="shot.json"'}
    )


@shots.get("/<shot_id>/keys.csv")
@shots.doc(summary="All keys as CSV", responses={200: {"description": "A line for each key"}})
def keys_file(shot_id: str) -> Response:
    """The keys of all values, a line each."""
    with service().database.session() as session:
        row = session.get(ShotRow, shot_id)
        if row is None:
            raise NotFound("This shot is not here any more.")
        text = write_keys(parse_shot(row.document))
    return Response(text, content_type="text/csv", headers={"Content-Disposition": 'attachment; filename="keys.csv"'})


class KeysText(BaseModel):
    """Keys as CSV, and the revision of the shot that they are for."""

    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, StringConstraints(max_length=5_000_000)]
    revision: Annotated[int, Field(ge=0, strict=True)]


class KeysPatch(BaseModel):
    """The edit that brings keys in."""

    patch: list[Operation]


@shots.post("/<shot_id>/keys")
@shots.input(KeysText)
@shots.output(KeysPatch)
def bring_keys(shot_id: str, json_data: KeysText):
    """The edit that gives values of the shot the keys of a CSV file. Nothing is changed yet."""
    _, document = service().document(shot_id, json_data.revision)
    return {"patch": read_keys(json_data.text, document)}


class Pointer(BaseModel):
    """Which value of the document."""

    pointer: Annotated[str, StringConstraints(pattern=r"^(/[^/]+)+$", max_length=400)]


class Settings(BaseModel):
    """What a value was before, newest first."""

    settings: list[JsonValue]


@shots.get("/<shot_id>/settings")
@shots.input(Pointer, location="query")
@shots.output(Settings)
def settings(shot_id: str, query_data: Pointer):
    """The last five settings of one value before the one it has."""
    with service().database.session() as session:
        return {"settings": settings_before(session, shot_id, query_data.pointer, 5)}


class UnreadableShot(Refusal):
    """A stored shot that this version cannot read."""

    def __init__(self, why: str) -> None:
        super().__init__(
            f"This version of Wind Sock cannot read the shot: {why} The shot is kept as it is. Take it away as a file at home, "
            "or open it with the version that it was made with."
        )


def _revision() -> int | None:
    given = request.headers.get("If-Match", "").strip().strip('"')
    return int(given) if given.isdecimal() and len(given) < 10 else None


def _state(session: Session, row: ShotRow) -> ShotState:
    service().remember(row.id, row.revision, row.document)
    try:
        shot = parse_shot(row.document)
    except BadDocument as fault:
        raise UnreadableShot(str(fault).removesuffix(" Nothing was changed.")) from None
    back, again = next_undo(session, row.id, browser()), next_redo(session, row.id, browser())
    return ShotState(
        id=row.id,
        project=row.project_id,
        project_name=row.project.name,
        revision=row.revision,
        document=shot,
        relations=relations(shot),
        undo=back.label if back else None,
        redo=again.label if again else None,
    )
