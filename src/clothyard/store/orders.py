"""Orders in the database: one for each quote that was accepted; their needs, pieces, proofs."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass
from decimal import Decimal
from typing import Any

from sqlalchemy import ColumnElement, and_, delete, func, insert, or_, select, update
from sqlalchemy.dialects.sqlite import insert as sqlite_insert
from sqlalchemy.orm import Session

from clothyard.core.errors import NotFound, Stale
from clothyard.core.stock.ledger import Move
from clothyard.store.models import OrderNeed, Piece, Proof, Quote, QuoteVersion, WorkOrder
from clothyard.store.shop import Shop, now
from clothyard.store.stock import add_moves, thousandths

OPEN = ("accepted", "waiting", "ready", "in-work", "done")


@dataclass(frozen=True, slots=True)
class KeptOrder:
    """An order as kept, with what the list shows of its quote; dates are ISO text, "" for none.

    `stands` says whether its quote is accepted still: an answer can be taken back.
    """

    quote_id: int
    number: str
    version: int
    stands: bool
    customer: str
    summary: str
    total: str
    currency: str
    due_on: str
    revision: int
    state: str
    waits: str
    promised_on: str
    ready: list[str]
    payments: list[dict[str, str]]
    accepted_on: str
    changed_on: str
    made_version: int
    work_days: int
    pin_first: bool = False
    pin_day: str = ""
    pin_machine: str = ""
    pin_before: int = 0
    drawn: str = ""
    units: str = ""

    @property
    def cloth(self) -> str:
        """The colour of its first line's goods, "" for none."""
        try:
            return str(json.loads(self.drawn).get("cloth", "")) if self.drawn else ""
        except (ValueError, AttributeError):
            return ""


@dataclass(frozen=True, slots=True)
class KeptNeed:
    """What an order needs of an item."""

    item: str
    amount: Decimal
    label: str
    unit: str


@dataclass(frozen=True, slots=True)
class KeptPiece:
    """A piece of an order; see the table."""

    id: str
    n: int
    line: str
    size: str
    colour: str
    name: str
    state: str = "waiting"
    reason: str = ""
    instead_of: str = ""
    changed_on: str = ""


@dataclass(frozen=True, slots=True)
class KeptProof:
    """What was said of a version's proof."""

    version: int
    state: str
    said_by: str
    said: dict[str, Any]
    said_on: str


def _read(order: WorkOrder, quote: Quote) -> KeptOrder:
    return KeptOrder(
        quote_id=quote.id,
        number=quote.number,
        version=quote.version,
        stands=quote.state == "accepted",
        customer=quote.customer,
        summary=quote.summary,
        total=quote.total,
        currency=quote.currency,
        due_on=quote.due_on,
        revision=order.revision,
        state=order.state,
        waits=order.waits,
        promised_on=order.promised_on,
        ready=json.loads(order.ready),
        payments=json.loads(order.payments),
        accepted_on=order.accepted_on,
        changed_on=order.changed_on,
        made_version=order.made_version,
        work_days=order.work_days,
        pin_first=bool(order.pin_first),
        pin_day=order.pin_day,
        pin_machine=order.pin_machine,
        pin_before=order.pin_before,
        drawn=quote.drawn,
        units=order.units,
    )


def make_orders(shop: Shop) -> None:
    """Make the orders of accepted quotes that have none yet."""
    wanted = (
        select(
            Quote.id,
            Quote.due_on,
            Quote.goes_before,
            QuoteVersion.answered_on,
            func.json_extract(QuoteVersion.head, "$.promised_on"),
        )
        .outerjoin(WorkOrder, WorkOrder.quote_id == Quote.id)
        .join(
            QuoteVersion,
            and_(QuoteVersion.quote_id == Quote.id, QuoteVersion.version == Quote.version),
        )
        .where(Quote.state == "accepted", Quote.deleted_on.is_(None), WorkOrder.quote_id.is_(None))
    )
    with shop.reading() as session:
        if session.execute(wanted.limit(1)).first() is None:
            return
    with shop.writing() as session:
        for quote_id, due_on, before, answered_on, promised_on in session.execute(wanted).all():
            session.execute(
                insert(WorkOrder).values(
                    quote_id=quote_id,
                    revision=1,
                    state="accepted",
                    waits="",
                    promised_on=promised_on or due_on,
                    pin_before=before,
                    ready="[]",
                    payments="[]",
                    accepted_on=answered_on or now(),
                    changed_on=now(),
                )
            )


