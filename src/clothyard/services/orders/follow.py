"""Orders: what was accepted, how far it is, what it needs, what was paid."""

from __future__ import annotations

import json
from collections.abc import Collection, Mapping, Sequence
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.days import KEPT, Day
from clothyard.core.errors import BadInput, Conflict, NotFound, Stale
from clothyard.core.estimate.changes import Sent, changes_between
from clothyard.core.figure_text import amount_text
from clothyard.core.house.document import House
from clothyard.core.job.upgrade import upgraded
from clothyard.core.log.pays import plain_reals, quoted_lines, real_lines
from clothyard.core.log.rows import counts
from clothyard.core.methods.settle import goods_name
from clothyard.core.order.asked import check_made, check_moving, check_ready
from clothyard.core.order.cancel import settlement, used_of
from clothyard.core.order.held import (
    check_proof,
    check_samples,
    held_by,
    left_units,
    proof_state,
    samples_of,
    still_to_do,
    waits_of,
)
from clothyard.core.order.money import cost_so_far, due_of
from clothyard.core.order.payment import Payment
from clothyard.core.order.pieces import (
    Moved,
    count_states,
    moved,
    reconciled,
    surplus,
    wanted_pieces,
    with_remakes,
)
from clothyard.core.order.settle import offcuts_of, outstanding, settling
from clothyard.core.order.state import (
    BEGUN,
    FINISHED,
    TO_SEW,
    WANTED,
    PieceState,
    State,
    Waits,
    done_share,
)
from clothyard.core.plan.backward import BeginBy, begins_by
from clothyard.core.plan.calendar import calendar_of, handed_over_by
from clothyard.core.plan.units import Unit as WorkUnit
from clothyard.core.plan.units import read_units, units_text
from clothyard.core.stock.buying import Lacking, lacking
from clothyard.core.stock.ledger import ZERO
from clothyard.core.stock.shelf import NeedNow, Shelf, unit_of
from clothyard.core.units import money_text
from clothyard.core.work.piece import Piece
from clothyard.files.tables import SheetKind, write_sheet
from clothyard.services.customer_page import proofs
from clothyard.services.house.standards import shop_house
from clothyard.services.orders.opened import Opened, open_version
from clothyard.services.orders.readying import GetReady, get_ready, need_row
from clothyard.services.stock.shelf import read_shelf
from clothyard.store import orders as kept
from clothyard.store import stock
from clothyard.store.log import list_rows, logged_passes
from clothyard.store.order_work import KeptWork, unresulted_orders, write_result, write_work
from clothyard.store.quotes import KeptVersion, find_version
from clothyard.store.shop import Shop, now
from clothyard.store.unit import Unit

Sort = Literal["promise", "number", "customer", "state", "waits", "accepted"]


class OrderDocument(BaseModel):
    """What is written of an order: how far it is, and what lies ready by the keys of its needs.

    `anyway` says that it is so although that can hardly be: what was asked is answered.
    """

    model_config = ConfigDict(extra="forbid")

    state: State = "accepted"
    waits: Waits = ""
    promised_on: Day = ""
    ready: list[Annotated[str, Field(max_length=200)]] = Field(default_factory=list, max_length=500)
    payments: list[Payment] = Field(default_factory=list, max_length=100)
    anyway: bool = False


class OrderRow(BaseModel):
    """An order in the list; `stands` is false where its answer was taken back, `changing` says how
    far another version of it is ("" for none): until that is accepted this one stands.

    `pieces` counts them by state; `lacks` the items of the shelf that it is short of.
    """

    id: int
    number: str
    version: int
    stands: bool
    changing: Literal["", "draft", "sent", "accepted", "declined"] = ""
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
    sewn by then that is not wanted any more; `settlement` what a cancelled one comes to, in words.
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
    settlement: list[str]
    begin_by: str
    notes: str


def _row(order: kept.KeptOrder) -> dict[str, Any]:
    names = OrderRow.model_fields.keys() - {"id", "accepted_on", "pieces", "lacks"}
    found = {name: getattr(order, name) for name in names}
    return found | {"id": order.quote_id, "accepted_on": order.accepted_on[:10]}


