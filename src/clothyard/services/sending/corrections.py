"""A proof's corrections as a change of the order: a new version, with what it does to the price."""

from __future__ import annotations

from dataclasses import asdict, replace
from decimal import Decimal
from typing import Literal

from pydantic import BaseModel, ConfigDict

from clothyard.core.errors import Conflict
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
    if not order.stands or order.changing:
        raise Conflict(
            "the quote is being changed already.",
            where="quote",
            remedy="Change it there, and send it.",
            code="quote-draft",
        )
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
    if how.price == "agreed":
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
        take_asks(unit, order_id, order.version, ("name", "words"))
        if not proof.said.get("other"):  # what is said in words is for the seller to answer
            kept.keep_proof(unit, order_id, approved_proof(sent.version, by=proof.said_by))
        if how.price == "agreed":
            quotes.answer_version(unit, order_id, seen=sent.revision, answer="accepted")
            orders.make_order(unit, order_id, sending.opened(order_id))
    if sending.mail:
        hand_over(shop, sending.mail.id)
    return orders.find_order(shop, order_id)
