"""Events at the machine and rows of the log in the database."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.sqlite import insert

from clothyard.core.errors import NotFound, Stale
from clothyard.core.log.rows import LogRow
from clothyard.store.models import LogChange, LogEntry, Photo, Quote, RunEvent
from clothyard.store.personal import ERASED, scrubbed
from clothyard.store.shop import Shop, now


@dataclass(frozen=True, slots=True)
class KeptEvent:
    """An event at the machine; `n` is its place in the order of arrival."""

    id: str
    quote_id: int
    pass_id: str
    kind: str
    piece: str
    at: str
    person: str
    data: dict[str, Any]
    n: int = 0


@dataclass(frozen=True, slots=True)
class KeptRow:
    """A row of the log, with its order's customer where it has one."""

    id: int
    key: str
    quote_id: int
    revision: int
    row: LogRow


def add_events(shop: Shop, events: Sequence[KeptEvent]) -> list[str]:
    """Keep events, each once; returns the ids of those that were new."""
    found = []
    with shop.writing() as session:
        for event in events:
            row = insert(RunEvent).values(
                id=event.id,
                quote_id=event.quote_id,
                pass_id=event.pass_id,
                kind=event.kind,
                piece=event.piece,
                at=event.at,
                person=event.person,
                data=json.dumps(event.data),
            )
            new = session.execute(row.on_conflict_do_nothing(index_elements=["id"]))
            if new.rowcount:  # type: ignore[attr-defined]
                found.append(event.id)
    return found


def list_events(shop: Shop, quote_id: int, pass_id: str = "") -> list[KeptEvent]:
    """List the events of an order, or of one of its passes, in the order of arrival."""
    wanted = select(RunEvent).where(RunEvent.quote_id == quote_id).order_by(RunEvent.n)
    if pass_id:
        wanted = wanted.where(RunEvent.pass_id == pass_id)
    with shop.reading() as session:
        return [
            KeptEvent(
                r.id,
                r.quote_id,
                r.pass_id,
                r.kind,
                r.piece,
                r.at,
                r.person,
                json.loads(r.data),
                r.n,
            )
            for r in session.scalars(wanted)
        ]


def begun_passes(shop: Shop) -> list[tuple[int, str, str]]:
    """List passes that have events: (order, pass, when the last of them came)."""
    wanted = select(RunEvent.quote_id, RunEvent.pass_id, func.max(RunEvent.at)).group_by(
        RunEvent.quote_id, RunEvent.pass_id
    )
    with shop.reading() as session:
        return [(quote_id, pass_id, at) for quote_id, pass_id, at in session.execute(wanted)]


def _search(row: LogRow) -> str:
    words = (row.order, row.customer, row.design, row.goods, row.place, row.machine, row.note)
    return " ".join(words).casefold()


def _read(entry: LogEntry, customer: str | None) -> KeptRow:
    row = LogRow.model_validate_json(entry.document)
    if customer is not None:
        row = row.model_copy(update={"customer": customer})
    return KeptRow(entry.id, entry.key, entry.quote_id, entry.revision, row)


def _rows() -> Any:
    return select(LogEntry, Quote.customer).outerjoin(Quote, Quote.id == LogEntry.quote_id)


def add_rows(shop: Shop, rows: Sequence[tuple[str, int, LogRow]]) -> list[int]:
    """Write rows, each key once: (key, order or 0, row); returns the ids of those that were new."""
    found = []
    with shop.writing() as session:
        for key, quote_id, row in rows:
            values = {
                "key": key,
                "quote_id": quote_id,
                "finished_on": row.finished_on,
                "revision": 1,
                "document": row.model_dump_json(),
                "search": _search(row),
            }
            new = session.execute(
                insert(LogEntry).values(values).on_conflict_do_nothing(index_elements=["key"])
            )
            if new.rowcount:  # type: ignore[attr-defined]
                found.append(int(new.inserted_primary_key[0]))  # type: ignore[attr-defined]
    return found


def change_row(shop: Shop, row_id: int, row: LogRow, *, seen: int) -> KeptRow:
    """Change a row; what it was is kept.

    Raises
    ------
    NotFound
    Stale
        If it was changed since it was seen.
    """
    with shop.writing() as session:
        entry = session.get(LogEntry, row_id)
        if entry is None:
            raise _no_row(row_id)
        if entry.revision != seen:
            raise Stale(
                "this row was changed meanwhile.",
                where="log",
                kept=_read(entry, None).row,
                remedy="Look at it again.",
            )
        session.add(
            LogChange(row_id=row_id, revision=seen, document=entry.document, changed_on=now())
        )
        entry.revision = seen + 1
        entry.document, entry.finished_on = row.model_dump_json(), row.finished_on
        entry.search = _search(row)
    return find_row(shop, row_id)


