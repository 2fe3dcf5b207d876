"""The shelf in the database: moves that are only ever added, what is known of items, purchases.

Amounts are kept as whole thousandths of an item's unit, so that they add up exactly.
"""

from __future__ import annotations

import json
from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from typing import Any, Literal

from sqlalchemy import delete, func, select, text, update
from sqlalchemy.dialects.sqlite import insert

from clothyard.core.errors import Conflict, NotFound, Stale
from clothyard.core.stock.key import read_key
from clothyard.core.stock.ledger import Move, check_move, uncovered
from clothyard.core.stock.shelf import KnownItem
from clothyard.store.models import OrderNeed, Purchase, Quote, StockItem, StockMove
from clothyard.store.shop import now, today
from clothyard.store.unit import Reads, Unit


def thousandths(amount: Decimal) -> int:
    """Return an amount as it is kept."""
    return int((amount * 1000).to_integral_value(ROUND_HALF_UP))


def amount_of(kept: int) -> Decimal:
    """Return a kept amount."""
    return Decimal(kept) / 1000


@dataclass(frozen=True, slots=True)
class KeptMove:
    """A move; `order` is the id of the order it is for, 0 for none, `number` its number."""

    id: int
    item: str
    amount: Decimal
    why: str
    order: int
    number: str
    made_on: str
    note: str
    cost: str


@dataclass(frozen=True, slots=True)
class OpenNeed:
    """What an open order still needs of an item, and what of that the shelf does not cover."""

    order: int
    number: str
    item: str
    needed: Decimal
    short: Decimal
    promised_on: str


def add_moves(
    unit: Unit, moves: Iterable[tuple[str, Move]], *, costs: Mapping[str, str] | None = None
) -> int:
    """Book moves, each under its key: one that comes again the same is the same booking.

    Parameters
    ----------
    unit : Unit
    moves : iterable of (key, Move)
        A move's order is an order's id as text, "" for none.
    costs : mapping of item to what a unit cost, optional

    Returns
    -------
    int
        How many were booked.

    Raises
    ------
    Conflict
        If a key comes again with something else: nothing is dropped in silence.
    """
    booked = 0
    taken: Counter[tuple[int, str]] = Counter()
    for key, move in moves:
        check_move(move)
        values: dict[str, Any] = {
            "item": move.item,
            "amount": thousandths(move.amount),
            "why": move.why,
            "quote_id": int(move.order or 0) or None,
        }
        row = insert(StockMove).values(
            key=key,
            made_on=move.on or now(),
            note=move.note,
            cost=(costs or {}).get(move.item, ""),
            **values,
        )
        new = row.on_conflict_do_nothing(index_elements=["key"]).returning(StockMove.id)
        if unit.session.scalar(new) is not None:
            booked += 1
            if order := values["quote_id"]:
                taken[order, move.item] += values["amount"]
            continue
        there = unit.session.scalar(select(StockMove).where(StockMove.key == key))
        if there is None or any(getattr(there, name) != value for name, value in values.items()):
            raise Conflict(
                f"{key[:80]!r} was booked before, and was something else.",
                where="key",
                remedy="Load the page again, and look at the moves of the item.",
                code="key-taken",
            )
    for (order, item), amount in taken.items():
        need = update(OrderNeed).where(OrderNeed.quote_id == order, OrderNeed.item == item)
        unit.session.execute(need.values(taken=OrderNeed.taken + amount))
    return booked


def add_count(
    unit: Unit,
    key: str,
    item: str,
    amount: Decimal,
    *,
    why: Literal["counted", "weighed"],
    note: str,
) -> None:
    """Book what was counted or weighed: the difference to what the ledger says just then.

    Raises
    ------
    Conflict
        If the key was booked before with something else than a count of the item.
    """
    there = unit.session.scalar(select(StockMove).where(StockMove.key == key))
    if there is not None and (there.item, there.why, there.note) == (item, why, note):
        return  # the same press again
    known = unit.session.scalar(select(func.sum(StockMove.amount)).where(StockMove.item == item))
    difference = amount - amount_of(known or 0)
    add_moves(unit, [(key, Move(item, difference, why, "", now(), note))])


def on_hand(at: Reads, items: Sequence[str] | None = None) -> dict[str, Decimal]:
    """Add up every item's moves, or those of some."""
    query = select(StockMove.item, func.sum(StockMove.amount)).group_by(StockMove.item)
    if items is not None:
        query = query.where(StockMove.item.in_(items))
    with at.reading() as session:
        return {item: amount_of(total) for item, total in session.execute(query).all()}


def is_order(at: Reads, order_id: int) -> bool:
    """Whether there is a quote of that id: moves may be booked for it."""
    with at.reading() as session:
        return session.get(Quote, order_id) is not None


