"""What pays: the shop's orders as they came to, grouped; and what a price list should change."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from functools import lru_cache
from typing import Any, Literal

from pydantic import BaseModel

from clothyard.core.house.check import kept_house
from clothyard.core.house.document import House
from clothyard.core.log.pays import KEYS, Group, Loss, Quoted, Real, losses, real_lines, what_pays
from clothyard.core.log.rows import LogRow
from clothyard.core.units import money_text
from clothyard.files.tables import SheetKind, write_sheet
from clothyard.services.orders import keep_up
from clothyard.services.standards import shop_house
from clothyard.store import log as kept
from clothyard.store import orders
from clothyard.store.quotes import find_house, find_version
from clothyard.store.shop import Shop

By = Literal["order", "customer", "goods", "place", "method", "size"]
MOST_ORDERS = 5000
ZERO = Decimal(0)
MATERIALS = (
    "goods",
    "needle_thread",
    "bobbin_thread",
    "backing",
    "topping",
    "consumables",
    "sheet_goods",
    "packing",
)


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


@lru_cache(maxsize=64)
def _house(text_sha256: str, shop: Shop) -> House:
    return kept_house(find_house(shop, text_sha256))


def _d(value: Any) -> Decimal:
    return Decimal(str(value or "0"))


def _quoted(
    order: orders.KeptOrder, estimate: Mapping[str, Any], job: Mapping[str, Any], house: House
) -> list[Quoted]:
    """Read an order's lines as they were quoted; what is taken once is shared by cost."""
    lines = estimate.get("lines", [])
    typed = job.get("lines", [])
    whole = sum(int(line["quantity"]) for line in lines)
    machine_min = sum(float(line["per_piece"]["machine_min"]) * line["quantity"] for line in lines)
    hands_min = float(estimate.get("run", {}).get("operator_min", 0.0))
    own = [
        (float(x["per_piece"]["attend_min"]) + float(x["per_piece"]["hand_min"])) * x["quantity"]
        for x in lines
    ]
    once = max(0.0, hands_min - sum(own))
    found = []
    for n, line in enumerate(lines):
        asked = typed[n] if n < len(typed) and isinstance(typed[n], dict) else {}
        goods = (asked.get("goods") or {}).get("class", "")
        cost, places = line["cost"], line.get("places", [])
        pieces = int(line["quantity"])
        share = pieces / whole if whole else 1.0
        known = house.goods.get(goods)
        price = line["price"]
        found.append(
            Quoted(
                order_id=order.quote_id,
                order=order.number,
                line=str(line.get("id", "")),
                customer=order.customer,
                goods=known.label if known else goods,
                place=" + ".join(p["label"] for p in places) or "no place",
                method=_method(line, house),
                pieces=pieces,
                order_pieces=whole,
                price=_d(price["net"]) * pieces if _d(price.get("net")) else _d(price["line"]),
                cost=_d(cost["total"]),
                materials=sum((_d(cost[m]) for m in MATERIALS), ZERO),
                spoilage=_d(cost["spoilage"]),
                bobbin_cost=_d(cost["bobbin_thread"]),
                goods_each=_d(cost["goods"]) / pieces if pieces else ZERO,
                hand_h=(own[n] + once * share) / 60,
                machine_h=float(line["per_piece"]["machine_min"]) * pieces / 60
                if machine_min
                else 0.0,
            )
        )
    return found


def _method(line: Mapping[str, Any], house: House) -> str:
    """Say how a line's first place is made: hoop and backing."""
    chosen = {m["key"]: m["value"] for m in line.get("methods", []) if m.get("placement") == 0}
    hoop, backing = house.hoops.get(chosen.get("hoop", "")), chosen.get("backing", "")
    words = [hoop.label] if hoop else []
    if chosen.get("hold") == "float":
        words.append("floated")
    if backing in house.backings:
        words.append(house.backings[backing].label)
    return ", ".join(words) or "as proposed"


def _lines(shop: Shop) -> tuple[list[Real], int, str, list[str]]:
    """Read the orders that are done or in the log: (lines, how many are not logged, currency,
    other currencies)."""
    keep_up(shop)
    currency = shop_house(shop).price.currency
    rows: dict[int, list[kept.KeptRow]] = {}
    for row in kept.list_rows(shop):
        if row.quote_id and not row.row.excluded:
            rows.setdefault(row.quote_id, []).append(row)
    wanted: dict[str, Any] = {"state": "all", "sort": "number", "down": None}
    found, _ = orders.list_orders(shop, search="", offset=0, limit=MOST_ORDERS, **wanted)
    lines: list[Real] = []
    unlogged, others = 0, set[str]()
    for order in found:
        mine = rows.get(order.quote_id, [])
        if not mine and order.state not in {"done", "handed-over"}:
            continue
        if order.currency != currency:
            others.add(order.currency)
            continue
        version = find_version(shop, order.quote_id, order.version)
        house = _house(version.house_sha256, shop)
        quoted = _quoted(order, version.estimate, version.job, house)
        told: list[tuple[LogRow, House]] = [(each.row, house) for each in mine]
        lines += real_lines(quoted, told)
        unlogged += not mine
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