def list_orders(
    shop: Shop, *, cursor: str = "", limit: int | None = 50, **wanted: Any
) -> OrdersPage:
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
    rows = list_orders(shop, limit=None, **wanted).items
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
    unmade, unresulted = kept.unmade_orders(shop), unresulted_orders(shop)
    if not unmade and not unresulted:
        return
    opened = {(id_, n): open_version(shop, id_, n) for id_, n in {*unmade, *unresulted}}
    with shop.unit() as unit:
        kept.make_orders(unit)
        for order_id, version in kept.unmade_orders(unit):
            if found := opened.get((order_id, version)):  # one accepted just now is made next time
                _bring(unit, order_id, found)
        for order_id, version in unresulted_orders(unit):
            if found := opened.get((order_id, version)):
                keep_result(unit, order_id, found)


def make_order(unit: Unit, order_id: int, opened: Opened, *, pieces: Sequence[Piece] = ()) -> None:
    """Make the order of a quote that was just accepted, in the same unit of work.

    `pieces` are those it has already, as they stand elsewhere; () those of its job.
    """
    kept.make_orders(unit)
    _bring(unit, order_id, opened)
    if pieces:
        kept.write_pieces(unit, order_id, kept.list_pieces(unit, order_id), pieces)
        kept.write_needs(unit, order_id, with_remakes(opened.needs(), opened.work, pieces))


def _bring(unit: Unit, order_id: int, opened: Opened) -> None:
    """Bring an order to its version: pieces, needs, and what its work is."""
    version = opened.version.version
    order = kept.find_order(unit, order_id)
    units = units_text(opened.units)
    write_work(unit, order_id, version, KeptWork(opened.work, opened.plain, units, opened.unready))
    if order.made_version == version:
        return
    before = kept.list_pieces(unit, order_id)
    pieces = reconciled(before, wanted_pieces(opened.asked))
    proofs.carry_over(unit, order_id, version, opened.asked)
    said = kept.find_proof(unit, order_id, version)
    proof = proof_state(opened.asked, said.state if said else "")
    waits = proof in {"open", "corrected"} and order.state in {"accepted", "waiting"}
    kept.write_pieces(unit, order_id, before, pieces)
    kept.write_needs(unit, order_id, with_remakes(opened.needs(), opened.work, pieces))
    kept.bring_order(
        unit,
        order_id,
        version,
        units=units,
        shown=shown_of(opened),
        waits="proof" if waits else "",
    )


def shown_of(opened: Opened) -> dict[str, str]:
    """Say what lists show of an order's version."""
    asked = opened.asked
    return {
        "summary": ", ".join(
            f"{line.quantity} × {goods_name(line.goods, opened.house)}" for line in asked.lines
        ),
        "total": opened.figures["total"]["to_pay"],
    }


def _money(order: kept.KeptOrder, opened: Opened) -> MoneyDue:
    total = opened.figures["total"]
    found = due_of(total["to_pay"], total["deposit"], order.payments)
    return MoneyDue(
        to_pay=total["to_pay"],
        deposit=total["deposit"],
        paid=money_text(found.paid, order.currency),
        due=money_text(found.due, order.currency),
    )


def _changed(shop: Shop, order_id: int, version: KeptVersion) -> list[str]:
    """Say what is different since the first version that was accepted."""
    accepted = kept.accepted_versions(shop, order_id)
    if not accepted or accepted[0] == version.version:
        return []
    first = find_version(shop, order_id, accepted[0])
    before = Sent(first.job, first.estimate, first.head)
    return changes_between(before, Sent(version.job, version.estimate, version.head), costs=False)


def _needs_now(shop: Shop, order: kept.KeptOrder, opened: Opened, shelf: Shelf) -> list[NeedNow]:
    """Say what of an order's needs the shelf covers."""
    return shelf.needs_now(
        opened.needs(),
        needed=dict(stock.needs_kept(shop, order.quote_id)),
        taken=stock.taken_for(shop, order.quote_id),
        shares=stock.shares_of(shop, order.quote_id),
    )


