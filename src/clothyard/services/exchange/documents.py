"""Orders and the shelf as documents for other programs, and back: clothyard-order/1, -stock/1."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError

from clothyard.core.days import Day
from clothyard.core.errors import BadInput
from clothyard.core.figure_text import amount_text, counted
from clothyard.core.order.held import ProofState
from clothyard.core.order.payment import Payment
from clothyard.core.order.state import PieceState, State, Waits
from clothyard.core.stock.key import is_key
from clothyard.core.stock.ledger import Move
from clothyard.core.stock.shelf import KnownItem
from clothyard.core.units import read_decimal
from clothyard.core.work.piece import Piece
from clothyard.services.customer_page.proofs import approved_proof
from clothyard.services.house.standards import house_now, shop_house
from clothyard.services.log.rows import read_log_document
from clothyard.services.orders import follow as orders
from clothyard.services.quotes.drafts import QuoteDocument, beginning, columns_of, valid_until
from clothyard.services.sending.send import prepared
from clothyard.services.stock.shelf import read_shelf
from clothyard.store import orders as kept
from clothyard.store import quotes, stock
from clothyard.store.quotes import find_version, next_number
from clothyard.store.shop import Shop

Text = Annotated[str, Field(max_length=500)]
ORDER, STOCK, LOG = "clothyard-order/1", "clothyard-stock/1", "clothyard-log/1"


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")


class PieceOut(_Part):
    """A piece of an order."""

    id: Text
    line: Text
    size: Text
    colour: Text
    name: Text
    state: PieceState
    reason: Text
    instead_of: Text


class OrderOut(_Part):
    """An order as a document: its head, its job as accepted, its figures, how far it is."""

    format: Literal["clothyard-order/1"] = "clothyard-order/1"
    number: Text
    version: int = Field(ge=1)
    customer: Text
    email: Text
    due_on: Day
    promised_on: Day
    accepted_on: Text
    notes: Annotated[str, Field(max_length=20_000)]
    currency: Text
    to_pay: Text
    state: State
    waits: Waits
    proof: ProofState
    job: dict[str, Any]
    pieces: list[PieceOut]
    ready: list[Text]
    payments: list[Payment]


def _key(text: str) -> str:
    """Return an item's key.

    Raises
    ------
    ValueError
    """
    if not is_key(text):
        raise ValueError("is no item: kind|id|detail")
    return text


def _number(text: str) -> str:
    read_decimal(text)
    return text


def _cost(text: str) -> str:
    """Return a price, or "" for none.

    Raises
    ------
    ValueError
    """
    if text and read_decimal(text) < 0:
        raise ValueError("is below zero")
    return text


def _moment(text: str) -> str:
    datetime.fromisoformat(text)
    return text


ItemKey = Annotated[Text, AfterValidator(_key)]
Number = Annotated[Text, AfterValidator(_number)]
Cost = Annotated[Text, AfterValidator(_cost)]
Moment = Annotated[Text, AfterValidator(_moment)]


class ItemOut(_Part):
    """An item of the shelf; amounts as decimal text, in metres or pieces."""

    item: ItemKey
    label: Text
    unit: Literal["m", "each"]
    on_hand: Number
    minimum: Cost
    supplier: Text
    place: Text


class MoveOut(_Part):
    """A move of the ledger: its key is booked once, wherever it is read."""

    key: Annotated[str, Field(min_length=1, max_length=200)]
    item: ItemKey
    amount: Number
    why: Literal["received", "taken", "returned", "wasted", "counted", "weighed"]
    order: Text
    made_on: Moment
    note: Text
    cost: Cost


class StockOut(_Part):
    """The shelf as a document: what lies there, and every move, the first first."""

    format: Literal["clothyard-stock/1"] = "clothyard-stock/1"
    shop: Annotated[str, Field(max_length=80, pattern=r"^[A-Za-z0-9-]*$")] = ""
    """Which shop wrote it: keys of another never meet ours."""

    items: list[ItemOut]
    moves: list[MoveOut]


def export_order(shop: Shop, order_id: int) -> bytes:
    """Write an order as a clothyard-order/1 document.

    Raises
    ------
    NotFound
    """
    view = orders.find_order(shop, order_id)
    version = find_version(shop, order_id, view.version)
    document = OrderOut(
        number=view.number,
        version=view.version,
        customer=view.customer,
        email=version.head.get("email", ""),
        due_on=view.due_on,
        promised_on=view.promised_on,
        accepted_on=view.accepted_on,
        notes=version.head.get("notes", ""),
        currency=view.currency,
        to_pay=view.money.to_pay,
        state=view.state,
        waits=view.waits,
        proof=view.proof.state,
        job=version.job,
        pieces=[
            PieceOut(**{k: getattr(p, k) for k in PieceOut.model_fields}) for p in view.piece_list
        ],
        ready=view.ready,
        payments=view.payments,
    )
    return _bytes(document)


def export_stock(shop: Shop) -> bytes:
    """Write the shelf as a clothyard-stock/1 document."""
    shelf = read_shelf(shop, shop_house(shop))
    items = []
    for key in sorted({*shelf.there, *shelf.items}):
        known = shelf.items.get(key)
        items.append(
            ItemOut(
                item=key,
                label=shelf.label(key),
                unit="m" if shelf.unit(key) == "m" else "each",
                on_hand=amount_text(shelf.there.get(key, read_decimal("0"))),
                minimum=amount_text(known.minimum) if known else "0",
                supplier=known.supplier if known else "",
                place=known.place if known else "",
            )
        )
    moves = [
        MoveOut(
            key=key,
            item=m.item,
            amount=amount_text(m.amount),
            why=m.why,
            order=m.number,
            made_on=m.made_on,
            note=m.note[:500],
            cost=m.cost,
        )
        for key, m in stock.every_move(shop)
    ]
    return _bytes(StockOut(shop=_shop_id(shop), items=items, moves=moves))


def _bytes(document: BaseModel) -> bytes:
    return document.model_dump_json(indent=1).encode() + b"\n"


def import_file(shop: Shop, data: bytes, *, where: str) -> str:
    """Read a document into a shop, and say what came of it; what is there already stays as it is.

    Raises
    ------
    BadInput
        If it cannot be read; nothing is kept then.
    """
    try:
        found = json.loads(data)
        format_ = found.get("format") if isinstance(found, dict) else None
        if format_ == STOCK:
            return _import_stock(shop, StockOut.model_validate(found))
        if format_ == ORDER:
            return _import_order(shop, OrderOut.model_validate(found))
        if format_ == LOG:
            read = read_log_document(shop, data)
            return f"{counted(read.added, 'row')} of the log added, {read.there} were there"
    except ValidationError as error:
        first = error.errors()[0]
        at = ".".join(str(part) for part in first["loc"])
        raise BadInput(
            f"{at}: {first['msg'].lower()}.",
            where=where,
            remedy="See docs/formats.md for what it holds.",
            code="document",
        ) from None
    except (ValueError, UnicodeDecodeError):
        raise BadInput(
            "it is no JSON document.",
            where=where,
            remedy="Choose an exported one.",
            code="document",
        ) from None
    raise BadInput(
        f"its format is {format_!r}.",
        where=where,
        remedy=f"Choose a {ORDER}, {STOCK} or {LOG} document.",
        code="document",
    )


def _shop_id(shop: Shop) -> str:
    return shop.identity().partition(".")[0]


def _import_stock(shop: Shop, document: StockOut) -> str:
    """Book the moves that are not there yet, and keep what is known of items that are not known.

    All of it is read whole before anything is booked.
    """
    elsewhere = document.shop and document.shop != _shop_id(shop)
    whose = f"{document.shop}:" if elsewhere else ""
    moves = [
        (whose + m.key, Move(m.item, read_decimal(m.amount), m.why, "", m.made_on, m.note))
        for m in document.moves
    ]
    costs = {m.item: m.cost for m in document.moves if m.cost}
    with shop.unit() as unit:
        booked = stock.add_moves(unit, moves, costs=costs)
        known = stock.list_items(unit)
        for item in document.items:
            if item.item not in known:
                stock.keep_item(
                    unit,
                    KnownItem(
                        item.item,
                        item.label,
                        item.unit,
                        read_decimal(item.minimum),
                        item.supplier,
                        item.place,
                    ),
                )
    return f"{booked} moves booked, {len(moves) - booked} were there already."


def _import_order(shop: Shop, document: OrderOut) -> str:
    """Make an order of a document: a new quote, sent and accepted, and its pieces as they stand.

    All of it is one step: what is refused leaves nothing behind, no draft and no number.
    """
    house, number = house_now(shop), next_number(shop)
    asked = QuoteDocument(
        customer=document.customer,
        due_on=document.due_on,
        notes=document.notes,
        job={"currency": document.currency} | document.job,
        valid_until=valid_until(house.house),
    )
    columns = columns_of(shop, asked, house, number="")
    quote = beginning(number, columns)
    sending = prepared(shop, quote, asked.job, house)
    with shop.unit() as unit:
        made = quotes.add_quote(unit, **columns)
        if made.number != number:  # another was made meanwhile
            raise quotes.stale(made)
        sent = sending.write(unit, made.id, seen=made.revision)
        quotes.answer_version(unit, made.id, seen=sent.revision, answer="accepted")
        if document.proof == "approved":
            kept.make_orders(unit)
            kept.keep_proof(unit, made.id, approved_proof(sent.version, by="as imported"))
        opened = sending.opened(made.id)
        orders.make_order(unit, made.id, opened, pieces=_pieces_in(document))
        order = kept.find_order(unit, made.id)
        held = order.waits == "proof"  # a proof that is open here holds it here
        kept.change_order(
            unit,
            made.id,
            seen=order.revision,
            state=order.state if held else document.state,
            waits=order.waits if held else document.waits,
            promised_on=document.promised_on,
            ready=json.dumps(document.ready),
            payments=json.dumps([p.model_dump(mode="json") for p in document.payments]),
        )
    return f"{document.number} is {made.number} here."


def _pieces_in(document: OrderOut) -> list[Piece]:
    """Read the pieces of a document.

    Raises
    ------
    BadInput
        If two of them have one id.
    """
    ids = [piece.id for piece in document.pieces]
    if len(set(ids)) < len(ids):
        twice = next(id_ for id_ in ids if ids.count(id_) > 1)
        raise BadInput(
            f"two pieces are called {twice[:60]!r}.",
            where="pieces",
            remedy="Each piece has an id of its own.",
            code="document",
        )
    return [
        Piece(p.id, n, p.line, p.size, p.colour, p.name, p.state, p.reason, p.instead_of)
        for n, p in enumerate(document.pieces)
    ]