def remove_row(shop: Shop, row_id: int) -> None:
    """Remove a row and what it was before.

    Raises
    ------
    NotFound
    """
    with shop.writing() as session:
        gone = session.execute(delete(LogEntry).where(LogEntry.id == row_id))
        if not gone.rowcount:  # type: ignore[attr-defined]
            raise _no_row(row_id)
        session.execute(delete(LogChange).where(LogChange.row_id == row_id))


def _no_row(row_id: int) -> NotFound:
    return NotFound(
        f"there is no row {row_id} in the log.",
        where="log",
        remedy="Choose one of the list.",
        code="row-unknown",
    )


def find_row(shop: Shop, row_id: int) -> KeptRow:
    """Return a row.

    Raises
    ------
    NotFound
    """
    with shop.reading() as session:
        found = session.execute(_rows().where(LogEntry.id == row_id)).first()
    if found is None:
        raise _no_row(row_id)
    return _read(*found)


def find_key(shop: Shop, key: str) -> int | None:
    """Return the id of the row of a key, None where there is none."""
    with shop.reading() as session:
        return session.scalar(select(LogEntry.id).where(LogEntry.key == key))


def list_rows(
    shop: Shop,
    *,
    search: str = "",
    quote_id: int | None = None,
    limit: int = 20_000,
    offset: int = 0,
) -> list[KeptRow]:
    """List rows, the last finished first: those with all words of `search`, or of an order."""
    wanted = _rows().order_by(LogEntry.finished_on.desc(), LogEntry.id.desc())
    for word in search.casefold().split():
        kept = LogEntry.search.contains(word, autoescape=True)
        wanted = wanted.where(kept | Quote.search.contains(word, autoescape=True))
    if quote_id is not None:
        wanted = wanted.where(LogEntry.quote_id == quote_id)
    with shop.reading() as session:
        return [_read(*found) for found in session.execute(wanted.limit(limit).offset(offset))]


def count_rows(shop: Shop) -> int:
    """Count the rows of the log."""
    with shop.reading() as session:
        return int(session.scalar(select(func.count()).select_from(LogEntry)) or 0)


def row_history(shop: Shop, row_id: int) -> list[tuple[int, str, LogRow]]:
    """List what a row was: (revision, until when, row), the last first."""
    wanted = select(LogChange).where(LogChange.row_id == row_id)
    with shop.reading() as session:
        return [
            (c.revision, c.changed_on, LogRow.model_validate_json(c.document))
            for c in session.scalars(wanted.order_by(LogChange.revision.desc()))
        ]


def logged_orders(shop: Shop) -> dict[int, set[str]]:
    """Say which passes of which orders are in the log: order to pass ids."""
    with shop.reading() as session:
        entries = session.execute(
            select(LogEntry.quote_id, LogEntry.key).where(LogEntry.quote_id != 0)
        ).all()
    found: dict[int, set[str]] = {}
    for quote_id, key in entries:
        found.setdefault(quote_id, set()).add(key.rpartition(":")[2])
    return found


def scrub_rows(shop: Shop, words: Sequence[str]) -> None:
    """Take a customer's name out of rows and their notes, and out of their history."""
    named = {word.strip().casefold() for word in words if word.strip()}
    if not named:
        return
    with shop.writing() as session:
        kept: list[LogEntry | LogChange] = [*session.scalars(select(LogEntry)).all()]
        kept += session.scalars(select(LogChange)).all()
        for entry in kept:
            row = LogRow.model_validate_json(entry.document)
            mine = row.customer.strip().casefold() in named
            note = scrubbed(row.note, words)
            if mine or note != row.note:
                customer = ERASED if mine else row.customer
                row = row.model_copy(update={"customer": customer, "note": note})
                entry.document = row.model_dump_json()
                if isinstance(entry, LogEntry):
                    entry.search = _search(row)


def keep_photo(shop: Shop, data: bytes, quote_id: int) -> str:
    """Keep a photo of an order, 0 for none; returns its hash."""
    sha256 = shop.documents.keep(data)
    row = insert(Photo).values(sha256=sha256, quote_id=quote_id, kept_on=now())
    with shop.writing() as session:
        session.execute(row.on_conflict_do_nothing())
    return sha256


def find_photo(shop: Shop, sha256: str) -> bytes:
    """Return a photo's bytes.

    Raises
    ------
    NotFound, Conflict
    """
    with shop.reading() as session:
        row = session.get(Photo, sha256)
    if row is None:
        raise NotFound("there is no such photo.", where="photo", code="photo-unknown")
    return shop.documents.sound(sha256)
