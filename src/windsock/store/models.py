"""What is kept in PostgreSQL: all that cannot be made again."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import JSON, BigInteger, DateTime, ForeignKey, LargeBinary, String, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, deferred, mapped_column, relationship


def now() -> datetime:
    """The time, with its zone."""
    return datetime.now(UTC)


class Base(DeclarativeBase):
    """The base of all tables."""


class Project(Base):
    """A body of work. kept: here, archived or deleted, since when."""

    __tablename__ = "projects"

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    created: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
    kept: Mapped[str] = mapped_column(String(8), default="here")
    kept_since: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
    shots: Mapped[list[ShotRow]] = relationship(back_populates="project", cascade="all, delete-orphan")
    looks: Mapped[list[KeptLook]] = relationship(cascade="all, delete-orphan", order_by="KeptLook.created")


class ShotRow(Base):
    """A shot: its document as it is now, and the number of the last edit. kept: here, archived or deleted, since when.

    What lists show of it stands in columns of its own, written with the document (`put_document`). readable: whether the
    version that `read_by` names can read the document.
    """

    __tablename__ = "shots"

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    project_id: Mapped[str] = mapped_column(ForeignKey("projects.id", ondelete="CASCADE"), index=True)
    document: Mapped[dict] = deferred(mapped_column(JSON))
    name: Mapped[str] = mapped_column(String(80), default="")
    frames: Mapped[int] = mapped_column(default=0)
    fps: Mapped[float] = mapped_column(default=24.0)
    opening_frame: Mapped[float] = mapped_column(default=0.0)
    readable: Mapped[bool] = mapped_column(default=True)
    read_by: Mapped[str] = mapped_column(String(32), default="")
    revision: Mapped[int] = mapped_column(default=0)
    created: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
    changed: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
    kept: Mapped[str] = mapped_column(String(8), default="here")
    kept_since: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
    project: Mapped[Project] = relationship(back_populates="shots")
    picture: Mapped[SmallPicture | None] = relationship(
        cascade="all, delete-orphan", uselist=False, passive_deletes=True
    )


class KeptLook(Base):
    """A look that is kept in a project."""

    __tablename__ = "kept_looks"

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    project_id: Mapped[str] = mapped_column(ForeignKey("projects.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    look: Mapped[dict] = mapped_column(JSON)
    created: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)


class SmallPicture(Base):
    """The small picture of a shot, as it was at a revision."""

    __tablename__ = "small_pictures"

    shot_id: Mapped[str] = mapped_column(ForeignKey("shots.id", ondelete="CASCADE"), primary_key=True)
    revision: Mapped[int]
    kind: Mapped[str] = mapped_column(String(16))
    content: Mapped[bytes] = deferred(mapped_column(LargeBinary))


class Edit(Base):
    """One edit with its inverse. `inverts` names the revision that an undo takes back or a redo brings again."""

    __tablename__ = "edits"
    __table_args__ = (UniqueConstraint("shot_id", "revision"), UniqueConstraint("shot_id", "browser", "key"))

    id: Mapped[int] = mapped_column(primary_key=True)
    shot_id: Mapped[str] = mapped_column(ForeignKey("shots.id", ondelete="CASCADE"), index=True)
    revision: Mapped[int]
    key: Mapped[str] = mapped_column(String(64))
    browser: Mapped[str] = mapped_column(String(64), index=True)
    label: Mapped[str] = mapped_column(String(120))
    patch: Mapped[list] = mapped_column(JSON)
    inverse: Mapped[list] = mapped_column(JSON)
    kind: Mapped[str] = mapped_column(String(8), default="edit")
    inverts: Mapped[int | None]
    standing: Mapped[bool] = mapped_column(default=True)
    made: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)


class Asset(Base):
    """An imported file, known by the SHA-256 of its bytes."""

    __tablename__ = "assets"

    hash: Mapped[str] = mapped_column(String(64), primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    kind: Mapped[str] = mapped_column(String(8))
    summary: Mapped[dict] = mapped_column(JSON)
    content: Mapped[bytes] = deferred(mapped_column(LargeBinary))
    added: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)


class Mark(Base):
    """A thing that is done once for a database, such as loading the demo."""

    __tablename__ = "marks"

    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    made: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)


class Job(Base):
    """Long work: what is to be done, who is at it, how far it is. `changed` is when its worker was last heard of; tries: how
    often a worker has begun it since a frame was done, and tried_at: how many were done then."""

    __tablename__ = "jobs"
    __table_args__ = (UniqueConstraint("key"),)

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    key: Mapped[str] = mapped_column(String(64))
    kind: Mapped[str] = mapped_column(String(16))
    browser: Mapped[str] = mapped_column(String(64), index=True)
    shot_id: Mapped[str] = mapped_column(String(40), index=True)
    name: Mapped[str] = mapped_column(String(120))
    document: Mapped[dict] = deferred(mapped_column(JSON))
    settings: Mapped[dict] = mapped_column(JSON)
    state: Mapped[str] = mapped_column(String(12), default="waiting", index=True)
    done: Mapped[int] = mapped_column(default=0)
    total: Mapped[int] = mapped_column(default=0)
    says: Mapped[str] = mapped_column(String(400), default="")
    file: Mapped[str] = mapped_column(String(200), default="")
    size: Mapped[int] = mapped_column(BigInteger, default=0)
    worker: Mapped[str | None] = mapped_column(String(64))
    cancelled: Mapped[bool] = mapped_column(default=False)
    tries: Mapped[int] = mapped_column(default=0)
    tried_at: Mapped[int] = mapped_column(default=0)
    created: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
    changed: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
