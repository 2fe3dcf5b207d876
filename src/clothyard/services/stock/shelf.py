"""The shelf: what is on hand, what is promised, counted, weighed; and what an order takes of it."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from clothyard.core.advice.document import Advice
from clothyard.core.advice.order import Lacking, stock_short
from clothyard.core.errors import BadInput, Conflict
from clothyard.core.figure_text import amount_text
from clothyard.core.house.document import House, PutUp
from clothyard.core.stock.key import Item
from clothyard.core.stock.ledger import TAKES, ZERO, Move, weighed_m
from clothyard.core.stock.needs import Need
from clothyard.core.stock.shelf import (
    Incoming,
    KnownItem,
    Lying,
    Shelf,
    check_item,
    full_put_ups,
    label_of,
)
from clothyard.core.units import exact, money_text, read_typed
from clothyard.files.tables import SheetKind, write_sheet
from clothyard.ports.client import NO_ADDRESS
from clothyard.ports.scale import HttpScale, Put, ScaleError
from clothyard.ports.scale import Weight as ScaleShows
from clothyard.services.house.standards import shop_house
from clothyard.store import stock as kept
from clothyard.store.shop import Shop, now, today
from clothyard.store.unit import Reads

Amount = Annotated[Decimal, BeforeValidator(read_typed), Field(ge=0, le=10_000_000)]
Kind = Literal["", "thread", "bobbin", "backing", "topping", "sheet", "hardware", "blank", "offcut"]
MOST_MOVES = 10_000


class StockRow(BaseModel):
    """An item of the shelf. `free` is on hand less what open orders still need, zero at least.

    `colour` is a thread's, "" of all else. Of what is `unknown` nothing was ever booked.
    """

    item: str
    kind: str
    label: str
    colour: str
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
    unknown: bool


class StockPage(BaseModel):
    """The shelf: its items, what they are worth, and in which currency."""

    items: list[StockRow]
    next: str | None
    """Where the next page begins; null at the end."""
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

    `bought_from` is the supplier that was chosen for it, "" as usual; `scale` says whether the shop
    has one that can be asked.
    """

    bought_from: str
    moves: list[MoveRow]
    more: bool
    needs: list[PromiseRow]
    tex: float | None
    putups: list[PutUpTare]
    scale: bool


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


def read_shelf(at: Reads, house: House) -> Shelf:
    """Read the shelf as it is at this moment."""
    incoming = [
        Incoming(row["item"], Decimal(row["amount"]) * open_, row["expected_on"])
        for purchase in kept.list_purchases(at, state="open")
        for row in purchase.rows
        if (open_ := max(0, row["confirmed"] - row["arrived"]))
    ]
    return Shelf(
        house=house,
        there=kept.on_hand(at),
        promised=kept.promised_sums(at),
        items=kept.list_items(at),
        costs=kept.last_costs(at),
        incoming=incoming,
        called=kept.known_labels(at),
    )


