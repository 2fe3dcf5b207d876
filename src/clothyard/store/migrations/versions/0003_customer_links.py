"""Links for customers, and what they say on their page."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    """Create the tables of links and words; a quote says what was last heard of it."""
    op.create_table(
        "customer_link",
        sa.Column("token_sha256", sa.Text(), nullable=False),
        sa.Column("quote_id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("made_on", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("token_sha256", name="pk_customer_link"),
        sa.ForeignKeyConstraint(["quote_id"], ["quote.id"], name="fk_customer_link_quote_id_quote"),
    )
    op.create_index("ix_customer_link_quote_id", "customer_link", ["quote_id"])
    op.create_table(
        "customer_word",
        sa.Column("id", sa.Integer(), nullable=False, autoincrement=True),
        sa.Column("quote_id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("words", sa.Text(), nullable=False),
        sa.Column("said_on", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_customer_word"),
        sa.ForeignKeyConstraint(["quote_id"], ["quote.id"], name="fk_customer_word_quote_id_quote"),
        sa.CheckConstraint("kind IN ('accepted', 'change')", name="ck_customer_word_kind"),
    )
    op.create_index("ix_customer_word_quote_id", "customer_word", ["quote_id"])
    with op.batch_alter_table("quote") as batch:
        batch.add_column(sa.Column("heard", sa.Text(), nullable=False, server_default=""))
