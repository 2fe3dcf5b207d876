"""Orders in the database: one for each quote that was accepted."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement, and_, func, insert, or_, select, update
from sqlalchemy.orm import Session

from clothyard.core.errors import NotFound, Stale
from clothyard.store.models import Quote, QuoteVersion, WorkOrder
from clothyard.store.shop import Shop, now

OPEN = ("accepted", "waiting", "ready", "in-work", "done")


@dataclass(frozen=True, slots=True)
class KeptOrder:
    """An order as kept, with what the list shows of its quote; dates are ISO text, "" for none.

    `stands` says whether its quote is accepted still: an answer can be taken back.
    """

    quote_id: int
    number: str
    version: int
    stands: bool
    customer: str
    summary: str
    total: str
    currency: str
    due_on: str
    revision: int
    state: str
    waits: str
    promised_on: str
    ready: list[str]
    payments: list[dict[str, str]]
    accepted_on: str
    changed_on: str


def _read(order: WorkOrder, quote: Quote) -> KeptOrder:
    return KeptOrder(
        quote_id=quote.id, number=quote.number, version=quote.version,
        stands=quote.state == "accepted", customer=quote.customer, summary=quote.summary,
        total=quote.total, currency=quote.currency, due_on=quote.due_on, revision=order.revision,
        state=order.state, waits=order.waits, promised_on=order.promised_on,
        ready=json.loads(order.ready), payments=json.loads(order.payments),
        accepted_on=order.accepted_on, changed_on=order.changed_on,
    )  # fmt: skip


def make_orders(shop: Shop) -> None:
    """Make the orders of accepted quotes that have none yet."""
    wanted = (
        select(Quote.id, Quote.due_on, QuoteVersion.answered_on)
        .outerjoin(WorkOrder, WorkOrder.quote_id == Quote.id)
        .join(
            QuoteVersion,
            and_(QuoteVersion.quote_id == Quote.id, QuoteVersion.version == Quote.version),
        )
        .where(Quote.state == "accepted", Quote.deleted_on.is_(None), WorkOrder.quote_id.is_(None))
    )
    with shop.reading() as session:
        if session.execute(wanted.limit(1)).first() is None:
            return
    with shop.writing() as session:
        for quote_id, due_on, answered_on in session.execute(wanted).all():
            session.execute(
                insert(WorkOrder).values(
                    quote_id=quote_id, revision=1, state="accepted", waits="", promised_on=due_on,
                    ready="[]", payments="[]", accepted_on=answered_on or now(), changed_on=now(),
                )
            )  # fmt: skip


def _whole() -> Any:
    return select(WorkOrder, Quote).join(Quote, Quote.id == WorkOrder.quote_id)


def list_orders(
    shop: Shop, *, search: str, state: str, sort: str, down: bool | None, offset: int, limit: int
) -> tuple[list[KeptOrder], int]:
    """List orders.

    Parameters
    ----------
    search : str
        Words that must all occur in number, customer, notes or goods.
    state : str
        One of the states; "" those that are open, all what there is.
    sort : "promise", "number", "customer", "state", "waits" or "total"
    down : bool, optional
        The other way round than a sort usually goes, or not.
    offset, limit : int

    Returns
    -------
    (orders, how many there are in all)
    """
    conditions: list[ColumnElement[bool]] = [Quote.deleted_on.is_(None)]
    stands = Quote.state == "accepted"
    if state == "":
        conditions += [stands, WorkOrder.state.in_(OPEN)]
    elif state == "cancelled":
        conditions.append(or_(~stands, WorkOrder.state == state))
    elif state != "all":
        conditions += [stands, WorkOrder.state == state]
    conditions += [Quote.search.contains(word, autoescape=True) for word in search.lower().split()]
    orders: dict[str, tuple[Any, bool, Any]] = {
        "promise": (WorkOrder.promised_on, False, WorkOrder.promised_on == ""),
        "number": (Quote.id, True, Quote.id < 0),
        "customer": (func.lower(Quote.customer), False, Quote.customer == ""),
        "state": (WorkOrder.state, False, WorkOrder.state == ""),
        "waits": (WorkOrder.waits, False, WorkOrder.waits == ""),
        "accepted": (WorkOrder.accepted_on, True, WorkOrder.accepted_on == ""),
    }
    column, usual, empty = orders[sort]
    way = column.desc() if (usual if down is None else down) else column
    with shop.reading() as session:
        query = _whole().where(*conditions).order_by(empty, way, Quote.id.desc())
        rows = session.execute(query.offset(offset).limit(limit)).all()
        count = select(func.count()).select_from(WorkOrder).join(Quote).where(*conditions)
        return [_read(*row) for row in rows], session.scalar(count) or 0


def _find(session: Session, quote_id: int) -> KeptOrder:
    row = session.execute(_whole().where(WorkOrder.quote_id == quote_id)).first()
    if row is None:
        raise NotFound(
            f"quote {quote_id} is no order: it is not accepted.", where="order",
            remedy="Look for it in the list of orders, or among the quotes.", code="order-unknown",
        )  # fmt: skip
    return _read(*row)


def find_order(shop: Shop, quote_id: int) -> KeptOrder:
    """Return an order, by its quote's id.

    Raises
    ------
    NotFound
    """
    with shop.reading() as session:
        return _find(session, quote_id)


def change_order(shop: Shop, quote_id: int, *, seen: int, **values: str) -> KeptOrder:
    """Change an order where its revision is the one seen.

    Raises
    ------
    NotFound, Stale
        Nothing is written then.
    """
    with shop.writing() as session:
        written = session.execute(
            update(WorkOrder)
            .where(WorkOrder.quote_id == quote_id, WorkOrder.revision == seen)
            .values(revision=WorkOrder.revision + 1, changed_on=now(), **values)
            .returning(WorkOrder.quote_id)
        ).first()
        found = _find(session, quote_id)
        if written is None:
            raise Stale(
                f"the order {found.number} was changed elsewhere since.", kept=found,
                where="revision", remedy="Look at it again.",
            )  # fmt: skip
        return found
