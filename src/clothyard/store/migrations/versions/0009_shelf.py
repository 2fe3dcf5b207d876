"""The shelf as a ledger, what orders need, their pieces and proofs, what was ordered for them."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"

WHYS = "'received', 'taken', 'returned', 'wasted', 'counted', 'weighed'"
PIECES = "'waiting', 'prepared', 'sewn', 'good', 'mended', 'spoiled', 'surplus'"


def _text(*names: str) -> list[sa.Column[str]]:
    return [sa.Column(name, sa.Text(), nullable=False) for name in names]


def _whole(*names: str) -> list[sa.Column[int]]:
    return [sa.Column(name, sa.Integer(), nullable=False) for name in names]


def _of_quote(table: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint(["quote_id"], ["quote.id"], name=f"fk_{table}_quote_id_quote")


def upgrade() -> None:
    """Create the tables; needs and pieces of orders that are there are made when first asked."""
    for name, default in (("made_version", "0"), ("work_days", "1")):
        op.add_column(
            "work_order", sa.Column(name, sa.Integer(), nullable=False, server_default=default)
        )
    op.create_table(
        "order_need",
        *_whole("quote_id"),
        *_text("item"),
        *_whole("n", "amount"),
        *_text("label", "unit"),
        sa.PrimaryKeyConstraint("quote_id", "item", name="pk_order_need"),
        _of_quote("order_need"),
    )
    op.create_table(
        "piece",
        *_whole("quote_id"),
        *_text("id"),
        *_whole("n"),
        *_text("line", "size", "colour", "name", "state", "reason", "instead_of", "changed_on"),
        sa.PrimaryKeyConstraint("quote_id", "id", name="pk_piece"),
        _of_quote("piece"),
        sa.CheckConstraint(f"state IN ({PIECES})", name="ck_piece_state"),
    )
    op.create_table(
        "proof",
        *_whole("quote_id", "version"),
        *_text("state", "said_by", "said", "said_on"),
        sa.PrimaryKeyConstraint("quote_id", "version", name="pk_proof"),
        _of_quote("proof"),
        sa.CheckConstraint("state IN ('approved', 'corrected')", name="ck_proof_state"),
    )
    op.create_table(
        "stock_item",
        *_text("item", "label", "unit"),
        *_whole("minimum"),
        *_text("supplier", "place"),
        sa.PrimaryKeyConstraint("item", name="pk_stock_item"),
    )
    op.create_table(
        "stock_move",
        sa.Column("id", sa.Integer(), nullable=False, autoincrement=True),
        *_text("key", "item"),
        *_whole("amount"),
        *_text("why"),
        *_whole("quote_id"),
        *_text("made_on", "note", "cost"),
        sa.PrimaryKeyConstraint("id", name="pk_stock_move"),
        sa.UniqueConstraint("key", name="uq_stock_move_key"),
        sa.CheckConstraint(f"why IN ({WHYS})", name="ck_stock_move_why"),
    )
    op.create_index("ix_stock_move_summed", "stock_move", ["item", "amount"])
    op.create_index("ix_stock_move_taken", "stock_move", ["quote_id", "item", "amount"])
    op.create_index(
        "ix_stock_move_costs", "stock_move", ["item", "id"], sqlite_where=sa.text("cost <> ''")
    )
    op.create_table(
        "purchase",
        sa.Column("id", sa.Integer(), nullable=False, autoincrement=True),
        *_text("supplier", "state"),
        *_whole("revision"),
        *_text("sent_by", "ordered_on", "rows", "trouble"),
        sa.PrimaryKeyConstraint("id", name="pk_purchase"),
        sa.CheckConstraint("state IN ('open', 'arrived', 'closed')", name="ck_purchase_state"),
        sa.CheckConstraint("revision >= 1", name="ck_purchase_revision"),
    )
    op.create_index("ix_purchase_state", "purchase", ["state"])
