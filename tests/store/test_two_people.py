"""Two people on one shot: edits are rebased where their paths are disjoint, and both end up with the same document."""

from __future__ import annotations

import json
import random
import secrets
from collections.abc import Iterator
from datetime import timedelta

import pytest
from sqlalchemy import select
from test_editing import BAND, LEVEL, Desk

from windsock.commands.stack import Stack
from windsock.core.document.patches import Operation
from windsock.core.refusals import Refusal
from windsock.store import keeping
from windsock.store.database import Database
from windsock.store.editing import NotFound, StaleEdit, Wish, document_at, history, make_edit, return_to, undo
from windsock.store.models import Edit, Project, ShotRow, now


@pytest.fixture
def desk(stack: Stack) -> Iterator[Desk]:
    database = Database(stack.cluster.address)
    yield Desk(database)
    database.engine.dispose()


def test_edits_of_other_values_are_rebased_and_of_the_same_are_not(desk: Desk):
    desk.edit(LEVEL, 0.1, "ann", revision=0)
    desk.edit(BAND, 0.3, "ben", revision=0)
    assert desk.values == (0.1, 0.3)
    with pytest.raises(StaleEdit) as caught:
        desk.edit(LEVEL, 0.7, "ben", revision=0)
    assert [(clash.path, clash.yours, clash.theirs) for clash in caught.value.clashes] == [(LEVEL, 0.7, 0.1)]
    # Within a thing that somebody took away, or about one that somebody put there, it is the same value.
    with pytest.raises(StaleEdit):
        desk.edit("/fields/front", {}, "ben", revision=1)
    desk.take(undo, "ben")
    assert desk.values == (0.1, 0.0)


def test_a_revision_that_never_was_is_not_rebased(desk: Desk):
    desk.edit(LEVEL, 0.1)
    with pytest.raises(StaleEdit):
        desk.edit(BAND, 0.2, revision=99)


class Page:
    """A page as it edits: its own queue on top of what it has last seen; clashes are settled by its own choice."""

    def __init__(self, desk: Desk, name: str, rng: random.Random) -> None:
        self.desk, self.name, self.rng = desk, name, rng
        self.revision, self.queue = 0, list[tuple[str, list[Operation]]]()

    def want(self) -> None:
        path = self.rng.choice([LEVEL, BAND, "/items/ball/place", "/items/ball/look/opacity", "/name"])
        value: object = round(self.rng.random(), 3)
        value = [value, 0.0, 0.0] if path.endswith("place") else f"Shot {value}" if path == "/name" else value
        self.queue.append((secrets.token_hex(8), [Operation(op="replace", path=path, value=value)]))  # type: ignore[arg-type]

    def send(self) -> None:
        if not self.queue:
            return
        key, patch = self.queue[0]
        with self.desk.database.session() as session:
            try:
                row = make_edit(session, self.desk.shot, Wish(key, self.name, "edit", self.revision, patch))
            except StaleEdit as stale:
                self.revision = stale.revision
                if self.rng.random() < 0.5:
                    self.queue.pop(0)
                return
            self.revision = row.revision
            self.queue.pop(0)

    def look(self) -> str:
        with self.desk.database.session() as session:
            self.revision, document = document_at(session, self.desk.shot, 2**31)
        return json.dumps(document, sort_keys=True)


@pytest.mark.parametrize("seed", range(6))
def test_two_pages_interleaved_at_random_converge_and_lead_back_to_the_first_document(desk: Desk, seed):
    rng = random.Random(seed)
    pages = [Page(desk, "ann", rng), Page(desk, "ben", rng)]
    first = pages[0].look()
    for _ in range(40):
        page = rng.choice(pages)
        rng.choice([page.want, page.send, page.send, page.look])()
    while any(page.queue for page in pages):
        rng.choice(pages).send()
    assert pages[0].look() == pages[1].look()
    # Whatever was written over whatever: the inverses of all edits lead back to the first document, to the byte.
    with desk.database.session() as session:
        _, then = document_at(session, desk.shot, 0)
        assert json.dumps(then, sort_keys=True) == first
        if pages[0].look() != first:
            return_to(session, desk.shot, 0, "ann", secrets.token_hex(8))
    assert pages[0].look() == first


@pytest.mark.parametrize("seed", range(4))
def test_all_that_one_person_did_is_undone_to_the_first_document(desk: Desk, seed):
    page = Page(desk, "ann", random.Random(seed))
    first = page.look()
    for _ in range(12):
        page.want()
        page.send()
    assert page.look() != first
    for _ in range(desk.edits):
        desk.take(undo, "ann")
    assert page.look() == first


def test_the_history_is_listed_and_returned_to_and_that_can_be_undone(desk: Desk):
    for value in (0.1, 0.2, 0.3):
        desk.edit(LEVEL, value)
    desk.edit(BAND, 0.4)
    with desk.database.session() as session:
        assert [edit.revision for edit in history(session, desk.shot, 99, 3)] == [4, 3, 2]
        assert [edit.revision for edit in history(session, desk.shot, 2, 3)] == [1]
        row = return_to(session, desk.shot, 1, "ann", "the-key-of-return")
        assert row.revision == 5
    assert desk.values == (0.1, 0.0)
    with desk.database.session() as session:
        assert return_to(session, desk.shot, 1, "ann", "the-key-of-return").revision == 5
        newest = session.scalars(select(Edit).where(Edit.shot_id == desk.shot).order_by(Edit.revision.desc())).first()
        assert newest is not None
        assert newest.label.startswith("return to 1, ")
    desk.take(undo)
    assert desk.values == (0.3, 0.4)
    for revision in (6, 99, -1):
        with desk.database.session() as session, pytest.raises(Refusal):
            return_to(session, desk.shot, revision, "ann", secrets.token_hex(8))


def test_what_was_deleted_comes_back_for_thirty_days(desk: Desk):
    with desk.database.session() as session:
        keeping.put(session, ShotRow, desk.shot, "deleted")
        keeping.clear(session)
    with desk.row() as row:
        assert row.kept == "deleted"
    with desk.database.session() as session:
        keeping.put(session, ShotRow, desk.shot, "here")
        keeping.put(session, Project, desk.shot, "archived")
    with desk.row() as row:
        assert (row.kept, row.project.kept) == ("here", "archived")
    with desk.database.session() as session:
        keeping.put(session, ShotRow, desk.shot, "deleted")
        row = session.get(ShotRow, desk.shot)
        assert row is not None
        row.kept_since = now() - timedelta(days=keeping.RETURN_DAYS + 1)
    with desk.database.session() as session:
        keeping.clear(session)
    with desk.database.session() as session:
        assert session.get(ShotRow, desk.shot) is None
        with pytest.raises(NotFound):
            keeping.put(session, ShotRow, desk.shot, "here")