def _get_ready(order: kept.KeptOrder, opened: Opened, needs: Sequence[NeedNow]) -> GetReady | None:
    """Say what is laid out for an order, with what of that the shelf covers."""
    if opened.work is None:
        return None
    found = get_ready(opened.job, opened.work, opened.changed, number=order.number)
    return found.model_copy(update={"needs": [need_row(need) for need in needs]})


def _so_far(shop: Shop, order: kept.KeptOrder, opened: Opened, shelf: Shelf) -> CostSoFar:
    taken = stock.taken_for(shop, order.quote_id)
    pieces = kept.list_pieces(shop, order.quote_id)
    costs = ((amount, shelf.cost_of(key)) for key, amount in taken.items())
    found = cost_so_far(opened.lines, pieces, costs, order.currency)
    return CostSoFar(
        materials=money_text(found.materials, order.currency),
        work=money_text(found.work, order.currency),
        total=money_text(found.total, order.currency),
    )


def _settlement(
    shop: Shop, order: kept.KeptOrder, opened: Opened, shelf: Shelf, house: House
) -> list[str]:
    """Settle a cancelled order in words; [] of one that is not."""
    if order.state != "cancelled":
        return []
    pieces = kept.list_pieces(shop, order.quote_id)
    taken = stock.taken_for(shop, order.quote_id)
    costs = ((amount, shelf.cost_of(key)) for key, amount in taken.items())
    so_far = cost_so_far(opened.lines, pieces, costs, order.currency)
    unused = [
        f"{amount_text(left)} {need.label}"
        for need in opened.needs()
        if need.item.kind == "blank"
        and (left := need.amount - max(ZERO, taken.get(need.item.key, ZERO))) > ZERO
    ]
    found = settlement(
        opened.figures,
        pieces,
        so_far,
        order.payments,
        rule=house.cancel.charge,
        currency=order.currency,
        kept=unused,
    )
    return list(found.words)


def begin_by(order: kept.KeptOrder, house: House, *, done: float = 0.0) -> BeginBy:
    """Return when it is begun at the latest, and its goods are here; "" without a promise."""
    units = still_to_do(read_units(order.units), order.ready, done=done)
    return begins_by(units, calendar_of(house), handed_over_by(order.promised_on, house))


def lacking_items(shop: Shop, house: House) -> list[Lacking]:
    """Add up what the shelf lacks of each item, for which orders, by when they need it."""
    short = stock.open_needs(shop, short=True)
    needing = {need.order for need in short}
    wanted: dict[str, Any] = {"search": "", "state": "", "sort": "promise", "down": None}
    open_, _ = kept.list_orders(shop, **wanted, offset=0, limit=None)
    by = {row.quote_id: begin_by(row, house).goods for row in open_ if row.quote_id in needing}
    return lacking((need.item, need.number, need.short, by.get(need.order, "")) for need in short)