def _row(lying: Lying, house: House) -> StockRow:
    item = lying.item
    return StockRow(
        item=item.key,
        kind=item.kind,
        label=lying.label,
        colour=item.detail if item.kind == "thread" else "",
        unit=item.unit,
        on_hand=amount_text(lying.on_hand),
        promised=amount_text(lying.promised),
        free=amount_text(lying.free),
        short=amount_text(lying.short),
        coming=amount_text(lying.coming),
        minimum=amount_text(lying.minimum),
        below=lying.below,
        value=money_text(lying.value, house.price.currency),
        supplier=lying.supplier,
        supplier_name=house.suppliers[lying.supplier].label,
        place=lying.place,
        unknown=lying.unknown,
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
    rows = [_row(each, house) for each in read_shelf(shop, house).rows()]
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
        next=str(at + limit) if at + limit < len(rows) else None,
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


def _item(shop: Shop, key: str, house: House) -> Item:
    return check_item(key, house, there=lambda: read_shelf(shop, house).all_items())


def find_item(shop: Shop, key: str, *, before: int = 2**53, limit: int = 30) -> ItemView:
    """Open an item.

    Raises
    ------
    BadInput
    """
    house = shop_house(shop)
    item = _item(shop, key, house)
    shelf = read_shelf(shop, house)
    row = _row(shelf.lying(key), house)
    moves = kept.list_moves(shop, item=key, before=before, limit=limit + 1)
    thread = house.threads.get(item.id) if item.kind == "thread" else None
    return ItemView(
        **row.model_dump(),
        bought_from=shelf.items[key].supplier if key in shelf.items else "",
        moves=[
            MoveRow(
                id=m.id,
                amount=amount_text(m.amount),
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
                needed=amount_text(need.needed),
                free=amount_text(need.needed - need.short),
                short=amount_text(need.short),
            )
            for need in kept.open_needs(shop, item=key)
            if need.needed > ZERO
        ],
        tex=float(thread.tex) if thread else None,
        scale=house.devices.scale_address not in {"", NO_ADDRESS},
        putups=[
            PutUpTare(
                id=key,
                label=row.label,
                tare_g=float(row.tare_g),
                full=full_put_ups(shelf.there.get(item.key, ZERO), row),
            )
            for key, row in house.putups.items()
        ]
        if thread
        else [],
    )


def _weighable(item: Item, putup: str, house: House) -> PutUp:
    """Return the put-up that a thread is weighed on.

    Raises
    ------
    BadInput
    """
    if item.kind != "thread" or item.id not in house.threads or putup not in house.putups:
        raise BadInput(
            "only thread is weighed, on a put-up that the shop knows.",
            where="putup",
            remedy="Choose the put-up it is on.",
            code="putup-unknown",
        )
    return house.putups[putup]


def _weighed(booking: Booking, item: Item, house: House) -> tuple[Decimal, str]:
    """Return what was weighed in metres, and what was said of it."""
    putup = _weighable(item, booking.putup, house)
    metres = weighed_m(booking.amount, exact(putup.tare_g), tex=exact(house.threads[item.id].tex))
    metres += booking.full * exact(putup.length_m)
    said = f"{amount_text(booking.amount)} g on a {putup.label.lower()}"
    said += f" and {booking.full} full" if booking.full else ""
    return metres, f"{said}. {booking.note}" if booking.note else said


def book(shop: Shop, booking: Booking) -> ItemView:
    """Book a move that was typed.

    Raises
    ------
    BadInput
        If the item is not known, it cannot be weighed so, or its order is none.
    Conflict
        If its key was booked with something else.
    """
    house = shop_house(shop)
    item = _item(shop, booking.item, house)
    metres, said = booking.amount, booking.note
    if booking.why == "weighed":
        metres, said = _weighed(booking, item, house)
    with shop.unit() as unit:
        if booking.order and not kept.is_order(unit, booking.order):
            raise BadInput(
                f"there is no order {booking.order}.",
                where="order",
                remedy="Choose one of the list, or none.",
                code="order-unknown",
            )
        if booking.why in {"weighed", "counted"}:
            why: Any = booking.why
            kept.add_count(unit, booking.key, booking.item, metres, why=why, note=said)
        else:
            sign = -1 if booking.why in TAKES else 1
            order = str(booking.order or "")
            move = Move(booking.item, sign * booking.amount, booking.why, order, now(), said)
            kept.add_moves(unit, [(booking.key, move)])
    return find_item(shop, booking.item)


def settle_item(shop: Shop, key: str, settings: ItemSettings) -> ItemView:
    """Keep an item's minimum, its supplier and where it lies.

    Raises
    ------
    BadInput
    """
    house = shop_house(shop)
    item = _item(shop, key, house)
    if settings.supplier and settings.supplier not in house.suppliers:
        raise BadInput(
            f"{settings.supplier[:80]!r} is no supplier.",
            where="supplier",
            remedy="Choose one of the shelf's.",
            code="supplier-unknown",
        )
    known = KnownItem(
        item=key,
        label=label_of(item, house),
        unit=item.unit,
        minimum=settings.minimum,
        supplier=settings.supplier,
        place=settings.place.strip(),
    )
    with shop.unit() as unit:
        kept.keep_item(unit, known)
    return find_item(shop, key)


def weigh(shop: Shop, key: str, putup: str) -> Weight:
    """Read the shop's scale, with an opened put-up on it.

    A simulated one is told what lies on it: what the ledger says.

    Raises
    ------
    BadInput
        If it is no thread, or the shop has no scale.
    Conflict
        If the scale does not answer.
    """
    house = shop_house(shop)
    item = _item(shop, key, house)
    row = _weighable(item, putup, house)
    known = kept.on_hand(shop, [key]).get(key, ZERO)
    there = float(known - full_put_ups(known, row) * exact(row.length_m))
    grams = max(0.0, there) * float(house.threads[item.id].tex) / 1000 + float(row.tare_g)
    return Weight(grams=read_scale(house, Put(grams=grams)).grams)


def read_scale(house: House, put: Put | None = None) -> ScaleShows:
    """Read the shop's scale; `put` tells a simulated one what lies on it.

    Raises
    ------
    BadInput
        If the shop has none.
    Conflict
        If it does not answer.
    """
    address = house.devices.scale_address
    if address in {"", NO_ADDRESS}:
        raise BadInput(
            "the shop has no scale that can be asked.",
            where="scale",
            code="scale-deaf",
            remedy="Give its address in the workshop, or type what it shows.",
        )
    scale = HttpScale(address)
    try:
        if put is not None:
            scale.put(put)
        return scale.weigh()
    except ScaleError as error:
        raise Conflict(
            f"{error}.".replace("..", "."),
            where="scale",
            code="scale-away",
            remedy="Look at the scale, or type what it shows.",
        ) from None


class LackRow(BaseModel):
    """An item that a quote would need: how much, what of it is free, what it lacks, from whom,
    and by which day that can be here ("" where it lacks nothing). What is `unknown` was never
    counted: it may well be here."""

    item: str
    label: str
    unit: str
    needed: str
    free: str
    short: str
    supplier: str
    by: str
    unknown: bool


class QuoteShelf(BaseModel):
    """What a quote would need of the shelf, behind all that open orders need."""

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
    shelf = read_shelf(shop, house)
    lacks = shelf.lacks(needs, today=today())
    rows = [
        LackRow(
            item=lack.need.item.key,
            label=lack.need.label,
            unit=lack.need.item.unit,
            needed=amount_text(lack.need.amount),
            free=amount_text(lack.free),
            short=amount_text(lack.short),
            supplier=house.suppliers[lack.supplier].label,
            by=lack.by,
            unknown=lack.unknown,
        )
        for lack in lacks
    ]
    advice = stock_short(
        [
            Lacking(
                row.label, f"{row.short} m" if row.unit == "m" else row.short, row.supplier, row.by
            )
            for row in rows
            if row.short != "0" and not row.unknown
        ],
        wanted_by=wanted_by,
    )
    return QuoteShelf(rows=rows, advice=[advice] if advice else [])
