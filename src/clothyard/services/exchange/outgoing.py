"""Written out: a quote, an order, the shelf, a whole shop, as documents for other programs."""

from __future__ import annotations

import base64
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from pydantic import BaseModel

from clothyard.core.figure_text import amount_text
from clothyard.core.order.exchanged import (
    DesignOut,
    EventOut,
    ItemOut,
    MoveOut,
    OrderOut,
    PieceOut,
    QuoteOut,
    ShopOut,
    StockOut,
)
from clothyard.core.run.event import EventIn
from clothyard.core.units import read_decimal
from clothyard.services.house.standards import shop_house
from clothyard.services.orders import follow as orders
from clothyard.services.stock.shelf import read_shelf
from clothyard.store import designs, log, quotes, stock
from clothyard.store.shop import Shop, today
from clothyard.store.standards import changed_standards


def export_order(shop: Shop, order_id: int) -> bytes:
    """Write an order as a clothyard-order/1 document, with its house and its stitch files.

    Raises
    ------
    NotFound
    """
    found, sha256 = _order(shop, order_id)
    return _bytes(_whole(shop, found, sha256))


def export_quote(shop: Shop, quote_id: int) -> bytes:
    """Write a quote as a clothyard-quote/1 document, or the order that it became.

    Raises
    ------
    NotFound
    """
    quote = quotes.find_quote(shop, quote_id)
    if quote.state == "accepted":
        return export_order(shop, quote_id)
    found, sha256 = _quote(shop, quote)
    return _bytes(_whole(shop, found, sha256))


def export_stock(shop: Shop) -> bytes:
    """Write the shelf as a clothyard-stock/1 document."""
    return _bytes(_stock(shop))


def export_shop(shop: Shop) -> bytes:
    """Write all that a shop has as one clothyard-shop/1 document.

    Each design and each house that something was sent with stands in it once.
    """
    rows, _ = quotes.list_quotes(shop, search="", state="", sort="number", offset=0, limit=None)
    offers = [
        _quote(shop, quotes.find_quote(shop, row.id)) for row in rows if row.state != "accepted"
    ]
    accepted = [_order(shop, row.id) for row in rows if row.state == "accepted"]
    used = dict.fromkeys(sha256 for _, sha256 in (*offers, *accepted) if sha256)
    places = {sha256: n for n, sha256 in enumerate(used)}
    for found, sha256 in (*offers, *accepted):
        found.house = places.get(sha256)
    return _bytes(
        ShopOut(
            shop=shop.id,
            written_on=today(),
            standards=changed_standards(shop),
            designs=_designs(shop, designs.every_sha256(shop)),
            houses=[quotes.find_house(shop, sha256) for sha256 in used],
            quotes=[found for found, _ in offers],
            orders=[found for found, _ in accepted],
            stock=_stock(shop),
            log=[each.row for each in log.list_rows(shop)],
        )
    )


def _bytes(document: BaseModel) -> bytes:
    return document.model_dump_json(indent=1).encode() + b"\n"


def _whole(shop: Shop, found: OrderOut | QuoteOut, house_sha256: str) -> BaseModel:
    """Give a document its house, its stitch files and its shop's standards."""
    found.house = quotes.find_house(shop, house_sha256) if house_sha256 else None
    found.designs = _designs(shop, dict.fromkeys(_named_in(found.job)))
    found.standards = changed_standards(shop)
    return found


def _named_in(value: Any) -> Iterator[str]:
    """Name the stitch files that a job names, wherever it does."""
    if isinstance(value, dict):
        if isinstance(value.get("sha256"), str):
            yield value["sha256"]
        for part in value.values():
            yield from _named_in(part)
    elif isinstance(value, list):
        for part in value:
            yield from _named_in(part)


def _designs(shop: Shop, sha256s: Iterable[str]) -> list[DesignOut]:
    found = []
    for sha256 in sha256s:
        kept = designs.find_design(shop, sha256)
        path = shop.blobs.path(sha256)
        if kept is None or not path.is_file():
            continue
        data = base64.b64encode(path.read_bytes()).decode()
        found.append(DesignOut(sha256=sha256, name=kept.name, data=data))
    return found


def _head(head: Mapping[str, Any]) -> dict[str, Any]:
    names = ("email", "due_on", "valid_until", "notes", "sent_on")
    return {name: str(head.get(name, "")) for name in names}


def _quote(shop: Shop, quote: quotes.KeptQuote) -> tuple[QuoteOut, str]:
    """Write a quote, and say which house it was sent with; "" for a draft."""
    sent = quotes.find_version(shop, quote.id, quote.version) if quote.state != "draft" else None
    head: dict[str, Any] = dict(sent.head) if sent else vars_of(quote)
    document = QuoteOut(
        number=quote.number,
        customer=quote.customer,
        **_head(head),
        promised_on=head.get("promised_on", ""),
        currency=quote.currency,
        to_pay=quote.total,
        state="declined" if quote.state == "declined" else "sent" if sent else "draft",
        job=sent.job if sent else quote.job,
    )
    return document, sent.house_sha256 if sent else ""


def vars_of(quote: quotes.KeptQuote) -> dict[str, Any]:
    """Return what a draft's head says."""
    names = ("email", "due_on", "valid_until", "notes", "promised_on")
    return {name: getattr(quote, name) for name in names}


def _order(shop: Shop, order_id: int) -> tuple[OrderOut, str]:
    """Write an order, and say which house it was sent with."""
    view = orders.find_order(shop, order_id)
    version = quotes.find_version(shop, order_id, view.version)
    document = OrderOut(
        number=view.number,
        version=view.version,
        customer=view.customer,
        **_head(version.head) | {"due_on": view.due_on},
        promised_on=view.promised_on,
        accepted_on=view.accepted_on,
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
        events=[_event(event) for event in log.list_events(shop, order_id)],
    )
    return document, version.house_sha256


def _event(event: log.KeptEvent) -> EventOut:
    """Write an event; its photo stays here."""
    said = {name: event.data[name] for name in EventIn.model_fields.keys() & event.data.keys()}
    names = ("id", "kind", "at", "piece", "person", "pass_id")
    given = said | {name: getattr(event, name) for name in names} | {"photo": ""}
    return EventOut.model_validate(given)


def _stock(shop: Shop) -> StockOut:
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
    return StockOut(shop=shop.id, items=items, moves=moves)
