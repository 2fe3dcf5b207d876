"""Orders: what becomes of an accepted quote."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"

STATES = "'accepted', 'waiting', 'ready', 'in-work', 'done', 'handed-over', 'cancelled'"


def upgrade() -> None:
    """Create the table; orders of quotes that are accepted already are made when first asked."""
    op.create_table(
        "work_order",
        sa.Column("quote_id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        *(
            sa.Column(name, sa.Text(), nullable=False)
            for name in (
                "state",
                "waits",
                "promised_on",
                "ready",
                "payments",
                "accepted_on",
                "changed_on",
            )
        ),
        sa.PrimaryKeyConstraint("quote_id", name="pk_work_order"),
        sa.ForeignKeyConstraint(["quote_id"], ["quote.id"], name="fk_work_order_quote_id_quote"),
        sa.CheckConstraint("revision >= 1", name="ck_work_order_revision"),
        sa.CheckConstraint(f"state IN ({STATES})", name="ck_work_order_state"),
    )
