"""Projects, shots, edits, assets and marks."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    moment = sa.DateTime(timezone=True)
    op.create_table(
        "projects",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("created", moment, nullable=False),
    )
    op.create_table(
        "shots",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column(
            "project_id", sa.String(40), sa.ForeignKey("projects.id", ondelete="CASCADE"), nullable=False, index=True
        ),
        sa.Column("document", sa.JSON, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("created", moment, nullable=False),
        sa.Column("changed", moment, nullable=False),
    )
    op.create_table(
        "edits",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("shot_id", sa.String(40), sa.ForeignKey("shots.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("key", sa.String(64), nullable=False, unique=True),
        sa.Column("browser", sa.String(64), nullable=False, index=True),
        sa.Column("label", sa.String(120), nullable=False),
        sa.Column("patch", sa.JSON, nullable=False),
        sa.Column("inverse", sa.JSON, nullable=False),
        sa.Column("kind", sa.String(8), nullable=False),
        sa.Column("inverts", sa.Integer),
        sa.Column("standing", sa.Boolean, nullable=False),
        sa.Column("made", moment, nullable=False),
        sa.UniqueConstraint("shot_id", "revision"),
    )
    op.create_table(
        "assets",
        sa.Column("hash", sa.String(64), primary_key=True),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("kind", sa.String(8), nullable=False),
        sa.Column("summary", sa.JSON, nullable=False),
        sa.Column("content", sa.LargeBinary, nullable=False),
        sa.Column("added", moment, nullable=False),
    )
    op.create_table(
        "marks", sa.Column("name", sa.String(40), primary_key=True), sa.Column("made", moment, nullable=False)
    )


def downgrade() -> None:
    for table in ("marks", "assets", "edits", "shots", "projects"):
        op.drop_table(table)
