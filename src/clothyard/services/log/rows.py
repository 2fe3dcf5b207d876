"""The log: what finished passes came to; typed, changed, written out and read back."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Sequence
from copy import copy
from dataclasses import replace
from datetime import date
from typing import Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from clothyard.core.checking import bad_input_from
from clothyard.core.errors import BadInput, ClothyardError, NotFound, SeveralBadInputs
from clothyard.core.house.document import FINE_BOBBINS, House
from clothyard.core.log.booked import moves_of
from clothyard.core.log.rows import (
    LogDocument,
    LogRow,
    Measured,
    difference_words,
    estimated_of,
    in_doubt,
    threads_of,
)
from clothyard.core.stock.key import ItemKey
from clothyard.core.work.document import PassTold, PlacementTold, Work
from clothyard.files.tables import SheetKind, read_table, write_sheet
from clothyard.services.orders.follow import keep_result, keep_up
from clothyard.services.orders.opened import Opened, open_version
from clothyard.store import log as kept
from clothyard.store import orders, stock
from clothyard.store.shop import Shop, now, today
from clothyard.store.unit import Unit

MOST_READ = 5000


class LogView(BaseModel):
    """A row of the log; `said` are its differences in words, the largest first.

    `wild` names the factors for which it lies so far off that it is left out until confirmed.
    """

    id: int
    revision: int
    order_id: int
    row: LogRow
    said: list[str]
    wild: list[str]


class LogPage(BaseModel):
    """Rows of the log, and how many there are in all."""

    items: list[LogView]
    total: int
    next: str | None


class RowWas(BaseModel):
    """What a row was until it was changed."""

    revision: int
    until: str
    row: LogRow


class PassToLog(BaseModel):
    """A pass that can be logged: what it is called, and a row begun with its estimate."""

    pass_id: str
    label: str
    logged: bool
    row: LogRow


class NewLogRow(BaseModel):
    """A row to write; `order_id` 0 for one without an order."""

    model_config = ConfigDict(extra="forbid")

    order_id: int = Field(default=0, ge=0, le=2**53)
    row: LogRow


def _view(found: kept.KeptRow) -> LogView:
    return LogView(
        id=found.id,
        revision=found.revision,
        order_id=found.quote_id,
        row=found.row,
        said=difference_words(found.row),
        wild=in_doubt(found.row),
    )


def list_log(shop: Shop, *, search: str = "", cursor: str = "", limit: int = 50) -> LogPage:
    """List the log, the last finished first."""
    offset = int(cursor) if cursor.isdigit() else 0
    found = kept.list_rows(shop, search=search, limit=limit + 1, offset=offset)
    after = offset + limit
    return LogPage(
        items=[_view(each) for each in found[:limit]],
        total=kept.count_rows(shop, search=search),
        next=str(after) if len(found) > limit else None,
    )


def find_log(shop: Shop, row_id: int) -> LogView:
    """Return a row.

    Raises
    ------
    NotFound
    """
    return _view(kept.find_row(shop, row_id))


def log_history(shop: Shop, row_id: int) -> list[RowWas]:
    """List what a row was before it was changed, the last first.

    Raises
    ------
    NotFound
    """
    kept.find_row(shop, row_id)
    return [RowWas(revision=n, until=at, row=row) for n, at, row in kept.row_history(shop, row_id)]


class PassOf:
    """A pass of an order as it is logged: `sewn` is its work, `work` that with every factor at 1.

    Raises
    ------
    NotFound
    BadInput
        If its work cannot be told any more, or it has no such pass.
    """

    def __init__(self, shop: Shop, order_id: int):
        keep_up(shop)
        self.order = orders.find_order(shop, order_id)
        self.opened = open_version(shop, order_id, self.order.version)
        self.sewn: Work = self.opened.whole()
        self.work: Work = self.opened.plain or self.sewn

    def again(self, shop: Shop) -> PassOf:
        """Return the same with the order as it stands now."""
        found = copy(self)
        found.order = orders.find_order(shop, self.order.quote_id)
        return found

    @property
    def passes(self) -> list[PassTold]:
        """Those that are logged: not the samples."""
        return [each for each in self.work.passes if not each.sample]

    def told(self, pass_id: str) -> PassTold:
        """Return a pass.

        Raises
        ------
        NotFound
        """
        for each in self.passes:
            if each.id == pass_id:
                return each
        raise NotFound(
            f"this order has no pass {pass_id[:40]!r}.",
            where="pass",
            code="pass-unknown",
            remedy="Open the order and choose one of those there are.",
        )

    def placement(self, each: PassTold) -> PlacementTold:
        """Return the place that a pass sews."""
        wanted = each.of[0]
        line = next(line for line in self.work.lines if line.id == wanted.line)
        return next(p for p in line.placements if p.id == wanted.placement)

    def label(self, each: PassTold) -> str:
        """Call a pass by its place and its goods."""
        line = next(line for line in self.work.lines if line.id == each.of[0].line)
        position = self.opened.house.positions.get(self.placement(each).position)
        goods = self.opened.house.goods.get(line.goods)
        words = (position.label if position else each.id, goods.label if goods else line.goods)
        return ", ".join(words)

    def row(self, pass_id: str, *, sewn: int = 0) -> LogRow:
        """Begin a pass's row: what is estimated for as many pieces as were sewn, 0 for all.

        Raises
        ------
        NotFound
        """
        each = self.told(pass_id)
        put = self.placement(each)
        line = next(line for line in self.work.lines if line.id == each.of[0].line)
        planned = sum(of.pieces for of in each.of)
        sewn = sewn or planned
        house = self.opened.house
        methods = {k: str(v) for k, v in put.methods.items() if v not in (None, "")}
        colours = [row.colour for row in each.bobbins if row.colour in FINE_BOBBINS]
        kind = house.machines[each.machine].bobbin if each.machine in house.machines else ""
        return LogRow(
            order=self.order.number,
            pass_id=pass_id,
            finished_on=today(),
            customer=self.order.customer[:200],
            design=put.design.name[:200],
            goods=line.goods,
            place=put.position,
            machine=each.machine,
            method=_method_words(put, house),
            methods=methods,
            sewn=sewn,
            planned=planned,
            lines=list(dict.fromkeys(of.line for of in each.of)),
            known=put.design.source == "file",
            estimated=estimated_of(self.work, pass_id, house, sewn=sewn),
            actual=Measured(),
            threads=threads_of(self.work, pass_id, house, sewn=sewn),
            bobbin_item=str(ItemKey("bobbin", kind, colours[0])) if len(colours) == 1 else "",
        )


def _method_words(put: PlacementTold, house: House) -> str:
    """Say how a place is made: hoop, backing, topping."""
    words = []
    if put.hoop in house.hoops:
        words.append(house.hoops[put.hoop].label)
    for name, rows in (("backing", house.backings), ("topping", house.toppings)):
        known: Any = rows.get(put.methods.get(name, ""))
        if known:
            words.append(known.label)
    if put.methods.get("hold") == "float":
        words.append("floated")
    return ", ".join(words)[:1000]


def passes_to_log(shop: Shop, order_id: int) -> list[PassToLog]:
    """List an order's passes, each with a row begun.

    Raises
    ------
    NotFound, BadInput
    """
    of = PassOf(shop, order_id)
    logged = kept.logged_passes(shop, order_id)
    return [
        PassToLog(
            pass_id=each.id, label=of.label(each), logged=each.id in logged, row=of.row(each.id)
        )
        for each in of.passes
    ]


def key_of(order_id: int, pass_id: str) -> str:
    """Name a pass's row, so that it is written once."""
    return f"pass:{order_id}:{pass_id}"


