"""Orders: what was accepted, how far it is, what it needs, what was paid."""

from __future__ import annotations

import json
from collections.abc import Collection, Sequence
from datetime import date, timedelta
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints

from clothyard.core.advice.order import proof_open, sample_open
from clothyard.core.errors import BadInput, ClothyardError, Conflict, NotFound, Stale
from clothyard.core.estimate.changes import Sent, changes_between
from clothyard.core.estimate.document import Estimate
from clothyard.core.estimate.make import settled
from clothyard.core.figure_text import day_text
from clothyard.core.house.check import kept_house
from clothyard.core.house.document import House
from clothyard.core.job.check import job_from
from clothyard.core.job.document import Job
from clothyard.core.job.names import piece_names
from clothyard.core.plan.calendar import calendar_of, hours_a_day
from clothyard.core.plan.units import Unit, days_of, units_text, work_units
from clothyard.core.stock.key import ItemKey, blank_key, item_of
from clothyard.core.stock.ledger import ZERO, Move
from clothyard.core.stock.needs import needs_of
from clothyard.core.units import Money, money_text, read_typed
from clothyard.core.work.document import Work
from clothyard.files.tables import SheetKind, write_sheet
from clothyard.services import proofs
from clothyard.services.estimates import work_job
from clothyard.services.readying import GetReady, buy_rows, get_ready
from clothyard.services.shelf import Shelf, number, outstanding
from clothyard.services.standards import shop_house
from clothyard.store import orders as kept
from clothyard.store import stock
from clothyard.store.log import logged_orders
from clothyard.store.quotes import KeptVersion, find_house, find_version
from clothyard.store.shop import Shop, now

State = Literal["accepted", "waiting", "ready", "in-work", "done", "handed-over", "cancelled"]
Waits = Literal["", "goods", "materials", "proof", "file", "sample", "payment"]
Sort = Literal["promise", "number", "customer", "state", "waits", "accepted"]
PieceState = Literal["waiting", "prepared", "sewn", "good", "mended", "spoiled", "surplus"]
Day = Annotated[str, StringConstraints(pattern=r"^(\d{4}-\d{2}-\d{2})?$")]
MOST_WRITTEN = 10_000
FINISHED = ("done", "handed-over")
BEGUN = ("ready", "in-work", "done", "handed-over")
SEWN = ("sewn", "good", "mended", "surplus")


class Payment(BaseModel):
    """What was paid on a day; money that was given back is below zero."""

    model_config = ConfigDict(extra="forbid")

    on: Day
    amount: Annotated[Money, BeforeValidator(read_typed)]
    kind: Literal["deposit", "payment", "refund"] = "payment"


class OrderDocument(BaseModel):
    """What is written of an order: how far it is, and what lies ready by the keys of its needs."""

    model_config = ConfigDict(extra="forbid")

    state: State = "accepted"
    waits: Waits = ""
    promised_on: Day = ""
    ready: list[Annotated[str, Field(max_length=200)]] = Field(default_factory=list, max_length=500)
    payments: list[Payment] = Field(default_factory=list, max_length=100)


class OrderRow(BaseModel):
    """An order in the list; `stands` is false where its answer was taken back.

    `pieces` counts them by state; `lacks` the items of the shelf that it is short of.
    """

    id: int
    number: str
    version: int
    stands: bool
    customer: str
    summary: str
    total: str
    currency: str
    due_on: str
    promised_on: str
    state: State
    waits: Waits
    accepted_on: str
    revision: int
    pieces: dict[str, int] = Field(default_factory=dict)
    lacks: int = 0


class OrdersPage(BaseModel):
    """A page of orders."""

    items: list[OrderRow]
    total: int
    next: str | None


class PieceRow(BaseModel):
    """A piece; `instead_of` is the spoiled one that it is made for, "" for none."""

    id: str
    line: str
    goods: str
    size: str
    colour: str
    name: str
    state: PieceState
    reason: str
    instead_of: str


class UnitRow(BaseModel):
    """A unit of the work: what is waited for, prepared, sewn, finished, packed. [min]"""

    id: str
    kind: str
    label: str
    machine: str
    pieces: int
    elapsed_min: float
    person_min: float
    after: list[str]
    until: str


class SampleRow(BaseModel):
    """A sample that is sewn before its batch; `key` is ticked as ready once it passed."""

    key: str
    line: str
    label: str
    passed: bool


