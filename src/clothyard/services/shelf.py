"""The shelf: what is on hand, what is promised, counted, weighed; and what an order takes of it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from clothyard.core.advice.document import Advice
from clothyard.core.advice.order import Lacking, stock_short
from clothyard.core.errors import BadInput
from clothyard.core.house.document import House, PutUp
from clothyard.core.stock.buying import arrives_on, supplier_of, unit_value
from clothyard.core.stock.key import KINDS, Item, is_key, item_of, read_key
from clothyard.core.stock.ledger import ZERO, Move, weighed_m
from clothyard.core.stock.needs import Need
from clothyard.core.units import money_text, read_typed
from clothyard.files.tables import SheetKind, write_sheet
from clothyard.services.standards import shop_house
from clothyard.standins.scale import simulated_grams
from clothyard.store import stock as kept
from clothyard.store.shop import Shop, now, today

Amount = Annotated[Decimal, BeforeValidator(read_typed), Field(ge=0, le=10_000_000)]
Kind = Literal["", "thread", "bobbin", "backing", "topping", "sheet", "hardware", "blank", "offcut"]
CUT = ("backing", "topping", "sheet")
MOST_MOVES = 10_000


class StockRow(BaseModel):
    """An item of the shelf. `free` is on hand less what open orders still need, zero at least."""

    item: str
    kind: str
    label: str
    unit: str
    on_hand: str
    promised: str
    free: str
    short: str
    coming: str
    minimum: str
    below: bool
    value: str
    supplier: str
    supplier_name: str
    place: str


class StockPage(BaseModel):
    """The shelf: its items, what they are worth, and in which currency."""

    items: list[StockRow]
    total: int
    value: str
    currency: str


class MoveRow(BaseModel):
    """A move of an item."""

    id: int
    amount: str
    why: str
    order: int
    number: str
    made_on: str
    note: str


class PromiseRow(BaseModel):
    """What an open order needs of an item, and what of that the shelf covers."""

    order: int
    number: str
    promised_on: str
    needed: str
    free: str
    short: str


class PutUpTare(BaseModel):
    """A put-up, what it weighs empty, and how many full ones there may be beside an opened one."""

    id: str
    label: str
    tare_g: float
    full: int


class ItemView(StockRow):
    """An item, opened: its moves, the last first, and who needs it.

    `bought_from` is the supplier that was chosen for it, "" as usual.
    """

    bought_from: str
    moves: list[MoveRow]
    more: bool
    needs: list[PromiseRow]
    tex: float | None
    putups: list[PutUpTare]


class Booking(BaseModel):
    """A move that is typed: `key` is made by who books, so that it is booked once.

    received, returned, taken, wasted: so much; counted: so much is there; weighed: so many grams
    with its put-up, of `putup`, an opened one, with `full` unopened ones beside it.
    """

    model_config = ConfigDict(extra="forbid")

    key: str = Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9-]+$")
    item: str = Field(min_length=1, max_length=200)
    why: Literal["received", "taken", "returned", "wasted", "counted", "weighed"]
    amount: Amount
    putup: str = Field(default="", max_length=80)
    full: int = Field(default=0, ge=0, le=10_000)
    order: int = Field(default=0, ge=0, le=2**53)
    note: str = Field(default="", max_length=500)


class ItemSettings(BaseModel):
    """What the shop keeps of an item."""

    model_config = ConfigDict(extra="forbid")

    minimum: Amount = ZERO
    supplier: str = Field(default="", max_length=80)
    place: str = Field(default="", max_length=80)


class Weight(BaseModel):
    """What the scale shows."""

    grams: float


def unit_of(key: str, house: House) -> Literal["m", "each"]:
    """Say what an item is counted in: thread, what is on rolls and ribbons in metres."""
    of = read_key(key)
    known = house.hardware.get(of.id) if of.kind == "hardware" else None
    metres = of.kind == "thread" or (of.kind in CUT and of.id in house.rolls)
    return "m" if metres or (known is not None and known.unit == "m") else "each"


def number(amount: Decimal) -> str:
    """Write an amount without trailing zeros."""
    return f"{amount.normalize():f}" if amount else "0"


def _label(item: Item, house: House) -> str:
    """Call an item by the house's own words."""
    tables: dict[str, Sequence[Mapping[str, Any]]] = {
        "thread": [house.threads],
        "bobbin": [house.bobbins],
        "hardware": [house.hardware],
        "blank": [house.blanks, house.goods],
    }
    name = item.id
    if item.id in house.rolls:
        name = house.material_label(house.rolls[item.id].material)
    elif item.id in house.sheets:
        name = house.material_label(house.sheets[item.id].material)
    for rows in tables.get(item.kind, []):
        if item.id in rows:
            name = rows[item.id].label
            break
    detail = item.detail
    if item.kind == "offcut":
        detail = f"offcut {detail.replace('x', ' × ')} mm"
    if item.kind == "thread":
        called = {row.colour: row.label for row in house.thread_shelf.values()}
        detail = called.get(detail, detail)
    return f"{name}, {detail}" if detail else name


