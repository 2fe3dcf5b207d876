"""Read in: documents that were written out here or elsewhere, each whole or not at all."""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Callable, Iterable, Iterator
from decimal import Decimal, InvalidOperation
from typing import Any

from pydantic import BaseModel, ValidationError

from clothyard.core.errors import BadInput
from clothyard.core.figure_text import counted
from clothyard.core.house.check import kept_house
from clothyard.core.order.exchanged import (
    LOG,
    ORDER,
    QUOTE,
    SHOP,
    STOCK,
    DesignOut,
    EventOut,
    OrderOut,
    QuoteOut,
    ShopOut,
    StockOut,
)
from clothyard.core.stock.ledger import Move
from clothyard.core.stock.shelf import KnownItem
from clothyard.core.units import read_decimal
from clothyard.core.work.piece import Piece
from clothyard.services.customer_page.proofs import approved_proof
from clothyard.services.designs.library import keep_design
from clothyard.services.house.standards import HouseNow, house_now, taking
from clothyard.services.log.rows import key_of, read_log_document
from clothyard.services.orders import follow as orders
from clothyard.services.quotes.drafts import QuoteDocument, beginning, columns_of
from clothyard.services.run.at_machine import kept_event
from clothyard.services.sending.send import Before, Prepared, prepared
from clothyard.store import designs, log, quotes, stock
from clothyard.store import orders as kept
from clothyard.store.blobs import content_hash
from clothyard.store.shop import Shop, today

Numbers = dict[str, tuple[int, str]]
"""What each number of a document is here: (id, number)."""


def import_file(shop: Shop, data: bytes, *, where: str) -> str:
    """Read a document into a shop, and say what came of it; what is there already stays as it is.

    Raises
    ------
    BadInput
        If it cannot be read, or something in it cannot be kept; nothing of it is kept then.
    """
    try:
        found = json.loads(data)
    except (ValueError, RecursionError):
        raise BadInput(
            "it is no JSON document.",
            where=where,
            remedy="Choose an exported one.",
            code="document",
        ) from None
    format_ = found.get("format") if isinstance(found, dict) else None
    if format_ == LOG:
        read = read_log_document(shop, data)
        return f"{counted(read.added, 'row')} of the log added, {read.there} were there"
    if not isinstance(format_, str) or format_ not in _READS:
        raise BadInput(
            f"its format is {str(format_)[:60]!r}.",
            where=where,
            remedy=f"Choose a {', '.join(_READS)} or {LOG} document.",
            code="document",
        )
    model, bring = _READS[format_]
    try:
        document = model.model_validate(found)
    except ValidationError as error:
        first = error.errors()[0]
        at = ".".join(str(part) for part in first["loc"])
        raise BadInput(
            f"{at}: {first['msg'].lower()}.",
            where=where,
            remedy="See docs/formats.md for what it holds.",
            code="document",
        ) from None
    with shop.ahead() as could:
        return bring(could, document)


def _bring_stock(shop: Shop, document: StockOut) -> str:
    booked, of = _stock(shop, document, {})
    return f"{booked} moves booked, {of - booked} were there already."


def _bring_quote(shop: Shop, document: QuoteOut) -> str:
    _keep_beside(shop, document)
    id_, number = _quote(shop, document)
    return f"{document.number} is {number} here.{_differs(shop, id_, document.to_pay)}"


def _bring_order(shop: Shop, document: OrderOut) -> str:
    _keep_beside(shop, document)
    id_, number = _order(shop, document)
    return f"{document.number} is {number} here.{_differs(shop, id_, document.to_pay)}"


def _keep_beside(shop: Shop, document: QuoteOut | OrderOut) -> None:
    """Keep the stitch files of a quote, and its shop's rows that this one has not."""
    _keep_designs(shop, document.designs)
    change = taking(shop, document.standards, rows_alone=True)
    with shop.unit() as unit:
        change.write(unit)