def write_row(shop: Shop, new: NewLogRow, *, follow: Follow | None = None) -> LogView:
    """Write a row, book what the pass took from the shelf, and what its order came to.

    Parameters
    ----------
    follow : callable, optional
        What else is written with it: the factors that move by themselves.

    Raises
    ------
    NotFound, BadInput
        Also if the pass is in the log already.
    """
    row, order_id = _checked(new.row), new.order_id
    key, opened = f"own:{uuid.uuid4().hex}", None
    if order_id:
        of = PassOf(shop, order_id)
        of.told(row.pass_id)
        key, opened = key_of(order_id, row.pass_id), of.opened
        row = row.model_copy(update={"order": of.order.number})
    with shop.unit() as unit:
        row_id = kept.add_row(unit, key, order_id, row)
        if row_id is None:
            raise BadInput(
                "this pass is in the log already.",
                where="pass_id",
                remedy="Change its row instead.",
                code="logged-already",
            )
        _follow_row(unit, kept.find_row(unit, row_id), None, row, opened)
        if follow:
            follow(unit)
    return find_log(shop, row_id)


Follow = Callable[[Unit], None]


def _follow_row(
    unit: Unit,
    found: kept.KeptRow,
    before: LogRow | None,
    after: LogRow | None,
    opened: Opened | None,
) -> None:
    """Let the shelf and the order's result follow a row."""
    if not found.quote_id:
        return
    order = str(found.quote_id)
    moves = moves_of(found.id, found.revision, order, before, after, on=now())
    stock.add_moves(unit, moves)
    if opened:
        keep_result(unit, found.quote_id, opened)