def last_costs(at: Reads) -> dict[str, Decimal]:
    """Return what a unit of each item cost when it came last, where that is known."""
    newest = select(func.max(StockMove.id)).where(StockMove.cost != "").group_by(StockMove.item)
    with at.reading() as session:
        rows = session.execute(
            select(StockMove.item, StockMove.cost).where(StockMove.id.in_(newest))
        ).all()
    return {item: Decimal(cost) for item, cost in rows}


def free_thread(at: Reads) -> dict[str, float]:
    """Return the metres of each thread that no open order still needs, by "kind|colour"."""
    there = {key: amount for key, amount in on_hand(at).items() if read_key(key).kind == "thread"}
    for item, amount in promised_sums(at).items():
        if item in there:
            there[item] -= amount
    return {
        read_key(key).name: float(amount) for key, amount in sorted(there.items()) if amount > 0
    }


def taken_for(at: Reads, order_id: int) -> dict[str, Decimal]:
    """Return what was taken of each item for an order, less what was given back."""
    with at.reading() as session:
        rows = session.execute(
            select(StockMove.item, func.sum(StockMove.amount))
            .where(StockMove.quote_id == order_id)
            .group_by(StockMove.item)
        ).all()
    return {item: -amount_of(total) for item, total in rows}


def settled_for(at: Reads, order_id: int) -> dict[str, Decimal]:
    """Return what was booked of each item when an order was done; below zero is taken."""
    with at.reading() as session:
        rows = session.execute(
            select(StockMove.item, func.sum(StockMove.amount))
            .where(StockMove.quote_id == order_id, StockMove.key.startswith(f"settle:{order_id}:"))
            .group_by(StockMove.item)
        ).all()
    return {item: amount_of(total) for item, total in rows}


def logged_items(at: Reads, order_id: int) -> set[str]:
    """Return the items of which the log has booked what an order really took."""
    with at.reading() as session:
        return set(
            session.scalars(
                select(StockMove.item).where(
                    StockMove.quote_id == order_id, StockMove.key.startswith("log:")
                )
            )
        )


def list_moves(
    at: Reads, *, item: str = "", order_id: int = 0, before: int = 2**53, limit: int = 50
) -> list[KeptMove]:
    """List moves, the last first: of an item, of an order, or all."""
    query = (
        select(StockMove, Quote.number)
        .outerjoin(Quote, Quote.id == StockMove.quote_id)
        .where(StockMove.id < before)
        .order_by(StockMove.id.desc())
        .limit(limit)
    )
    if item:
        query = query.where(StockMove.item == item)
    if order_id:
        query = query.where(StockMove.quote_id == order_id)
    with at.reading() as session:
        return [_move(row, number) for row, number in session.execute(query).all()]


def _move(row: StockMove, number: str | None) -> KeptMove:
    return KeptMove(
        row.id,
        row.item,
        amount_of(row.amount),
        row.why,
        row.quote_id or 0,
        number or "",
        row.made_on,
        row.note,
        row.cost,
    )


def every_move(at: Reads) -> list[tuple[str, KeptMove]]:
    """List all moves with their keys, the first first."""
    query = (
        select(StockMove, Quote.number)
        .outerjoin(Quote, Quote.id == StockMove.quote_id)
        .order_by(StockMove.id)
    )
    with at.reading() as session:
        return [(row.key, _move(row, number)) for row, number in session.execute(query).all()]


def count_moves(at: Reads, item: str) -> int:
    """Say how many moves an item has."""
    with at.reading() as session:
        found = select(func.count()).select_from(StockMove).where(StockMove.item == item)
        return session.scalar(found) or 0


_ORDERS = "FROM work_order w JOIN quote q ON q.id = w.quote_id"
_OPEN = """
    w.state IN ('accepted', 'waiting', 'ready', 'in-work')
    AND q.deleted_on IS NULL
    AND EXISTS (SELECT 1 FROM quote_version v WHERE v.quote_id = q.id AND v.answer = 'accepted')
"""
_BY_PROMISE = f"""
    SELECT w.quote_id, q.number, w.promised_on {_ORDERS} WHERE {_OPEN}
    ORDER BY w.promised_on = '', w.promised_on, w.quote_id
"""
_LEFT = f"""
    {_ORDERS} JOIN order_need n ON n.quote_id = w.quote_id
    WHERE {_OPEN} AND n.amount + n.taken > 0
"""
"""What open orders still need: what each needs of an item less what was taken for it."""

_NEEDS = f"SELECT w.quote_id, n.item, n.amount + n.taken {_LEFT}"


