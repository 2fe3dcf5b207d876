"""What is kept and cannot be read is set aside when a shop is opened: it shuts no page.

What a route lets in today is read whole before; what older releases let in, or a hand changed in
the database, may be anything. It is looked through once at each opening, and what cannot be read
is put away as it was, with why; what stands in its place is nothing, or "not known".
"""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal, InvalidOperation
from typing import Any

from pydantic import TypeAdapter, ValidationError
from sqlalchemy import delete, insert, select, text
from sqlalchemy.orm import Session

from clothyard.core.days import KEPT, Day
from clothyard.core.errors import ClothyardError
from clothyard.core.log.rows import LogRow
from clothyard.core.order.customer import AgreedPrice, Contact
from clothyard.core.order.payment import Payment
from clothyard.core.order.state import State, Waits
from clothyard.core.run.event import EventIn
from clothyard.core.stock.purchase import OrderedRow
from clothyard.store.models import SetAside
from clothyard.store.unit import Reads, Unit

Row = Mapping[str, Any]
Check = Callable[[Row], Any]

THEN = "then"
"""Stands for the moment in which it is set aside."""

UNREADABLE = (ValueError, TypeError, AttributeError, ClothyardError)
MOST_COST = Decimal(10) ** 9
"""What a unit of anything costs at most."""


def _read(as_: Any, column: str, *, as_json: bool = False) -> Check:
    adapter = TypeAdapter(as_)

    def check(row: Row) -> None:
        if as_json:
            adapter.validate_json(row[column], context=KEPT)
        else:
            adapter.validate_python(row[column])

    return check


def _event(row: Row) -> None:
    given = json.loads(row["data"])
    names = EventIn.model_fields.keys() & given.keys()
    EventIn.model_validate(
        {name: given[name] for name in names}
        | {name: row[name] for name in ("id", "kind", "at", "piece", "person")}
    )


def _cost(row: Row) -> None:
    try:
        good = not row["cost"] or 0 <= Decimal(row["cost"]) <= MOST_COST
    except InvalidOperation:
        good = False
    if not good:
        raise ValueError("is no cost that there is")


def _moment(row: Row) -> None:
    datetime.fromisoformat(row["made_on"])


@dataclass(frozen=True, slots=True)
class Kept:
    """A kind of row that is looked through.

    Attributes
    ----------
    of : str
        Its table.
    called : str
        What it is, in words.
    key : str
        The column that says which of its rows.
    reads : mapping of column to (check, instead)
        What reads a column, and what stands there when it cannot be read; None puts the row away.
    beside : tuple of str
        Columns that are read along.
    first : str
        A table whose rows that mean this one go first, by their `row_id`.
    """

    of: str
    called: str
    key: str
    reads: Mapping[str, tuple[Check, str | int | None]]
    beside: tuple[str, ...] = ()
    first: str = ""


LOOKED_THROUGH = (
    Kept(
        "run_event",
        "event at the machine",
        "n",
        {"data": (_event, None)},
        beside=("id", "quote_id", "pass_id", "kind", "piece", "at", "person"),
    ),
    Kept(
        "stock_move", "move of the shelf", "id", {"cost": (_cost, ""), "made_on": (_moment, THEN)}
    ),
    Kept(
        "log_row",
        "row of the log",
        "id",
        {"document": (_read(LogRow, "document", as_json=True), None)},
        beside=("key", "quote_id"),
        first="log_change",
    ),
    Kept(
        "log_change",
        "earlier row of the log",
        "rowid",
        {"document": (_read(LogRow, "document", as_json=True), None)},
        beside=("row_id", "revision"),
    ),
    Kept(
        "work_order",
        "order",
        "quote_id",
        {
            "payments": (_read(list[Payment], "payments", as_json=True), "[]"),
            "ready": (_read(list[str], "ready", as_json=True), "[]"),
            "promised_on": (_read(Day, "promised_on"), ""),
            "pin_day": (_read(Day, "pin_day"), ""),
            "state": (_read(State, "state"), "accepted"),
            "waits": (_read(Waits, "waits"), ""),
        },
    ),
    Kept(
        "purchase",
        "order to a supplier",
        "id",
        {"rows": (_read(list[OrderedRow], "rows", as_json=True), "[]")},
    ),
    Kept(
        "customer",
        "customer",
        "id",
        {
            "contacts": (_read(list[Contact], "contacts", as_json=True), "[]"),
            "agreed": (_read(list[AgreedPrice], "agreed", as_json=True), "[]"),
            "keep_until": (_read(Day, "keep_until"), ""),
            "names_until": (_read(Day, "names_until"), ""),
        },
    ),
)