def _unit_row(unit: WorkUnit, done: Collection[str]) -> UnitRow:
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
    opened = open_version(shop, order.quote_id, order.version)
    here = shop_house(shop)
    shelf = read_shelf(shop, here)
    pieces = kept.list_pieces(shop, order.quote_id)
    goods = {
        line.id: opened.house.goods[line.goods.class_].label
        for line in opened.asked.lines
        if line.goods.class_ in opened.house.goods
    }
    proof = proofs.proof_of(shop, order.quote_id, order.version, opened.asked, opened.house)
    needs = _needs_now(shop, order, opened, shelf)
    samples = samples_of(opened.work, opened.job, opened.house, order.ready)
    units, gone = left_units(opened.waiting(waits_of(order.state, proof.state, needs)), samples)
    row = _row(order) | {
        "pieces": count_states(pieces),
        "lacks": sum(1 for need in needs if need.short > 0),
    }
    return OrderView(
        **row,
        ready=order.ready,
        payments=[Payment.model_validate(row, context=KEPT) for row in order.payments],
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
        units=[_unit_row(unit, gone) for unit in units],
        money=_money(order, opened),
        needs=_get_ready(order, opened, needs),
        unready=opened.unready,
        waiting_for=held_by(order.state, proof.state, needs),
        proof=proof,
        samples=[
            SampleRow(key=each.key, line=each.line, label=each.label, passed=each.passed)
            for each in samples
        ],
        changed=_changed(shop, order.quote_id, opened.version),
        sewn_before=surplus(pieces),
        cost_so_far=_so_far(shop, order, opened, shelf),
        settlement=_settlement(shop, order, opened, shelf, here),
        begin_by=begin_by(order, here, done=done_share(row["pieces"])).begin,
        notes=opened.version.head.get("notes", ""),
    )


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
        If it is to begin and its words or names are not approved (proof-open); what can hardly be
        is asked first (goods-short, not-sewn).
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
    keep_up(shop)
    changes = {
        "state": document.state,
        "waits": document.waits if document.state == "waiting" else "",
        "promised_on": document.promised_on,
        "ready": json.dumps(sorted(set(document.ready))),
        "payments": json.dumps([p.model_dump(mode="json") for p in document.payments]),
    }
    before = kept.find_order(shop, order_id)
    opened = open_version(shop, order_id, before.version)
    moves = document.state != before.state and before.state not in FINISHED
    if moves and document.state in BEGUN and before.revision == seen:
        said = kept.find_proof(shop, order_id, before.version)
        check_proof(proof_state(opened.asked, said.state if said else ""))
    if moves and before.revision == seen and not document.anyway:
        check_made(document.state, count_states(kept.list_pieces(shop, order_id)))
        if document.state == "ready":
            shelf = read_shelf(shop, shop_house(shop))
            check_ready(_needs_now(shop, before, opened, shelf))
    try:
        with shop.unit() as unit:
            order = move_order(unit, order_id, opened, changes, seen=seen)
    except Stale as error:
        there = error.kept
        assert isinstance(there, kept.KeptOrder)
        raise Stale(
            error.message, kept=OrderRow(**_row(there)), where=error.where, remedy=error.remedy
        ) from None
    return _view(shop, order)


def move_order(
    unit: Unit, order_id: int, opened: Opened, changes: Mapping[str, Any], *, seen: int
) -> kept.KeptOrder:
    """Change an order in a unit of work, with what follows from its state on shelf and log.

    Raises
    ------
    NotFound, Stale
    Conflict
        If it is to begin and its words or names are not approved (proof-open).
    """
    before = kept.find_order(unit, order_id)
    to = str(changes.get("state", before.state))
    if to in BEGUN and before.state not in BEGUN:
        said = kept.find_proof(unit, order_id, before.version)
        check_proof(proof_state(opened.asked, said.state if said else ""))
    order = kept.change_order(unit, order_id, seen=seen, **changes)
    settles = (to in FINISHED) != (before.state in FINISHED)
    if settles or (to == "cancelled") != (before.state == "cancelled"):
        _settle(unit, before, to, opened)
    if to in FINISHED and before.state not in FINISHED:
        keep_result(unit, order_id, opened)
    return order


def _settle(unit: Unit, before: kept.KeptOrder, to: str, opened: Opened) -> None:
    """Book what an order took as it is done or cancelled, or give it back where it is not."""
    order_id = before.quote_id
    needs, taken = stock.needs_kept(unit, order_id), stock.taken_for(unit, order_id)
    pieces = kept.list_pieces(unit, order_id)
    used = used_of(needs, pieces, opened.work, lambda key: unit_of(key, opened.house))
    moves = settling(
        str(order_id),
        before.state,
        to,
        outstanding=outstanding(needs, taken),
        used=outstanding(used, taken),
        logged=_all_logged(unit, order_id, opened),
        offcuts=offcuts_of(opened.lines),
        booked=stock.settled_for(unit, order_id),
        on=now(),
    )
    stem = f"settle:{order_id}:r{before.revision}"
    stock.add_moves(unit, ((f"{stem}:{n}", move) for n, move in enumerate(moves)))


