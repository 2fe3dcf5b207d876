"""Erasing people out of the database and its files; the figures of what was sold stay."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import delete, select, union
from sqlalchemy.orm import Session

from clothyard.core.advice.trouble import all_faults
from clothyard.core.stock.key import is_key
from clothyard.store.blobs import content_hash
from clothyard.store.customers import key_of, remove_customer
from clothyard.store.mail import mails_of
from clothyard.store.models import (
    CustomerAsk,
    CustomerLink,
    CustomerWord,
    DesignFile,
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
    SetAside,
    StockMove,
    WorkDocument,
)
from clothyard.store.shop import now
from clothyard.store.unit import Unit

ERASED = "erased"
"""Stands where a name did."""

SHORTEST_PART = 3
"""Letters of a name's part that is looked for by itself."""

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


def _designs_in(job: dict[str, Any]) -> list[dict[str, Any]]:
    """List the designs of a job, as typed."""
    lines = job.get("lines")
    rows = [row for row in lines if isinstance(row, dict)] if isinstance(lines, list) else []
    places = [place for row in rows for place in row.get("placements") or []]
    found = [place.get("design") for place in places if isinstance(place, dict)]
    return [design for design in found if isinstance(design, dict)]


def _texts_in(job: dict[str, Any]) -> list[str]:
    """List the words that a job letters, but for where a name of the list comes in."""
    texts = [design.get("text") for design in _designs_in(job)]
    parts = [part for text in texts if isinstance(text, str) for part in text.split("{name}")]
    return [part for part in parts if len(part.strip(f" {BLOT}")) >= SHORTEST_PART]


def _blotted(text: str) -> str:
    """Put a mark in the place of each letter, but where a name of the list comes in."""
    return "{name}".join(re.sub(r"\S", BLOT, part) for part in text.split("{name}"))


def _without_names(job: dict[str, Any], *, whole: bool) -> dict[str, Any]:
    """Take the name lists out of a job, and with `whole` the words that it letters.

    What stands in their place is a mark of equal length.
    """
    lines = job.get("lines")
    for row in lines if isinstance(lines, list) else []:
        if isinstance(row, dict) and isinstance(row.get("names"), list):
            row["names"] = [
                BLOT * len(name) if isinstance(name, str) else "" for name in row["names"]
            ]
    for design in _designs_in(job) if whole else []:
        if isinstance(design.get("text"), str):
            design["text"] = _blotted(design["text"])
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
        "item",
    )
)
"""Keys whose values are people's words: a name may stand there. Kinds and ids are not touched."""

TYPED = frozenset(("reason", "notes", "words"))
"""Those of them that are typed as one talks: a part of a name stands there for the whole."""


def scrubbed(text: str, words: Iterable[str]) -> str:
    """Take words out of a text, wherever they stand as words of their own."""
    for word in sorted({word.strip() for word in words} - {""}, key=len, reverse=True):
        text = re.sub(rf"(?<!\w){re.escape(word)}(?!\w)", ERASED, text, flags=re.IGNORECASE)
    return text


def parts_of(words: Iterable[str]) -> list[str]:
    """Return words with their parts: somebody is told of by one name of theirs as well."""
    found = dict.fromkeys(word for word in words if word.strip())
    for word in list(found):
        if "@" not in word:
            parts = re.findall(r"[^\W\d_]+", word)
            found.update(dict.fromkeys(part for part in parts if len(part) >= SHORTEST_PART))
    return list(found)


def _without_words(value: Any, words: list[str], key: str = "") -> Any:
    """Take words out of a document, where people write."""
    if isinstance(value, dict):
        return {k: _without_words(part, words, k) for k, part in value.items()}
    if isinstance(value, list):
        return [_without_words(part, words, key) for part in value]
    if not isinstance(value, str) or (key == "item" and is_key(value)):
        return value
    if key in TYPED:
        return scrubbed(value, parts_of(words))
    return scrubbed(value, words) if key in FREE_TEXT else value


def _erase_log(session: Session, entry: LogEntry, words: list[str]) -> None:
    """Take names and photos out of a log row and what it was before."""
    found: list[LogEntry | LogChange] = [entry]
    found += session.scalars(select(LogChange).where(LogChange.row_id == entry.id)).all()
    for kept in found:
        row = json.loads(kept.document)
        row |= {"customer": "", "photo": "", "note": scrubbed(row["note"], words)}
        row["reasons"] = {_reason(key, words): n for key, n in row.get("reasons", {}).items()}
        row["design"] = scrubbed(row.get("design", ""), words)
        kept.document = json.dumps(row)
    entry.search = scrubbed(entry.search, words)


def _reason(text: str, words: list[str]) -> str:
    """Take words out of a reason that was typed; a fault's id is none."""
    return text if text in all_faults() else scrubbed(text, words)


def _erase_file_names(session: Session, job: dict[str, Any], words: list[str]) -> list[str]:
    """Give stitch files that are called by somebody's name another; returns what they were."""
    parts = {part.casefold() for part in words}
    found: list[str] = []
    for design in _designs_in(job):
        file = session.get(DesignFile, str(design.get("sha256", "")))
        if file is None:
            continue
        stem, dot, ending = file.name.rpartition(".")
        if parts.isdisjoint(re.findall(r"[^\W\d_]+", stem.casefold())):
            continue
        found += [file.name, stem]
        file.name = f"{ERASED}-{file.sha256[:6]}{dot}{ending}"
        file.facts = json.dumps(json.loads(file.facts) | {"name": file.name})
    return found