def _bring_shop(shop: Shop, document: ShopOut) -> str:
    """Bring a whole shop: its standards where this one has none of its own, then all the rest.

    What it names by a number is named by that which it has here.
    """
    if document.shop == shop.id:
        raise BadInput(
            "it was written by this shop: all of it is here.",
            where="shop",
            remedy="To go back to how it was, use a backup.",
            code="shop-same",
        )
    _keep_designs(shop, document.designs)
    change = taking(shop, document.standards)
    with shop.unit() as unit:
        change.write(unit)
    numbers: Numbers = {}
    for each in sorted(_with_houses(document), key=lambda row: row.number):
        bring = _order(shop, each) if isinstance(each, OrderOut) else _quote(shop, each)
        numbers[each.number] = bring
    booked, _ = _stock(shop, document.stock, numbers)
    rows = _log(shop, document, numbers)
    differ = sum(
        bool(_differs(shop, numbers[each.number][0], each.to_pay))
        for each in (*document.quotes, *document.orders)
    )
    told = f" {differ} come to another sum here than there." if differ else ""
    return (
        f"{counted(len(document.quotes), 'quote')}, {counted(len(document.orders), 'order')}, "
        f"{counted(len(document.designs), 'design')}, {counted(len(change.sets), 'standard')}, "
        f"{counted(booked, 'move')} of the shelf, {counted(rows, 'row')} of the log are here.{told}"
    )


def _with_houses(document: ShopOut) -> Iterator[OrderOut | QuoteOut]:
    """Give each quote and order of a shop the house that it was sent with."""
    every: list[OrderOut | QuoteOut] = [*document.quotes, *document.orders]
    for each in every:
        if isinstance(each.house, int):
            if each.house >= len(document.houses):
                raise _wrong(each.number, "it names a house that is not there")
            each.house = document.houses[each.house]
        yield each


_READS: dict[str, tuple[type[BaseModel], Callable[[Shop, Any], str]]] = {
    QUOTE: (QuoteOut, _bring_quote),
    ORDER: (OrderOut, _bring_order),
    STOCK: (StockOut, _bring_stock),
    SHOP: (ShopOut, _bring_shop),
}


def _wrong(where: str, why: str) -> BadInput:
    return BadInput(f"{why}.", where=where, remedy="Have it written out again.", code="document")


def _keep_designs(shop: Shop, found: Iterable[DesignOut]) -> None:
    """Keep the stitch files of a document that are not here.

    Raises
    ------
    BadInput
        If one is not what it says, or cannot be read.
    """
    for each in found:
        if designs.find_design(shop, each.sha256) is not None:
            continue
        try:
            data = base64.b64decode(each.data, validate=True)
        except (binascii.Error, ValueError):
            raise _wrong(each.name, "its stitch file is not written as base64") from None
        if content_hash(data) != each.sha256:
            raise _wrong(each.name, "its stitch file is not the one that it says it is")
        keep_design(shop, data, each.name)


def _house(shop: Shop, document: QuoteOut | OrderOut) -> HouseNow:
    """Return the house that a document was sent with; that of this shop where it says none."""
    if not isinstance(document.house, dict):
        return house_now(shop)
    text = json.dumps(document.house, sort_keys=True)
    try:
        house = kept_house(document.house)
    except ValidationError as error:
        at = ".".join(str(part) for part in error.errors()[0]["loc"])
        raise _wrong(document.number, f"the house it was sent with cannot be read ({at})") from None
    return HouseNow(house, content_hash(text.encode()), text)