class Shelf:
    """The shelf as it is at one moment: read once, asked often.

    Parameters
    ----------
    shop : Shop
    house : House
    """

    def __init__(self, shop: Shop, house: House):
        self.house = house
        self.there = kept.on_hand(shop)
        self.promised = kept.promised_sums(shop)
        self.items = kept.list_items(shop)
        self.costs = kept.last_costs(shop)
        self.purchases = kept.list_purchases(shop, state="open")
        self.coming, self.coming_on = self._coming()
        self.labels = kept.known_labels(shop)
        for item in self.items.values():
            self.labels[item.item] = item.label or self.labels.get(item.item, "")

    def _coming(self) -> tuple[dict[str, Decimal], dict[str, str]]:
        coming: dict[str, Decimal] = {}
        on: dict[str, str] = {}
        for purchase in self.purchases:
            for row in purchase.rows:
                open_ = max(0, row["confirmed"] - row["arrived"])
                if not open_:
                    continue
                key = row["item"]
                coming[key] = coming.get(key, ZERO) + Decimal(row["amount"]) * open_
                if row["expected_on"]:
                    on[key] = max(on.get(key, ""), row["expected_on"])
        return coming, on

    def short(self, key: str) -> Decimal:
        """Say what open orders need of an item that does not lie there."""
        return max(ZERO, self.promised.get(key, ZERO) - max(ZERO, self.there.get(key, ZERO)))

    def label(self, key: str) -> str:
        """Call an item as orders, or the house, call it."""
        found = self.labels.get(key)
        return found or _label(item_of(key, self.unit(key)), self.house)

    def unit(self, key: str) -> str:
        """Return an item's unit."""
        return unit_of(key, self.house)

    def all_items(self) -> list[str]:
        """List every item there is."""
        return list({**self.there, **self.promised, **self.items})

    def rows(self) -> list[StockRow]:
        """List the shelf, kind by kind."""
        found = [self.row(key) for key in self.all_items()]
        place = {kind: n for n, kind in enumerate(KINDS)}
        return sorted(found, key=lambda row: (place.get(row.kind, 9), row.label, row.item))

    def cost_of(self, key: str) -> Decimal:
        """Return what a unit costs: as it came last, else by the house."""
        return self.costs.get(key) or unit_value(item_of(key, self.unit(key)), self.house)

    def row(self, key: str) -> StockRow:
        """Tell of one item."""
        promised, short = self.promised.get(key, ZERO), self.short(key)
        item = item_of(key, self.unit(key))
        there = self.there.get(key, ZERO)
        known = self.items.get(key)
        minimum = known.minimum if known else ZERO
        supplier = supplier_of(item, self.house, chosen=known.supplier if known else "")
        free = max(ZERO, there - promised)
        value = max(ZERO, there) * self.cost_of(key)
        return StockRow(
            item=key,
            kind=item.kind,
            label=self.label(key),
            unit=item.unit,
            on_hand=number(there),
            promised=number(promised),
            free=number(free),
            short=number(short),
            coming=number(self.coming.get(key, ZERO)),
            minimum=number(minimum),
            below=free < minimum,
            value=money_text(value, self.house.price.currency),
            supplier=supplier,
            supplier_name=self.house.suppliers[supplier].label,
            place=known.place if known else "",
        )


def list_stock(
    shop: Shop,
    *,
    search: str = "",
    kind: str = "",
    only: str = "",
    cursor: str = "",
    limit: int = 200,
) -> StockPage:
    """List the shelf; `only` "short", "below" or "below-zero" what is so.

    Returns
    -------
    StockPage
        Its value is of all that is listed, whatever the page.
    """
    house = shop_house(shop)
    rows = Shelf(shop, house).rows()
    words = search.lower().split()
    rows = [
        row
        for row in rows
        if (not kind or row.kind == kind)
        and all(word in f"{row.label} {row.place} {row.item}".lower() for word in words)
        and (only != "short" or row.short != "0")
        and (only != "below" or row.below)
        and (only != "below-zero" or row.on_hand.startswith("-"))
    ]
    at = int(cursor) if cursor.isdigit() else 0
    value = sum((Decimal(row.value) for row in rows), ZERO)
    return StockPage(
        items=rows[at : at + limit],
        total=len(rows),
        value=money_text(value, house.price.currency),
        currency=house.price.currency,
    )


