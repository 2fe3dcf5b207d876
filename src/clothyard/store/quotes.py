"""Quotes in the database: every update says which revision it has seen."""

from __future__ import annotations

import json
from collections.abc import Collection, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import ColumnElement, Numeric, Select, and_, cast, func, select, text, update
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session, defer

from clothyard.core.errors import Conflict, NotFound, Stale
from clothyard.store.customers import key_of, meet_customer
from clothyard.store.links import add_link
from clothyard.store.mail import KeptMail, add_mail
from clothyard.store.models import (
    CustomerName,
    HouseSnapshot,
    Quote,
    QuoteDocument,
    QuoteVersion,
)
from clothyard.store.shop import Shop, now, today
from clothyard.store.unit import Reads, Unit

NUMBER_PREFIX = "Q-"
SORTS = ("changed", "number", "customer", "what", "due", "total", "state")


@dataclass(frozen=True, slots=True)
class KeptQuote:
    """A quote as kept; dates are ISO text, "" for none."""

    id: int
    number: str
    state: str
    revision: int
    version: int
    customer: str
    email: str
    due_on: str
    valid_until: str
    notes: str
    job: dict[str, Any]
    summary: str
    total: str
    currency: str
    house_sha256: str
    drawn: str
    changed_on: str
    heard: str
    deleted_on: str | None
    promised_on: str = ""
    goes_before: int = 0
    express: bool = False
    first_part: int = 0


@dataclass(frozen=True, slots=True)
class KeptVersion:
    """A sent version as kept; `estimate` and `job` are the documents of that day."""

    quote_id: int
    version: int
    head: dict[str, str]
    job: dict[str, Any]
    estimate: dict[str, Any]
    house_sha256: str
    sent_on: str
    answer: str
    answered_on: str


@dataclass(frozen=True, slots=True)
class Document:
    """A document made of a version."""

    kind: str
    name: str
    media_type: str
    data: bytes = field(repr=False)


def _kept(row: Quote) -> KeptQuote:
    values = {name: getattr(row, name) for name in KeptQuote.__dataclass_fields__}
    with _readable(row.number):
        return KeptQuote(**values | {"job": json.loads(row.job)})


def _listed(row: Quote) -> KeptQuote:
    """A quote for a list: without its job, so that one that is damaged fails no list."""
    names = KeptQuote.__dataclass_fields__.keys() - {"job"}
    return KeptQuote(**{name: getattr(row, name) for name in names}, job={})


@contextmanager
def _readable(what: str) -> Iterator[None]:
    """Say in words that something kept is damaged."""
    try:
        yield
    except ValueError:
        raise Conflict(
            f"what is kept of {what} is damaged and cannot be read.",
            where="quote",
            remedy="Go back to a backup (Workshop, Backups); the other quotes are not touched.",
            code="quote-unreadable",
        ) from None


def _kept_version(row: QuoteVersion) -> KeptVersion:
    names = KeptVersion.__dataclass_fields__
    values = {name: getattr(row, name) for name in names}
    with _readable(f"version {row.version}"):
        documents = {name: json.loads(values[name]) for name in ("head", "job", "estimate")}
    return KeptVersion(**(values | documents))


def _unknown(quote_id: int) -> NotFound:
    return NotFound(
        f"there is no quote {quote_id}.",
        where="quote",
        remedy="Look for it in the list.",
        code="quote-unknown",
    )


def find_quote(at: Reads, quote_id: int) -> KeptQuote:
    """Return a quote, also a deleted one.

    Raises
    ------
    NotFound
    """
    with at.reading() as session:
        row = session.get(Quote, quote_id)
        if row is None:
            raise _unknown(quote_id)
        return _kept(row)


def _keep_house(session: Session, sha256: str, house: str) -> None:
    """Keep a house once, by its content's hash."""
    there = select(HouseSnapshot.sha256).where(HouseSnapshot.sha256 == sha256)
    if session.scalar(there) is None:
        session.add(HouseSnapshot(sha256=sha256, house=house))
        session.flush()


def find_house(at: Reads, sha256: str) -> dict[str, Any]:
    """Return a kept house as a plain document; {} when it is not kept."""
    with at.reading() as session:
        row = session.get(HouseSnapshot, sha256)
        found: dict[str, Any] = json.loads(row.house) if row else {}
        return found


