"""Which shop a folder is, so that a browser knows its own drafts again."""

import uuid

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    """Create the table of the shop's own random id, and of its generation."""
    table = op.create_table(
        "shop_identity",
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("value", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("name", name="pk_shop_identity"),
    )
    rows = [{"name": name, "value": uuid.uuid4().hex[:12]} for name in ("id", "generation")]
    op.bulk_insert(table, rows)
