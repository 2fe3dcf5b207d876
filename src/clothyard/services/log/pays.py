"""What pays: the shop's orders as they came to, grouped; and what a price list should change."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import Literal

from pydantic import BaseModel

from clothyard.core.log.pays import KEYS, Group, Loss, Real, losses, read_reals, what_pays
from clothyard.core.order.state import FINISHED
from clothyard.core.units import money_text
from clothyard.files.tables import SheetKind, write_sheet
from clothyard.services.house.standards import shop_house
from clothyard.services.orders.follow import keep_up
from clothyard.store.order_work import list_results
from clothyard.store.shop import Shop

By = Literal["order", "customer", "goods", "place", "method", "size"]


class Moved(BaseModel):
    """What moved a cost, and by how much: above zero it cost more."""

    reason: str
    amount: str


class PaysRow(BaseModel):
    """Lines of one kind, added up; "" where there are no hours to divide by. Money, hours."""

    name: str
    order_id: int
    orders: int
    pieces: int
    logged: int
    price: str
    quoted_cost: str
    cost: str
    left: str
    margin: float
    quoted_margin: float
    hand_h: float
    machine_h: float
    an_hour_of_hands: str
    an_hour_of_machine: str
    reasons: list[Moved]


class LossTold(BaseModel):
    """Work that loses money as it is priced, in words and figures."""

    goods: str
    size: str
    orders: int
    loses_each: str
    ask: str
    said: str


class PaysView(BaseModel):
    """What pays, by one thing; and what a price list should change."""

    by: By
    currency: str
    rows: list[PaysRow]
    changes: list[LossTold]
    unlogged: int
    others: list[str]


def _lines(shop: Shop) -> tuple[list[Real], int, str, list[str]]:
    """Read the orders that are done or in the log: (lines, how many are not logged, currency,
    other currencies)."""
    keep_up(shop)
    currency = shop_house(shop).price.currency
    lines: list[Real] = []
    unlogged, others = 0, set[str]()
    for result in list_results(shop):
        if result.state not in FINISHED and not result.logged:
            continue
        if result.currency != currency:
            others.add(result.currency)
            continue
        lines += read_reals(result.lines, customer=result.customer)
        unlogged += not result.logged
    return lines, unlogged, currency, sorted(others)


def _row(group: Group, currency: str, ids: Mapping[str, int]) -> PaysRow:
    def money(amount: Decimal | None) -> str:
        return "" if amount is None else money_text(amount, currency)

    price = group.price
    return PaysRow(
        name=group.name,
        order_id=ids.get(group.name, 0),
        orders=group.orders,
        pieces=group.pieces,
        logged=group.logged,
        price=money(price),
        quoted_cost=money(group.quoted_cost),
        cost=money(group.cost),
        left=money(group.left),
        margin=float(group.left / price) if price else 0.0,
        quoted_margin=float((price - group.quoted_cost) / price) if price else 0.0,
        hand_h=round(group.hand_h, 3),
        machine_h=round(group.machine_h, 3),
        an_hour_of_hands=money(group.an_hour_of_hands),
        an_hour_of_machine=money(group.an_hour_of_machine),
        reasons=[Moved(reason=r, amount=money(a)) for r, a in group.reasons if abs(a) >= CENT],
    )


CENT = Decimal("0.005")


def _loss(loss: Loss, currency: str) -> LossTold:
    each, ask = money_text(loss.loses_each, currency), money_text(loss.ask, currency)
    under = money_text(loss.under, currency)
    said = (
        f"{loss.goods}, {loss.size}, at up to {under} a piece lose {each} each over "
        f"{loss.orders} orders: ask {ask}, or take fewer of them."
    )
    return LossTold(
        goods=loss.goods, size=loss.size, orders=loss.orders, loses_each=each, ask=ask, said=said
    )


def pays(shop: Shop, by: By = "order") -> PaysView:
    """Say what pays: finished or logged orders in the shop's currency, by one thing."""
    lines, unlogged, currency, others = _lines(shop)
    ids = {KEYS["order"](real): real.quoted.order_id for real in lines} if by == "order" else {}
    margin = Decimal(str(shop_house(shop).price.margin))
    return PaysView(
        by=by,
        currency=currency,
        unlogged=unlogged,
        others=others,
        rows=[_row(group, currency, ids) for group in what_pays(lines, by)],
        changes=[_loss(loss, currency) for loss in losses(lines, margin=margin)],
    )


def pays_sheet(shop: Shop, kind: SheetKind, by: By = "order") -> bytes:
    """Write what pays as a table."""
    view = pays(shop, by)
    heads = [
        by.capitalize(),
        "Orders",
        "Pieces",
        "Logged",
        "Price",
        "Cost quoted",
        "Cost",
        "Left",
        "Margin quoted, %",
        "Margin, %",
        "Hours of hands",
        "Hours of machine",
        "An hour of hands",
        "An hour of machine",
        "Reasons",
        "Currency",
    ]
    table = [
        [
            row.name,
            str(row.orders),
            str(row.pieces),
            str(row.logged),
            row.price,
            row.quoted_cost,
            row.cost,
            row.left,
            f"{row.quoted_margin * 100:.1f}",
            f"{row.margin * 100:.1f}",
            f"{row.hand_h:.2f}",
            f"{row.machine_h:.2f}",
            row.an_hour_of_hands,
            row.an_hour_of_machine,
            "; ".join(f"{r.reason} {r.amount}" for r in row.reasons),
            view.currency,
        ]
        for row in view.rows
    ]
    return write_sheet(heads, table, kind=kind, title="What pays")
