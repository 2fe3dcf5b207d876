"""When an order is begun is worked out by the calendar, not by a number of days."""

from alembic import op

revision = "0015"
down_revision = "0014"


def upgrade() -> None:
    """Leave the number of days out."""
    op.drop_column("work_order", "work_days")