def stock_sheet(shop: Shop, sheet: SheetKind, **wanted: Any) -> bytes:
    """Write the shelf as a table."""
    page = list_stock(shop, limit=MOST_MOVES, **wanted)
    heads = [
        "Kind",
        "Item",
        "On hand",
        "Unit",
        "Promised",
        "Free",
        "Short",
        "Coming",
        "Minimum",
        "Value",
        "Currency",
        "Supplier",
        "Place",
    ]
    table = [
        [
            r.kind,
            r.label,
            r.on_hand,
            r.unit,
            r.promised,
            r.free,
            r.short,
            r.coming,
            r.minimum,
            r.value,
            page.currency,
            r.supplier_name,
            r.place,
        ]
        for r in page.items
    ]
    return write_sheet(heads, table, kind=sheet, title="Shelf")


def _check_item(key: str, house: House) -> Item:
    """Refuse an item that the house does not know.

    Raises
    ------
    BadInput
    """
    of = read_key(key)
    tables: dict[str, list[Mapping[str, Any]]] = {
        "thread": [house.threads],
        "bobbin": [house.bobbins],
        "hardware": [house.hardware],
        "blank": [house.blanks, house.goods],
    }
    rolls: list[Mapping[str, Any]] = [house.rolls, house.sheets]
    known = tables.get(of.kind, rolls if of.kind in KINDS else [])
    if not is_key(key) or not any(of.id in rows for rows in known):
        raise BadInput(
            f"{key[:80]!r} is no item of this shop.",
            where="item",
            remedy="Choose a thread, roll, bobbin, blank or part that the shelf has.",
            code="item-unknown",
        )
    return item_of(key, unit_of(key, house))


