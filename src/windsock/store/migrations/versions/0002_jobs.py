"""Jobs."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.create_table(
        "jobs",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("key", sa.String(64), nullable=False, unique=True),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("browser", sa.String(64), nullable=False, index=True),
        sa.Column("shot_id", sa.String(40), nullable=False, index=True),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("document", sa.JSON, nullable=False),
        sa.Column("settings", sa.JSON, nullable=False),
        sa.Column("state", sa.String(12), nullable=False, index=True),
        sa.Column("done", sa.Integer, nullable=False),
        sa.Column("total", sa.Integer, nullable=False),
        sa.Column("says", sa.String(400), nullable=False),
        sa.Column("file", sa.String(200), nullable=False),
        sa.Column("size", sa.BigInteger, nullable=False),
        sa.Column("worker", sa.String(64), nullable=True),
        sa.Column("cancelled", sa.Boolean, nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
        sa.Column("changed", sa.DateTime(timezone=True), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("jobs")
