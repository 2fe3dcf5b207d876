"""What was taken for an order's need stands beside it."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"


def upgrade() -> None:
    """Add it up once from the moves."""
    op.add_column(
        "order_need", sa.Column("taken", sa.Integer(), nullable=False, server_default="0")
    )
    op.execute(
        "UPDATE order_need SET taken = coalesce((SELECT sum(amount) FROM stock_move m"
        " WHERE m.quote_id = order_need.quote_id AND m.item = order_need.item), 0)"
    )
