"""Edits, undo and redo in the database."""

from __future__ import annotations

import json
import secrets
from collections.abc import Callable, Iterator
from contextlib import contextmanager

import pytest
from shots import cut_ball

from windsock.commands.stack import Stack
from windsock.core.document.patches import Operation
from windsock.core.document.shot import BadDocument, parse_shot
from windsock.core.refusals import Refusal
from windsock.store.database import Database
from windsock.store.editing import ChangedSince, StaleEdit, Wish, document_at, make_edit, redo, settings_before, undo
from windsock.store.models import Edit, Project, ShotRow
from windsock.store.shots import new_row

LEVEL = "/fields/front/level"
BAND = "/fields/front/band"


class Desk:
    """One shot, edited by browsers by name."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.shot = secrets.token_hex(6)
        with database.session() as session:
            session.add(Project(id=self.shot, name="Tests"))
            session.flush()
            session.add(new_row(self.shot, self.shot, parse_shot(cut_ball())))

    def edit(self, path: str, value: object, browser: str = "ann", revision: int | None = None, key: str = "") -> int:
        with self.database.session() as session:
            now = session.get(ShotRow, self.shot)
            assert now is not None
            patch = [Operation(op="replace", path=path, value=value)]  # type: ignore[arg-type]
            at = now.revision if revision is None else revision
            return make_edit(
                session, self.shot, Wish(key or secrets.token_hex(8), browser, f"{path} {value}", at, patch)
            ).revision

    def take(self, which: Callable[..., ShotRow], browser: str = "ann", anyway: bool = False, key: str = "") -> None:
        with self.database.session() as session:
            which(session, self.shot, browser, key or secrets.token_hex(8), anyway)

    @contextmanager
    def row(self) -> Iterator[ShotRow]:
        with self.database.session() as session:
            row = session.get(ShotRow, self.shot)
            assert row is not None
            yield row

    @property
    def values(self) -> tuple[float, float]:
        with self.row() as row:
            return row.document["fields"]["front"]["level"], row.document["fields"]["front"]["band"]

    @property
    def edits(self) -> int:
        with self.database.session() as session:
            return session.query(Edit).filter(Edit.shot_id == self.shot).count()


@pytest.fixture
def desk(stack: Stack) -> Iterator[Desk]:
    database = Database(stack.cluster.address)
    yield Desk(database)
    database.engine.dispose()


def test_undo_and_redo_run_through_all_edits(desk):
    for value in (0.1, 0.2, 0.3):
        desk.edit(LEVEL, value)
    seen = []
    for which in (undo, undo, undo, redo, redo, redo):
        desk.take(which)
        seen.append(desk.values[0])
    assert seen == [0.2, 0.1, 0.5, 0.1, 0.2, 0.3]
    assert desk.edits == 9


def test_undo_undo_redo_undo(desk):
    desk.edit(LEVEL, 0.1)
    desk.edit(LEVEL, 0.2)
    seen = []
    for which in (undo, undo, redo, undo, redo, redo, undo):
        desk.take(which)
        seen.append(desk.values[0])
    assert seen == [0.1, 0.5, 0.1, 0.5, 0.1, 0.2, 0.1]


def test_an_edit_after_an_undo_ends_what_could_be_redone(desk):
    desk.edit(LEVEL, 0.1)
    desk.take(undo)
    desk.edit(BAND, 0.2)
    with pytest.raises(Refusal, match="nothing of yours to redo"):
        desk.take(redo)


def test_undo_takes_back_ones_own_edits_only(desk):
    desk.edit(LEVEL, 0.1, "ann")
    desk.edit(BAND, 0.3, "ben")
    desk.take(undo, "ann")
    assert desk.values == (0.5, 0.3)
    with pytest.raises(Refusal, match="nothing of yours"):
        desk.take(undo, "ann")


def test_undo_asks_where_somebody_changed_the_same_value_since(desk):
    desk.edit(LEVEL, 0.1, "ann")
    desk.edit(LEVEL, 0.9, "ben")
    with pytest.raises(ChangedSince, match="changed this since"):
        desk.take(undo, "ann")
    assert desk.values[0] == 0.9
    desk.take(undo, "ann", anyway=True)
    assert desk.values[0] == 0.5


def test_a_stale_edit_is_refused_with_both_values(desk):
    desk.edit(LEVEL, 0.1, "ann")
    with pytest.raises(StaleEdit) as caught:
        desk.edit(LEVEL, 0.7, "ben", revision=0)
    assert caught.value.revision == 1
    assert [(clash.yours, clash.theirs) for clash in caught.value.clashes] == [(0.7, 0.1)]
    assert desk.values[0] == 0.1


def test_an_edit_that_is_sent_again_is_made_once(desk):
    for _ in range(3):
        desk.edit(LEVEL, 0.1, revision=0, key="the-same-key")
    assert desk.edits == 1
    for _ in range(2):
        desk.take(undo, key="another-key")
    assert desk.values[0] == 0.5
    assert desk.edits == 2


def test_an_edit_that_makes_the_shot_invalid_changes_nothing(desk):
    for path, value in ((LEVEL, 7), (LEVEL, "much"), ("/items/fog", {"kind": "shape"}), ("/camera", "nobody")):
        with pytest.raises(BadDocument):
            desk.edit(path, value)
    assert desk.values[0] == 0.5
    assert desk.edits == 0


def test_any_earlier_document_is_found_again(desk: Desk):
    for value in (0.1, 0.2, 0.3):
        desk.edit(LEVEL, value)
    desk.take(undo)
    desk.edit(BAND, 0.4)
    with desk.database.session() as session:
        told = [document_at(session, desk.shot, revision) for revision in range(6)]
    assert [revision for revision, _ in told] == list(range(6))
    levels = [document["fields"]["front"]["level"] for _, document in told]  # type: ignore[index,call-overload]
    assert levels == [0.5, 0.1, 0.2, 0.3, 0.2, 0.2]
    with desk.database.session() as session:
        assert document_at(session, desk.shot, 99)[0] == 5


def test_the_last_settings_of_a_value_are_each_told_once_and_newest_first(desk: Desk):
    for value in (0.1, 0.2, 0.1, 0.3, 0.6, 0.7, 0.8):
        desk.edit(LEVEL, value)
        desk.edit(BAND, value)
    with desk.database.session() as session:
        assert settings_before(session, desk.shot, LEVEL, 5) == [0.7, 0.6, 0.3, 0.1, 0.2]
        assert settings_before(session, desk.shot, LEVEL, 2) == [0.7, 0.6]
        assert settings_before(session, desk.shot, "/items/ball/name", 5) == []


def test_a_shot_of_an_older_version_takes_edits_of_what_it_did_not_have(desk: Desk):
    with desk.row() as row:
        document = json.loads(json.dumps(row.document))
        del document["items"]["ball"]["mark"]
        del document["items"]["ball"]["fineness"]
        row.document = document
    desk.edit("/items/ball/mark", "#112233")
    desk.edit("/items/ball/fineness/times", 1)
    desk.take(undo)
    desk.take(undo)
    with desk.row() as row:
        assert (row.document["items"]["ball"]["mark"], row.document["items"]["ball"]["fineness"]["times"]) == (None, 0)
    with desk.database.session() as session:
        _, first = document_at(session, desk.shot, 0)
        assert parse_shot(first).items["ball"].mark is None
