"""The outbox: messages are rows that name their bytes; those in the folder are taken in.

Dates of quotes are written one way.
"""

import contextlib
import email
from datetime import date
from email.policy import default
from pathlib import Path

import sqlalchemy as sa
from alembic import op

from clothyard.store.blobs import Blobs

revision = "0005"
down_revision = "0004"


def _rows(folder: Path) -> list[dict[str, str]]:
    """Keep the messages that lie in a shop's folder as documents; return a row of each."""
    documents = Blobs(folder / "documents")
    rows = []
    for path in sorted((folder / "outbox").glob("*.eml")):
        data = path.read_bytes()
        mail = email.message_from_bytes(data, policy=default)
        to, subject, on = (str(mail[name] or "") for name in ("To", "Subject", "X-Sent-On"))
        rows.append(
            {
                "id": path.stem,
                "to": to,
                "subject": subject,
                "sent_on": f"{on}T00:00:00+00:00",
                "sha256": documents.keep(data),
                "posted_on": on,
                "trouble": "",
            }
        )
    return rows


def _write_dates_one_way() -> None:
    """Dates were kept as typed: 20270101 and 2026W011 are dates too, and sorted as none."""
    quotes = sa.table("quote", *(sa.column(name) for name in ("id", "due_on", "valid_until")))
    connection = op.get_bind()
    for row in connection.execute(sa.select(quotes)).mappings().all():
        found = {}
        for name in ("due_on", "valid_until"):
            with contextlib.suppress(ValueError):
                written = date.fromisoformat(row[name]).isoformat()
                if written != row[name]:
                    found[name] = written
        if found:
            connection.execute(sa.update(quotes).where(quotes.c.id == row["id"]).values(**found))


def upgrade() -> None:
    """Create the table of messages."""
    _write_dates_one_way()
    names = ("id", "to", "subject", "sent_on", "sha256", "posted_on", "trouble")
    table = op.create_table(
        "mail",
        *(sa.Column(name, sa.Text(), nullable=False) for name in names),
        sa.PrimaryKeyConstraint("id", name="pk_mail"),
    )
    op.create_index("ix_mail_listed", "mail", ["sent_on"])
    database = op.get_bind().engine.url.database
    assert database is not None
    op.bulk_insert(table, _rows(Path(database).parent))
