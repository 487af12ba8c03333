"""Shots say in columns what lists show of them; keys of edits are unique for a person and a shot; jobs count their tries."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"

FRAMES = "coalesce((document->'frames'->>'last')::int, 119) - coalesce((document->'frames'->>'first')::int, 0) + 1"
FPS = (
    "coalesce((document->'rate'->>'numerator')::float, 24) / "
    "greatest(coalesce((document->'rate'->>'denominator')::float, 1), 1)"
)


def upgrade() -> None:
    op.add_column("shots", sa.Column("name", sa.String(80), nullable=False, server_default=""))
    op.add_column("shots", sa.Column("frames", sa.Integer, nullable=False, server_default="0"))
    op.add_column("shots", sa.Column("fps", sa.Float, nullable=False, server_default="24"))
    op.add_column("shots", sa.Column("opening_frame", sa.Float, nullable=False, server_default="0"))
    op.add_column("shots", sa.Column("readable", sa.Boolean, nullable=False, server_default=sa.true()))
    op.add_column("shots", sa.Column("read_by", sa.String(32), nullable=False, server_default=""))
    op.execute("UPDATE shots SET name = left(coalesce(document->>'name', ''), 80)")
    op.execute(
        f"UPDATE shots SET frames = {FRAMES}, fps = {FPS}, "
        "opening_frame = coalesce((document->>'opening_frame')::float, 0) "
        "WHERE json_typeof(document->'frames') IS NOT DISTINCT FROM 'object'"
    )
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
