"""Buying: what is to be bought by supplier, orders to suppliers, and what comes of them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.errors import BadInput, Conflict
from clothyard.core.figure_text import amount_text, counted
from clothyard.core.house.document import House
from clothyard.core.house.price_steps import read_steps, write_steps
from clothyard.core.stock.buying import (
    BuyLine,
    BuyList,
    Lacking,
    arrives_on,
    buy_lists,
    packs_of,
    wanted_items,
)
from clothyard.core.stock.key import item_of, read_key
from clothyard.core.stock.ledger import ZERO, Move
from clothyard.core.stock.purchase import OrderedRow
from clothyard.core.stock.shelf import Shelf
from clothyard.core.units import money_text
from clothyard.files.tables import SheetKind, write_sheet
from clothyard.ports.client import NO_ADDRESS
from clothyard.ports.supplier import Asked, AskedRow, HttpSupplier, SupplierError, SupplierService
from clothyard.services.house.standards import changing, shop_house
from clothyard.services.orders import follow as orders
from clothyard.services.stock.shelf import read_shelf
from clothyard.store import stock as kept
from clothyard.store.shop import Shop, now, today


class BuyRow(BaseModel):
    """So many packs of an item that is to be bought; `short` is what open orders lack of it.

    `holds` is what one pack holds, in the item's unit; `orders` the numbers of who needs it. What
    is `unknown` may be here: nobody has counted it.
    """

    item: str
    label: str
    unit: str
    wanted: str
    short: str
    pack_id: str
    pack: str
    holds: str
    count: int
    price: str
    cost: str
    orders: list[str]
    needed_by: str
    standard: str
    unknown: bool


class Fill(BaseModel):
    """What is added cheapest for a free delivery."""

    item: str
    label: str
    pack: str
    more: int
    cost: str


class BuyFrom(BaseModel):
    """What is to be bought of one supplier; `order_by` is the day on which it is ordered at the
    latest, "" for none. `late` says that this day is past."""

    supplier: str
    name: str
    rows: list[BuyRow]
    goods: str
    delivery: str
    to_free: str
    fill: Fill | None
    order_by: str
    late: bool
    days: int


class ToBuy(BaseModel):
    """What is to be bought, by supplier; `sends` says whether orders go to a supplier's service."""

    suppliers: list[BuyFrom]
    currency: str
    sends: bool


class PurchaseView(BaseModel):
    """An order to a supplier; `late` where something of it should be here."""

    id: int
    number: str
    supplier: str
    name: str
    state: Literal["open", "arrived", "closed"]
    revision: int
    sent_by: Literal["service", "hand"]
    ordered_on: str
    rows: list[OrderedRow]
    goods: str
    currency: str
    late: bool
    trouble: str
    message: str


class PurchasesPage(BaseModel):
    """Orders to suppliers, the last first."""

    items: list[PurchaseView]
    total: int
    next: str | None


class WantedRow(BaseModel):
    """A row that is ordered: so many packs of an item."""

    model_config = ConfigDict(extra="forbid")

    item: str = Field(min_length=1, max_length=200)
    pack_id: str = Field(default="", max_length=80)
    count: int = Field(ge=1, le=100_000)


class NewPurchase(BaseModel):
    """An order to a supplier: to its service, or by hand.

    `key` is made by who presses: the same press that comes twice orders once.
    """

    model_config = ConfigDict(extra="forbid")

    supplier: str = Field(min_length=1, max_length=80)
    rows: list[WantedRow] = Field(min_length=1, max_length=500)
    send: bool = True
    key: str = Field(default="", max_length=64, pattern=r"^([A-Za-z0-9-]{8,64})?$")


class ArrivedRow(BaseModel):
    """So many packs of the how-manieth row that arrived."""

    model_config = ConfigDict(extra="forbid")

    row: int = Field(ge=0, le=500)
    count: Annotated[int, Field(ge=0, le=100_000)]
    close: bool = False


class Arrival(BaseModel):
    """What arrived; without rows all that is still open."""

    model_config = ConfigDict(extra="forbid")

    rows: list[ArrivedRow] = Field(default_factory=list, max_length=500)
    note: str = Field(default="", max_length=300)


