"""A bin for designs, the printer of each, what was found readable, and what was set aside."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("design") as t:
        t.add_column(sa.Column("printer", sa.String(), nullable=False, server_default=""))
        t.add_column(sa.Column("changed_at", sa.DateTime(), nullable=True))
        t.add_column(sa.Column("deleted_at", sa.DateTime(), nullable=True))
        t.add_column(sa.Column("sound", sa.String(), nullable=False, server_default=""))
    # the column in place of reading every document; one that is no JSON names no printer
    op.execute(
        "UPDATE design SET printer = COALESCE((SELECT CASE WHEN json_valid(r.document) "
        "THEN COALESCE(json_extract(r.document, '$.printer'), 'bench-220') ELSE '' END "
        "FROM revision r WHERE r.design_id = design.id AND r.number = design.cursor), ''), "
        "changed_at = (SELECT max(r.created_at) FROM revision r WHERE r.design_id = design.id)"
    )
    op.create_table(
        "aside",
        sa.Column("id", sa.Integer(), autoincrement=True, nullable=False),
        sa.Column("what", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("document", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_aside"),
    )
