"""Orders in the database: one for each quote that was accepted; their needs, pieces, proofs."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from sqlalchemy import ColumnElement, Select, and_, delete, func, insert, or_, select, update
from sqlalchemy.dialects.sqlite import insert as sqlite_insert
from sqlalchemy.orm import Session

from clothyard.core.errors import NotFound, Stale
from clothyard.core.order.state import HERE
from clothyard.core.stock.ledger import Move
from clothyard.core.stock.needs import Need
from clothyard.core.work.piece import Piece
from clothyard.store.models import (
    OrderNeed,
    OrderWork,
    Proof,
    Quote,
    QuoteVersion,
    StockMove,
    WorkOrder,
)
from clothyard.store.models import Piece as PieceRow
from clothyard.store.shop import now
from clothyard.store.stock import add_moves, thousandths
from clothyard.store.unit import Reads, Unit


@dataclass(frozen=True, slots=True)
class KeptOrder:
    """An order as kept, with what the list shows of it; dates are ISO text, "" for none.

    `version` is the one that was accepted last: it stands while another is drafted or out, of
    which `changing` is the quote's state ("" for none). `stands` is false where no version is
    accepted any more: an answer can be taken back.
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
    pin_first: bool = False
    pin_day: str = ""
    pin_machine: str = ""
    pin_before: int = 0
    drawn: str = ""
    units: str = ""
    changing: str = ""

    @property
    def cloth(self) -> str:
        """The colour of its first line's goods, "" for none."""
        try:
            return str(json.loads(self.drawn).get("cloth", "")) if self.drawn else ""
        except (ValueError, AttributeError):
            return ""


@dataclass(frozen=True, slots=True)
class KeptProof:
    """What was said of a version's proof."""

    version: int
    state: str
    said_by: str
    said: dict[str, Any]
    said_on: str


_ACCEPTED = (
    select(func.max(QuoteVersion.version))
    .where(QuoteVersion.quote_id == Quote.id, QuoteVersion.answer == "accepted")
    .correlate(Quote)
    .scalar_subquery()
)
"""The version of a quote that was accepted last; NULL for none."""


def _read(order: WorkOrder, quote: Quote, accepted: int | None) -> KeptOrder:
    same = (quote.state, quote.version) == ("accepted", accepted)
    return KeptOrder(
        quote_id=quote.id,
        number=quote.number,
        version=accepted or quote.version,
        stands=accepted is not None,
        changing="" if same or accepted is None else quote.state,
        customer=quote.customer,
        summary=quote.summary if same else order.summary or quote.summary,
        total=quote.total if same else order.total or quote.total,
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
        pin_first=bool(order.pin_first),
        pin_day=order.pin_day,
        pin_machine=order.pin_machine,
        pin_before=order.pin_before,
        drawn=quote.drawn if same else order.drawn or quote.drawn,
        units=order.units,
    )


def _unordered() -> Select[Any]:
    """Select accepted quotes that are no orders yet."""
    return (
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
            and_(QuoteVersion.quote_id == Quote.id, QuoteVersion.version == _ACCEPTED),
        )
        .where(Quote.deleted_on.is_(None), WorkOrder.quote_id.is_(None))
    )


