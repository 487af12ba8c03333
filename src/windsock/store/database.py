"""Connections to the database, and its migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine
from sqlalchemy.orm import Session, sessionmaker


class Database:
    """Sessions on one PostgreSQL database. A connection that went stale is replaced before it is used."""

    def __init__(self, address: str) -> None:
        self.engine: Engine = create_engine(
            address, pool_pre_ping=True, pool_size=8, max_overflow=8, connect_args={"connect_timeout": 3}
        )
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A transaction: committed at the end, rolled back where something is raised."""
        with self._sessions.begin() as session:
            yield session


def migrate(address: str) -> None:
    """Bring the tables up to date. Raises NewerDatabase for those of a later version."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).with_name("migrations")))
    config.set_main_option("sqlalchemy.url", address.replace("%", "%%"))
    script = ScriptDirectory.from_config(config)
    engine = create_engine(address)
    with engine.connect() as connection:
        there = MigrationContext.configure(connection).get_current_revision()
    engine.dispose()
    if there is not None and there not in {one.revision for one in script.walk_revisions()}:
        raise NewerDatabase(there)
    command.upgrade(config, "head")


class NewerDatabase(Exception):
    """The tables are those of a version that this one does not know."""
