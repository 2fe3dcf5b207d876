"""What customers asked for, and what was answered, in the database."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from sqlalchemy import delete, select, update

from clothyard.core.errors import Conflict, NotFound
from clothyard.store.models import CustomerAsk
from clothyard.store.shop import now
from clothyard.store.unit import Reads, Unit

MOST_ASKED = 200
"""Listed of a quote."""


@dataclass(frozen=True, slots=True)
class KeptAsk:
    """What a customer asked for of a version; `answered` is "", taken or declined."""

    id: int
    quote_id: int
    version: int
    kind: str
    name: str
    words: str
    said_on: str
    answered: str
    answer: str
    answered_on: str


def _ask(row: CustomerAsk) -> KeptAsk:
    return KeptAsk(*(getattr(row, name) for name in KeptAsk.__dataclass_fields__))


def add_asks(
    unit: Unit, quote_id: int, version: int, asks: Iterable[tuple[str, str]], *, name: str
) -> None:
    """Keep what was asked for, each as (kind, words)."""
    said_on = now()
    unit.session.add_all(
        CustomerAsk(
            quote_id=quote_id,
            version=version,
            kind=kind,
            name=name,
            words=words,
            said_on=said_on,
            answered="",
            answer="",
            answered_on="",
        )
        for kind, words in asks
    )


def drop_asks(unit: Unit, quote_id: int, version: int, kinds: Iterable[str]) -> None:
    """Drop what is not answered yet of a version, since it was said anew."""
    unit.session.execute(
        delete(CustomerAsk).where(
            CustomerAsk.quote_id == quote_id,
            CustomerAsk.version == version,
            CustomerAsk.kind.in_(list(kinds)),
            CustomerAsk.answered == "",
        )
    )


def take_asks(unit: Unit, quote_id: int, version: int, kinds: Iterable[str]) -> None:
    """Answer what was asked of a version as taken."""
    unit.session.execute(
        update(CustomerAsk)
        .where(
            CustomerAsk.quote_id == quote_id,
            CustomerAsk.version == version,
            CustomerAsk.kind.in_(list(kinds)),
            CustomerAsk.answered == "",
        )
        .values(answered="taken", answered_on=now())
    )


def list_asks(at: Reads, quote_id: int) -> list[KeptAsk]:
    """List what a customer asked for of a quote, the first first."""
    query = select(CustomerAsk).where(CustomerAsk.quote_id == quote_id)
    with at.reading() as session:
        rows = session.scalars(query.order_by(CustomerAsk.id.desc()).limit(MOST_ASKED)).all()
        return [_ask(row) for row in reversed(rows)]


def open_asks(at: Reads) -> list[KeptAsk]:
    """List what is not answered yet of all quotes, the first first."""
    query = select(CustomerAsk).where(CustomerAsk.answered == "").order_by(CustomerAsk.id)
    with at.reading() as session:
        return [_ask(row) for row in session.scalars(query)]


def answer_ask(unit: Unit, quote_id: int, ask_id: int, *, answered: str, answer: str) -> None:
    """Keep how something asked for was answered; "" opens it again.

    Raises
    ------
    NotFound
    Conflict
        If it was answered otherwise meanwhile.
    """
    row = unit.session.get(CustomerAsk, ask_id)
    if row is None or row.quote_id != quote_id:
        raise NotFound("nothing of the kind was asked.", where="ask", code="ask-unknown")
    if answered and row.answered and row.answered != answered:
        raise Conflict(
            f"it is {row.answered} already.",
            where="ask",
            remedy="Load the page again.",
            code="ask-answered",
        )
    row.answered, row.answer = answered, answer
    row.answered_on = now() if answered else ""
