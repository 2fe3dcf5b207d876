"""What happens at the machine, and the log of finished passes with what was changed in it."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    """Make the tables."""
    op.create_table(
        "run_event",
        sa.Column("n", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("id", sa.Text(), nullable=False, unique=True),
        sa.Column("quote_id", sa.Integer(), nullable=False),
        sa.Column("pass_id", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("piece", sa.Text(), nullable=False),
        sa.Column("at", sa.Text(), nullable=False),
        sa.Column("person", sa.Text(), nullable=False),
        sa.Column("data", sa.Text(), nullable=False),
    )
    op.create_index("ix_run_event_of", "run_event", ["quote_id", "pass_id", "n"])
    op.create_table(
        "log_row",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("key", sa.Text(), nullable=False, unique=True),
        sa.Column("quote_id", sa.Integer(), nullable=False),
        sa.Column("finished_on", sa.Text(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("document", sa.Text(), nullable=False),
        sa.Column("search", sa.Text(), nullable=False),
    )
    op.create_index("ix_log_row_listed", "log_row", ["finished_on", "id"])
    op.create_index("ix_log_row_quote_id", "log_row", ["quote_id"])
    op.create_table(
        "log_change",
        sa.Column("row_id", sa.Integer(), primary_key=True),
        sa.Column("revision", sa.Integer(), primary_key=True),
        sa.Column("document", sa.Text(), nullable=False),
        sa.Column("changed_on", sa.Text(), nullable=False),
    )
    op.create_table(
        "photo",
        sa.Column("sha256", sa.Text(), primary_key=True),
        sa.Column("quote_id", sa.Integer(), nullable=False),
        sa.Column("kept_on", sa.Text(), nullable=False),
    )