def _lists(shelf: Shelf, house: House, lacks: Sequence[Lacking]) -> list[BuyList]:
    keys = shelf.all_items()
    wanted = wanted_items(
        lacks,
        {key: shelf.label(key) for key in keys},
        {key: shelf.unit(key) for key in keys},
        there=shelf.there,
        promised=shelf.promised,
        minimums={k: item.minimum for k, item in shelf.items.items() if item.minimum > ZERO},
        coming=shelf.coming,
    )
    chosen = {key: item.supplier for key, item in shelf.items.items() if item.supplier}
    return buy_lists(wanted, house, chosen=chosen)


def _buy_row(line: BuyLine, currency: str) -> BuyRow:
    wanted, pack = line.wanted, line.pack
    return BuyRow(
        item=wanted.item.key,
        label=wanted.label,
        unit=wanted.item.unit,
        wanted=amount_text(wanted.amount),
        short=amount_text(wanted.short),
        pack_id=pack.id,
        pack=pack.name,
        holds=amount_text(pack.amount),
        count=line.count,
        price=money_text(pack.price, currency),
        cost=money_text(line.cost, currency),
        orders=list(wanted.orders),
        needed_by=wanted.needed_by,
        standard=pack.standard,
        unknown=wanted.unknown,
    )


def list_to_buy(shop: Shop) -> ToBuy:
    """List what is to be bought: what open orders are short of, and what is below its minimum."""
    orders.keep_up(shop)
    house = shop_house(shop)
    shelf = read_shelf(shop, house)
    currency = house.price.currency
    found = []
    for each in _lists(shelf, house, orders.lacking_items(shop, house)):
        supplier = house.suppliers[each.supplier]
        fill = each.lines[each.fill] if each.fill is not None else None
        found.append(
            BuyFrom(
                supplier=each.supplier,
                name=supplier.label,
                rows=[_buy_row(line, currency) for line in each.lines],
                goods=money_text(each.goods, currency),
                delivery=money_text(each.delivery, currency),
                to_free=money_text(each.to_free, currency),
                fill=Fill(
                    item=fill.wanted.item.key,
                    label=fill.wanted.label,
                    pack=fill.pack.name,
                    more=each.fill_count,
                    cost=money_text(fill.pack.price * each.fill_count, currency),
                )
                if fill
                else None,
                order_by=each.order_by,
                late=bool(each.order_by) and each.order_by < today(),
                days=supplier.days,
            )
        )
    return ToBuy(suppliers=found, currency=currency, sends=_service(house) is not None)


def to_buy_sheet(shop: Shop, kind: SheetKind) -> bytes:
    """Write what is to be bought as a table."""
    page = list_to_buy(shop)
    heads = [
        "Supplier",
        "Item",
        "Pack",
        "How many",
        "Price",
        "Cost",
        "Currency",
        "Wanted",
        "Unit",
        "Needed by",
        "Order by",
        "For",
    ]
    table = [
        [
            each.name,
            r.label,
            r.pack,
            str(r.count),
            r.price,
            r.cost,
            page.currency,
            r.wanted,
            r.unit,
            r.needed_by,
            each.order_by,
            ", ".join(r.orders),
        ]
        for each in page.suppliers
        for r in each.rows
    ]
    return write_sheet(heads, table, kind=kind, title="To buy")


def _service(house: House) -> SupplierService | None:
    address = house.buying.supplier_address.strip()
    return None if address in {"", NO_ADDRESS} else HttpSupplier(address)


def _purchase_number(purchase_id: int) -> str:
    return f"P-{purchase_id:04d}"


def _view(purchase: kept.KeptPurchase, house: House) -> PurchaseView:
    currency = house.price.currency
    rows = [OrderedRow.model_validate(row) for row in purchase.rows]
    goods = sum((Decimal(row.price) * row.count for row in rows), ZERO)
    name = (
        house.suppliers[purchase.supplier].label
        if purchase.supplier in house.suppliers
        else (purchase.supplier)
    )
    late = purchase.state == "open" and any(
        row.expected_on and row.expected_on < today() and row.arrived < row.confirmed
        for row in rows
    )
    return PurchaseView(
        id=purchase.id,
        number=_purchase_number(purchase.id),
        supplier=purchase.supplier,
        name=name,
        state=purchase.state,
        revision=purchase.revision,
        sent_by=purchase.sent_by,
        ordered_on=purchase.ordered_on,
        rows=rows,
        goods=money_text(goods, currency),
        currency=currency,
        late=late,
        trouble=purchase.trouble,
        message=_message(purchase, name, house),
    )