class CostSoFar(BaseModel):
    """What an order has cost until now: taken of the shelf, and worked on its sewn pieces."""

    materials: str
    work: str
    total: str


class MoneyDue(BaseModel):
    """What an order comes to, what was paid of it, and what is due."""

    to_pay: str
    deposit: str
    paid: str
    due: str


class OrderView(OrderRow):
    """An order, opened. What it needs is told of the house that its price was made with.

    `unready` says why the needs cannot be told, "" where they are; `waiting_for` in words what
    holds it; `changed` what is different since the first "yes", and `sewn_before` what of it was
    sewn by then that is not wanted any more.
    """

    ready: list[str]
    payments: list[Payment]
    piece_list: list[PieceRow]
    units: list[UnitRow]
    money: MoneyDue
    needs: GetReady | None
    unready: str
    waiting_for: list[str]
    proof: proofs.ProofView
    samples: list[SampleRow]
    changed: list[str]
    sewn_before: list[str]
    cost_so_far: CostSoFar
    begin_by: str
    notes: str


def _row(order: kept.KeptOrder) -> dict[str, Any]:
    names = OrderRow.model_fields.keys() - {"id", "accepted_on", "pieces", "lacks"}
    found = {name: getattr(order, name) for name in names}
    return found | {"id": order.quote_id, "accepted_on": order.accepted_on[:10]}


def list_orders(shop: Shop, *, cursor: str = "", limit: int = 50, **wanted: Any) -> OrdersPage:
    """List orders, those promised first before; `wanted` as of the store's `list_orders`."""
    keep_up(shop)
    offset = int(cursor) if cursor.isdigit() else 0
    found, total = kept.list_orders(shop, offset=offset, limit=limit, **wanted)
    after = offset + len(found)
    counts = kept.count_pieces(shop, [order.quote_id for order in found])
    lacks = stock.count_lacks(shop)
    return OrdersPage(
        items=[
            OrderRow(
                **_row(order)
                | {
                    "pieces": counts.get(order.quote_id, {}),
                    "lacks": lacks.get(order.quote_id, 0),
                }
            )
            for order in found
        ],
        total=total,
        next=str(after) if after < total else None,
    )


def orders_sheet(shop: Shop, kind: SheetKind, **wanted: Any) -> bytes:
    """Write the orders of a list as a table; `wanted` as of `list_orders`."""
    rows = list_orders(shop, limit=MOST_WRITTEN, **wanted).items
    heads = [
        "Number",
        "Customer",
        "What",
        "To pay",
        "Currency",
        "Promised",
        "State",
        "Waits for",
        "Accepted",
    ]
    table = [
        [
            row.number,
            row.customer,
            row.summary,
            row.total,
            row.currency,
            row.promised_on,
            row.state if row.stands else "cancelled",
            row.waits,
            row.accepted_on,
        ]
        for row in rows
    ]
    return write_sheet(heads, table, kind=kind, title="Orders")


def keep_up(shop: Shop) -> None:
    """Make the orders of quotes that were accepted, and bring those up that were changed since."""
    kept.make_orders(shop)
    while unmade := kept.unmade_orders(shop):
        for order_id, version in unmade:
            _make(shop, order_id, version)


class Opened:
    """An order's version, read: its job settled, the house of its price, the work of it.

    `work` is None, and `unready` says why, where it cannot be told.
    """

    def __init__(self, shop: Shop, order_id: int, version: int):
        self.version: KeptVersion = find_version(shop, order_id, version)
        self.house: House = kept_house(find_house(shop, self.version.house_sha256))
        currency = self.version.estimate.get("currency", "GBP")
        self.asked: Job = job_from(self.version.job, currency=currency)
        self.job: Job = self.asked
        self.work: Work | None = None
        self.unready = ""
        changed = self.house
        try:
            self.job, changed = settled(self.asked, self.house)
            self.work = work_job(shop, self.job, self.house)
        except ClothyardError as error:  # its file is gone, or the release reads it otherwise
            self.unready = f"{error.message} {error.remedy}"
        self.changed: House = changed

    @property
    def estimate(self) -> Estimate:
        """Its figures, as they were sent."""
        return Estimate.model_validate(self.version.estimate)

    def needs(self) -> list[kept.KeptNeed]:
        """List what it needs of the shelf, each item once."""
        if self.work is None:
            return []
        own = frozenset(x.id for x in self.job.lines if x.goods.supplied_by == "customer")
        return [
            kept.KeptNeed(need.item.key, need.amount, need.label, need.item.unit)
            for need in needs_of(self.work, self.changed, customers=own)
        ]

    def units(self, waits: Sequence[tuple[str, str, str]] = ()) -> list[Unit]:
        """List its units; [] where its work cannot be told."""
        washed = [line.id for line in self.job.lines if line.sample and line.sample.wash]
        if self.work is None:
            return []
        return work_units(self.work, self.changed, waits=waits, washed=washed)

    def spares(self) -> dict[str, int]:
        """Say how many spares each line has."""
        return {line.id: line.spares for line in self.work.lines} if self.work else {}


