"""Revisions of the workshop, so that it can be undone as a design can."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "workshop_revision",
        sa.Column("number", sa.Integer(), autoincrement=True, nullable=False),
        sa.Column("parent", sa.Integer(), nullable=False),
        sa.Column("said", sa.String(), nullable=False),
        sa.Column("edit", sa.String(), nullable=False),
        sa.Column("document", sa.String(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("number", name="pk_workshop_revision"),
    )
    with op.batch_alter_table("workshop") as t:
        t.add_column(sa.Column("cursor", sa.Integer(), nullable=False, server_default="0"))