def _why(column: str, error: Exception) -> str:
    if isinstance(error, ValidationError):
        first = error.errors()[0]
        at = ".".join(str(part) for part in first["loc"])
        said = str(first["msg"]).removeprefix("Value error, ")
        return f"{column}{f' {at}' if at else ''}: {said}"
    return f"{column}: {error}"


@dataclass(frozen=True, slots=True)
class Found:
    """What cannot be read: which row of what, which column of it, and why."""

    kept: Kept
    row: Row
    column: str
    why: str


def unreadable(session: Session) -> list[Found]:
    """Look everything through that was let in from outside; returns what cannot be read."""
    return [found for kept in LOOKED_THROUGH for found in _unreadable(session, kept)]


def _unreadable(session: Session, kept: Kept) -> list[Found]:
    found: list[Found] = []
    columns = ("row_key", *dict.fromkeys((*kept.beside, *kept.reads)))
    wanted = ", ".join(columns[1:])
    for values in session.execute(text(f"SELECT {kept.key}, {wanted} FROM {kept.of}")):
        row = dict(zip(columns, values, strict=True))
        for column, (check, _) in kept.reads.items():
            try:
                check(row)
            except UNREADABLE as error:
                found.append(Found(kept, row, column, _why(column, error)))
    return found


def set_aside(unit: Unit, found: list[Found], *, on: str) -> None:
    """Put away what cannot be read: what stands in its place opens every page."""
    session = unit.session
    for each in found:
        kept, key = each.kept, each.row["row_key"]
        instead = kept.reads[each.column][1]
        document = {each.column: each.row[each.column]} if instead is not None else dict(each.row)
        document.pop("row_key", None)
        session.execute(
            insert(SetAside).values(
                of=kept.of,
                row=str(key),
                document=json.dumps(document, default=str),
                why=each.why,
                set_on=on,
            )
        )
        where = {"key": key, "instead": on if instead is THEN else instead}
        if instead is not None:
            change = f"UPDATE {kept.of} SET {each.column} = :instead WHERE {kept.key} = :key"
            session.execute(text(change), where)
            continue
        if kept.first:
            session.execute(text(f"DELETE FROM {kept.first} WHERE row_id = :key"), where)
        session.execute(text(f"DELETE FROM {kept.of} WHERE {kept.key} = :key"), where)


@dataclass(frozen=True, slots=True)
class Aside:
    """What was set aside: what it is and which, why, when, and what it was."""

    id: int
    what: str
    row: str
    why: str
    set_on: str
    document: dict[str, Any]


def list_aside(at: Reads) -> list[Aside]:
    """List what was set aside and not let go, the last first."""
    called = {kept.of: kept.called for kept in LOOKED_THROUGH}
    with at.reading() as session:
        return [
            Aside(
                row.id,
                called.get(row.of, row.of),
                row.row,
                row.why,
                row.set_on,
                json.loads(row.document),
            )
            for row in session.scalars(select(SetAside).order_by(SetAside.id.desc()))
        ]


def let_aside_go(unit: Unit) -> None:
    """Let go of what was set aside."""
    unit.session.execute(delete(SetAside))