def _opened_of(shop: Shop, order_id: int) -> Opened | None:
    """Open the order of a row, None for one without."""
    if not order_id:
        return None
    return open_version(shop, order_id, orders.find_order(shop, order_id).version)


def _checked(row: LogRow) -> LogRow:
    try:
        date.fromisoformat(row.finished_on)
    except ValueError:
        raise BadInput(
            f"{row.finished_on} is no day.",
            where="finished_on",
            remedy="Write it as 2026-12-01.",
            code="not-a-day",
        ) from None
    if row.spoiled > row.sewn:
        raise BadInput(
            f"{row.spoiled} spoiled of {row.sewn} sewn.",
            where="spoiled",
            remedy="Count spoiled ones as sewn, too.",
            code="out-of-range",
        )
    used = [thread.used_m for thread in row.threads]
    if used and None not in used:  # colour by colour goes before a sum that was typed
        metres = sum(each or 0.0 for each in used)
        row = row.model_copy(update={"actual": row.actual.model_copy(update={"needle_m": metres})})
    return row


def change_row(
    shop: Shop, row_id: int, row: LogRow, *, seen: int, follow: Follow | None = None
) -> LogView:
    """Change a row; what it was stays in its history, and the shelf follows.

    Raises
    ------
    NotFound, Stale, BadInput
    """
    row = _checked(row)
    opened = _opened_of(shop, kept.find_row(shop, row_id).quote_id)
    with shop.unit() as unit:
        before = kept.find_row(unit, row_id).row
        row = row.model_copy(update={"order": before.order, "pass_id": before.pass_id})
        after = kept.change_row(unit, row_id, row, seen=seen)
        _follow_row(unit, after, before, row, opened)
        if follow:
            follow(unit)
    return find_log(shop, row_id)


def remove_row(shop: Shop, row_id: int, *, follow: Follow | None = None) -> None:
    """Remove a row, and give back what it had booked.

    Raises
    ------
    NotFound
    """
    opened = _opened_of(shop, kept.find_row(shop, row_id).quote_id)
    with shop.unit() as unit:
        found = kept.find_row(unit, row_id)
        kept.remove_row(unit, row_id)
        gone = replace(found, revision=found.revision + 1)
        _follow_row(unit, gone, found.row, None, opened)
        if follow:
            follow(unit)


_COLUMNS: tuple[tuple[str, str, float], ...] = (
    ("needle_s", "Needle time, min", 60),
    ("loading_s", "Loading, min", 60),
    ("hooping_s", "Hooping, min", 60),
    ("finishing_s", "Finishing, min", 60),
    ("order_s", "Order tasks, min", 60),
    ("elapsed_s", "Elapsed, min", 60),
    ("needle_m", "Needle thread, m", 1),
    ("bobbin_m", "Bobbin thread, m", 1),
    ("bobbins", "Bobbins", 1),
    ("breaks", "Breaks", 1),
)
_WORDS: tuple[tuple[str, str], ...] = (
    ("finished_on", "Finished"),
    ("order", "Order"),
    ("pass_id", "Pass"),
    ("customer", "Customer"),
    ("design", "Design"),
    ("goods", "Goods"),
    ("place", "Place"),
    ("machine", "Machine"),
    ("method", "Method"),
)
_COUNTS = (("sewn", "Sewn"), ("spoiled", "Spoiled"), ("mended", "Mended"))


def log_sheet(shop: Shop, kind: SheetKind, *, search: str = "") -> bytes:
    """Write the log as a table: estimated and actual side by side; it can be read back."""
    heads = [head for _, head in _WORDS] + [head for _, head in _COUNTS] + ["From a file"]
    for _, head, _ in _COLUMNS:
        heads += [f"{head} estimated", f"{head} actual"]
    heads += ["Excluded", "Note"]
    table = []
    for each in kept.list_rows(shop, search=search):
        row = each.row
        cells = [str(getattr(row, name)) for name, _ in _WORDS]
        cells += [str(getattr(row, name)) for name, _ in _COUNTS]
        cells.append("yes" if row.known else "no")
        for name, _, by in _COLUMNS:
            for of in (row.estimated, row.actual):
                value = getattr(of, name)
                cells.append("" if value is None else f"{value / by:.6g}")
        cells += ["yes" if row.excluded else "no", row.note]
        table.append(cells)
    return write_sheet(heads, table, kind=kind, title="Log")


def log_document(shop: Shop) -> LogDocument:
    """Write the whole log as one document (clothyard-log/1)."""
    return LogDocument(shop=shop.id, rows=[each.row for each in kept.list_rows(shop)])


def _import_key(row: LogRow) -> str:
    """Name a row that came from elsewhere by what it says: the same one again is not doubled."""
    text = row.model_copy(update={"source": "imported"}).model_dump_json()
    return f"imported:{uuid.uuid5(uuid.NAMESPACE_OID, text).hex}"