def _whole() -> Any:
    return select(WorkOrder, Quote).join(Quote, Quote.id == WorkOrder.quote_id)


def list_orders(
    shop: Shop, *, search: str, state: str, sort: str, down: bool | None, offset: int, limit: int
) -> tuple[list[KeptOrder], int]:
    """List orders.

    Parameters
    ----------
    search : str
        Words that must all occur in number, customer, notes or goods.
    state : str
        One of the states; "" those that are open, all what there is.
    sort : "promise", "number", "customer", "state", "waits" or "total"
    down : bool, optional
        The other way round than a sort usually goes, or not.
    offset, limit : int

    Returns
    -------
    (orders, how many there are in all)
    """
    conditions: list[ColumnElement[bool]] = [Quote.deleted_on.is_(None)]
    stands = Quote.state == "accepted"
    if state == "":
        conditions += [stands, WorkOrder.state.in_(OPEN)]
    elif state == "cancelled":
        conditions.append(or_(~stands, WorkOrder.state == state))
    elif state != "all":
        conditions += [stands, WorkOrder.state == state]
    conditions += [Quote.search.contains(word, autoescape=True) for word in search.lower().split()]
    orders: dict[str, tuple[Any, bool, Any]] = {
        "promise": (WorkOrder.promised_on, False, WorkOrder.promised_on == ""),
        "number": (Quote.id, True, Quote.id < 0),
        "customer": (func.lower(Quote.customer), False, Quote.customer == ""),
        "state": (WorkOrder.state, False, WorkOrder.state == ""),
        "waits": (WorkOrder.waits, False, WorkOrder.waits == ""),
        "accepted": (WorkOrder.accepted_on, True, WorkOrder.accepted_on == ""),
    }
    column, usual, empty = orders[sort]
    way = column.desc() if (usual if down is None else down) else column
    with shop.reading() as session:
        query = _whole().where(*conditions).order_by(empty, way, Quote.id.desc())
        rows = session.execute(query.offset(offset).limit(limit)).all()
        count = select(func.count()).select_from(WorkOrder).join(Quote).where(*conditions)
        return [_read(*row) for row in rows], session.scalar(count) or 0


def _find(session: Session, quote_id: int) -> KeptOrder:
    row = session.execute(_whole().where(WorkOrder.quote_id == quote_id)).first()
    if row is None:
        raise NotFound(
            f"quote {quote_id} is no order: it is not accepted.",
            where="order",
            remedy="Look for it in the list of orders, or among the quotes.",
            code="order-unknown",
        )
    return _read(*row)


def find_order(shop: Shop, quote_id: int) -> KeptOrder:
    """Return an order, by its quote's id.

    Raises
    ------
    NotFound
    """
    with shop.reading() as session:
        return _find(session, quote_id)


def change_order(
    shop: Shop, quote_id: int, *, seen: int, moves: Iterable[tuple[str, Move]] = (), **values: Any
) -> KeptOrder:
    """Change an order where its revision is the one seen, and book what that takes of the shelf.

    Raises
    ------
    NotFound, Stale
        Nothing is written then.
    """
    with shop.writing() as session:
        written = session.execute(
            update(WorkOrder)
            .where(WorkOrder.quote_id == quote_id, WorkOrder.revision == seen)
            .values(revision=WorkOrder.revision + 1, changed_on=now(), **values)
            .returning(WorkOrder.quote_id)
        ).first()
        found = _find(session, quote_id)
        if written is None:
            raise Stale(
                f"the order {found.number} was changed elsewhere since.",
                kept=found,
                where="revision",
                remedy="Look at it again.",
            )
        add_moves(session, moves)
        return found


def pin_order(
    shop: Shop, quote_id: int, *, first: bool, day: str, machine: str, before: int
) -> None:
    """Pin an order on the plan; its revision stays, since nothing of the order itself changes.

    Raises
    ------
    NotFound
    """
    with shop.writing() as session:
        session.execute(
            update(WorkOrder)
            .where(WorkOrder.quote_id == quote_id)
            .values(pin_first=int(first), pin_day=day, pin_machine=machine, pin_before=before)
        )
        _find(session, quote_id)