def add_quote(unit: Unit, *, house: str, **values: Any) -> KeptQuote:
    """Add a draft under the next number.

    Parameters
    ----------
    house : str
        The house it is priced by, as JSON; its hash is among the values.
    values : columns of the head, text of job, summary, total, currency, search, house_sha256
    """
    moment = now()
    session = unit.session
    _keep_house(session, values["house_sha256"], house)
    number = next_number(unit)
    values["search"] = f"{number.lower()} {values['search']}"
    row = Quote(
        number=number,
        customer_key=key_of(values["customer"]),
        state="draft",
        revision=1,
        version=0,
        created_on=moment,
        changed_on=moment,
        deleted_on=None,
        **values,
    )
    session.add(row)
    session.flush()
    return _kept(row)


def next_number(at: Reads) -> str:
    """Return the number that the next quote has; one that was given is never given again."""
    with at.reading() as session:
        known = session.scalar(text("SELECT seq FROM sqlite_sequence WHERE name = 'quote'")) or 0
        return f"{NUMBER_PREFIX}{known + 1:04d}"


def find_numbered(at: Reads, number: str) -> int | None:
    """Return the id of the quote of a number, None where there is none."""
    with at.reading() as session:
        wanted = func.lower(Quote.number) == number.strip().lower()
        return session.scalar(select(Quote.id).where(wanted))


def any_quote(at: Reads) -> bool:
    """Whether there is any quote, a deleted one too."""
    with at.reading() as session:
        return session.scalar(select(Quote.id).limit(1)) is not None


def find_untouched(at: Reads, job: str) -> KeptQuote | None:
    """Return the last draft that nothing was written into, with that job, or None."""
    empty = [getattr(Quote, name) == "" for name in ("customer", "email", "due_on", "notes")]
    with at.reading() as session:
        row = session.scalar(
            select(Quote)
            .where(Quote.version == 0, Quote.deleted_on.is_(None), Quote.job == job, *empty)
            .order_by(Quote.id.desc())
            .limit(1)
        )
        return _kept(row) if row else None


def _change(session: Session, quote_id: int, seen: int | None, values: dict[str, Any]) -> Quote:
    """Write values where the revision is the one seen (any, if None); raise it by one."""
    condition = Quote.id == quote_id
    if seen is not None:
        condition = and_(condition, Quote.revision == seen)
    changes = {"revision": Quote.revision + 1, "changed_on": now(), **values}
    row: Quote | None = session.scalar(
        update(Quote).where(condition).values(changes).returning(Quote)
    )
    if row is not None:
        return row
    there = session.get(Quote, quote_id)
    if there is None:
        raise _unknown(quote_id)
    raise stale(_kept(there))


def stale(there: KeptQuote) -> Stale:
    """Return the error of a write that is based on an older revision than the one there."""
    return Stale(
        f"{there.number} was changed elsewhere since.",
        kept=there,
        where="revision",
        remedy="Keep yours or take what is there.",
    )


def change_quote(
    unit: Unit, quote_id: int, *, seen: int | None, house: str = "", **values: Any
) -> KeptQuote:
    """Change a quote.

    Parameters
    ----------
    house : str
        The house it is now priced by, as JSON, when its hash is among the values.
    seen : int or None
        The revision the change is based on; None for changes that do not depend on it.

    Raises
    ------
    NotFound, Stale
        Nothing is written then.
    """
    session = unit.session
    if house:
        _keep_house(session, values["house_sha256"], house)
    if "customer" in values:
        values["customer_key"] = key_of(values["customer"])
    return _kept(_change(session, quote_id, seen, values))


def mark_deleted(unit: Unit, quote_id: int, deleted_on: str | None) -> KeptQuote:
    """Mark a quote as deleted, or no longer, also one that is damaged; without its job.

    Raises
    ------
    NotFound
    """
    session = unit.session
    return _listed(_change(session, quote_id, None, {"deleted_on": deleted_on}))


