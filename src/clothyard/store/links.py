"""Customers' links and what they say, in the database."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from sqlalchemy import delete, func, select, update

from clothyard.core.errors import Conflict, NotFound
from clothyard.store.asks import add_asks
from clothyard.store.models import CustomerLink, CustomerWord, Quote, QuoteVersion
from clothyard.store.shop import now
from clothyard.store.unit import Reads, Unit

MOST_CHANGES = 10
"""That a customer can ask for of one version, on their page."""

MOST_SAID = 100
"""Listed of a quote."""


@dataclass(frozen=True, slots=True)
class KeptWord:
    """What a customer said of a version: accepted, or a change asked for."""

    version: int
    kind: str
    name: str
    words: str
    said_on: str


def _hashed(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def add_link(unit: Unit, quote_id: int, version: int, token: str) -> None:
    """Keep a link's hash; those before it of the same version no longer open anything.

    Those of older versions lead to the newest one, until another link of that one is made: then
    only it opens anything.
    """
    session = unit.session
    mine = CustomerLink.quote_id == quote_id
    ended = session.scalar(select(CustomerLink.version).where(mine, CustomerLink.ended_on == ""))
    gone = delete(CustomerLink).where(mine, CustomerLink.ended_on != "")
    session.execute(gone if ended == version else gone.where(CustomerLink.version == ended))
    session.execute(
        update(CustomerLink).where(mine, CustomerLink.ended_on == "").values(ended_on=now())
    )
    session.add(
        CustomerLink(
            token_sha256=_hashed(token),
            quote_id=quote_id,
            version=version,
            made_on=now(),
            ended_on="",
        )
    )


def take_back_link(unit: Unit, quote_id: int) -> bool:
    """Let a quote's newest link open nothing, and the one before it again, of the same version.

    Returns
    -------
    bool
        Whether there was one before.
    """
    session = unit.session
    rows = session.scalars(select(CustomerLink).where(CustomerLink.quote_id == quote_id)).all()
    newest = next((row for row in rows if not row.ended_on), None)
    if newest is None:
        return False
    before = next((r for r in rows if r.ended_on and r.version == newest.version), None)
    if before is None:
        return False
    session.delete(newest)
    before.ended_on = ""
    return True


def follow_link(at: Reads, token: str) -> tuple[int, int, bool]:
    """Return the quote and version that a link opens, and whether it is newer than the link.

    Raises
    ------
    NotFound
        If it opens none; nothing tells whether it ever did.
    """
    with at.reading() as session:
        row = session.get(CustomerLink, _hashed(token))
        newest = row
        if row is not None and row.ended_on:
            newest = session.scalar(
                select(CustomerLink).where(
                    CustomerLink.quote_id == row.quote_id,
                    CustomerLink.ended_on == "",
                    CustomerLink.version > row.version,
                )
            )
        if row is None or newest is None:
            raise NotFound(
                "this link opens no quote.",
                where="link",
                remedy="Ask the shop for a new one.",
                code="link-unknown",
            )
        return newest.quote_id, newest.version, newest is not row


def keep_word(unit: Unit, quote_id: int, word: KeptWord) -> None:
    """Keep what a customer said, with its version; accepting answers the version once.

    Raises
    ------
    Conflict
        If the quote is no longer the version sent, or was answered meanwhile; nothing is kept.
    """
    session = unit.session
    quote = session.get(Quote, quote_id)
    if quote is None or quote.state != "sent" or quote.version != word.version:
        raise Conflict(
            "this quote was answered or replaced meanwhile.",
            where="quote",
            remedy="Load the page again.",
            code="quote-not-open",
        )
    count = select(func.count()).select_from(CustomerWord)
    said = session.scalar(
        count.where(
            CustomerWord.quote_id == quote_id,
            CustomerWord.version == word.version,
            CustomerWord.kind == "change",
        )
    )
    if word.kind == "change" and (said or 0) >= MOST_CHANGES:
        raise Conflict(
            f"{MOST_CHANGES} changes were asked for already.",
            where="words",
            remedy="Write to the shop; it has those and answers with a new version.",
            code="said-many",
        )
    values = {"heard": word.kind, "changed_on": word.said_on, "revision": Quote.revision + 1}
    if word.kind == "accepted":
        values["state"] = "accepted"
        session.execute(
            update(QuoteVersion)
            .where(QuoteVersion.quote_id == quote_id, QuoteVersion.version == word.version)
            .values(answer="accepted", answered_on=word.said_on)
        )
    session.execute(update(Quote).where(Quote.id == quote_id).values(values))
    session.add(
        CustomerWord(
            quote_id=quote_id,
            version=word.version,
            kind=word.kind,
            name=word.name,
            words=word.words,
            said_on=word.said_on,
        )
    )
    if word.kind == "change":
        add_asks(unit, quote_id, word.version, [("change", word.words)], name=word.name)


def list_words(at: Reads, quote_id: int) -> list[KeptWord]:
    """List what a customer said of a quote, the first first; the last 100."""
    with at.reading() as session:
        rows = session.scalars(
            select(CustomerWord)
            .where(CustomerWord.quote_id == quote_id)
            .order_by(CustomerWord.id.desc())
            .limit(MOST_SAID)
        ).all()
        return [KeptWord(r.version, r.kind, r.name, r.words, r.said_on) for r in reversed(rows)]