def _uncovered(at: Reads, *, item: str = "") -> list[tuple[Any, str, int, int]]:
    """List open needs, those promised first before.

    Returns
    -------
    list of (order's row, item, need, short)
        In thousandths; short is what the shelf does not cover.
    """
    query = _NEEDS + (" AND n.item = :item" if item else "")
    hand = select(StockMove.item, func.sum(StockMove.amount)).group_by(StockMove.item)
    by_order: dict[int, list[tuple[str, int]]] = defaultdict(list)
    with at.reading() as session:
        for order, key, need in session.execute(text(query), {"item": item}).all():
            by_order[order].append((key, need))
        orders = session.execute(text(_BY_PROMISE)).all()
        there = {key: int(total) for key, total in session.execute(hand)}
    rows = [(row, key, need) for row in orders for key, need in by_order.get(row[0], ())]
    shorts = uncovered([(key, need) for _, key, need in rows], there)
    return [(*row, short) for row, short in zip(rows, shorts, strict=True)]


def promised_sums(at: Reads) -> dict[str, Decimal]:
    """Add up what open orders still need of each item."""
    query = text(f"SELECT n.item, sum(n.amount + n.taken) {_LEFT} GROUP BY n.item")
    with at.reading() as session:
        return {item: amount_of(total) for item, total in session.execute(query)}


def open_needs(at: Reads, *, item: str = "", short: bool = False) -> list[OpenNeed]:
    """List what open orders still need, those promised first before: of one item, or all.

    Parameters
    ----------
    at : Reads
    item : str
        "" for every item.
    short : bool
        Only what the shelf does not cover.
    """
    return [
        OpenNeed(order, number, key, amount_of(need), amount_of(lacks), promised_on)
        for (order, number, promised_on), key, need, lacks in _uncovered(at, item=item)
        if lacks or not short
    ]


def shares_of(at: Reads, order_id: int) -> dict[str, tuple[Decimal, Decimal]]:
    """Say by item what the shelf covers of an open order's need, and what it does not."""
    before = f"""
        SELECT n.item, sum(n.amount + n.taken) {_LEFT}
          AND n.item IN (SELECT item FROM order_need WHERE quote_id = :order)
          AND (w.promised_on = '', w.promised_on, w.quote_id) < (
            SELECT promised_on = '', promised_on, quote_id FROM work_order WHERE quote_id = :order)
        GROUP BY n.item
    """
    asked = {"order": order_id}
    with at.reading() as session:
        mine = session.execute(text(f"{_NEEDS} AND w.quote_id = :order"), asked).all()
        earlier = [(item, int(total)) for item, total in session.execute(text(before), asked)]
        items = [item for _, item, _ in mine]
        hand = select(StockMove.item, func.sum(StockMove.amount)).where(StockMove.item.in_(items))
        there = {i: int(t) for i, t in session.execute(hand.group_by(StockMove.item))}
    needs = [(item, need) for _, item, need in mine]
    shorts = uncovered([*earlier, *needs], there)[len(earlier) :]
    return {
        item: (amount_of(need - lacks), amount_of(lacks))
        for (item, need), lacks in zip(needs, shorts, strict=True)
    }


def count_lacks(at: Reads) -> dict[int, int]:
    """Say how many items each open order is short of."""
    return Counter(row[0] for row, _, _, lacks in _uncovered(at) if lacks)


def needs_kept(at: Reads, order_id: int) -> list[tuple[str, Decimal]]:
    """List what an order needs of the shelf: (item, how much)."""
    with at.reading() as session:
        rows = session.execute(
            select(OrderNeed.item, OrderNeed.amount)
            .where(OrderNeed.quote_id == order_id)
            .order_by(OrderNeed.n)
        ).all()
    return [(item, amount_of(amount)) for item, amount in rows]


def list_items(at: Reads) -> dict[str, KnownItem]:
    """Return what is known of items, by key."""
    with at.reading() as session:
        rows = session.scalars(select(StockItem)).all()
    return {
        row.item: KnownItem(
            row.item, row.label, row.unit, amount_of(row.minimum), row.supplier, row.place
        )
        for row in rows
    }


def known_labels(at: Reads) -> dict[str, str]:
    """Return what orders called the items they needed, by key."""
    query = select(OrderNeed.item, func.max(OrderNeed.label)).group_by(OrderNeed.item)
    with at.reading() as session:
        return dict(session.execute(query).all())


def keep_item(unit: Unit, item: KnownItem) -> None:
    """Write what is known of an item."""
    values = {
        "label": item.label,
        "unit": item.unit,
        "minimum": thousandths(item.minimum),
        "supplier": item.supplier,
        "place": item.place,
    }
    session = unit.session
    session.execute(
        insert(StockItem)
        .values(item=item.item, **values)
        .on_conflict_do_update(index_elements=["item"], set_=values)
    )


