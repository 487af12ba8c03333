"""Shots say in columns what lists show of them; keys of edits are unique for a person and a shot; jobs count their tries."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def _number(group: str, name: str, default: int) -> str:
    """SQL for a number of a document; its default where it is missing or no number."""
    place = f"document->'{group}'->'{name}'"
    return f"CASE WHEN json_typeof({place}) = 'number' THEN ({place})::text::float ELSE {default} END"


FRAMES = f"({_number('frames', 'last', 119)} - {_number('frames', 'first', 0)} + 1)::int"
FPS = f"{_number('rate', 'numerator', 24)} / greatest({_number('rate', 'denominator', 1)}, 1)"
OPENING = "CASE WHEN json_typeof(document->'opening_frame') = 'number' THEN (document->'opening_frame')::text::float ELSE 0 END"


def upgrade() -> None:
    op.add_column("shots", sa.Column("name", sa.String(80), nullable=False, server_default=""))
    op.add_column("shots", sa.Column("frames", sa.Integer, nullable=False, server_default="0"))
    op.add_column("shots", sa.Column("fps", sa.Float, nullable=False, server_default="24"))
    op.add_column("shots", sa.Column("opening_frame", sa.Float, nullable=False, server_default="0"))
    op.add_column("shots", sa.Column("readable", sa.Boolean, nullable=False, server_default=sa.true()))
    op.add_column("shots", sa.Column("read_by", sa.String(32), nullable=False, server_default=""))
    op.execute("UPDATE shots SET name = left(coalesce(document->>'name', ''), 80)")
    op.execute(f"UPDATE shots SET frames = {FRAMES}, fps = {FPS}, opening_frame = {OPENING}")
    op.drop_constraint("edits_key_key", "edits")
    op.create_unique_constraint("edits_shot_id_browser_key_key", "edits", ["shot_id", "browser", "key"])
    for name in ("tries", "tried_at"):
        op.add_column("jobs", sa.Column(name, sa.Integer, nullable=False, server_default="0"))

    op.create_table(
        "small_pictures",
        sa.Column("shot_id", sa.String(40), sa.ForeignKey("shots.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("content", sa.LargeBinary, nullable=False),
    )


def downgrade() -> None:
    op.drop_table("small_pictures")
    for name in ("tries", "tried_at"):
        op.drop_column("jobs", name)
    op.drop_constraint("edits_shot_id_browser_key_key", "edits")
    op.create_unique_constraint("edits_key_key", "edits", ["key"])
    for name in ("read_by", "readable", "opening_frame", "fps", "frames", "name"):
        op.drop_column("shots", name)