def _message(purchase: kept.KeptPurchase, name: str, house: House) -> str:
    """Write an order as words to send by hand."""
    lines = [
        f"Order {_purchase_number(purchase.id)} to {name}",
        f"from {house.shop.name}",
        house.shop.address,
        "",
    ]
    lines += [f"{row['count']} × {row['label']}, {row['pack']}" for row in purchase.rows]
    lines += ["", "Please confirm the day of delivery and the prices."]
    return "\n".join(lines) + "\n"


def list_purchases(
    shop: Shop, *, state: str = "", cursor: str = "", limit: int = 100
) -> PurchasesPage:
    """List orders to suppliers, the last first; all that are open, of others a page at a time."""
    house = shop_house(shop)
    before = int(cursor) if cursor.isdigit() else 2**53
    most = None if state == "open" else limit + 1
    found = kept.list_purchases(shop, state=state, before=before, limit=most)
    more = most is not None and len(found) > limit
    shown = found[:limit] if more else found
    return PurchasesPage(
        items=[_view(purchase, house) for purchase in shown],
        total=kept.count_purchases(shop, state=state),
        next=str(shown[-1].id) if more else None,
    )


def find_purchase(shop: Shop, purchase_id: int) -> PurchaseView:
    """Open an order to a supplier.

    Raises
    ------
    NotFound
    """
    return _view(kept.find_purchase(shop, purchase_id), shop_house(shop))


def purchase_sheet(shop: Shop, purchase_id: int, kind: SheetKind) -> bytes:
    """Write an order to a supplier as a table.

    Raises
    ------
    NotFound
    """
    view = find_purchase(shop, purchase_id)
    heads = ["Order", "Item", "Pack", "How many", "Price", "Currency"]
    table = [
        [view.number, r.label, r.pack, str(r.count), r.price, view.currency] for r in view.rows
    ]
    return write_sheet(heads, table, kind=kind, title=view.number)


def make_purchase(shop: Shop, new: NewPurchase) -> PurchaseView:
    """Order of a supplier: to its service, which answers, or by hand.

    Raises
    ------
    BadInput
        If a row is not on the buying list, nor a known pack.
    Conflict
        If it is to be sent and the shop has no supplier's service.
    """
    house = shop_house(shop)
    if new.supplier not in house.suppliers:
        raise BadInput(
            f"{new.supplier[:80]!r} is no supplier.",
            where="supplier",
            remedy="Choose one of the shelf's.",
            code="supplier-unknown",
        )
    service = _service(house) if new.send else None
    if new.send and service is None:
        raise Conflict(
            "the shop has no supplier's service.",
            where="send",
            remedy="Order by hand, or say its address among the standards, under buying.",
            code="supplier-none",
        )
    rows = _asked_rows(read_shelf(shop, house), new, house)
    waiting = [row | {"confirmed": 0} for row in rows]  # until it is answered nothing comes
    with shop.unit() as unit:
        if before := kept.find_pressed(unit, new.key):
            return _again(before, new, house)
        purchase = kept.add_purchase(
            unit,
            new.supplier,
            waiting if service else rows,
            sent_by="service" if service else "hand",
            trouble=UNANSWERED if service else "",
            key=new.key,
        )
    return _ask(shop, purchase, service, house) if service else _view(purchase, house)


def _again(before: kept.KeptPurchase, new: NewPurchase, house: House) -> PurchaseView:
    """Return what a press ordered that comes again.

    Raises
    ------
    Conflict
        If it ordered something else then.
    """
    asked = [(row["item"], row["count"]) for row in before.rows]
    if before.supplier != new.supplier or asked != [(r.item, r.count) for r in new.rows]:
        raise Conflict(
            "this press ordered something else before.",
            where="key",
            remedy="Load the page again, and look at what is ordered.",
            code="key-taken",
        )
    return _view(before, house)


UNANSWERED = "it was not answered yet"


