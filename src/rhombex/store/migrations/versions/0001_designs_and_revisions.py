"""Designs and their revisions."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "design",
        sa.Column("id", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("cursor", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_design"),
    )
    op.create_table(
        "revision",
        sa.Column("id", sa.Integer(), autoincrement=True, nullable=False),
        sa.Column("design_id", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("parent", sa.Integer(), nullable=False),
        sa.Column("said", sa.String(), nullable=False),
        sa.Column("edit", sa.String(), nullable=False),
        sa.Column("document", sa.String(), nullable=False),
        sa.Column("kept_name", sa.String(), nullable=True),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["design_id"], ["design.id"], name="fk_revision_design_id_design", ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name="pk_revision"),
        sa.UniqueConstraint("design_id", "number", name="uq_revision_design_id"),
    )
    op.create_index("ix_revision_design_id", "revision", ["design_id"])
