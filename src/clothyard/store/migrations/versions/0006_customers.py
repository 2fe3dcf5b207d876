"""Customers, made of the names that quotes were sent to; settings of the housekeeping."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def _text(name: str) -> sa.Column[str]:
    return sa.Column(name, sa.Text(), nullable=False)


def _key(name: str) -> str:
    return " ".join(name.casefold().split())


def upgrade() -> None:
    """Create the tables of customers, and fill them from what was sent."""
    op.add_column("quote", sa.Column("customer_key", sa.Text(), nullable=False, server_default=""))
    op.add_column("quote", sa.Column("drawn", sa.Text(), nullable=False, server_default=""))
    op.add_column(
        "customer_link", sa.Column("ended_on", sa.Text(), nullable=False, server_default="")
    )
    op.create_index("ix_quote_customer_key", "quote", ["customer_key"])
    customer = op.create_table(
        "customer",
        sa.Column("id", sa.Integer(), nullable=False, autoincrement=True),
        sa.Column("revision", sa.Integer(), nullable=False),
        *(
            _text(name)
            for name in (
                "name",
                "email",
                "phone",
                "address",
                "notes",
                "contacts",
                "agreed",
                "keep_until",
                "names_until",
                "created_on",
                "changed_on",
            )
        ),
        sa.PrimaryKeyConstraint("id", name="pk_customer"),
        sa.CheckConstraint("revision >= 1", name="ck_customer_revision"),
    )
    name = op.create_table(
        "customer_name",
        _text("key"),
        sa.Column("customer_id", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("key", name="pk_customer_name"),
        sa.ForeignKeyConstraint(
            ["customer_id"], ["customer.id"], name="fk_customer_name_customer_id_customer"
        ),
    )
    op.create_table(
        "setting", _text("name"), _text("value"), sa.PrimaryKeyConstraint("name", name="pk_setting")
    )
    op.create_index("ix_customer_name_customer_id", "customer_name", ["customer_id"])
    columns = ("id", "customer", "email", "version", "created_on", "customer_key")
    quote = sa.table("quote", *(sa.column(c) for c in columns))
    connection = op.get_bind()
    found: dict[str, dict[str, object]] = {}
    for row in connection.execute(sa.select(quote).order_by(quote.c.id)).mappings().all():
        key = _key(row["customer"])
        if not key:
            continue
        there = sa.update(quote).where(quote.c.id == row["id"])
        connection.execute(there.values(customer_key=key))
        if row["version"] == 0:
            continue
        made = found.setdefault(
            key,
            {
                "id": len(found) + 1,
                "revision": 1,
                "name": " ".join(row["customer"].split()),
                "email": "",
                "phone": "",
                "address": "",
                "notes": "",
                "contacts": "[]",
                "agreed": "[]",
                "keep_until": "",
                "names_until": "",
                "created_on": row["created_on"],
                "changed_on": row["created_on"],
            },
        )
        made["email"] = row["email"] or made["email"]
    op.bulk_insert(customer, list(found.values()))
    op.bulk_insert(name, [{"key": key, "customer_id": row["id"]} for key, row in found.items()])