def _prepared(
    shop: Shop, document: QuoteOut | OrderOut
) -> tuple[dict[str, Any], str, Prepared | None]:
    """Say what is kept of a quote, its number here, and what it was sent as; None for a draft."""
    house, number = _house(shop, document), quotes.next_number(shop)
    past = document.valid_until and document.valid_until < today()
    asked = QuoteDocument(
        customer=document.customer,
        email=document.email,
        due_on=document.due_on,
        notes=document.notes,
        job={"currency": document.currency} | document.job,
        valid_until="" if past and isinstance(document, OrderOut) else document.valid_until,
    )
    columns = columns_of(shop, asked, house, number="")
    if isinstance(document, QuoteOut) and document.state == "draft":
        return columns, number, None
    before = Before(document.sent_on, document.promised_on)
    quote = beginning(number, columns)
    return columns, number, prepared(shop, quote, asked.job, house, before=before)


def _quote(shop: Shop, document: QuoteOut) -> tuple[int, str]:
    """Make a quote of a document, sent if it was: its id and its number."""
    columns, number, sending = _prepared(shop, document)
    with shop.unit() as unit:
        made = quotes.add_quote(unit, **columns)
        if sending is not None:
            sent = sending.write(unit, made.id, seen=made.revision)
            if isinstance(document, QuoteOut) and document.state == "declined":
                quotes.answer_version(unit, made.id, seen=sent.revision, answer="declined")
    return made.id, number


def _order(shop: Shop, document: OrderOut) -> tuple[int, str]:
    """Make an order of a document: a quote, sent and accepted, its pieces and events."""
    columns, number, sending = _prepared(shop, document)
    assert sending is not None
    with shop.unit() as unit:
        made = quotes.add_quote(unit, **columns)
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
        log.add_events(unit, [_event(made.id, event) for event in document.events])
    return made.id, number


def _event(order_id: int, event: EventOut) -> log.KeptEvent:
    """Make an event of this order of one of a document: its id is this order's own."""
    own = f"in{order_id}-"
    of = f"{own}{event.of}"[:120] if event.of else ""
    mine = event.model_copy(update={"id": f"{own}{event.id}"[:120], "of": of})
    return kept_event(order_id, event.pass_id, mine)


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


def _differs(shop: Shop, quote_id: int, to_pay: str) -> str:
    """Tell where a quote comes to another sum here than it did there."""
    here = quotes.find_quote(shop, quote_id).total
    try:
        same = (Decimal(here) if here else None) == (Decimal(to_pay) if to_pay else None)
    except InvalidOperation:
        same = False
    return "" if same else f" It comes to {here or 'no price'} here, to {to_pay:.20} there."


def _stock(shop: Shop, document: StockOut, numbers: Numbers) -> tuple[int, int]:
    """Book the moves that are not there yet, and keep items that are not known.

    Returns
    -------
    tuple of int
        How many were booked, of how many.
    """
    elsewhere = document.shop and document.shop != shop.id
    whose = f"{document.shop}:" if elsewhere else ""
    moves = [
        (
            whose + m.key,
            Move(
                m.item,
                read_decimal(m.amount),
                m.why,
                str(numbers[m.order][0]) if m.order in numbers else "",
                m.made_on,
                m.note,
            ),
        )
        for m in document.moves
    ]
    costs = {m.item: m.cost for m in document.moves if m.cost}
    with shop.unit() as unit:
        booked = stock.add_moves(unit, moves, costs=costs)
        known = stock.list_items(unit)
        for item in document.items:
            if item.item not in known:
                minimum = read_decimal(item.minimum)
                stock.keep_item(
                    unit,
                    KnownItem(item.item, item.label, item.unit, minimum, item.supplier, item.place),
                )
    return booked, len(moves)


def _log(shop: Shop, document: ShopOut, numbers: Numbers) -> int:
    """Write the rows of a log, each under the order that it is of here; returns how many."""
    added = 0
    with shop.unit() as unit:
        for n, row in enumerate(document.log):
            id_, number = numbers.get(row.order, (0, ""))
            key = key_of(id_, row.pass_id) if id_ else f"{document.shop}:log:{n}"
            mine = row.model_copy(update={"order": number, "photo": ""})
            added += log.add_row(unit, key, id_, mine) is not None
    return added