def _conditions(search: str, state: str) -> list[ColumnElement[bool]]:
    if state == "deleted":
        found: list[ColumnElement[bool]] = [Quote.deleted_on.is_not(None)]
    else:
        found = [Quote.deleted_on.is_(None)]
    for word in search.lower().split():
        safe = word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
        found.append(Quote.search.like(f"%{safe}%", escape="\\"))
    expired = and_(Quote.state == "sent", Quote.valid_until != "", Quote.valid_until < today())
    if state == "expired":
        found.append(expired)
    elif state == "change":
        found.append(and_(Quote.state == "sent", Quote.heard == "change"))
    elif state == "sent":
        found.append(and_(Quote.state == "sent", ~expired))
    elif state and state != "deleted":
        found.append(Quote.state == state)
    return found


def _sorted(
    query: Select[Any], sort: str, offset: int, limit: int | None, *, down: bool | None
) -> Select[Any]:
    """Sort quotes by a column, from its usual end or the other; what is empty comes last."""
    total = cast(func.nullif(Quote.total, ""), Numeric)
    orders: dict[str, tuple[Any, bool, Any]] = {
        "changed": (Quote.changed_on, True, Quote.changed_on == ""),
        "number": (Quote.id, True, Quote.id < 0),
        "customer": (func.lower(Quote.customer), False, Quote.customer == ""),
        "what": (func.lower(Quote.summary), False, Quote.summary == ""),
        "due": (Quote.due_on, False, Quote.due_on == ""),
        "total": (total, True, total.is_(None)),
        "state": (Quote.state, False, Quote.state == ""),
    }
    column, usual, empty = orders[sort]
    falls = usual if down is None else down
    return (
        query.order_by(empty, column.desc() if falls else column, Quote.id.desc())
        .offset(offset)
        .limit(limit)
    )


def list_quotes(
    at: Reads,
    *,
    search: str,
    state: str,
    sort: str,
    offset: int,
    limit: int | None,
    customer: int | None = None,
    down: bool | None = None,
) -> tuple[list[KeptQuote], int]:
    """List quotes, those that are not deleted unless these are asked for.

    Parameters
    ----------
    search : str
        Words that must all occur in number, customer, notes or goods.
    state : str
        "", draft, sent, accepted, declined, expired (sent, and past its date), change (sent, and
        the customer asks for one) or deleted.
    sort : one of SORTS
    offset, limit : int
    customer : int, optional
        Those of a customer, by any name they go by.
    down : bool, optional
        The other way round than a sort usually goes, or not.

    Returns
    -------
    (quotes, how many there are in all)
    """
    conditions = _conditions(search, state)
    if customer is not None:
        names = select(CustomerName.key).where(CustomerName.customer_id == customer)
        conditions.append(Quote.customer_key.in_(names))
    with at.reading() as session:
        listed = select(Quote).options(defer(Quote.job)).where(*conditions)
        query = _sorted(listed, sort, offset, limit, down=down)
        rows = session.scalars(query).all()
        total = session.scalar(select(func.count()).select_from(Quote).where(*conditions)) or 0
        return [_listed(row) for row in rows], total


def quotes_for(at: Reads, keys: Collection[str]) -> list[int]:
    """List the ids of quotes, deleted ones too, that are for any of these names, as compared."""
    with at.reading() as session:
        query = select(Quote.id).where(Quote.customer_key.in_(keys)).order_by(Quote.id)
        return list(session.scalars(query))


def freeze_version(
    unit: Unit,
    quote_id: int,
    *,
    seen: int,
    version: KeptVersion,
    house: str,
    documents: Sequence[tuple[Document, str]],
    token: str,
    mail: KeptMail | None,
) -> KeptQuote:
    """Keep a sent version, its house, documents, link and message, and mark the quote as sent.

    Parameters
    ----------
    documents : sequence of (Document, sha256)
        Their bytes are kept already, under these hashes.
    token : str
        Of the customer's link; its hash is kept.
    mail : KeptMail or None
        The message, which waits for the post; None where there is nobody to mail it to.

    Raises
    ------
    Stale
        If the quote was changed since; nothing is sent then.
    """
    session = unit.session
    quote = _change(session, quote_id, seen, {"state": "sent", "version": version.version})
    meet_customer(session, quote.customer, quote.email)
    _keep_house(session, version.house_sha256, house)
    session.add(
        QuoteVersion(
            quote_id=quote_id,
            version=version.version,
            head=json.dumps(version.head),
            job=json.dumps(version.job),
            estimate=json.dumps(version.estimate),
            house_sha256=version.house_sha256,
            sent_on=version.sent_on,
            answer="",
            answered_on="",
        )
    )
    session.flush()
    for document, sha256 in documents:
        add_document(unit, quote_id, version.version, document, sha256)
    if mail:
        add_link(unit, quote_id, version.version, token)
        add_mail(session, mail)
    return _kept(quote)