def _wanted_pieces(job: Job) -> list[kept.KeptPiece]:
    """List the pieces of a job, cell by cell, with their names."""
    found: list[kept.KeptPiece] = []
    for line in job.lines:
        names = piece_names(line)
        cells = [(c.size, c.colour, c.quantity) for c in line.cells] or [("", "", line.quantity)]
        at = 0
        for size, colour, quantity in cells:
            for _ in range(quantity):
                name = names[at]
                at += 1
                found.append(
                    kept.KeptPiece(f"{line.id}-{at}", len(found), line.id, size, colour, name)
                )
    return found


def reconciled(
    there: Sequence[kept.KeptPiece], wanted: Sequence[kept.KeptPiece]
) -> list[kept.KeptPiece]:
    """Bring pieces to another version: what was done of a piece stays where it is wanted still.

    Parameters
    ----------
    there : sequence of KeptPiece
        As they stand.
    wanted : sequence of KeptPiece
        As the new version has them.

    Returns
    -------
    list of KeptPiece
        Those wanted, with what was done of one that is the same; spoiled ones; and those sewn that
        nobody wants any more, as surplus.
    """
    rank = {"good": 0, "mended": 1, "sewn": 2, "prepared": 3, "waiting": 4}
    left = sorted(
        (p for p in there if p.state in rank), key=lambda p: (rank[p.state], p.n)
    )  # the furthest first
    found: list[kept.KeptPiece] = []
    for want in wanted:
        same = next((p for p in left if _alike(p, want)), None)
        if same is None:
            found.append(want)
            continue
        left.remove(same)
        found.append(_as(want, state=same.state, reason=same.reason, changed_on=same.changed_on))
    taken = {piece.id for piece in found}
    for piece in there:
        gone = piece in left and piece.state in SEWN
        if piece.state in {"spoiled", "surplus"} or gone:
            id_ = piece.id
            while id_ in taken:
                id_ += "x"
            taken.add(id_)
            state = "spoiled" if piece.state == "spoiled" else "surplus"
            found.append(_as(piece, id=id_, n=len(found), state=state))
    return found


def _alike(piece: kept.KeptPiece, want: kept.KeptPiece) -> bool:
    names = ("line", "size", "colour", "name")
    return all(getattr(piece, name) == getattr(want, name) for name in names)


def _as(piece: kept.KeptPiece, **changes: Any) -> kept.KeptPiece:
    names = kept.KeptPiece.__dataclass_fields__
    return kept.KeptPiece(**{name: getattr(piece, name) for name in names} | changes)


def _make(shop: Shop, order_id: int, version: int) -> None:
    opened = Opened(shop, order_id, version)
    pieces = reconciled(kept.list_pieces(shop, order_id), _wanted_pieces(opened.asked))
    units = opened.units()
    days = days_of(units, day_s=hours_a_day(calendar_of(opened.house)) * 3600) if units else 1
    order = kept.find_order(shop, order_id)
    open_ = proofs.is_open(shop, order_id, version, opened.asked)
    idle = order.state in {"accepted", "waiting"}
    kept.make_order(
        shop,
        order_id,
        version,
        needs=_with_remakes(opened, pieces),
        pieces=pieces,
        work_days=days,
        units=units_text(units),
        waits="proof" if open_ and idle else "",
    )


def _with_remakes(opened: Opened, pieces: Sequence[kept.KeptPiece]) -> list[kept.KeptNeed]:
    """What an order needs, and one blank more for each spoiled piece beyond its line's spares."""
    needs = opened.needs()
    spares = opened.spares()
    for piece in pieces:
        if piece.state != "spoiled":
            continue
        if spares.get(piece.line, 0) > 0:
            spares[piece.line] -= 1
            continue
        line = (
            next((x for x in opened.work.lines if x.id == piece.line), None)
            if opened.work
            else None
        )
        id_ = (line.blank or line.goods) if line else ""
        key = str(blank_key(id_, piece.size, piece.colour))
        needs = [kept.KeptNeed(n.item, n.amount + (n.item == key), n.label, n.unit) for n in needs]
    return needs