def unmade_orders(shop: Shop, *, limit: int = 50) -> list[tuple[int, int]]:
    """List accepted orders whose needs and pieces are not those of their version: (id, version)."""
    with shop.reading() as session:
        rows = session.execute(
            select(WorkOrder.quote_id, Quote.version)
            .join(Quote, Quote.id == WorkOrder.quote_id)
            .where(
                Quote.state == "accepted",
                Quote.deleted_on.is_(None),
                WorkOrder.made_version != Quote.version,
            )
            .limit(limit)
        ).all()
    return [(quote_id, version) for quote_id, version in rows]


def make_order(
    shop: Shop,
    quote_id: int,
    version: int,
    *,
    needs: Sequence[KeptNeed],
    pieces: Sequence[KeptPiece],
    work_days: int,
    units: str,
    waits: str = "",
) -> None:
    """Write what an order needs and its pieces, as its version has them.

    Parameters
    ----------
    shop : Shop
    quote_id, version : int
    needs, pieces : sequences
        All there are, what stood before is replaced.
    work_days : int
    units : str
        Of its work, JSON.
    waits : str
        What it waits for from now on, "" to leave that as it is.
    """
    state = {"state": "waiting", "waits": waits} if waits else {}
    with shop.writing() as session:
        session.execute(delete(Piece).where(Piece.quote_id == quote_id))
        if pieces:
            session.execute(
                insert(Piece), [{"quote_id": quote_id, **asdict(piece)} for piece in pieces]
            )
        _write_needs(session, quote_id, needs)
        session.execute(
            update(WorkOrder)
            .where(WorkOrder.quote_id == quote_id)
            .values(
                made_version=version,
                work_days=work_days,
                units=units,
                revision=WorkOrder.revision + 1,
                **state,
            )
        )


def _write_needs(session: Session, quote_id: int, needs: Sequence[KeptNeed]) -> None:
    session.execute(delete(OrderNeed).where(OrderNeed.quote_id == quote_id))
    rows = [
        {
            "quote_id": quote_id,
            "n": n,
            "item": need.item,
            "amount": thousandths(need.amount),
            "label": need.label,
            "unit": need.unit,
        }
        for n, need in enumerate(needs)
    ]
    if rows:
        session.execute(insert(OrderNeed), rows)


def list_pieces(shop: Shop, quote_id: int) -> list[KeptPiece]:
    """List an order's pieces, in the order in which they were asked for."""
    with shop.reading() as session:
        rows = session.scalars(
            select(Piece).where(Piece.quote_id == quote_id).order_by(Piece.n, Piece.id)
        ).all()
    names = KeptPiece.__dataclass_fields__
    return [KeptPiece(**{name: getattr(row, name) for name in names}) for row in rows]


def count_pieces(shop: Shop, quote_ids: Sequence[int]) -> dict[int, dict[str, int]]:
    """Count orders' pieces by state."""
    query = (
        select(Piece.quote_id, Piece.state, func.count())
        .where(Piece.quote_id.in_(quote_ids))
        .group_by(Piece.quote_id, Piece.state)
    )
    found: dict[int, dict[str, int]] = {}
    with shop.reading() as session:
        for quote_id, state, count in session.execute(query).all():
            found.setdefault(quote_id, {})[state] = count
    return found


def change_pieces(
    shop: Shop,
    quote_id: int,
    ids: Sequence[str],
    *,
    states: Sequence[str],
    to: str,
    reason: str = "",
    added: Sequence[KeptPiece] = (),
    removed: Sequence[str] = (),
    needs: Sequence[KeptNeed] | None = None,
) -> int:
    """Change pieces that are still in one of the states seen; the others stay as they are.

    Parameters
    ----------
    added, removed : sequences
        Pieces made in place of spoiled ones, and such that are not wanted any more.
    needs : sequence, optional
        What the order needs from now on.

    Returns
    -------
    int
        How many were changed.
    """
    values = {"state": to, "reason": reason, "changed_on": now()}
    with shop.writing() as session:
        changed = session.execute(
            update(Piece)
            .where(Piece.quote_id == quote_id, Piece.id.in_(ids), Piece.state.in_(states))
            .values(**values)
        ).rowcount  # type: ignore[attr-defined]
        for piece in added:
            row = sqlite_insert(Piece).values(quote_id=quote_id, **asdict(piece))
            session.execute(row.on_conflict_do_nothing())
        if removed:
            session.execute(
                delete(Piece).where(
                    Piece.quote_id == quote_id, Piece.id.in_(removed), Piece.state == "waiting"
                )
            )
        if needs is not None:
            _write_needs(session, quote_id, needs)
        return int(changed)


