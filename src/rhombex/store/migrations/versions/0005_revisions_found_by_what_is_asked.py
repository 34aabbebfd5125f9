"""Revisions are found by the one they follow and by whether they were kept, however many a design has."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_index("ix_revision_parent", "revision", ["design_id", "parent", "number"])
    op.create_index(
        "ix_revision_kept", "revision", ["design_id", "number"], sqlite_where=sa.text("kept_name IS NOT NULL")
    )
    op.drop_index("ix_revision_design_id", "revision")  # the unique one begins with it