def _people_of(session: Session, row: Quote, versions: Sequence[QuoteVersion]) -> list[str]:
    """List who a quote names: whom it is for and was sent to, who said something of it."""
    heads = [json.loads(version.head) for version in versions]
    found = [row.customer, row.email]
    found += [str(head.get(key, "")) for head in heads for key in ("customer", "email")]
    said = select(CustomerWord.name).where(CustomerWord.quote_id == row.id)
    approved = select(Proof.said_by).where(Proof.quote_id == row.id)
    return [*found, *session.scalars(said), *session.scalars(approved)]


def _erase_at_work(session: Session, quote_id: int, words: list[str]) -> list[str]:
    """Take words out of what the workshop wrote of an order; returns its photos' files."""
    for piece in session.scalars(select(Piece).where(Piece.quote_id == quote_id)):
        piece.name = BLOT * len(piece.name)
        piece.reason = _reason(piece.reason, words)
    for event in session.scalars(select(RunEvent).where(RunEvent.quote_id == quote_id)):
        event.data = json.dumps(_without_words(json.loads(event.data), words))
    for move in session.scalars(select(StockMove).where(StockMove.quote_id == quote_id)):
        move.note = scrubbed(move.note, words)
    for entry in session.scalars(select(LogEntry).where(LogEntry.quote_id == quote_id)):
        _erase_log(session, entry, words)
    photos = session.scalars(select(Photo).where(Photo.quote_id == quote_id)).all()
    for photo in photos:
        session.delete(photo)
    return [photo.sha256 for photo in photos]


def _erase_elsewhere(session: Session, words: list[str]) -> None:
    """Take words out of notes of the shelf, and out of what was set aside."""
    for move in session.scalars(select(StockMove).where(StockMove.note != "")):
        move.note = scrubbed(move.note, words)
    for aside in session.scalars(select(SetAside)):
        aside.document = scrubbed(aside.document, words)


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
        files.update(_erase_of(session, row, people, told, whole=customer_id is not None))
    if customer_id is not None:
        _erase_elsewhere(session, parts_of(people))
        remove_customer(session, customer_id)
    session.flush()
    kept_by = union(select(QuoteDocument.sha256), select(Mail.sha256), select(Photo.sha256))
    told.files = sorted(files - set(session.scalars(kept_by)))
    return told


def _erase_of(
    session: Session, row: Quote, people: list[str], told: Told, *, whole: bool
) -> list[str]:
    """Erase a quote's names, and with `whole` whom it is for; returns the files of its papers."""
    versions = session.scalars(select(QuoteVersion).where(QuoteVersion.quote_id == row.id)).all()
    jobs = [json.loads(text) for text in (row.job, *(version.job for version in versions))]
    names = {name for job in jobs for name in names_in(job)}
    if not whole and not names:
        return []
    told.quotes += 1
    told.names += len(names)
    words = [*names, *people]
    if whole:
        words += [*_people_of(session, row, versions), *(t for job in jobs for t in _texts_in(job))]
    for job in jobs:
        words += _erase_file_names(session, job, parts_of(words))
    _erase_quote(row, words, whole=whole)
    for version in versions:
        _erase_version(version, words, whole=whole)
    _erase_work(session, row.id, words)
    for proof in session.scalars(select(Proof).where(Proof.quote_id == row.id)):
        _erase_proof(proof, words, whole=whole)
    files = _erase_at_work(session, row.id, parts_of(words))
    papers = session.scalars(select(QuoteDocument).where(QuoteDocument.quote_id == row.id)).all()
    mails = mails_of(session, row.number)
    told.posted += [mail.id for mail in mails]
    told.messages += len(mails)
    told.papers += len(papers)
    kept: list[QuoteDocument | Mail] = [*papers, *mails]
    for gone in kept:
        files.append(gone.sha256)
        session.delete(gone)
    for ask in session.scalars(select(CustomerAsk).where(CustomerAsk.quote_id == row.id)):
        ask.words = BLOT if ask.kind in {"name", "words"} else scrubbed(ask.words, words)
        ask.answer = scrubbed(ask.answer, words)
    if whole:
        session.execute(delete(CustomerLink).where(CustomerLink.quote_id == row.id))
        session.execute(delete(CustomerWord).where(CustomerWord.quote_id == row.id))
        session.execute(delete(CustomerAsk).where(CustomerAsk.quote_id == row.id))
    return files


def _erase_quote(row: Quote, words: list[str], *, whole: bool) -> None:
    row.job = json.dumps(_without_words(_without_names(json.loads(row.job), whole=whole), words))
    row.summary = scrubbed(row.summary, words)
    row.search = scrubbed(row.search, parts_of(words) if whole else words)
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
    job = _without_names(json.loads(version.job), whole=whole)
    version.job = json.dumps(_without_words(job, words))
    version.estimate = json.dumps(_without_words(json.loads(version.estimate), words))
    head = json.loads(version.head)
    if whole:
        head |= {"customer": ERASED, "email": "", "notes": ""}
    version.head = json.dumps(_without_words(head, words))
