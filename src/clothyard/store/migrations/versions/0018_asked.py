"""What customers ask for is kept until it is answered, whatever version follows."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"


def upgrade() -> None:
    """Make the table, and take over what waits for an answer: changes and corrections."""
    op.create_table(
        "customer_ask",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("quote_id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        *(
            sa.Column(name, sa.Text(), nullable=False)
            for name in ("kind", "name", "words", "said_on", "answered", "answer", "answered_on")
        ),
        sa.CheckConstraint(
            "kind IN ('change', 'name', 'words', 'sentence')", name=op.f("ck_customer_ask_kind")
        ),
        sa.CheckConstraint(
            "answered IN ('', 'taken', 'declined')", name=op.f("ck_customer_ask_answered")
        ),
        sa.ForeignKeyConstraint(
            ["quote_id"], ["quote.id"], name=op.f("fk_customer_ask_quote_id_quote")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_customer_ask")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_customer_ask_quote_id"), "customer_ask", ["quote_id"])
    op.create_index(op.f("ix_customer_ask_answered"), "customer_ask", ["answered"])
    op.execute(
        "INSERT INTO customer_ask (quote_id, version, kind, name, words, said_on, answered, answer,"
        " answered_on) SELECT w.quote_id, w.version, 'change', w.name, w.words, w.said_on,"
        " CASE WHEN q.heard = 'change' AND q.version = w.version THEN '' ELSE 'taken' END, '', ''"
        " FROM customer_word w JOIN quote q ON q.id = w.quote_id WHERE w.kind = 'change'"
    )
    _corrections()


def _corrections() -> None:
    here = op.get_bind()
    rows = here.execute(
        sa.text(
            "SELECT p.quote_id, p.version, p.said_by, p.said, p.said_on FROM proof p"
            " JOIN quote q ON q.id = p.quote_id AND q.version = p.version"
            " WHERE p.state = 'corrected'"
        )
    ).all()
    for quote_id, version, name, text, said_on in rows:
        try:
            said = json.loads(text)
            asks = [
                (kind, f"{row['was']} → {row['to']}")
                for kind, part in (("name", "names"), ("words", "words"))
                for row in said.get(part, [])
            ]
            asks += [("sentence", said["other"])] if said.get("other") else []
        except (ValueError, KeyError, TypeError, AttributeError):
            continue  # it is told as not to be read where it is looked at
        for kind, words in asks:
            here.execute(
                sa.text(
                    "INSERT INTO customer_ask (quote_id, version, kind, name, words, said_on,"
                    " answered, answer, answered_on)"
                    " VALUES (:q, :v, :k, :n, :w, :s, '', '', '')"
                ),
                {"q": quote_id, "v": version, "k": kind, "n": name, "w": words, "s": said_on},
            )