def keep_result(unit: Unit, order_id: int, opened: Opened) -> None:
    """Write what an order came to, by line: it is done, or a row of its log changed."""
    order = kept.find_order(unit, order_id)
    rows = [r.row for r in list_rows(unit, quote_id=order_id) if counts(r.row)]
    quoted = quoted_lines(
        order_id, order.number, opened.figures, upgraded(opened.version.job), opened.house
    )
    real = real_lines(quoted, [(row, opened.house) for row in rows])
    write_result(unit, order_id, currency=order.currency, logged=len(rows), lines=plain_reals(real))


def _all_logged(unit: Unit, order_id: int, opened: Opened) -> set[str]:
    """Return the items whose use the log knows whole: of an order all of whose passes are in it."""
    logged = logged_passes(unit, order_id)
    if opened.work is None or not logged:
        return set()
    if not {p.id for p in opened.work.passes if not p.sample} <= logged:
        return set()
    return stock.logged_items(unit, order_id)


class PiecesChange(BaseModel):
    """Pieces that are now in another state; those that are no longer in one of `seen` stay.

    `anyway` answers what is asked where a spoiled one is among them.
    """

    model_config = ConfigDict(extra="forbid")

    ids: list[Annotated[str, Field(max_length=80)]] = Field(min_length=1, max_length=5000)
    seen: list[PieceState] = Field(min_length=1, max_length=7)
    state: Literal["waiting", "prepared", "sewn", "good", "mended", "spoiled"]
    reason: str = Field(default="", max_length=200)
    anyway: bool = False


def change_pieces(shop: Shop, order_id: int, change: PiecesChange) -> OrderView:
    """Move pieces on, or back. A spoiled one asks for a spare: another piece is made in its place.

    Raises
    ------
    NotFound
    BadInput
        If a spoiled piece is given no reason.
    Conflict
        If nothing is as it was seen, the proof is open or the order cancelled; a spoiled piece is
        asked about first (piece-spoiled).
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
    opened = open_version(shop, order_id, order.version)
    with shop.unit() as unit:
        now_, pieces = kept.find_order(unit, order_id), kept.list_pieces(unit, order_id)
        mine = [p for p in pieces if p.id in change.ids and p.state in change.seen]
        check_moving(now_.state, mine, change.state, anyway=change.anyway)
        done = move_pieces(
            unit,
            now_,
            opened,
            pieces,
            set(change.ids),
            seen=change.seen,
            to=change.state,
            reason=change.reason.strip(),
        )
        if not done.changed:
            raise Conflict(
                "none of these pieces is still as it was seen.",
                where="ids",
                remedy="Look at the order again.",
                code="pieces-moved",
            )
    return _view(shop, kept.find_order(shop, order_id))


def move_pieces(
    unit: Unit,
    order: kept.KeptOrder,
    opened: Opened,
    pieces: Sequence[Piece],
    ids: Collection[str],
    *,
    seen: Collection[str],
    to: str,
    reason: str = "",
) -> Moved:
    """Move some of an order's pieces in a unit of work, with what the order then needs.

    Raises
    ------
    Conflict
        If they are to be sewn while the proof is open or their sample has not passed.
    """
    done = moved(pieces, ids, seen=seen, to=to, reason=reason, on=now())
    if to in WANTED:
        said = kept.find_proof(unit, order.quote_id, order.version)
        check_proof(proof_state(opened.asked, said.state if said else ""))
        samples = samples_of(opened.work, opened.job, opened.house, order.ready)
        check_samples(samples, [p for p in done.changed if p.state in TO_SEW])
    kept.write_pieces(unit, order.quote_id, pieces, done.pieces)
    if opened.work:
        before, needs = (
            with_remakes(opened.needs(), opened.work, each) for each in (pieces, done.pieces)
        )
        if needs != before:
            kept.write_needs(unit, order.quote_id, needs)
    return done
