"""Erasing people out of the database and its files; the figures of what was sold stay."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import delete, select, union
from sqlalchemy.orm import Session

from clothyard.store.blobs import content_hash
from clothyard.store.customers import key_of, remove_customer
from clothyard.store.mail import mails_of
from clothyard.store.models import (
    CustomerLink,
    CustomerWord,
    LogChange,
    LogEntry,
    Mail,
    OrderWork,
    Photo,
    Piece,
    Proof,
    Quote,
    QuoteDocument,
    QuoteVersion,
    RunEvent,
    WorkDocument,
)
from clothyard.store.shop import now
from clothyard.store.unit import Unit

ERASED = "erased"
"""Stands where a name did."""

BLOT = "x"
"""Stands for each letter of a name on a list: so many are still priced alike."""


@dataclass
class Told:
    """What was erased: of how many quotes, and what of them.

    `files` are documents that nothing names any more, `posted` messages in the outbox's folder:
    both are taken away once the rows are gone.
    """

    quotes: int = 0
    names: int = 0
    papers: int = 0
    messages: int = 0
    files: list[str] = field(default_factory=list)
    posted: list[str] = field(default_factory=list)


def names_in(job: dict[str, Any]) -> list[str]:
    """List the names that a job, as typed, holds."""
    lines = job.get("lines")
    rows = [row for row in lines if isinstance(row, dict)] if isinstance(lines, list) else []
    found = [name for row in rows for name in row.get("names") or [] if isinstance(name, str)]
    return [name for name in found if name.strip(f" {BLOT}")]


def _without_names(job: dict[str, Any]) -> dict[str, Any]:
    """Take the name lists out of a job: what stands in their place is a mark of equal length."""
    lines = job.get("lines")
    for row in lines if isinstance(lines, list) else []:
        if isinstance(row, dict) and isinstance(row.get("names"), list):
            row["names"] = [
                "x" * len(name) if isinstance(name, str) else "" for name in row["names"]
            ]
    return job


FREE_TEXT = frozenset(
    (
        "name",
        "message",
        "fix",
        "text",
        "overruled",
        "reason",
        "said",
        "label",
        "notes",
        "customer",
        "email",
        "words",
        "detail",
    )
)
"""Keys whose values are people's words: a name may stand there. Kinds and ids are not touched."""


def scrubbed(text: str, words: Iterable[str]) -> str:
    """Take words out of a text, wherever they stand as words of their own."""
    for word in sorted({word.strip() for word in words} - {""}, key=len, reverse=True):
        text = re.sub(rf"(?<!\w){re.escape(word)}(?!\w)", ERASED, text, flags=re.IGNORECASE)
    return text


def _without_words(value: Any, words: list[str], key: str = "") -> Any:
    """Take words out of a document, where people write."""
    if isinstance(value, dict):
        return {k: _without_words(part, words, k) for k, part in value.items()}
    if isinstance(value, list):
        return [_without_words(part, words, key) for part in value]
    return scrubbed(value, words) if isinstance(value, str) and key in FREE_TEXT else value


def _erase_log(session: Session, entry: LogEntry, words: list[str]) -> None:
    """Take names and photos out of a log row and what it was before."""
    found: list[LogEntry | LogChange] = [entry]
    found += session.scalars(select(LogChange).where(LogChange.row_id == entry.id)).all()
    for kept in found:
        row = json.loads(kept.document)
        row = row | {"customer": "", "photo": "", "note": scrubbed(row["note"], words)}
        kept.document = json.dumps(row)
    entry.search = scrubbed(entry.search, words)