def find_proof(shop: Shop, quote_id: int, version: int) -> KeptProof | None:
    """Return what was said of a version's proof, None if nothing yet."""
    with shop.reading() as session:
        row = session.get(Proof, (quote_id, version))
        if row is None:
            return None
        return KeptProof(row.version, row.state, row.said_by, json.loads(row.said), row.said_on)


def list_proofs(shop: Shop, quote_id: int) -> list[KeptProof]:
    """List what was said of a quote's proofs, version by version."""
    with shop.reading() as session:
        rows = session.scalars(
            select(Proof).where(Proof.quote_id == quote_id).order_by(Proof.version)
        ).all()
    return [
        KeptProof(row.version, row.state, row.said_by, json.loads(row.said), row.said_on)
        for row in rows
    ]


def proofs_of(shop: Shop, versions: Mapping[int, int]) -> dict[int, KeptProof]:
    """Find what was said of some quotes' versions: quote to proof, those without left out."""
    with shop.reading() as session:
        rows = session.scalars(select(Proof).where(Proof.quote_id.in_(versions))).all()
    return {
        row.quote_id: KeptProof(
            row.version, row.state, row.said_by, json.loads(row.said), row.said_on
        )
        for row in rows
        if versions[row.quote_id] == row.version
    }


def to_pay(shop: Shop, versions: Mapping[int, int]) -> dict[int, tuple[str, str]]:
    """Return what some quotes' versions come to: quote to (deposit, all of it)."""
    total = [
        func.json_extract(QuoteVersion.estimate, f"$.total.{n}") for n in ("deposit", "to_pay")
    ]
    with shop.reading() as session:
        rows = session.execute(
            select(QuoteVersion.quote_id, QuoteVersion.version, *total).where(
                QuoteVersion.quote_id.in_(versions)
            )
        ).all()
    return {
        quote_id: (str(deposit or "0"), str(whole or "0"))
        for quote_id, version, deposit, whole in rows
        if versions[quote_id] == version
    }


def keep_proof(shop: Shop, quote_id: int, proof: KeptProof) -> None:
    """Keep what was said of a proof; an order that waited for it waits no more once approved."""
    values = {
        "state": proof.state,
        "said_by": proof.said_by,
        "said": json.dumps(proof.said),
        "said_on": proof.said_on,
    }
    with shop.writing() as session:
        session.execute(
            sqlite_insert(Proof)
            .values(quote_id=quote_id, version=proof.version, **values)
            .on_conflict_do_update(index_elements=["quote_id", "version"], set_=values)
        )
        waited = update(WorkOrder).where(WorkOrder.quote_id == quote_id)
        if proof.state == "approved":
            session.execute(
                waited.where(WorkOrder.state == "waiting", WorkOrder.waits == "proof").values(
                    state="accepted", waits=""
                )
            )
        session.execute(waited.values(revision=WorkOrder.revision + 1, changed_on=now()))


def forget_proof(shop: Shop, quote_id: int, version: int) -> None:
    """Take back what was said of a proof."""
    with shop.writing() as session:
        session.execute(delete(Proof).where(Proof.quote_id == quote_id, Proof.version == version))
        session.execute(
            update(WorkOrder)
            .where(WorkOrder.quote_id == quote_id)
            .values(revision=WorkOrder.revision + 1, changed_on=now())
        )


def accepted_versions(shop: Shop, quote_id: int) -> list[int]:
    """List the versions of a quote that were accepted, the first first."""
    with shop.reading() as session:
        return list(
            session.scalars(
                select(QuoteVersion.version)
                .where(QuoteVersion.quote_id == quote_id, QuoteVersion.answer == "accepted")
                .order_by(QuoteVersion.version)
            )
        )