def answer_version(unit: Unit, quote_id: int, *, seen: int, answer: str) -> KeptQuote:
    """Keep a customer's answer, accepted or declined, with the version it is about.

    "" takes an answer back: the version is sent and waits again.
    """
    session = unit.session
    quote = _change(session, quote_id, seen, {"state": answer or "sent"})
    session.execute(
        update(QuoteVersion)
        .where(QuoteVersion.quote_id == quote_id, QuoteVersion.version == quote.version)
        .values(answer=answer, answered_on=now() if answer else "")
    )
    return _kept(quote)


def find_version(at: Reads, quote_id: int, version: int) -> KeptVersion:
    """Return a sent version.

    Raises
    ------
    NotFound
    """
    with at.reading() as session:
        row = session.get(QuoteVersion, (quote_id, version))
        if row is None:
            raise NotFound(
                f"version {version} was not sent.",
                where="version",
                remedy="Look at the versions of the quote.",
                code="version-unknown",
            )
        return _kept_version(row)


def list_versions(
    at: Reads, quote_id: int, *, before: int = 2**31, limit: int = 1000
) -> list[KeptVersion]:
    """List a quote's sent versions, the first first.

    Parameters
    ----------
    before, limit : int
        The last so many below that version.

    Returns
    -------
    list of KeptVersion
        One that is damaged has an empty job and estimate.
    """
    with at.reading() as session:
        rows = session.scalars(
            select(QuoteVersion)
            .where(QuoteVersion.quote_id == quote_id, QuoteVersion.version < before)
            .order_by(QuoteVersion.version.desc())
            .limit(limit)
        ).all()
        return [_listed_version(row) for row in reversed(rows)]


def _listed_version(row: QuoteVersion) -> KeptVersion:
    try:
        return _kept_version(row)
    except Conflict:
        names = KeptVersion.__dataclass_fields__
        values = {name: getattr(row, name) for name in names}
        return KeptVersion(**(values | {"head": {}, "job": {}, "estimate": {}}))


def list_documents(shop: Shop, quote_id: int, version: int) -> list[tuple[str, str, str]]:
    """List a version's documents: (kind, name, "" or what is wrong with its file)."""
    with shop.reading() as session:
        rows = session.scalars(
            select(QuoteDocument).where(
                QuoteDocument.quote_id == quote_id, QuoteDocument.version == version
            )
        ).all()
        return [(row.kind, row.name, shop.documents.trouble(row.sha256)) for row in rows]


def add_document(unit: Unit, quote_id: int, version: int, document: Document, sha256: str) -> None:
    """Keep a document of a version, whose bytes lie under that hash; once."""
    row = insert(QuoteDocument).values(
        quote_id=quote_id,
        version=version,
        kind=document.kind,
        name=document.name,
        media_type=document.media_type,
        sha256=sha256,
    )
    unit.session.execute(row.on_conflict_do_nothing())


def find_document(shop: Shop, quote_id: int, version: int, kind: str) -> Document | None:
    """Return a version's document, the bytes that were sent, None where none was made.

    Raises
    ------
    Conflict
        If its file is missing or torn.
    """
    with shop.reading() as session:
        row = session.get(QuoteDocument, (quote_id, version, kind))
        if row is None:
            return None
        return Document(kind, row.name, row.media_type, shop.documents.sound(row.sha256))


def purge_deleted(unit: Unit, *, before: str) -> int:
    """Remove quotes that were marked as deleted before a moment and never sent."""
    session = unit.session
    rows = session.scalars(
        select(Quote).where(
            Quote.deleted_on.is_not(None), Quote.deleted_on < before, Quote.version == 0
        )
    ).all()
    for row in rows:
        session.delete(row)
    return len(rows)