@dataclass(frozen=True, slots=True)
class KeptPurchase:
    """What was ordered of a supplier, by "service" or "hand"; `rows` are plain documents."""

    id: int
    supplier: str
    state: str
    revision: int
    sent_by: str
    ordered_on: str
    rows: list[dict[str, Any]]
    trouble: str


def _purchase(row: Purchase) -> KeptPurchase:
    return KeptPurchase(
        row.id,
        row.supplier,
        row.state,
        row.revision,
        row.sent_by,
        row.ordered_on,
        json.loads(row.rows),
        row.trouble,
    )


def find_pressed(at: Reads, key: str) -> KeptPurchase | None:
    """Return the order to a supplier that a press made before, None if it made none."""
    with at.reading() as session:
        row = session.scalar(select(Purchase).where(Purchase.key == key)) if key else None
        return _purchase(row) if row else None


def add_purchase(
    unit: Unit,
    supplier: str,
    rows: Sequence[Mapping[str, Any]],
    *,
    sent_by: str,
    trouble: str = "",
    key: str = "",
) -> KeptPurchase:
    """Keep an order to a supplier.

    Parameters
    ----------
    key : str
        Of the press that makes it, "" for none; `find_pressed` tells whether it made one before.
    """
    row = Purchase(
        supplier=supplier,
        state="open",
        revision=1,
        sent_by=sent_by,
        ordered_on=today(),
        rows=json.dumps(list(rows)),
        trouble=trouble,
        key=key or None,
    )
    unit.session.add(row)
    unit.session.flush()
    return _purchase(row)


def list_purchases(
    at: Reads, *, state: str = "", before: int = 2**53, limit: int | None = None
) -> list[KeptPurchase]:
    """List orders to suppliers, the last first; "" all of them."""
    query = select(Purchase).where(Purchase.id < before).order_by(Purchase.id.desc()).limit(limit)
    if state:
        query = query.where(Purchase.state == state)
    with at.reading() as session:
        return [_purchase(row) for row in session.scalars(query)]


def count_purchases(at: Reads, *, state: str = "") -> int:
    """Count orders to suppliers; "" all of them."""
    query = select(func.count()).select_from(Purchase)
    if state:
        query = query.where(Purchase.state == state)
    with at.reading() as session:
        return session.scalar(query) or 0


def _stale() -> Stale:
    return Stale(
        "the order to the supplier was changed elsewhere since.",
        kept=None,
        where="revision",
        remedy="Look at it again.",
    )


def find_purchase(at: Reads, purchase_id: int, *, seen: int | None = None) -> KeptPurchase:
    """Return an order to a supplier.

    Raises
    ------
    NotFound
    Stale
        If a revision was seen, and it was changed since.
    """
    with at.reading() as session:
        row = session.get(Purchase, purchase_id)
        if row is None:
            raise NotFound(
                f"there is no order {purchase_id} to a supplier.",
                where="purchase",
                remedy="Choose one of the list.",
                code="purchase-unknown",
            )
        if seen is not None and row.revision != seen:
            raise _stale()
        return _purchase(row)


def change_purchase(
    unit: Unit,
    purchase_id: int,
    *,
    seen: int,
    rows: Sequence[Mapping[str, Any]],
    state: str,
    trouble: str = "",
    moves: Iterable[tuple[str, Move]] = (),
    costs: Mapping[str, str] | None = None,
) -> KeptPurchase:
    """Change an order to a supplier, and book what came of it, in one step.

    Raises
    ------
    Stale
        If it was changed since the revision seen; nothing is written then.
    """
    session = unit.session
    written = session.execute(
        update(Purchase)
        .where(Purchase.id == purchase_id, Purchase.revision == seen)
        .values(
            rows=json.dumps(list(rows)),
            state=state,
            trouble=trouble,
            revision=Purchase.revision + 1,
        )
        .returning(Purchase.id)
    ).first()
    if written is None:
        raise _stale()
    add_moves(unit, moves, costs=costs)
    row = session.get(Purchase, purchase_id)
    assert row is not None
    return _purchase(row)


def forget_purchase(unit: Unit, purchase_id: int, *, seen: int) -> None:
    """Take back an order to a supplier of which nothing came.

    Raises
    ------
    Stale
    """
    session = unit.session
    gone = session.execute(
        delete(Purchase)
        .where(Purchase.id == purchase_id, Purchase.revision == seen)
        .returning(Purchase.id)
    ).first()
    if gone is None:
        raise _stale()
