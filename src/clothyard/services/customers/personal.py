"""Personal data of customers: written out, and erased; the figures of what was sold stay."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from pydantic import BaseModel

from clothyard.services.customer_page.asks import list_asks
from clothyard.services.customer_page.links import list_said
from clothyard.store import customers as kept
from clothyard.store import orders, quotes
from clothyard.store.log import list_events, list_rows, scrub_rows
from clothyard.store.mail import find_mails
from clothyard.store.personal import Told, erase, names_in
from clothyard.store.shop import Shop, now, today


class Erased(BaseModel):
    """What was erased: of how many quotes; the backups that were made before hold it still."""

    quotes: int
    names: int
    papers: int
    messages: int
    backups: int


def personal_data(shop: Shop, customer_id: int) -> dict[str, Any]:
    """Write out all that is kept of a customer, as one plain document.

    Raises
    ------
    NotFound
    """
    found, names = kept.find_customer(shop, customer_id)
    fields = kept.KeptCustomer.__dataclass_fields__
    return {
        "format": "clothyard-personal/1",
        "written_on": now(),
        "customer": {name: getattr(found, name) for name in fields},
        "names": names,
        "quotes": [_of_quote(shop, quote_id) for quote_id in quotes.quotes_for(shop, names)],
    }


def _of_quote(shop: Shop, quote_id: int) -> dict[str, Any]:
    quote = quotes.find_quote(shop, quote_id)
    sent = [
        {"to": mail.to, "subject": mail.subject, "sent_on": mail.sent_on}
        for mail in find_mails(shop, quote.number)
    ]
    return {
        "number": quote.number,
        "state": quote.state,
        "customer": quote.customer,
        "email": quote.email,
        "notes": quote.notes,
        "names": names_in(quote.job),
        "versions": [
            {"version": v.version, "sent_on": v.sent_on, "head": v.head, "names": names_in(v.job)}
            for v in quotes.list_versions(shop, quote_id)
        ],
        "said": [said.model_dump() for said in list_said(shop, quote_id)],
        "asked": [ask.model_dump() for ask in list_asks(shop, quote_id)],
        "messages": sent,
        "pieces": [
            {"id": piece.id, "name": piece.name, "state": piece.state}
            for piece in orders.list_pieces(shop, quote_id)
        ],
        "at_the_machine": [asdict(event) for event in list_events(shop, quote_id)],
        "log": [each.row.model_dump() for each in list_rows(shop, quote_id=quote_id)],
        "proofs": [asdict(proof) for proof in orders.list_proofs(shop, quote_id)],
    }


def erase_customer(shop: Shop, customer_id: int) -> Erased:
    """Erase a customer: who they are, their papers, messages, words and name lists.

    What was sold, for how much and when stays, with nobody's name.

    Raises
    ------
    NotFound
    """
    found, keys = kept.find_customer(shop, customer_id)
    people = [found.name, found.email, found.phone]
    people += [text for c in found.contacts for text in (c["name"], c["email"], c["phone"])]
    with shop.unit() as unit:
        told = erase(unit, keys, people, customer_id=customer_id)
        scrub_rows(unit, people)
    return _told(shop, told)


def erase_names(shop: Shop, customer_id: int) -> Erased:
    """Erase the name lists of a customer's quotes, and the papers and messages that show them.

    Raises
    ------
    NotFound
    """
    found, keys = kept.find_customer(shop, customer_id)
    with shop.unit() as unit:
        told = erase(unit, keys, [], customer_id=None)
        if found.names_until and found.names_until < today():
            kept.change_customer(unit, found.id, seen=found.revision, values={"names_until": ""})
    return _told(shop, told)


def _told(shop: Shop, told: Told) -> Erased:
    """Take the files away that nothing names any more, and tell what went."""
    shop.remembered.forget()
    shop.wipe()
    for sha256 in told.files:
        shop.documents.path(sha256).unlink(missing_ok=True)
    for mail_id in told.posted:
        (shop.folder / "outbox" / f"{mail_id}.eml").unlink(missing_ok=True)
    return Erased(
        quotes=told.quotes,
        names=told.names,
        papers=told.papers,
        messages=told.messages,
        backups=len(list((shop.folder / "backups").glob("*.zip"))),
    )
