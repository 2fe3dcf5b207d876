"""Quotes, their sent versions, house snapshots and documents."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def _text(name: str, *, null: bool = False) -> sa.Column[str]:
    return sa.Column(name, sa.Text(), nullable=null)


def upgrade() -> None:
    """Create the tables of quotes."""
    op.create_table(
        "house_snapshot",
        _text("sha256"),
        _text("house"),
        sa.PrimaryKeyConstraint("sha256", name="pk_house_snapshot"),
    )
    op.create_table(
        "quote",
        sa.Column("id", sa.Integer(), nullable=False, autoincrement=True),
        _text("number"),
        _text("state"),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        *(
            _text(name)
            for name in (
                "customer",
                "email",
                "due_on",
                "valid_until",
                "notes",
                "job",
                "summary",
                "total",
                "currency",
                "search",
                "house_sha256",
                "created_on",
                "changed_on",
            )
        ),
        _text("deleted_on", null=True),
        sa.PrimaryKeyConstraint("id", name="pk_quote"),
        sa.UniqueConstraint("number", name="uq_quote_number"),
        sa.ForeignKeyConstraint(
            ["house_sha256"],
            ["house_snapshot.sha256"],
            name="fk_quote_house_sha256_house_snapshot",
        ),
        sa.CheckConstraint("revision >= 1", name="ck_quote_revision"),
        sa.CheckConstraint(
            "state IN ('draft', 'sent', 'accepted', 'declined')", name="ck_quote_state"
        ),
    )
    op.create_index("ix_quote_listed", "quote", ["deleted_on", "changed_on"])
    op.create_table(
        "quote_version",
        sa.Column("quote_id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        _text("head"),
        _text("job"),
        _text("estimate"),
        _text("house_sha256"),
        _text("sent_on"),
        _text("answer"),
        _text("answered_on"),
        sa.PrimaryKeyConstraint("quote_id", "version", name="pk_quote_version"),
        sa.ForeignKeyConstraint(["quote_id"], ["quote.id"], name="fk_quote_version_quote_id_quote"),
        sa.ForeignKeyConstraint(
            ["house_sha256"],
            ["house_snapshot.sha256"],
            name="fk_quote_version_house_sha256_house_snapshot",
        ),
    )
    op.create_table(
        "quote_document",
        sa.Column("quote_id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        _text("kind"),
        _text("name"),
        _text("media_type"),
        _text("sha256"),
        sa.PrimaryKeyConstraint("quote_id", "version", "kind", name="pk_quote_document"),
        sa.ForeignKeyConstraint(
            ["quote_id"], ["quote.id"], name="fk_quote_document_quote_id_quote"
        ),
    )
