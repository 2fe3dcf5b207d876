"""What cannot be read is set aside."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"


def upgrade() -> None:
    """Make the table that holds it."""
    op.create_table(
        "set_aside",
        sa.Column("id", sa.Integer(), nullable=False),
        *(
            sa.Column(name, sa.Text(), nullable=False)
            for name in ("of", "row", "document", "why", "set_on")
        ),
        sa.PrimaryKeyConstraint("id", name="pk_set_aside"),
        sqlite_autoincrement=True,
    )