def _money(order: kept.KeptOrder, version: KeptVersion) -> MoneyDue:
    total = version.estimate["total"]
    paid = sum((Decimal(row["amount"]) for row in order.payments), Decimal(0))
    due = Decimal(total["to_pay"]) - paid
    return MoneyDue(
        to_pay=total["to_pay"],
        deposit=total["deposit"],
        paid=money_text(paid, order.currency),
        due=money_text(due, order.currency),
    )


def _changed(shop: Shop, order_id: int, version: KeptVersion) -> list[str]:
    """Say what is different since the first version that was accepted."""
    accepted = kept.accepted_versions(shop, order_id)
    if not accepted or accepted[0] == version.version:
        return []
    first = find_version(shop, order_id, accepted[0])
    before = Sent(first.job, first.estimate, first.head)
    return changes_between(before, Sent(version.job, version.estimate, version.head), costs=False)


def _needs(order: kept.KeptOrder, opened: Opened, shelf: Shelf, shop: Shop) -> GetReady | None:
    """What it needs, with what of that the shelf covers."""
    if opened.work is None:
        return None
    found = get_ready(opened.job, opened.work, opened.changed, number=order.number)
    shares = {need.item: need for need in stock.open_needs(shop, order_id=order.quote_id)}
    needed = dict(stock.needs_kept(shop, order.quote_id))
    taken = stock.taken_for(shop, order.quote_id)
    rows = []
    for row in found.needs:
        share = shares.get(row.item)
        short = share.short if share else ZERO
        rows.append(
            row.model_copy(
                update={
                    "amount": number(needed.get(row.item, Decimal(row.amount))),
                    "taken": number(max(ZERO, taken.get(row.item, ZERO))),
                    "free": number(share.needed - share.short if share else ZERO),
                    "short": number(short),
                    "on_hand": number(shelf.there.get(row.item, ZERO)),
                    "coming": number(shelf.coming.get(row.item, ZERO)),
                    "coming_on": shelf.coming_on.get(row.item, ""),
                    "buy": buy_rows(item_of(row.item, row.unit), short, shelf.house),
                }
            )
        )
    return found.model_copy(update={"needs": rows})


def _cost_so_far(
    order: kept.KeptOrder,
    opened: Opened,
    shelf: Shelf,
    pieces: Sequence[kept.KeptPiece],
    taken: dict[str, Decimal],
) -> CostSoFar:
    """Add up what was taken at its cost, and machine and hands of the pieces that are sewn."""
    materials = sum((shelf.cost_of(key) * amount for key, amount in taken.items()), ZERO)
    work = ZERO
    done = ("sewn", "good", "mended", "surplus", "spoiled")
    for line in opened.version.estimate.get("lines", []):
        sewn = sum(1 for p in pieces if p.line == line["id"] and p.state in done)
        if not sewn:
            continue
        cost = line["cost"]
        hours = sum((Decimal(cost[key]) for key in ("machine", "labour", "overhead")), ZERO)
        work += hours * min(sewn, line["quantity"]) / line["quantity"] + Decimal(cost["set_up"])
    currency = order.currency
    return CostSoFar(
        materials=money_text(materials, currency),
        work=money_text(work, currency),
        total=money_text(
            Decimal(money_text(materials, currency)) + Decimal(money_text(work, currency)), currency
        ),
    )


def _samples(order: kept.KeptOrder, opened: Opened) -> list[SampleRow]:
    """List an order's samples, and whether each has passed."""
    if opened.work is None:
        return []
    asked = {line.id: line.sample for line in opened.job.lines}
    places = {p.id: p.position for line in opened.work.lines for p in line.placements}
    found = []
    for each in opened.work.passes:
        if not each.sample:
            continue
        line = each.of[0].line
        sample = asked.get(line)
        label = opened.house.positions[places[each.of[0].placement]].label
        key = f"sample|{each.id}"
        passed = key in order.ready or bool(sample and sample.passed)
        found.append(SampleRow(key=key, line=line, label=label, passed=passed))
    return found