def ask_again(shop: Shop, purchase_id: int) -> PurchaseView:
    """Send an order again that a supplier's service did not answer; it is ordered once.

    Raises
    ------
    NotFound, Stale
    Conflict
        If it was answered, or the shop has no supplier's service any more.
    """
    house = shop_house(shop)
    purchase = kept.find_purchase(shop, purchase_id)
    service = _service(house)
    if not purchase.trouble or service is None:
        raise Conflict(
            "there is nothing to ask again." if service else "the shop has no supplier's service.",
            where="purchase",
            remedy="Look at the order.",
            code="purchase-answered",
        )
    return _ask(shop, purchase, service, house)


def _ask(
    shop: Shop, purchase: kept.KeptPurchase, service: SupplierService, house: House
) -> PurchaseView:
    """Ask a supplier's service, and keep what it answers, or that it does not."""
    rows = [dict(row) for row in purchase.rows]
    days = house.suppliers[purchase.supplier].days if purchase.supplier in house.suppliers else 0
    asked = Asked(
        number=_purchase_number(purchase.id),
        supplier=purchase.supplier,
        days=days,
        ordered_on=purchase.ordered_on,
        rows=[
            AskedRow(
                ref=str(n),
                item=row["item"],
                name=f"{row['label']}, {row['pack']}"[:300],
                count=row["count"],
                price=row["asked_price"],
            )
            for n, row in enumerate(rows)
        ],
    )
    trouble, state = "", "open"
    try:
        answered = {row.ref: row for row in service.order(asked).rows}
    except SupplierError as error:
        trouble = f"{error}: ask again, or take it back and order by hand"
    else:
        for n, row in enumerate(rows):
            said = answered[str(n)]
            price = money_text(Decimal(said.price), house.price.currency)
            row |= {
                "confirmed": said.count,
                "expected_on": said.expected_on,
                "state": said.answer,
                "note": said.note,
                "price": price,
                "offer": bool(row["standard"]) and price != row["asked_price"],
                "closed": said.count == 0,
            }
        state = "closed" if all(row["closed"] for row in rows) else "open"
    with shop.unit() as unit:
        changed = kept.change_purchase(
            unit, purchase.id, seen=purchase.revision, rows=rows, state=state, trouble=trouble
        )
    return _view(changed, house)


def _asked_rows(shelf: Shelf, new: NewPurchase, house: House) -> list[dict[str, Any]]:
    currency, rows = house.price.currency, []
    expected = arrives_on(house.suppliers[new.supplier], today())
    for n, want in enumerate(new.rows):
        item = item_of(want.item, shelf.unit(want.item))
        alike = sum(r.count for r in new.rows if read_key(r.item).goods == item.of.goods)
        packs = packs_of(item, house, count=alike)
        pack = next((p for p in packs if p.id == want.pack_id), packs[0] if packs else None)
        if pack is None and want.item not in shelf.all_items():
            raise BadInput(
                f"{want.item[:80]!r} is nothing that this shop buys.",
                where=f"rows[{n}].item",
                remedy="Choose it from the list of what is to buy.",
                code="item-unknown",
            )
        price = money_text(pack.price if pack else ZERO, currency)
        rows.append(
            {
                "item": want.item,
                "label": shelf.label(want.item),
                "unit": item.unit,
                "pack": pack.name if pack else "each",
                "amount": amount_text(pack.amount) if pack else "1",
                "count": want.count,
                "confirmed": want.count,
                "arrived": 0,
                "price": price,
                "asked_price": price,
                "expected_on": expected,
                "state": "asked",
                "note": "",
                "closed": False,
                "standard": pack.standard if pack else "",
                "offer": False,
            }
        )
    return rows


def take_back_purchase(shop: Shop, purchase_id: int) -> None:
    """Take back an order that no supplier has confirmed, and of which nothing came.

    Raises
    ------
    NotFound, Stale
    Conflict
        If it went to a supplier's service, or something of it arrived.
    """
    purchase = kept.find_purchase(shop, purchase_id)
    answered = purchase.sent_by == "service" and not purchase.trouble
    if answered or any(row["arrived"] for row in purchase.rows):
        raise Conflict(
            "the supplier has it, or something of it arrived.",
            where="purchase",
            remedy="Close what does not come, and tell the supplier.",
            code="purchase-begun",
        )
    with shop.unit() as unit:
        kept.forget_purchase(unit, purchase_id, seen=purchase.revision)


