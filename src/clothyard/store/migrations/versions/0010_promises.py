"""What a quote promises and how it is kept; what the seller pins of an order's plan."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    """Add the columns; nothing is promised or pinned before."""
    text: tuple[Any, str] = (sa.Text(), "")
    whole: tuple[Any, str] = (sa.Integer(), "0")
    columns = {
        "quote": {"promised_on": text, "goes_before": whole, "express": whole, "first_part": whole},
        "work_order": {
            "pin_first": whole,
            "pin_day": text,
            "pin_machine": text,
            "pin_before": whole,
            "units": text,
        },
    }
    for table, added in columns.items():
        for name, (kind, default) in added.items():
            op.add_column(table, sa.Column(name, kind, nullable=False, server_default=default))
    op.execute("UPDATE work_order SET made_version = 0")  # their units are listed when next asked
