"""An order stands as it was accepted while its quote is changed: what lists show of it is kept."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"

SHOWN = ("summary", "total", "drawn")


def upgrade() -> None:
    """Keep with each order what its quote shows as long as they are the same."""
    for name in SHOWN:
        op.add_column("work_order", sa.Column(name, sa.Text(), nullable=False, server_default=""))
        op.execute(
            f"UPDATE work_order SET {name} = (SELECT q.{name} FROM quote q"
            " WHERE q.id = work_order.quote_id) WHERE quote_id IN"
            " (SELECT id FROM quote WHERE state = 'accepted')"
        )