def _held_by(order: kept.KeptOrder, needs: GetReady | None, proof: proofs.ProofView) -> list[str]:
    """Say in words what an order waits for."""
    found = []
    if order.state in FINISHED or order.state == "cancelled":
        return []
    if proof.state == "open":
        found.append(proof_open().message)
    if proof.state == "corrected":
        found.append("The customer corrected the proof: take the corrections, or answer them.")
    for row in needs.needs if needs else []:
        if row.short in {"", "0"}:
            continue
        amount = f"{row.short} m" if row.unit == "m" else row.short
        come = Decimal(row.coming) >= Decimal(row.short)
        when = f" for {day_text(row.coming_on)}" if row.coming_on else ""
        found.append(
            f"{row.label}: {amount} short" + (f", ordered{when}." if come else ", not ordered yet.")
        )
    return found


def _begin_by(order: kept.KeptOrder) -> str:
    """Return the day on which it begins at the latest, "" without a promise."""
    if not order.promised_on:
        return ""
    day = date.fromisoformat(order.promised_on)
    return (day - timedelta(days=order.work_days)).isoformat()


def _unit_row(unit: Unit, done: Collection[str]) -> UnitRow:
    return UnitRow(
        id=unit.id,
        kind=unit.kind,
        label=unit.label,
        machine=unit.machine,
        pieces=unit.pieces,
        elapsed_min=round(unit.elapsed_s / 60, 2),
        person_min=round(unit.person_s / 60, 2),
        after=[at for at in unit.after if at not in done],
        until=unit.until,
    )


def _view(shop: Shop, order: kept.KeptOrder) -> OrderView:
    opened = Opened(shop, order.quote_id, order.version)
    shelf = Shelf(shop, shop_house(shop))
    pieces = kept.list_pieces(shop, order.quote_id)
    goods = {
        line.id: opened.house.goods[line.goods.class_].label
        for line in opened.asked.lines
        if line.goods.class_ in opened.house.goods
    }
    proof = proofs.proof_of(shop, order.quote_id, order.version, opened.asked, opened.house)
    needs = _needs(order, opened, shelf, shop)
    held = _held_by(order, needs, proof)
    waits = _waits(order, needs, proof)
    units = opened.units(waits)
    passed = {row.key.partition("|")[2] for row in _samples(order, opened) if row.passed}
    done = {unit.id for unit in units if unit.of in passed}
    units = [unit for unit in units if unit.id not in done]
    row = _row(order)
    row["pieces"] = kept.count_pieces(shop, [order.quote_id]).get(order.quote_id, {})
    row["lacks"] = sum(1 for n in needs.needs if n.short not in {"", "0"}) if needs else 0
    surplus = [p for p in pieces if p.state == "surplus"]
    return OrderView(
        **row,
        ready=order.ready,
        payments=[Payment.model_validate(row) for row in order.payments],
        piece_list=[
            PieceRow(
                id=p.id,
                line=p.line,
                goods=goods.get(p.line, ""),
                size=p.size,
                colour=p.colour,
                name=p.name,
                state=p.state,
                reason=p.reason,
                instead_of=p.instead_of,
            )
            for p in pieces
        ],
        units=[_unit_row(unit, done) for unit in units],
        money=_money(order, opened.version),
        needs=needs,
        unready=opened.unready,
        waiting_for=held,
        proof=proof,
        samples=_samples(order, opened),
        changed=_changed(shop, order.quote_id, opened.version),
        sewn_before=[" ".join(x for x in (p.size, p.colour, p.name) if x) or p.id for p in surplus],
        cost_so_far=_cost_so_far(
            order, opened, shelf, pieces, stock.taken_for(shop, order.quote_id)
        ),
        begin_by=_begin_by(order),
        notes=opened.version.head.get("notes", ""),
    )


def _waits(
    order: kept.KeptOrder, needs: GetReady | None, proof: proofs.ProofView
) -> list[tuple[str, str, str]]:
    """List what is waited for before anything is begun: (id, label, until)."""
    if order.state in FINISHED or order.state == "cancelled":
        return []
    found = []
    if proof.state in {"open", "corrected"}:
        found.append(("wait-proof", "The proof is approved", ""))
    short = [row for row in (needs.needs if needs else []) if row.short not in {"", "0"}]
    for name, label in (("goods", "The goods are here"), ("materials", "The materials are here")):
        rows = [row for row in short if (row.kind == "blank") == (name == "goods")]
        days = [row.coming_on for row in rows]
        if rows:
            found.append((f"wait-{name}", label, max(days) if all(days) else ""))
    return found


