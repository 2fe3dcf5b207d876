"""What to buy: short and minimum items by supplier, in whole packs, each need covered once."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from decimal import ROUND_CEILING, Decimal

from clothyard.core.house.document import House, Supplier
from clothyard.core.house.week_text import day_after, on_working_day
from clothyard.core.record import record
from clothyard.core.stock.key import Item, item_of
from clothyard.core.stock.ledger import ZERO
from clothyard.core.thread.putups import cheapest_put_ups
from clothyard.core.units import exact

SOLD_BY_ANY = "any"
"""The supplier of what nobody is named for."""


@record
class Pack:
    """How an item is bought: a put-up, a roll, a sheet, a pack, or one by one.

    `amount` is what one holds, in the item's unit; `price` what one costs; `standard` the dotted
    key under which the shop keeps that price, "" where it has none.
    """

    id: str
    name: str
    amount: Decimal
    price: Decimal
    standard: str


@record
class Wanted:
    """An item that is to be bought: how much, for which orders, by when they need it ("" for no
    day). Of what is `unknown` nobody has said whether it is here."""

    item: Item
    label: str
    amount: Decimal
    short: Decimal
    orders: tuple[str, ...]
    needed_by: str
    unknown: bool = False


@record
class BuyLine:
    """So many of one pack of an item."""

    wanted: Wanted
    pack: Pack
    count: int

    @property
    def cost(self) -> Decimal:
        """What they cost."""
        return self.pack.price * self.count


@record
class BuyList:
    """What is bought from one supplier: its lines, what they come to, delivery, by which day.

    `to_free` is what would have to be added for a free delivery, zero where it is free or never;
    `fill` names the line of which `fill_count` packs more reach it cheapest.
    """

    supplier: str
    lines: tuple[BuyLine, ...]
    goods: Decimal
    delivery: Decimal
    to_free: Decimal
    order_by: str
    fill: int | None
    fill_count: int


def packs_of(item: Item, house: House, *, count: int = 1) -> list[Pack]:
    """List how an item is bought; [] where the shop knows no pack of it.

    Parameters
    ----------
    item : Item
    house : House
    count : int
        How many pieces are bought at once, where a price goes by that.
    """
    if item.kind == "thread":
        factor = house.threads[item.id].price_factor if item.id in house.threads else Decimal(1)
        whole = factor == 1
        return [
            Pack(
                key,
                row.label,
                exact(row.length_m),
                row.price * factor,
                f"putups.{key}.price" if whole else "",
            )
            for key, row in house.putups.items()
        ]
    if item.kind == "blank" and item.id in house.blanks:
        return [_blank_pack(item, house, count)]
    sections = {
        "bobbin": ("bobbins",),
        "hardware": ("hardware",),
        "backing": ("rolls", "sheets"),
        "topping": ("rolls", "sheets"),
        "sheet": ("rolls", "sheets"),
    }
    for section in sections.get(item.kind, ()):
        row = getattr(house, section).get(item.id)
        if row is not None:
            amount = exact(row.length_m) if section == "rolls" else Decimal(1)
            name = _SOLD_AS[section] if item.kind != "hardware" or item.unit == "each" else "metre"
            return [Pack(item.id, name, amount, row.price, f"{section}.{item.id}.price")]
    return []


_SOLD_AS = {"rolls": "roll", "sheets": "sheet", "bobbins": "bobbin", "hardware": "each"}


def _blank_pack(item: Item, house: House, count: int) -> Pack:
    blank = house.blanks[item.id]
    steps = sorted((int(key), price) for key, price in blank.prices.items())
    at = [price for start, price in steps if start <= count] or [p for _, p in steps] or [ZERO]
    each = at[-1] + blank.dearer.get(item.of.size, ZERO)
    name = "each" if blank.pack == 1 else f"pack of {blank.pack}"
    return Pack(item.id, name, Decimal(blank.pack), each * blank.pack, f"blanks.{item.id}.prices")


def unit_value(item: Item, house: House) -> Decimal:
    """Return what a metre or a piece of an item costs, by its cheapest pack; 0 if none is known."""
    prices = [pack.price / pack.amount for pack in packs_of(item, house) if pack.amount]
    return min(prices, default=ZERO)


def supplier_of(item: Item, house: House, *, chosen: str = "") -> str:
    """Name who an item is bought from: as chosen, by its blank, else who sells its kind."""
    if chosen in house.suppliers:
        return chosen
    if item.kind == "blank" and item.id in house.blanks:
        return house.blanks[item.id].supplier
    sells = (key for key, row in house.suppliers.items() if item.kind in row.sells.split())
    return next(
        sells, SOLD_BY_ANY if SOLD_BY_ANY in house.suppliers else next(iter(house.suppliers))
    )


@record
class Lacking:
    """What the shelf lacks of an item: for which orders, earlier promises first, by when ("" for
    no day)."""

    item: str
    amount: Decimal
    orders: tuple[str, ...]
    needed_by: str


def lacking(shorts: Iterable[tuple[str, str, Decimal, str]]) -> list[Lacking]:
    """Add up what orders are short of, item by item.

    Parameters
    ----------
    shorts : iterable of (item, order, short, begins)
        What the shelf does not cover of each need (`ledger.uncovered`), earlier promises first;
        the ISO day on which its order begins, "" for none.
    """
    by_item: dict[str, list[tuple[str, Decimal, str]]] = {}
    for item, order, short, begins in shorts:
        if short > ZERO:
            by_item.setdefault(item, []).append((order, short, begins))
    return [
        Lacking(
            item,
            sum((short for _, short, _ in rows), ZERO),
            tuple(order for order, _, _ in rows),
            min((begins for _, _, begins in rows if begins), default=""),
        )
        for item, rows in by_item.items()
    ]


def wanted_items(
    lacks: Sequence[Lacking],
    labels: Mapping[str, str],
    units: Mapping[str, str],
    *,
    there: Mapping[str, Decimal],
    promised: Mapping[str, Decimal],
    minimums: Mapping[str, Decimal],
    coming: Mapping[str, Decimal],
) -> list[Wanted]:
    """List what is to be bought: what open orders lack, and what is below its minimum.

    Parameters
    ----------
    lacks : sequence of Lacking
        An item stands once.
    labels, units : mapping
        By item's key: what people call it; m or each.
    there, promised, minimums, coming : mapping of key to Decimal
        On hand, what all open orders still need, kept at least, and ordered but not arrived yet.

    Returns
    -------
    list of Wanted
        An item stands once, and its amount is short + what lacks to its minimum − what comes.
    """
    known = {row.item: row for row in lacks}
    found = []
    for key in sorted({*known, *minimums}):
        row = known.get(key) or Lacking(key, ZERO, (), "")
        left = max(ZERO, there.get(key, ZERO)) - promised.get(key, ZERO)
        to_least = max(ZERO, minimums.get(key, ZERO) - max(ZERO, left))
        amount = row.amount + to_least - coming.get(key, ZERO)
        if amount > ZERO:
            item = item_of(key, units.get(key, "each"))
            found.append(
                Wanted(
                    item,
                    labels.get(key, key),
                    amount,
                    row.amount,
                    row.orders,
                    row.needed_by,
                    key not in there,
                )
            )
    return found


def cover(item: Item, amount: Decimal, house: House, *, alike: int = 1) -> list[tuple[Pack, int]]:
    """Say what to buy of an item, in whole put-ups, rolls and packs: the cheapest that covers it.

    Parameters
    ----------
    item : Item
    amount : Decimal
        In the item's unit.
    house : House
    alike : int
        How many pieces are bought at once, where a price goes by that.

    Source
    ------
    The handbook's workshop 2 and 3.
    """
    if amount <= ZERO:
        return []
    packs = packs_of(item, house, count=alike)
    if item.kind == "thread":
        factor = house.threads[item.id].price_factor
        bought, _ = cheapest_put_ups(float(amount), house.putups, price_factor=factor)
        by_id = {pack.id: pack for pack in packs}
        return [(by_id[key], count) for key, count in bought]
    name = "each" if item.unit == "each" else "metre"
    pack = packs[0] if packs else Pack("", name, Decimal(1), ZERO, "")
    return [(pack, int((amount / pack.amount).to_integral_value(ROUND_CEILING)))]


def arrives_on(supplier: Supplier, ordered_on: str, *, express: bool = False) -> str:
    """Return the ISO day on which a parcel is there that is ordered on a day."""
    days = supplier.express_days if express else supplier.days
    return on_working_day(ordered_on, days, works=supplier.works, closed=supplier.closed)


def order_by(supplier: Supplier, needed_on: str) -> str:
    """Return the last ISO day on which is ordered what is to be here on a day, "" for none."""
    if not needed_on:
        return ""
    at = on_working_day(needed_on, -supplier.days, works=supplier.works, closed=supplier.closed)
    while arrives_on(supplier, at) > needed_on:
        at = day_after(at, -1)
    return at


def buy_lists(
    wanted: Iterable[Wanted], house: House, *, chosen: Mapping[str, str]
) -> list[BuyList]:
    """Sort what is wanted by who sells it, in whole put-ups, rolls and packs.

    Parameters
    ----------
    wanted : iterable of Wanted
    house : House
    chosen : mapping of item's key to supplier
        Where the shop buys it elsewhere than usual.

    Returns
    -------
    list of BuyList
        The one that is to be ordered soonest first.

    Source
    ------
    The handbook's workshop 3.
    """
    by: dict[str, list[Wanted]] = {}
    for want in wanted:
        at = supplier_of(want.item, house, chosen=chosen.get(want.item.key, ""))
        by.setdefault(at, []).append(want)
    found = []
    for supplier, rows in by.items():
        alike: dict[str, int] = {}
        for want in rows:
            if want.item.kind == "blank":
                alike[want.item.id] = alike.get(want.item.id, 0) + int(want.amount)
        lines = tuple(
            line for want in rows for line in _lines(want, house, alike=alike.get(want.item.id, 1))
        )
        found.append(_list(supplier, lines, house))
    return sorted(found, key=lambda each: (each.order_by == "", each.order_by, each.supplier))


def _lines(wanted: Wanted, house: House, alike: int) -> list[BuyLine]:
    bought = cover(wanted.item, wanted.amount, house, alike=alike)
    return [BuyLine(wanted, pack, count) for pack, count in bought]


def _list(supplier: str, lines: tuple[BuyLine, ...], house: House) -> BuyList:
    row = house.suppliers[supplier]
    goods = sum((line.cost for line in lines), ZERO)
    free = ZERO < row.free_from <= goods
    to_free = row.free_from - goods if row.free_from > goods else ZERO
    ways = [
        (line.pack.price * n, n, k)
        for k, line in enumerate(lines)
        if line.pack.price > ZERO
        and (n := int((to_free / line.pack.price).to_integral_value(ROUND_CEILING)))
        and line.pack.price * n < row.delivery  # else it is bought for nothing
    ]
    fill = min(ways, default=None)
    days = [line.wanted.needed_by for line in lines if line.wanted.needed_by]
    return BuyList(
        supplier,
        lines,
        goods,
        ZERO if free else row.delivery,
        to_free,
        order_by(row, min(days, default="")),
        fill[2] if fill else None,
        fill[1] if fill else 0,
    )