def _full(there: Decimal, putup: PutUp) -> int:
    """Say how many full put-ups so many metres may be, with one of them opened."""
    length = Decimal(str(putup.length_m))
    return max(0, int(there // length)) if there % length else max(0, int(there // length) - 1)


def find_item(shop: Shop, key: str, *, before: int = 2**53, limit: int = 30) -> ItemView:
    """Open an item.

    Raises
    ------
    BadInput
    """
    house = shop_house(shop)
    item = _check_item(key, house)
    shelf = Shelf(shop, house)
    row = shelf.row(key)
    moves = kept.list_moves(shop, item=key, before=before, limit=limit + 1)
    thread = house.threads.get(item.id) if item.kind == "thread" else None
    return ItemView(
        **row.model_dump(),
        bought_from=shelf.items[key].supplier if key in shelf.items else "",
        moves=[
            MoveRow(
                id=m.id,
                amount=number(m.amount),
                why=m.why,
                order=m.order,
                number=m.number,
                made_on=m.made_on,
                note=m.note,
            )
            for m in moves[:limit]
        ],
        more=len(moves) > limit,
        needs=[
            PromiseRow(
                order=need.order,
                number=need.number,
                promised_on=need.promised_on,
                needed=number(need.needed),
                free=number(need.needed - need.short),
                short=number(need.short),
            )
            for need in kept.open_needs(shop, item=key)
            if need.needed > ZERO
        ],
        tex=float(thread.tex) if thread else None,
        putups=[
            PutUpTare(
                id=key,
                label=row.label,
                tare_g=float(row.tare_g),
                full=_full(shelf.there.get(item.key, ZERO), row),
            )
            for key, row in house.putups.items()
        ]
        if thread
        else [],
    )


def book(shop: Shop, booking: Booking) -> ItemView:
    """Book a move that was typed.

    Raises
    ------
    BadInput
        If the item is not known, or it cannot be weighed so.
    """
    house = shop_house(shop)
    item = _check_item(booking.item, house)
    if booking.why == "weighed":
        if item.kind != "thread" or booking.putup not in house.putups:
            raise BadInput(
                "only thread is weighed, on a put-up that the shop knows.",
                where="putup",
                remedy="Choose the put-up it is on.",
                code="putup-unknown",
            )
        tare = Decimal(str(house.putups[booking.putup].tare_g))
        tex = Decimal(str(house.threads[item.id].tex))
        putup = house.putups[booking.putup]
        metres = weighed_m(booking.amount, tare, tex=tex)
        metres += booking.full * Decimal(str(putup.length_m))
        said = f"{number(booking.amount)} g on a {putup.label.lower()}"
        said += f" and {booking.full} full" if booking.full else ""
        note = f"{said}. {booking.note}" if booking.note else said
        kept.book_count(shop, booking.key, booking.item, metres, why="weighed", note=note)
    elif booking.why == "counted":
        kept.book_count(
            shop, booking.key, booking.item, booking.amount, why="counted", note=booking.note
        )
    else:
        sign = -1 if booking.why in {"taken", "wasted"} else 1
        order = str(booking.order or "")
        move = Move(booking.item, sign * booking.amount, booking.why, order, now(), booking.note)
        kept.book(shop, [(booking.key, move)])
    return find_item(shop, booking.item)


def settle_item(shop: Shop, key: str, settings: ItemSettings) -> ItemView:
    """Keep an item's minimum, its supplier and where it lies.

    Raises
    ------
    BadInput
    """
    house = shop_house(shop)
    item = _check_item(key, house)
    if settings.supplier and settings.supplier not in house.suppliers:
        raise BadInput(
            f"{settings.supplier[:80]!r} is no supplier.",
            where="supplier",
            remedy="Choose one of the shelf's.",
            code="supplier-unknown",
        )
    kept.keep_item(
        shop,
        kept.KeptItem(
            key,
            _label(item, house),
            item.unit,
            settings.minimum,
            settings.supplier,
            settings.place.strip(),
        ),
    )
    return find_item(shop, key)


def weigh(shop: Shop, key: str, putup: str) -> Weight:
    """Read the simulated scale, with an opened put-up on it: what the ledger says, and its noise.

    Raises
    ------
    BadInput
    """
    house = shop_house(shop)
    item = _check_item(key, house)
    if item.kind != "thread" or putup not in house.putups:
        raise BadInput(
            "only thread is weighed, on a put-up that the shop knows.",
            where="putup",
            remedy="Choose the put-up it is on.",
            code="putup-unknown",
        )
    known = kept.on_hand(shop, [key]).get(key, ZERO)
    row = house.putups[putup]
    there = float(known - _full(known, row) * Decimal(str(row.length_m)))
    tex, tare = float(house.threads[item.id].tex), float(house.putups[putup].tare_g)
    return Weight(grams=simulated_grams(there, tex=tex, tare_g=tare, of=key))


def outstanding(shop: Shop, order_id: int) -> list[tuple[str, Decimal]]:
    """List what an order needs and was not yet taken for it; below zero what was taken beyond."""
    taken = kept.taken_for(shop, order_id)
    found = []
    for item, amount in kept.needs_kept(shop, order_id):
        found.append((item, amount - taken.pop(item, ZERO)))
    return found


class LackRow(BaseModel):
    """An item that a quote would need: how much, what of it is free, what it lacks, from whom,
    and by which day that can be here ("" where it lacks nothing)."""

    item: str
    label: str
    unit: str
    needed: str
    free: str
    short: str
    supplier: str
    by: str


class QuoteShelf(BaseModel):
    """What a quote would need of the shelf, behind all that open orders need.

    `kept` is false where the shop keeps no ledger yet: then nothing is said to be short.
    """

    kept: bool
    rows: list[LackRow]
    advice: list[Advice]


def shelf_for(
    shop: Shop, needs: Sequence[Need], house: House, *, wanted_by: str = ""
) -> QuoteShelf:
    """Say what of some needs the shelf covers once open orders have theirs.

    Parameters
    ----------
    shop : Shop
    needs : sequence of Need
        Of what is not an order yet.
    house : House
    wanted_by : str
        ISO day, "" for none.
    """
    shelf = Shelf(shop, house)
    if not shelf.there:
        return QuoteShelf(kept=False, rows=[], advice=[])
    rows = []
    lacking = []
    for need in needs:
        key = need.item.key
        there = shelf.there.get(key, ZERO) - shelf.promised.get(key, ZERO)
        coming = shelf.coming.get(key, ZERO)
        free = min(need.amount, max(ZERO, there))
        short = need.amount - free
        known = shelf.items.get(key)
        supplier = house.suppliers[
            supplier_of(need.item, house, chosen=known.supplier if known else "")
        ]
        by = ""
        if short > ZERO:
            by = arrives_on(supplier, today())
            if coming >= short and shelf.coming_on.get(key):
                by = shelf.coming_on[key]
            said = f"{number(short)} m" if need.item.unit == "m" else number(short)
            lacking.append(Lacking(need.label, said, supplier.label, by))
        rows.append(
            LackRow(
                item=key,
                label=need.label,
                unit=need.item.unit,
                needed=number(need.amount),
                free=number(free),
                short=number(short),
                supplier=supplier.label,
                by=by,
            )
        )
    advice = stock_short(lacking, wanted_by=wanted_by)
    return QuoteShelf(kept=True, rows=rows, advice=[advice] if advice else [])