def find_order(shop: Shop, order_id: int) -> OrderView:
    """Open an order, by its quote's id.

    Raises
    ------
    NotFound
    """
    keep_up(shop)
    return _view(shop, kept.find_order(shop, order_id))


def order_numbered(shop: Shop, number: str) -> int:
    """Return the id of the order of a number, such as Q-0007.

    Raises
    ------
    NotFound
    """
    keep_up(shop)
    wanted: dict[str, Any] = {"state": "all", "sort": "number", "down": None}
    found, _ = kept.list_orders(shop, search=number, offset=0, limit=1000, **wanted)
    for order in found:
        if order.number.casefold() == number.strip().casefold():
            return order.quote_id
    raise NotFound(
        f"there is no order {number[:80]!r}.",
        where="order",
        remedy="See clothyard orders for those there are.",
        code="order-unknown",
    )


def save_order(shop: Shop, order_id: int, document: OrderDocument, *, seen: int) -> OrderView:
    """Write how far an order is.

    Raises
    ------
    NotFound, Stale
    BadInput
        If it waits and nothing says for what, or a payment's sign is not its kind's.
    Conflict
        If it is to begin and its words or names are not approved (proof-open).
    """
    if document.state == "waiting" and not document.waits:
        raise BadInput(
            "it waits, and nothing says for what.",
            where="waits",
            remedy="Choose what it waits for.",
            code="missing",
        )
    for n, payment in enumerate(document.payments):
        if payment.amount == 0 or (payment.amount < 0) != (payment.kind == "refund"):
            raise BadInput(
                f"{payment.amount} is no {payment.kind}.",
                where=f"payments[{n}].amount",
                remedy="A refund is below zero, all else above.",
                code="out-of-range",
            )
    waits = document.waits if document.state == "waiting" else ""
    keep_up(shop)
    before = kept.find_order(shop, order_id)
    if document.state in BEGUN and before.state not in BEGUN:
        _check_proof(shop, before)
    try:
        order = kept.change_order(
            shop,
            order_id,
            seen=seen,
            state=document.state,
            waits=waits,
            moves=_settling(shop, before, document.state),
            promised_on=document.promised_on,
            ready=json.dumps(sorted(set(document.ready))),
            payments=json.dumps([p.model_dump(mode="json") for p in document.payments]),
        )
    except Stale as error:
        there = error.kept
        assert isinstance(there, kept.KeptOrder)
        raise Stale(
            error.message, kept=OrderRow(**_row(there)), where=error.where, remedy=error.remedy
        ) from None
    return _view(shop, order)


def _check_proof(shop: Shop, order: kept.KeptOrder) -> None:
    job = job_from(find_version(shop, order.quote_id, order.version).job, currency=order.currency)
    if proofs.is_open(shop, order.quote_id, order.version, job):
        said = proof_open()
        raise Conflict(said.message, where=said.where, remedy=said.fix, code=said.code)


def _settling(shop: Shop, order: kept.KeptOrder, to: State) -> list[tuple[str, Move]]:
    """Book what a finished order took, and give it back when it is not finished after all."""
    was, is_ = order.state in FINISHED, to in FINISHED
    stem = f"settle:{order.quote_id}:r{order.revision}"
    id_ = str(order.quote_id)
    if is_ and not was:
        logged = _all_logged(shop, order)
        taken = [
            Move(item, -amount, "taken", id_, now(), "the order is done")
            for item, amount in outstanding(shop, order.quote_id)
            if amount > ZERO and item not in logged
        ]
        left = [
            Move(item, count, "received", id_, now(), "an offcut worth keeping")
            for item, count in _offcuts(shop, order)
        ]
        return [(f"{stem}:{n}", move) for n, move in enumerate([*taken, *left])]
    if was and not is_:
        back = stock.settled_for(shop, order.quote_id)
        return [
            (
                f"{stem}:{n}",
                Move(
                    item,
                    -amount,
                    "returned" if amount < ZERO else "wasted",
                    id_,
                    now(),
                    "not done after all",
                ),
            )
            for n, (item, amount) in enumerate(back.items())
            if amount
        ]
    return []


def _all_logged(shop: Shop, order: kept.KeptOrder) -> set[str]:
    """Return the items whose use the log knows whole: of an order all of whose passes are in it."""
    logged = logged_orders(shop).get(order.quote_id, set())
    work = Opened(shop, order.quote_id, order.version).work if logged else None
    if work is None or not {p.id for p in work.passes if not p.sample} <= logged:
        return set()
    return stock.logged_items(shop, order.quote_id)


