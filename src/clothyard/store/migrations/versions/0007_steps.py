"""What hands did for a design between its blocks, remembered with it."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    """Add the column; of designs kept before, nothing is remembered."""
    op.add_column("design_file", sa.Column("steps", sa.Text(), nullable=False, server_default=""))
