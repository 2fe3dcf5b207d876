"""The outbox: messages are rows that name their bytes; those in the folder are taken in."""

import email
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
            {"id": path.stem, "to": to, "subject": subject, "sent_on": f"{on}T00:00:00+00:00",
             "sha256": documents.keep(data), "posted_on": on, "trouble": ""}
        )  # fmt: skip
    return rows


def upgrade() -> None:
    """Create the table of messages."""
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
