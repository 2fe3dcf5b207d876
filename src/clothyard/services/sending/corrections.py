"""A proof's corrections as a change of the order: a new version, with what it does to the price."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, replace
from decimal import Decimal
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.errors import BadInput, Conflict, NotFound
from clothyard.core.units import money_text
from clothyard.services.customer_page import proofs
from clothyard.services.customer_page.outbox import hand_over
from clothyard.services.customer_page.proofs import approved_proof
from clothyard.services.house.standards import house_now, shop_house
from clothyard.services.orders import follow as orders
from clothyard.services.quotes.drafts import (
    QuoteDocument,
    Shown,
    columns_of,
    price_typed,
)
from clothyard.services.sending.send import SERVED_AT, prepared, revising
from clothyard.store import orders as kept
from clothyard.store import quotes
from clothyard.store.asks import take_asks
from clothyard.store.quotes import find_version
from clothyard.store.shop import Shop
from clothyard.store.unit import Unit


class CorrectionPrice(BaseModel):
    """What a proof's corrections do to the price: to pay before and after, and what is more."""

    before: str
    after: str
    more: str
    currency: str
    changes: list[str]


class TakeCorrections(BaseModel):
    """How corrections are taken: at the price as agreed, or at the new one, which the customer
    then accepts."""

    model_config = ConfigDict(extra="forbid")

    price: Literal["agreed", "new"] = "agreed"


class PieceNamed(BaseModel):
    """A piece, and how its name is to be."""

    model_config = ConfigDict(extra="forbid")

    piece: str = Field(min_length=1, max_length=80)
    to: str = Field(max_length=200)


def _check_stands(order: kept.KeptOrder) -> None:
    """Refuse a change of an order whose quote is being changed.

    Raises
    ------
    Conflict
    """
    if not order.stands or order.changing:
        raise Conflict(
            "the quote is being changed already.",
            where="quote",
            remedy="Change it there, and send it.",
            code="quote-draft",
        )


def _corrected(
    shop: Shop, order_id: int
) -> tuple[kept.KeptOrder, dict[str, object], kept.KeptProof]:
    order = kept.find_order(shop, order_id)
    proof = kept.find_proof(shop, order_id, order.version)
    if proof is None or proof.state != "corrected":
        raise Conflict(
            "its proof has no corrections.",
            where="proof",
            remedy="Look at the order again.",
            code="proof-none",
        )
    _check_stands(order)
    version = find_version(shop, order_id, order.version)
    return order, proofs.corrected_job(version.job, proof.said), proof


def price_corrections(shop: Shop, order_id: int) -> CorrectionPrice:
    """Say what a proof's corrections do to the price, at the shop's rates of today.

    Raises
    ------
    NotFound
    Conflict
        If there are none.
    """
    order, job, proof = _corrected(shop, order_id)
    priced = price_typed(shop, job, shop_house(shop), Shown())
    after = priced.estimate.total.to_pay if priced.estimate else order.total
    more = Decimal(after) - Decimal(order.total)
    rows = [*proof.said.get("names", []), *proof.said.get("words", [])]
    return CorrectionPrice(
        before=order.total,
        after=after,
        more=money_text(more, order.currency),
        currency=order.currency,
        changes=[f"{row['was']} → {row['to']}" for row in rows],
    )


def take_corrections(
    shop: Shop, order_id: int, how: TakeCorrections, *, served_at: str = SERVED_AT
) -> orders.OrderView:
    """Make a proof's corrections a new version of the order; what was told stays as it was.

    At the price as agreed it is accepted at once: the words are the customer's own. At the new
    price it is sent, and is an order again once they accept it.

    Raises
    ------
    NotFound, Stale
    Conflict
        If there are none, or the new version cannot be sent.
    """
    order, job, proof = _corrected(shop, order_id)

    def said(unit: Unit, version: int) -> None:
        take_asks(unit, order_id, order.version, ("name", "words"))
        if not proof.said.get("other"):  # what is said in words is for the seller to answer
            kept.keep_proof(unit, order_id, approved_proof(version, by=proof.said_by))

    return _new_version(shop, order, job, how.price, said, served_at=served_at)


def _new_version(
    shop: Shop,
    order: kept.KeptOrder,
    job: dict[str, object],
    price: Literal["agreed", "new"],
    said: Callable[[Unit, int], None],
    *,
    served_at: str,
) -> orders.OrderView:
    """Make a changed job the order's next version; `said` is written of it in the same step."""
    order_id = order.quote_id
    if price == "agreed":
        estimate = find_version(shop, order_id, order.version).estimate
        by_id = {line["id"]: line["price"]["unit"] for line in estimate["lines"]}
        job = job | {
            "lines": [line | {"unit_price": by_id[line["id"]]} for line in job["lines"]]  # type: ignore[attr-defined]
        }
    quote, house = quotes.find_quote(shop, order_id), house_now(shop)
    again = revising(quote, house.house)
    quote = replace(quote, valid_until=again.get("valid_until", quote.valid_until))
    document = QuoteDocument.model_validate(asdict(quote) | {"job": job})
    columns = columns_of(shop, document, house, number=quote.number)
    sending = prepared(shop, quote, document.job, house, served_at=served_at)
    with shop.unit() as unit:
        drafted = quotes.change_quote(unit, order_id, seen=quote.revision, **again | columns)
        sent = sending.write(unit, order_id, seen=drafted.revision)
        said(unit, sent.version)
        if price == "agreed":
            quotes.answer_version(unit, order_id, seen=sent.revision, answer="accepted")
            orders.make_order(unit, order_id, sending.opened(order_id))
    if sending.mail:
        hand_over(shop, sending.mail.id)
    return orders.find_order(shop, order_id)


def correct_name(
    shop: Shop, order_id: int, how: PieceNamed, *, served_at: str = SERVED_AT
) -> orders.OrderView:
    """Correct the name of a piece, at the price as agreed: the next version of the order.

    Approved before, that name alone is asked again; what is sewn with the old one is told.

    Raises
    ------
    NotFound
        If it has no such piece.
    BadInput
        If the piece has no name, or is to have none.
    Conflict
        If the quote is being changed already.
    """
    orders.keep_up(shop)
    order, to = kept.find_order(shop, order_id), " ".join(how.to.split())
    pieces = kept.list_pieces(shop, order_id)
    piece = next((each for each in pieces if each.id == how.piece), None)
    if piece is None:
        raise NotFound(
            f"there is no piece {how.piece[:60]!r}.",
            where="piece",
            code="piece-unknown",
            remedy="Look at the order again.",
        )
    if not piece.name or not to:
        raise BadInput(
            "it has no name to correct." if to else f"{piece.name!r} is to be nothing.",
            where="to",
            remedy="Revise the quote." if to else "Type the name as it is to be sewn.",
            code="missing",
        )
    _check_stands(order)
    job = find_version(shop, order_id, order.version).job
    line = next(each for each in job["lines"] if each["id"] == piece.line)
    alike = [each.id for each in pieces if (each.line, each.name) == (piece.line, piece.name)]
    at = [n for n, name in enumerate(line.get("names", [])) if name.strip() == piece.name]
    row = {"line": piece.line, "n": at[min(alike.index(piece.id), len(at) - 1)], "to": to}
    job = proofs.corrected_job(job, {"names": [row]})
    return _new_version(shop, order, job, "agreed", lambda *_: None, served_at=served_at)
