"""Ids are never given again; rows that mean another say so; the work of a version is kept."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"

IDS = {
    "quote": "id",
    "customer": "id",
    "customer_word": "id",
    "stock_move": "id",
    "purchase": "id",
    "log_row": "id",
    "run_event": "n",
}
"""Tables that count their rows, and by which column."""

MEANS = {
    "stock_move": ("quote_id", "quote", "id", True),
    "log_row": ("quote_id", "quote", "id", True),
    "photo": ("quote_id", "quote", "id", True),
    "run_event": ("quote_id", "quote", "id", False),
    "log_change": ("row_id", "log_row", "id", False),
}
"""Tables whose rows mean another: column, table, its column, and whether it may mean none."""


def _anew(table: str, sql: str) -> str:
    """Write a table's definition anew: it counts on, and says what its rows mean."""
    sql = sql.replace(f"CREATE TABLE {table}", f"CREATE TABLE {table}_anew", 1)
    if column := IDS.get(table):
        sql = sql.replace(
            f"{column} INTEGER NOT NULL", f"{column} INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT", 1
        )
        key = f"CONSTRAINT pk_{table} PRIMARY KEY ({column})"
        sql = sql.replace(f"{key}, ", "", 1).replace(f", \n\t{key}", "", 1)
    if table in MEANS:
        column, other, of, may_none = MEANS[table]
        if may_none:
            sql = sql.replace(f"{column} INTEGER NOT NULL", f"{column} INTEGER", 1)
        means = f"CONSTRAINT fk_{table}_{column}_{other} FOREIGN KEY({column})"
        sql = f"{sql.rstrip().removesuffix(')').rstrip()}, \n\t{means} REFERENCES {other} ({of})\n)"
    return sql


def _make_anew(connection: sa.Connection, table: str) -> None:
    """Make a table anew with what is in it; its ids go on where any was that is known of."""
    found = connection.execute(
        sa.text("SELECT type, sql FROM sqlite_master WHERE tbl_name = :table AND sql IS NOT NULL"),
        {"table": table},
    ).all()
    made = [sql for kind, sql in found if kind == "table"]
    connection.exec_driver_sql(_anew(table, made[0]))
    connection.exec_driver_sql(f"INSERT INTO {table}_anew SELECT * FROM {table}")
    connection.exec_driver_sql(f"DROP TABLE {table}")
    connection.exec_driver_sql(f"ALTER TABLE {table}_anew RENAME TO {table}")
    for kind, sql in found:
        if kind == "index":
            connection.exec_driver_sql(sql)


def _clear_what_means_nothing(connection: sa.Connection) -> None:
    """Rows that meant no order mean none now; those of an order that is gone are let go."""
    for table, (column, other, of, may_none) in MEANS.items():
        gone = f"{column} NOT IN (SELECT {of} FROM {other})"
        if may_none:
            connection.exec_driver_sql(f"UPDATE {table} SET {column} = NULL WHERE {gone}")
        else:
            connection.exec_driver_sql(f"DELETE FROM {table} WHERE {gone}")


def _count_on(connection: sa.Connection) -> None:
    """Let ids go on behind those that are only known by what names them."""
    for table, head in (("log_row", "log:"), ("purchase", "arrival:")):
        keys = connection.execute(
            sa.text("SELECT key FROM stock_move WHERE key LIKE :head"), {"head": f"{head}%"}
        ).scalars()
        named = [int(part) for key in keys if (part := key.split(":")[1]).isdigit()]
        last = max(named, default=0)
        connection.execute(
            sa.text(
                "INSERT INTO sqlite_sequence (name, seq) SELECT :table, 0 WHERE NOT EXISTS "
                "(SELECT 1 FROM sqlite_sequence WHERE name = :table)"
            ),
            {"table": table},
        )
        connection.execute(
            sa.text("UPDATE sqlite_sequence SET seq = max(seq, :last) WHERE name = :table"),
            {"table": table, "last": last},
        )


def upgrade() -> None:
    """Make the tables anew, foreign keys being off meanwhile; then add what is new."""
    connection = op.get_bind()
    for table in {**IDS, **MEANS}:
        _make_anew(connection, table)
    _clear_what_means_nothing(connection)
    _count_on(connection)
    op.add_column(
        "setting", sa.Column("revision", sa.Integer(), nullable=False, server_default="1")
    )
    op.add_column("purchase", sa.Column("key", sa.Text(), nullable=True))
    op.create_index("uq_purchase_key", "purchase", ["key"], unique=True)
    op.create_table(
        "work_document",
        sa.Column("sha256", sa.Text(), nullable=False),
        sa.Column("work", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("sha256", name="pk_work_document"),
    )
    op.create_table(
        "order_work",
        sa.Column("quote_id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("work_sha256", sa.Text(), nullable=True),
        sa.Column("plain_sha256", sa.Text(), nullable=True),
        sa.Column("units", sa.Text(), nullable=False),
        sa.Column("unready", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("quote_id", "version", name="pk_order_work"),
        sa.ForeignKeyConstraint(
            ["quote_id", "version"],
            ["quote_version.quote_id", "quote_version.version"],
            name="fk_order_work_quote_id_quote_version",
        ),
        sa.ForeignKeyConstraint(
            ["work_sha256"],
            ["work_document.sha256"],
            name="fk_order_work_work_sha256_work_document",
        ),
        sa.ForeignKeyConstraint(
            ["plain_sha256"],
            ["work_document.sha256"],
            name="fk_order_work_plain_sha256_work_document",
        ),
    )
    op.create_table(
        "order_result",
        sa.Column("quote_id", sa.Integer(), nullable=False),
        sa.Column("currency", sa.Text(), nullable=False),
        sa.Column("logged", sa.Integer(), nullable=False),
        sa.Column("lines", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("quote_id", name="pk_order_result"),
        sa.ForeignKeyConstraint(
            ["quote_id"], ["work_order.quote_id"], name="fk_order_result_quote_id_work_order"
        ),
    )