class LogRead(BaseModel):
    """What came of rows that were read: how many are new, how many were there already."""

    added: int
    there: int


def _keep(shop: Shop, rows: Sequence[LogRow], follow: Follow | None) -> LogRead:
    """Write rows that were read; those of this shop's own passes are there already."""
    there = {(each.row.order, each.row.pass_id) for each in kept.list_rows(shop) if each.row.order}
    fresh = [
        (_import_key(row), 0, row.model_copy(update={"source": "imported"}))
        for row in rows
        if not row.order or (row.order, row.pass_id) not in there
    ]
    with shop.unit() as unit:
        added = sum(kept.add_row(unit, *each) is not None for each in fresh)
        if follow:
            follow(unit)
    return LogRead(added=added, there=len(rows) - added)


def read_log_document(shop: Shop, data: bytes, *, follow: Follow | None = None) -> LogRead:
    """Read a clothyard-log/1 document; a row that is there already is not doubled.

    Rows of another shop are of no order here: its numbers mean others.

    Raises
    ------
    BadInput
        Names the place; nothing is written then.
    """
    try:
        found = LogDocument.model_validate_json(data)
    except ValidationError as error:
        raise SeveralBadInputs(bad_input_from(error, where="log", model=LogDocument)) from None
    for row in found.rows:
        _checked(row)
    elsewhere = found.shop not in {"", shop.id}
    rows = [row.model_copy(update={"order": ""}) if elsewhere else row for row in found.rows]
    return _keep(shop, rows, follow)


def _cell_number(text: str, where: str) -> float | None:
    if not text.strip():
        return None
    try:
        value = float(text.replace(",", ".").strip())
    except ValueError:
        value = -1.0
    if not 0 <= value < 1e7:
        raise BadInput(
            f"{text[:40]!r} is no amount.",
            where=where,
            remedy="Write a number, such as 12.5.",
            code="not-a-number",
        )
    return value


def read_log_table(shop: Shop, text: str, *, follow: Follow | None = None) -> LogRead:
    """Read a table of the log, as it is written: CSV, or the text of a sheet.

    Raises
    ------
    BadInput
        Names the line and the column; nothing is written then.
    """
    columns = {name: (head.casefold(),) for name, head in (*_WORDS, *_COUNTS)}
    columns |= {"known": ("from a file",), "excluded": ("excluded",), "note": ("note",)}
    for name, head, _ in _COLUMNS:
        for side in ("estimated", "actual"):
            columns[f"{name} {side}"] = (f"{head} {side}".casefold(),)
    example = "Finished;Sewn;Hooping, min estimated;Hooping, min actual"
    table = read_table(text, columns, needed="finished_on", example=example)
    if len(table) > MOST_READ:
        raise BadInput(f"{MOST_READ} rows are the most at once.", where="log", code="too-long")
    rows = []
    for line in table:
        cells, where = line.cells, f"line {line.line}"
        sides: dict[str, dict[str, float | None]] = {"estimated": {}, "actual": {}}
        for name, head, by in _COLUMNS:
            for side, found in sides.items():
                value = _cell_number(cells.get(f"{name} {side}", ""), f"{where}, {head} {side}")
                found[name] = None if value is None else value * by
        counts = {
            name: int(_cell_number(cells.get(name, ""), f"{where}, {head}") or 0)
            for name, head in _COUNTS
        }
        words = {name: cells.get(name, "").strip() for name, _ in _WORDS}
        try:
            row = LogRow(
                **words,
                **(counts | {"sewn": counts["sewn"] or 1}),
                known=cells.get("known", "").strip().casefold() in {"yes", "true", "1"},
                excluded=cells.get("excluded", "").strip().casefold() in {"yes", "true", "1"},
                note=cells.get("note", ""),
                estimated=Measured(**sides["estimated"]),
                actual=Measured(**sides["actual"]),
            )
        except ValidationError as error:
            raise SeveralBadInputs(bad_input_from(error, where=where, model=LogRow)) from None
        rows.append(_checked(row))
    return _keep(shop, rows, follow)


def age_days(row: LogRow) -> int:
    """Return how many days ago a row was finished; 0 where its day cannot be read."""
    try:
        return max(0, (date.fromisoformat(today()) - date.fromisoformat(row.finished_on)).days)
    except ValueError:
        return 0


def unlogged(shop: Shop, order_id: int) -> list[str]:
    """List an order's passes that are not in the log; [] where its work cannot be told."""
    try:
        of = PassOf(shop, order_id)
    except ClothyardError:
        return []
    logged = kept.logged_passes(shop, order_id)
    return [each.id for each in of.passes if each.id not in logged]