def arrive(shop: Shop, purchase_id: int, arrival: Arrival, *, seen: int) -> PurchaseView:
    """Book what arrived; what is short stays open, unless it is closed.

    Raises
    ------
    NotFound, Stale
    BadInput
        If a row is not of this order.
    Conflict
        If nothing of it is open.
    """
    house = shop_house(shop)
    purchase = kept.find_purchase(shop, purchase_id, seen=seen)
    if purchase.state != "open" or purchase.trouble:
        raise Conflict(
            "nothing of it is to come.",
            where="purchase",
            remedy="Look at the shelf.",
            code="purchase-closed",
        )
    rows = [dict(row) for row in purchase.rows]
    said = arrival.rows or [
        ArrivedRow(row=n, count=max(0, row["confirmed"] - row["arrived"]))
        for n, row in enumerate(rows)
        if not row["closed"]
    ]
    counts = Counter(each.row for each in said)
    if twice := [n for n, times in counts.items() if times > 1]:
        raise BadInput(
            f"row {twice[0] + 1} is named twice.",
            where="rows",
            remedy="Name each row once, with all that came of it.",
            code="row-twice",
        )
    moves, costs = [], {}
    for each in said:
        if each.row >= len(rows):
            raise BadInput(
                f"it has no row {each.row + 1}.",
                where="rows",
                remedy="Load the page again.",
                code="purchase-unknown",
            )
        row = rows[each.row]
        if each.count:
            amount = Decimal(row["amount"])
            note = f"{_purchase_number(purchase.id)}: {counted(each.count, 'pack')}"
            note = f"{note}. {arrival.note}" if arrival.note else note
            key = f"arrival:{purchase.id}:r{purchase.revision}:{each.row}"
            moves.append((key, Move(row["item"], amount * each.count, "received", "", now(), note)))
            if Decimal(row["price"]) > 0:
                costs[row["item"]] = f"{Decimal(row['price']) / amount:f}"
        row["arrived"] += each.count
        row["arrived_on"] = today() if each.count > 0 else row.get("arrived_on", "")
        row["closed"] = row["closed"] or each.close or row["arrived"] >= row["count"]
    done = all(row["closed"] or row["arrived"] >= row["count"] for row in rows)
    whole = all(row["arrived"] >= row["count"] for row in rows)
    state = ("arrived" if whole else "closed") if done else "open"
    with shop.unit() as unit:
        changed = kept.change_purchase(
            unit, purchase_id, seen=seen, rows=rows, state=state, moves=moves, costs=costs
        )
    return _view(changed, house)


def take_price(shop: Shop, purchase_id: int, row: int, *, seen: int) -> PurchaseView:
    """Let the price that a supplier asks now be the shelf's.

    Raises
    ------
    NotFound, Stale
    BadInput
        If the row has no price to offer.
    """
    purchase = kept.find_purchase(shop, purchase_id, seen=seen)
    if row >= len(purchase.rows) or not purchase.rows[row]["offer"]:
        raise BadInput(
            "that row has no new price.",
            where="row",
            remedy="Load the page again.",
            code="purchase-unknown",
        )
    house = shop_house(shop)
    rows = [dict(each) for each in purchase.rows]
    mine = rows[row]
    change = changing(shop, {mine["standard"]: _new_value(mine, house, rows)})
    mine["offer"] = False
    with shop.unit() as unit:
        changed = kept.change_purchase(
            unit, purchase_id, seen=seen, rows=rows, state=purchase.state
        )
        change.write(unit)
    return _view(changed, shop_house(shop))


def _new_value(row: dict[str, Any], house: House, rows: Sequence[dict[str, Any]]) -> str:
    """Return the standard's new value; of a blank the step of its list that this count is of."""
    _, id_, column = row["standard"].split(".")
    if column != "prices":
        return str(row["price"])
    blank = house.blanks[id_]
    bought = sum(r["count"] for r in rows if r["standard"] == row["standard"]) * blank.pack
    steps = dict(blank.prices)
    start = max((k for k in steps if int(k) <= bought), key=int, default=min(steps, key=int))
    size = read_key(row["item"]).size
    each = Decimal(row["price"]) / blank.pack - blank.dearer.get(size, ZERO)
    steps[start] = each
    return write_steps(read_steps(steps, currency=house.price.currency))