def erase(unit: Unit, keys: list[str], people: list[str], *, customer_id: int | None) -> Told:
    """Erase the name lists of quotes, and the papers and messages that show them.

    Parameters
    ----------
    unit : Unit
    keys : list of str
        Names that the quotes are for, as compared.
    people : list of str
        Names and addresses that go with them.
    customer_id : int or None
        Who then goes too, with links, words and notes.
    """
    told = Told()
    session = unit.session
    files: set[str] = set()
    for row in session.scalars(select(Quote).where(Quote.customer_key.in_(keys))).all():
        found = select(QuoteVersion).where(QuoteVersion.quote_id == row.id)
        versions = session.scalars(found).all()
        names = set(names_in(json.loads(row.job)))
        names.update(*(names_in(json.loads(version.job)) for version in versions))
        if customer_id is None and not names:
            continue
        told.quotes += 1
        told.names += len(names)
        _erase_quote(row, [*names, *people], whole=customer_id is not None)
        for version in versions:
            _erase_version(version, [*names, *people], whole=customer_id is not None)
        _erase_work(session, row.id, [*names, *people])
        for piece in session.scalars(select(Piece).where(Piece.quote_id == row.id)):
            piece.name = BLOT * len(piece.name)
        for proof in session.scalars(select(Proof).where(Proof.quote_id == row.id)):
            _erase_proof(proof, [*names, *people], whole=customer_id is not None)
        for event in session.scalars(select(RunEvent).where(RunEvent.quote_id == row.id)):
            told_of = _without_words(json.loads(event.data), [*names, *people])
            event.data = json.dumps(told_of)
        for photo in session.scalars(select(Photo).where(Photo.quote_id == row.id)).all():
            files.add(photo.sha256)
            session.delete(photo)
        for entry in session.scalars(select(LogEntry).where(LogEntry.quote_id == row.id)):
            _erase_log(session, entry, [*names, *people])
        papers = select(QuoteDocument).where(QuoteDocument.quote_id == row.id)
        mails = mails_of(session, row.number)
        told.posted += [mail.id for mail in mails]
        told.messages += len(mails)
        kept: list[QuoteDocument | Mail] = [*session.scalars(papers).all(), *mails]
        told.papers += len(kept) - len(mails)
        for gone in kept:
            files.add(gone.sha256)
            session.delete(gone)
        if customer_id is not None:
            session.execute(delete(CustomerLink).where(CustomerLink.quote_id == row.id))
            session.execute(delete(CustomerWord).where(CustomerWord.quote_id == row.id))
    if customer_id is not None:
        remove_customer(session, customer_id)
    session.flush()
    kept_by = union(select(QuoteDocument.sha256), select(Mail.sha256), select(Photo.sha256))
    told.files = sorted(files - set(session.scalars(kept_by)))
    return told


def _erase_quote(row: Quote, words: list[str], *, whole: bool) -> None:
    row.job = json.dumps(_without_words(_without_names(json.loads(row.job)), words))
    row.summary = scrubbed(row.summary, words)
    row.search = scrubbed(row.search, words)
    row.notes = "" if whole else scrubbed(row.notes, words)
    if whole:
        row.customer, row.email, row.customer_key = ERASED, "", key_of(ERASED)
    row.revision += 1
    row.changed_on = now()


def _erase_proof(proof: Proof, words: list[str], *, whole: bool) -> None:
    """Take names and words out of what was said of a proof; that it was said stays."""
    said = json.loads(proof.said)
    rows = [*said.get("names", []), *said.get("words", [])]
    words = [*words, *(row["to"] for row in rows)]
    for row in said.get("names", []):
        row |= {"to": BLOT * len(row["to"]), "was": BLOT * len(row["was"])}
    for row in said.get("words", []):
        row |= {key: scrubbed(row[key], words) for key in ("to", "was")}
    said["other"] = "" if whole else scrubbed(said.get("other", ""), words)
    proof.said = json.dumps(said)
    proof.said_by = ERASED if whole else scrubbed(proof.said_by, words)


def _erase_work(session: Session, quote_id: int, words: list[str]) -> None:
    """Take names out of what a quote's versions' work is; it goes under another hash then."""
    for kept in session.scalars(select(OrderWork).where(OrderWork.quote_id == quote_id)).all():
        for column in ("work_sha256", "plain_sha256"):
            was = getattr(kept, column)
            document = session.get(WorkDocument, was) if was else None
            if document is None:
                continue
            text = json.dumps(_without_words(json.loads(document.work), words))
            sha256 = content_hash(text.encode())
            if session.get(WorkDocument, sha256) is None:
                session.add(WorkDocument(sha256=sha256, work=text))
                session.flush()
            setattr(kept, column, sha256)
    session.flush()
    used = union(select(OrderWork.work_sha256), select(OrderWork.plain_sha256)).subquery()
    named = select(used.c[0]).where(used.c[0].is_not(None))
    session.execute(delete(WorkDocument).where(WorkDocument.sha256.not_in(named)))


def _erase_version(version: QuoteVersion, words: list[str], *, whole: bool) -> None:
    version.job = json.dumps(_without_words(_without_names(json.loads(version.job)), words))
    version.estimate = json.dumps(_without_words(json.loads(version.estimate), words))
    head = json.loads(version.head)
    if whole:
        head |= {"customer": ERASED, "email": "", "notes": ""}
    version.head = json.dumps(_without_words(head, words))