def needs_now(shop: Shop, order_id: int, pieces: Sequence[kept.KeptPiece]) -> list[kept.KeptNeed]:
    """Say what an order needs, with these pieces of it as they stand."""
    order = kept.find_order(shop, order_id)
    return _with_remakes(Opened(shop, order_id, order.version), pieces)


def _check_samples(order: kept.KeptOrder, opened: Opened, pieces: Sequence[kept.KeptPiece]) -> None:
    """Hold a batch back until its sample has passed."""
    lines = {piece.line for piece in pieces}
    rows = [row for row in _samples(order, opened) if row.line in lines and not row.passed]
    if rows:
        said = sample_open([row.label for row in rows])
        raise Conflict(said.message, where=said.where, remedy=said.fix, code=said.code)


def _offcuts(shop: Shop, order: kept.KeptOrder) -> list[tuple[str, Decimal]]:
    """List the offcuts of an order that are worth keeping, by roll and size, in whole mm."""
    version = find_version(shop, order.quote_id, order.version)
    found: dict[str, Decimal] = {}
    for line in version.estimate.get("lines", []):
        for cut in line.get("cuts", []):
            for piece in cut.get("offcuts", []):
                size = f"{int(piece['width_mm'])}x{int(piece['length_mm'])}"
                key = str(ItemKey("offcut", cut["stock"], size))
                found[key] = found.get(key, ZERO) + 1
    return list(found.items())


class PiecesChange(BaseModel):
    """Pieces that are now in another state; those that are no longer in one of `seen` stay."""

    model_config = ConfigDict(extra="forbid")

    ids: list[Annotated[str, Field(max_length=80)]] = Field(min_length=1, max_length=5000)
    seen: list[PieceState] = Field(min_length=1, max_length=7)
    state: Literal["waiting", "prepared", "sewn", "good", "mended", "spoiled"]
    reason: str = Field(default="", max_length=200)


def change_pieces(shop: Shop, order_id: int, change: PiecesChange) -> OrderView:
    """Move pieces on, or back. A spoiled one asks for a spare: another piece is made in its place.

    Raises
    ------
    NotFound
    BadInput
        If a spoiled piece is given no reason.
    Conflict
        If nothing is as it was seen, or the proof is open.
    """
    keep_up(shop)
    order = kept.find_order(shop, order_id)
    if change.state == "spoiled" and not change.reason.strip():
        raise BadInput(
            "it does not say how the piece was spoiled.",
            where="reason",
            remedy="Choose what was seen.",
            code="missing",
        )
    opened = Opened(shop, order_id, order.version)
    pieces = kept.list_pieces(shop, order_id)
    mine = [p for p in pieces if p.id in set(change.ids) and p.state in change.seen]
    if change.state in {"sewn", "good", "mended"}:
        _check_proof(shop, order)
        _check_samples(order, opened, [p for p in mine if p.state in {"waiting", "prepared"}])
    if not mine:
        raise Conflict(
            "none of these pieces is still as it was seen.",
            where="ids",
            remedy="Look at the order again.",
            code="pieces-moved",
        )
    spoiling = change.state == "spoiled"
    taken = {piece.id for piece in pieces}
    added: list[kept.KeptPiece] = []
    removed: list[str] = []
    for piece in mine:
        if spoiling and piece.state != "spoiled":
            id_ = next(
                f"{piece.id}.{n}" for n in range(2, 10_000) if f"{piece.id}.{n}" not in taken
            )
            taken.add(id_)
            added.append(
                _as(
                    piece, id=id_, state="waiting", reason="", instead_of=piece.id, changed_on=now()
                )
            )
        if not spoiling and piece.state == "spoiled":
            removed += [p.id for p in pieces if p.instead_of == piece.id and p.state == "waiting"]
    ids = {piece.id for piece in mine}
    after = [
        _as(p, state=change.state) if p.id in ids else p for p in pieces if p.id not in removed
    ] + added
    kept.change_pieces(
        shop,
        order_id,
        sorted(ids),
        states=change.seen,
        to=change.state,
        reason=change.reason.strip(),
        added=added,
        removed=removed,
        needs=_with_remakes(opened, after) if opened.work else None,
    )
    return _view(shop, kept.find_order(shop, order_id))
