"""A proof's corrections as a change of the order: a new version, with what it does to the price."""

from __future__ import annotations

from decimal import Decimal
from typing import Literal

from pydantic import BaseModel, ConfigDict

from clothyard.core.errors import Conflict
from clothyard.core.units import money_text
from clothyard.services import orders, proofs
from clothyard.services.quotes import QuoteDocument, Shown, find_quote, price_typed, save_quote
from clothyard.services.sending import SERVED_AT, answer_quote, revise_quote, send_quote
from clothyard.services.standards import shop_house
from clothyard.store import orders as kept
from clothyard.store.quotes import find_version
from clothyard.store.shop import Shop, now


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
    if not order.stands:
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
    view = find_quote(shop, order_id)
    view = revise_quote(shop, order_id, seen=view.revision)
    document = QuoteDocument.model_validate(view.model_dump() | {"job": job})
    view = save_quote(shop, order_id, document, seen=view.revision)
    view = send_quote(shop, order_id, seen=view.revision, served_at=served_at)
    said = {"names": [], "words": [], "other": ""}
    approved = kept.KeptProof(view.version, "approved", proof.said_by, said, now())
    if not proof.said.get("other"):  # what is said in words is for the seller to read
        kept.keep_proof(shop, order_id, approved)
    if how.price == "agreed":
        answer_quote(shop, order_id, "accepted", seen=view.revision)
    return orders.find_order(shop, order_id)
