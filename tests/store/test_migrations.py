"""Tables of an earlier version, with what was in them, brought up to date."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import orjson
import pytest
from alembic import command
from alembic.config import Config
from shots import cut_ball, parsed
from sqlalchemy import create_engine, select, text

from windsock.commands.stack import Stack
from windsock.store import database as at
from windsock.store.database import Database, migrate
from windsock.store.models import Edit, ShotRow
from windsock.store.shots import look_through

NAME = "windsock_earlier"


@pytest.fixture
def earlier(stack: Stack) -> Iterator[str]:
    """The address of an empty database, with the tables of migration 0003."""
    address = stack.cluster.address
    engine = create_engine(address, isolation_level="AUTOCOMMIT")
    with engine.connect() as connection:
        connection.execute(text(f"DROP DATABASE IF EXISTS {NAME}"))
        connection.execute(text(f"CREATE DATABASE {NAME}"))
    own = create_engine(address).url.set(database=NAME).render_as_string(hide_password=False)
    config = Config()
    config.set_main_option("script_location", str(Path(at.__file__).with_name("migrations")))
    config.set_main_option("sqlalchemy.url", own.replace("%", "%%"))
    command.upgrade(config, "0003")
    yield own
    with engine.connect() as connection:
        connection.execute(text(f"DROP DATABASE {NAME} WITH (FORCE)"))
    engine.dispose()


def test_shots_and_edits_of_an_earlier_version_are_kept(earlier):
    whole = parsed(
        cut_ball() | {"name": "A ball", "opening_frame": 7.5, "rate": {"numerator": 30000, "denominator": 1001}}
    )
    documents = {
        "whole": whole.model_dump(mode="json") | {"frames": {"first": 10, "last": 29}},
        "sparse": {"name": "Sparse"},
        "harmed": {"name": "x" * 200, "frames": {"first": "no", "last": None}, "rate": 3, "opening_frame": [1]},
    }
    engine = create_engine(earlier)
    with engine.begin() as connection:
        connection.execute(text("INSERT INTO projects VALUES ('p', 'Project', now())"))
        for name, document in documents.items():
            connection.execute(
                text("INSERT INTO shots VALUES (:name, 'p', :document, 1, now(), now())"),
                {"name": name, "document": orjson.dumps(document).decode()},
            )
        connection.execute(
            text(
                "INSERT INTO edits (shot_id, revision, key, browser, label, patch, inverse, kind, standing, made) "
                "VALUES ('whole', 1, 'one', 'ann', 'Moved', '[]', '[]', 'edit', true, now())"
            )
        )
    engine.dispose()
    migrate(earlier)
    database = Database(earlier)
    with database.session() as session:
        look_through(session)
        rows = {row.id: row for row in session.scalars(select(ShotRow))}
        found = {
            name: (row.name, row.frames, round(row.fps, 3), row.opening_frame, row.readable)
            for name, row in rows.items()
        }
        assert found == {
            "whole": ("A ball", 20, 29.97, 7.5, True),
            "sparse": ("Sparse", 120, 24.0, 0.0, True),
            "harmed": ("x" * 80, 120, 24.0, 0.0, False),
        }
        assert [edit.label for edit in session.scalars(select(Edit))] == ["Moved"]
    database.engine.dispose()
