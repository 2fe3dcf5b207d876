"""Changed standards and kept designs."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    """Create the first two tables."""
    op.create_table(
        "standard_change",
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("value", sa.Text(), nullable=False),
        sa.Column("changed_on", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("key", name="pk_standard_change"),
    )
    op.create_table(
        "design_file",
        sa.Column("sha256", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("size_bytes", sa.Integer(), nullable=False),
        sa.Column("facts", sa.Text(), nullable=False),
        sa.Column("added_on", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("sha256", name="pk_design_file"),
    )
    op.create_index("ix_design_file_added_on", "design_file", ["added_on"])
