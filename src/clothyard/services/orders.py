"""Orders: what was accepted, how far it is, what it needs, what was paid."""

from __future__ import annotations

import json
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints

from clothyard.core.errors import BadInput, ClothyardError, Stale
from clothyard.core.estimate.make import settled
from clothyard.core.house.check import build_house
from clothyard.core.job.check import job_from
from clothyard.core.job.document import Job
from clothyard.core.job.names import known_names
from clothyard.core.units import Money, money_text, read_typed
from clothyard.files.tables import SheetKind, write_sheet
from clothyard.services.estimates import work_job
from clothyard.services.readying import GetReady, get_ready
from clothyard.store import orders as kept
from clothyard.store.quotes import KeptVersion, find_house, find_version
from clothyard.store.shop import Shop

State = Literal["accepted", "waiting", "ready", "in-work", "done", "handed-over", "cancelled"]
Waits = Literal["", "goods", "materials", "proof", "file", "sample", "payment"]
Sort = Literal["promise", "number", "customer", "state", "waits", "accepted"]
Day = Annotated[str, StringConstraints(pattern=r"^(\d{4}-\d{2}-\d{2})?$")]
MOST_WRITTEN = 10_000


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
    """An order in the list; `stands` is false where its answer was taken back."""

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


class OrdersPage(BaseModel):
    """A page of orders."""

    items: list[OrderRow]
    total: int
    next: str | None


class PiecesRow(BaseModel):
    """Pieces of one size and colour of a line, with the names on them."""

    line: str
    goods: str
    size: str
    colour: str
    pieces: int
    names: list[str]


class MoneyDue(BaseModel):
    """What an order comes to, what was paid of it, and what is due."""

    to_pay: str
    deposit: str
    paid: str
    due: str


class OrderView(OrderRow):
    """An order, opened. What it needs is told of the house that its price was made with.

    `unready` says why the needs cannot be told, "" where they are.
    """

    ready: list[str]
    payments: list[Payment]
    pieces: list[PiecesRow]
    money: MoneyDue
    needs: GetReady | None
    unready: str


def _row(order: kept.KeptOrder) -> dict[str, Any]:
    names = OrderRow.model_fields.keys() - {"id", "accepted_on"}
    found = {name: getattr(order, name) for name in names}
    return found | {"id": order.quote_id, "accepted_on": order.accepted_on[:10]}


def list_orders(shop: Shop, *, cursor: str = "", limit: int = 50, **wanted: Any) -> OrdersPage:
    """List orders, those promised first before; `wanted` as of the store's `list_orders`."""
    kept.make_orders(shop)
    offset = int(cursor) if cursor.isdigit() else 0
    found, total = kept.list_orders(shop, offset=offset, limit=limit, **wanted)
    after = offset + len(found)
    return OrdersPage(
        items=[OrderRow(**_row(order)) for order in found],
        total=total,
        next=str(after) if after < total else None,
    )


def orders_sheet(shop: Shop, kind: SheetKind, **wanted: Any) -> bytes:
    """Write the orders of a list as a table; `wanted` as of `list_orders`."""
    rows = list_orders(shop, limit=MOST_WRITTEN, **wanted).items
    heads = ["Number", "Customer", "What", "To pay", "Currency", "Promised", "State", "Waits for",
             "Accepted"]  # fmt: skip
    table = [
        [row.number, row.customer, row.summary, row.total, row.currency, row.promised_on,
         row.state if row.stands else "cancelled", row.waits, row.accepted_on]
        for row in rows
    ]  # fmt: skip
    return write_sheet(heads, table, kind=kind, title="Orders")


def _pieces(job: Job, labels: dict[str, str]) -> list[PiecesRow]:
    found = []
    for line in job.lines:
        names, at = list(known_names(line)), 0
        cells = [(cell.size, cell.colour, cell.quantity) for cell in line.cells]
        for size, colour, pieces in cells or [("", "", line.quantity)]:
            here = [name for name in names[at : at + pieces] if name]
            at += pieces
            found.append(
                PiecesRow(line=line.id, goods=labels.get(line.goods.class_, line.goods.class_),
                          size=size, colour=colour, pieces=pieces, names=here)
            )  # fmt: skip
    return found


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


def _view(shop: Shop, order: kept.KeptOrder) -> OrderView:
    version = find_version(shop, order.quote_id, order.version)
    house = build_house(find_house(shop, version.house_sha256))
    job = job_from(version.job, currency=order.currency)
    needs, unready = None, ""
    try:
        job, changed = settled(job, house)
        needs = get_ready(job, work_job(shop, job, house), changed)
    except ClothyardError as error:  # its file is gone, or the release reads it otherwise
        unready = f"{error.message} {error.remedy}"
    return OrderView(
        **_row(order),
        ready=order.ready,
        payments=[Payment.model_validate(row) for row in order.payments],
        pieces=_pieces(job, {key: row.label for key, row in house.goods.items()}),
        money=_money(order, version),
        needs=needs,
        unready=unready,
    )


def find_order(shop: Shop, order_id: int) -> OrderView:
    """Open an order, by its quote's id.

    Raises
    ------
    NotFound
    """
    kept.make_orders(shop)
    return _view(shop, kept.find_order(shop, order_id))


def save_order(shop: Shop, order_id: int, document: OrderDocument, *, seen: int) -> OrderView:
    """Write how far an order is.

    Raises
    ------
    NotFound, Stale
    BadInput
        If it waits and nothing says for what, or a payment's sign is not its kind's.
    """
    if document.state == "waiting" and not document.waits:
        raise BadInput(
            "it waits, and nothing says for what.", where="waits",
            remedy="Choose what it waits for.", code="missing",
        )  # fmt: skip
    for n, payment in enumerate(document.payments):
        if payment.amount == 0 or (payment.amount < 0) != (payment.kind == "refund"):
            raise BadInput(
                f"{payment.amount} is no {payment.kind}.", where=f"payments[{n}].amount",
                remedy="A refund is below zero, all else above.", code="out-of-range",
            )  # fmt: skip
    waits = document.waits if document.state == "waiting" else ""
    try:
        order = kept.change_order(
            shop, order_id, seen=seen, state=document.state, waits=waits,
            promised_on=document.promised_on, ready=json.dumps(sorted(set(document.ready))),
            payments=json.dumps([p.model_dump(mode="json") for p in document.payments]),
        )  # fmt: skip
    except Stale as error:
        there = error.kept
        assert isinstance(there, kept.KeptOrder)
        raise Stale(
            error.message, kept=OrderRow(**_row(there)), where=error.where, remedy=error.remedy
        ) from None
    return _view(shop, order)
