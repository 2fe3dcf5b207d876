"""A shop with many orders like its first, and many moves of what they need."""

from __future__ import annotations

import random
from collections.abc import Sequence
from typing import Any

from sqlalchemy import insert, select, text

from clothyard.store.models import OrderNeed, OrderWork, Quote, QuoteVersion, StockMove, WorkOrder
from clothyard.store.shop import Shop

TAKEN = """
    UPDATE order_need SET taken = coalesce((SELECT sum(amount) FROM stock_move m
    WHERE m.quote_id = order_need.quote_id AND m.item = order_need.item), 0)
"""
"""As the store keeps it beside each booking."""


def many_orders(
    shop: Shop,
    first: int,
    *,
    orders: int,
    moves: int,
    items: Sequence[str] = (),
    chance: random.Random | None = None,
) -> None:
    """Lay so many orders like the first beside it, with promises here and there, and moves.

    With `items` each order needs some of those, at random.
    """
    chance = chance or random.Random(4)
    tables: dict[Any, list[dict[str, Any]]] = {
        Quote: [],
        QuoteVersion: [],
        WorkOrder: [],
        OrderNeed: [],
    }

    def row_like(row: Any, **changes: Any) -> dict[str, Any]:
        return {c.name: getattr(row, c.name) for c in row.__table__.columns} | changes

    with shop.unit() as unit, unit.reading() as session:
        quote, order = session.get(Quote, first), session.get(WorkOrder, first)
        version = session.get(QuoteVersion, (first, 1))
        needs = session.scalars(select(OrderNeed).where(OrderNeed.quote_id == first)).all()
        moved = list(items) or [need.item for need in needs]
        for n in range(first + 1, first + 1 + orders):
            day = f"2026-{chance.randint(6, 12):02d}-{chance.randint(1, 28):02d}"
            promised = day if not items or chance.random() < 0.8 else ""
            tables[Quote].append(row_like(quote, id=n, number=f"Q-{n:04d}"))
            tables[QuoteVersion].append(row_like(version, quote_id=n))
            tables[WorkOrder].append(row_like(order, quote_id=n, promised_on=promised))
            if not items:
                tables[OrderNeed] += [row_like(need, quote_id=n) for need in needs]
                continue
            for k, item in enumerate(sorted(chance.sample(moved, chance.randint(1, len(moved))))):
                amount = chance.randint(0, 30_000)
                tables[OrderNeed].append(
                    row_like(needs[0], quote_id=n, item=item, n=k, amount=amount)
                )
        works = session.scalars(select(OrderWork).where(OrderWork.quote_id == first)).all()
        tables[OrderWork] = [
            row_like(work, quote_id=n)
            for work in works
            for n in range(first + 1, first + 1 + orders)
        ]
        for table, rows in tables.items():
            session.execute(insert(table), rows)
        session.execute(
            insert(StockMove),
            [
                {
                    "key": f"many-{n}",
                    "item": chance.choice(moved),
                    "amount": chance.randint(-900, 999)
                    if not items
                    else chance.randint(-900, 5000),
                    "why": "counted",
                    "quote_id": chance.choice((None, None, chance.randint(first, first + orders))),
                    "made_on": "2026-05-04",
                    "note": "",
                    "cost": "",
                }
                for n in range(moves)
            ],
        )
        session.execute(text(TAKEN))