def make_orders(unit: Unit) -> None:
    """Make the orders of accepted quotes that have none yet."""
    for quote_id, due_on, before, answered_on, promised_on in unit.session.execute(_unordered()):
        unit.session.execute(
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
    return select(WorkOrder, Quote, _ACCEPTED).join(Quote, Quote.id == WorkOrder.quote_id)


def list_orders(
    at: Reads,
    *,
    search: str,
    state: str,
    sort: str,
    down: bool | None,
    offset: int,
    limit: int | None,
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
    stands = _ACCEPTED.is_not(None)
    if state == "":
        conditions += [stands, WorkOrder.state.in_(HERE)]
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
    with at.reading() as session:
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


def find_order(at: Reads, quote_id: int) -> KeptOrder:
    """Return an order, by its quote's id.

    Raises
    ------
    NotFound
    """
    with at.reading() as session:
        return _find(session, quote_id)


def change_order(
    unit: Unit, quote_id: int, *, seen: int, moves: Iterable[tuple[str, Move]] = (), **values: Any
) -> KeptOrder:
    """Change an order where its revision is the one seen, and book what that takes of the shelf.

    Raises
    ------
    NotFound, Stale
        Nothing is written then.
    """
    session = unit.session
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
    add_moves(unit, moves)
    return found


def pin_order(
    unit: Unit, quote_id: int, *, first: bool, day: str, machine: str, before: int
) -> None:
    """Pin an order on the plan; its revision stays, since nothing of the order itself changes.

    Raises
    ------
    NotFound
    """
    session = unit.session
    session.execute(
        update(WorkOrder)
        .where(WorkOrder.quote_id == quote_id)
        .values(pin_first=int(first), pin_day=day, pin_machine=machine, pin_before=before)
    )
    _find(session, quote_id)


def unmade_orders(at: Reads) -> list[tuple[int, int]]:
    """List quotes whose order is not made, or not of the version accepted last: (id, version)."""
    query = (
        select(Quote.id, _ACCEPTED)
        .outerjoin(WorkOrder, WorkOrder.quote_id == Quote.id)
        .outerjoin(
            OrderWork,
            and_(OrderWork.quote_id == Quote.id, OrderWork.version == _ACCEPTED),
        )
        .where(
            _ACCEPTED.is_not(None),
            Quote.deleted_on.is_(None),
            or_(
                WorkOrder.quote_id.is_(None),
                WorkOrder.made_version != _ACCEPTED,
                OrderWork.quote_id.is_(None),
            ),
        )
    )
    with at.reading() as session:
        return [(quote_id, version) for quote_id, version in session.execute(query)]


def bring_order(
    unit: Unit,
    quote_id: int,
    version: int,
    *,
    units: str,
    shown: Mapping[str, str],
    waits: str = "",
) -> None:
    """Say of which version an order is made from now on.

    Parameters
    ----------
    unit : Unit
    quote_id, version : int
    units : str
        Of its work, JSON.
    shown : mapping
        What lists show of it: summary and total.
    waits : str
        What it waits for from now on, "" to leave that as it is.
    """
    state = {"state": "waiting", "waits": waits} if waits else {}
    quote = unit.session.get(Quote, quote_id)
    if quote is not None and (quote.state, quote.version) == ("accepted", version):
        shown = {**shown, "drawn": quote.drawn}
    unit.session.execute(
        update(WorkOrder)
        .where(WorkOrder.quote_id == quote_id)
        .values(
            made_version=version,
            units=units,
            revision=WorkOrder.revision + 1,
            **shown,
            **state,
        )
    )


def write_needs(unit: Unit, quote_id: int, needs: Sequence[Need]) -> None:
    """Write what an order needs of the shelf: all of it, what stood before is replaced."""
    unit.session.execute(delete(OrderNeed).where(OrderNeed.quote_id == quote_id))
    moved = (
        select(StockMove.item, func.sum(StockMove.amount))
        .where(StockMove.quote_id == quote_id)
        .group_by(StockMove.item)
    )
    taken = dict(unit.session.execute(moved).all())
    rows = [
        {
            "quote_id": quote_id,
            "n": n,
            "item": need.item.key,
            "amount": thousandths(need.amount),
            "taken": taken.get(need.item.key, 0),
            "label": need.label,
            "unit": need.item.unit,
        }
        for n, need in enumerate(needs)
    ]
    if rows:
        unit.session.execute(insert(OrderNeed), rows)


def write_pieces(
    unit: Unit, quote_id: int, before: Sequence[Piece], after: Sequence[Piece]
) -> None:
    """Bring an order's pieces from what they were to what they are now; only what differs."""
    were, are = {p.id: p for p in before}, {p.id: p for p in after}
    gone = [id_ for id_ in were if id_ not in are]
    if gone:
        unit.session.execute(
            delete(PieceRow).where(PieceRow.quote_id == quote_id, PieceRow.id.in_(gone))
        )
    changed = [{"quote_id": quote_id, **asdict(p)} for p in after if were.get(p.id) != p]
    if changed:
        row = sqlite_insert(PieceRow)
        values = {name: row.excluded[name] for name in Piece.__dataclass_fields__ if name != "id"}
        unit.session.execute(
            row.on_conflict_do_update(index_elements=["quote_id", "id"], set_=values), changed
        )


def list_pieces(at: Reads, quote_id: int) -> list[Piece]:
    """List an order's pieces, in the order in which they were asked for."""
    with at.reading() as session:
        rows = session.execute(
            select(*(getattr(PieceRow, name) for name in Piece.__dataclass_fields__))
            .where(PieceRow.quote_id == quote_id)
            .order_by(PieceRow.n, PieceRow.id)
        ).all()
    return [Piece(*row) for row in rows]


def count_pieces(at: Reads, quote_ids: Sequence[int]) -> dict[int, dict[str, int]]:
    """Count orders' pieces by state."""
    query = (
        select(PieceRow.quote_id, PieceRow.state, func.count())
        .where(PieceRow.quote_id.in_(quote_ids))
        .group_by(PieceRow.quote_id, PieceRow.state)
    )
    found: dict[int, dict[str, int]] = {}
    with at.reading() as session:
        for quote_id, state, count in session.execute(query).all():
            found.setdefault(quote_id, {})[state] = count
    return found


def find_proof(at: Reads, quote_id: int, version: int) -> KeptProof | None:
    """Return what was said of a version's proof, None if nothing yet."""
    with at.reading() as session:
        row = session.get(Proof, (quote_id, version))
        if row is None:
            return None
        return KeptProof(row.version, row.state, row.said_by, json.loads(row.said), row.said_on)


def list_proofs(at: Reads, quote_id: int) -> list[KeptProof]:
    """List what was said of a quote's proofs, version by version."""
    with at.reading() as session:
        rows = session.scalars(
            select(Proof).where(Proof.quote_id == quote_id).order_by(Proof.version)
        ).all()
    return [
        KeptProof(row.version, row.state, row.said_by, json.loads(row.said), row.said_on)
        for row in rows
    ]


def proofs_of(at: Reads, versions: Mapping[int, int]) -> dict[int, KeptProof]:
    """Find what was said of some quotes' versions: quote to proof, those without left out."""
    with at.reading() as session:
        rows = session.scalars(select(Proof).where(Proof.quote_id.in_(versions))).all()
    return {
        row.quote_id: KeptProof(
            row.version, row.state, row.said_by, json.loads(row.said), row.said_on
        )
        for row in rows
        if versions[row.quote_id] == row.version
    }


def to_pay(at: Reads, versions: Mapping[int, int]) -> dict[int, tuple[str, str]]:
    """Return what some quotes' versions come to: quote to (deposit, all of it)."""
    total = [
        func.json_extract(QuoteVersion.estimate, f"$.total.{n}") for n in ("deposit", "to_pay")
    ]
    with at.reading() as session:
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


def keep_proof(unit: Unit, quote_id: int, proof: KeptProof) -> None:
    """Keep what was said of a proof; an order that waited for it waits no more once approved."""
    values = {
        "state": proof.state,
        "said_by": proof.said_by,
        "said": json.dumps(proof.said),
        "said_on": proof.said_on,
    }
    session = unit.session
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


def forget_proof(unit: Unit, quote_id: int, version: int) -> None:
    """Take back what was said of a proof."""
    session = unit.session
    session.execute(delete(Proof).where(Proof.quote_id == quote_id, Proof.version == version))
    session.execute(
        update(WorkOrder)
        .where(WorkOrder.quote_id == quote_id)
        .values(revision=WorkOrder.revision + 1, changed_on=now())
    )


def accepted_versions(at: Reads, quote_id: int) -> list[int]:
    """List the versions of a quote that were accepted, the first first."""
    with at.reading() as session:
        return list(
            session.scalars(
                select(QuoteVersion.version)
                .where(QuoteVersion.quote_id == quote_id, QuoteVersion.answer == "accepted")
                .order_by(QuoteVersion.version)
            )
        )
