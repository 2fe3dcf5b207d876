"""Events at the machine and rows of the log in the database."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement, delete, func, select
from sqlalchemy.dialects.sqlite import insert

from clothyard.core.days import KEPT
from clothyard.core.errors import Conflict, NotFound, Stale
from clothyard.core.log.rows import LogRow
from clothyard.store.models import LogChange, LogEntry, Photo, Quote, RunEvent
from clothyard.store.personal import ERASED, scrubbed
from clothyard.store.shop import now
from clothyard.store.unit import Reads, Unit


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


def add_events(unit: Unit, events: Sequence[KeptEvent]) -> list[str]:
    """Keep events, each once; returns the ids of those that were new.

    Raises
    ------
    Conflict
        If an id comes again with something else.
    """
    found: list[str] = []
    for event in events:
        values: dict[str, Any] = {
            "quote_id": event.quote_id,
            "pass_id": event.pass_id,
            "kind": event.kind,
            "piece": event.piece,
            "at": event.at,
            "person": event.person,
            "data": json.dumps(event.data),
        }
        row = insert(RunEvent).values(id=event.id, **values)
        new = unit.session.scalar(
            row.on_conflict_do_nothing(index_elements=["id"]).returning(RunEvent.id)
        )
        if new is not None:
            found.append(new)
            continue
        there = unit.session.scalar(select(RunEvent).where(RunEvent.id == event.id))
        if there is None or any(getattr(there, name) != value for name, value in values.items()):
            raise Conflict(
                f"the event {event.id[:60]!r} was written down before, and said something else.",
                where="events",
                remedy="Load the page again: what it wrote before is kept.",
                code="event-taken",
            )
    return found


def list_events(at: Reads, quote_id: int, pass_id: str = "") -> list[KeptEvent]:
    """List the events of an order, or of one of its passes, in the order of arrival."""
    wanted = select(RunEvent).where(RunEvent.quote_id == quote_id).order_by(RunEvent.n)
    if pass_id:
        wanted = wanted.where(RunEvent.pass_id == pass_id)
    with at.reading() as session:
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


def begun_passes(at: Reads) -> list[tuple[int, str, str]]:
    """List passes that have events: (order, pass, when the last of them came)."""
    wanted = select(RunEvent.quote_id, RunEvent.pass_id, func.max(RunEvent.at)).group_by(
        RunEvent.quote_id, RunEvent.pass_id
    )
    with at.reading() as session:
        return [(quote_id, pass_id, at) for quote_id, pass_id, at in session.execute(wanted)]


def _search(row: LogRow) -> str:
    words = (row.order, row.customer, row.design, row.goods, row.place, row.machine, row.note)
    return " ".join(words).casefold()


def _read(entry: LogEntry, customer: str | None) -> KeptRow:
    row = LogRow.model_validate_json(entry.document, context=KEPT)
    if customer is not None:
        row = row.model_copy(update={"customer": customer})
    return KeptRow(entry.id, entry.key, entry.quote_id or 0, entry.revision, row)


def _rows() -> Any:
    return select(LogEntry, Quote.customer).outerjoin(Quote, Quote.id == LogEntry.quote_id)


def add_row(unit: Unit, key: str, quote_id: int, row: LogRow) -> int | None:
    """Write a row under its key, of an order or 0; returns its id, None where the key is there."""
    values = {
        "key": key,
        "quote_id": quote_id or None,
        "finished_on": row.finished_on,
        "revision": 1,
        "document": row.model_dump_json(),
        "search": _search(row),
    }
    written = insert(LogEntry).values(values).on_conflict_do_nothing(index_elements=["key"])
    found: int | None = unit.session.scalar(written.returning(LogEntry.id))
    return found


def change_row(unit: Unit, row_id: int, row: LogRow, *, seen: int) -> KeptRow:
    """Change a row; what it was is kept.

    Raises
    ------
    NotFound
    Stale
        If it was changed since it was seen.
    """
    session = unit.session
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
    session.add(LogChange(row_id=row_id, revision=seen, document=entry.document, changed_on=now()))
    entry.revision = seen + 1
    entry.document, entry.finished_on = row.model_dump_json(), row.finished_on
    entry.search = _search(row)
    return find_row(unit, row_id)


def remove_row(unit: Unit, row_id: int) -> None:
    """Remove a row and what it was before.

    Raises
    ------
    NotFound
    """
    unit.session.execute(delete(LogChange).where(LogChange.row_id == row_id))
    gone = delete(LogEntry).where(LogEntry.id == row_id).returning(LogEntry.id)
    if unit.session.scalar(gone) is None:
        raise _no_row(row_id)


def _no_row(row_id: int) -> NotFound:
    return NotFound(
        f"there is no row {row_id} in the log.",
        where="log",
        remedy="Choose one of the list.",
        code="row-unknown",
    )


def find_row(at: Reads, row_id: int) -> KeptRow:
    """Return a row.

    Raises
    ------
    NotFound
    """
    with at.reading() as session:
        found = session.execute(_rows().where(LogEntry.id == row_id)).first()
    if found is None:
        raise _no_row(row_id)
    return _read(*found)


def find_key(at: Reads, key: str) -> int | None:
    """Return the id of the row of a key, None where there is none."""
    with at.reading() as session:
        return session.scalar(select(LogEntry.id).where(LogEntry.key == key))


def _matching(search: str, quote_id: int | None) -> list[ColumnElement[bool]]:
    found: list[ColumnElement[bool]] = []
    for word in search.casefold().split():
        kept = LogEntry.search.contains(word, autoescape=True)
        found.append(kept | Quote.search.contains(word, autoescape=True))
    if quote_id is not None:
        found.append(LogEntry.quote_id == quote_id)
    return found


def list_rows(
    at: Reads,
    *,
    search: str = "",
    quote_id: int | None = None,
    limit: int | None = None,
    offset: int = 0,
) -> list[KeptRow]:
    """List rows, the last finished first: those with all words of `search`, or of an order."""
    wanted = _rows().where(*_matching(search, quote_id))
    wanted = wanted.order_by(LogEntry.finished_on.desc(), LogEntry.id.desc())
    with at.reading() as session:
        return [_read(*found) for found in session.execute(wanted.limit(limit).offset(offset))]


def count_rows(at: Reads, *, search: str = "") -> int:
    """Count the rows of the log: those with all words of `search`."""
    wanted = select(func.count()).select_from(LogEntry)
    wanted = wanted.outerjoin(Quote, Quote.id == LogEntry.quote_id)
    with at.reading() as session:
        return int(session.scalar(wanted.where(*_matching(search, None))) or 0)


def row_history(at: Reads, row_id: int) -> list[tuple[int, str, LogRow]]:
    """List what a row was: (revision, until when, row), the last first."""
    wanted = select(LogChange).where(LogChange.row_id == row_id)
    with at.reading() as session:
        return [
            (c.revision, c.changed_on, LogRow.model_validate_json(c.document, context=KEPT))
            for c in session.scalars(wanted.order_by(LogChange.revision.desc()))
        ]


def logged_orders(at: Reads) -> dict[int, set[str]]:
    """Say which passes of which orders are in the log: order to pass ids."""
    with at.reading() as session:
        entries = session.execute(
            select(LogEntry.quote_id, LogEntry.key).where(LogEntry.quote_id.is_not(None))
        ).all()
    found: dict[int, set[str]] = {}
    for quote_id, key in entries:
        found.setdefault(int(quote_id or 0), set()).add(key.rpartition(":")[2])
    return found


def logged_passes(at: Reads, quote_id: int) -> set[str]:
    """Return the passes of an order that are in the log."""
    with at.reading() as session:
        keys = session.scalars(select(LogEntry.key).where(LogEntry.quote_id == quote_id))
        return {key.rpartition(":")[2] for key in keys}


def scrub_rows(unit: Unit, words: Sequence[str]) -> None:
    """Take a customer's name out of rows and their notes, and out of their history."""
    named = {word.strip().casefold() for word in words if word.strip()}
    if not named:
        return
    session = unit.session
    kept: list[LogEntry | LogChange] = [*session.scalars(select(LogEntry)).all()]
    kept += session.scalars(select(LogChange)).all()
    for entry in kept:
        row = LogRow.model_validate_json(entry.document, context=KEPT)
        mine = row.customer.strip().casefold() in named
        note = scrubbed(row.note, words)
        if mine or note != row.note:
            customer = ERASED if mine else row.customer
            row = row.model_copy(update={"customer": customer, "note": note})
            entry.document = row.model_dump_json()
            if isinstance(entry, LogEntry):
                entry.search = _search(row)


def add_photo(unit: Unit, sha256: str, quote_id: int) -> None:
    """Keep a photo of an order, 0 for none, whose bytes lie among the documents already."""
    row = insert(Photo).values(sha256=sha256, quote_id=quote_id or None, kept_on=now())
    unit.session.execute(row.on_conflict_do_nothing())


def is_photo(at: Reads, sha256: str) -> bool:
    """Whether there is a photo of that hash."""
    with at.reading() as session:
        return session.get(Photo, sha256) is not None
