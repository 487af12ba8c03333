"""Projects and shots are archived, and deleted with return."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    for table in ("projects", "shots"):
        op.add_column(table, sa.Column("kept", sa.String(8), nullable=False, server_default="here"))
        op.add_column(
            table,
            sa.Column("kept_since", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()),
        )
    op.create_index("ix_shots_changed", "shots", ["changed"])


def downgrade() -> None:
    op.drop_index("ix_shots_changed", "shots")
    for table in ("projects", "shots"):
        op.drop_column(table, "kept_since")
        op.drop_column(table, "kept")
