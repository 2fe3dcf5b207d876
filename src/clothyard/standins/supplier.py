"""The simulated supplier: confirms, delivers in part or late, changes a price, has none left.

Its protocol is small and open: see docs/formats.md. Any supplier's own service that answers so can
take its place.
"""

from __future__ import annotations

import hashlib
import random
from collections.abc import Mapping
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from typing import Any

from clothyard.ports.supplier import Answer, Answered, AnsweredRow, Asked


def _days_on(day: str, days: int) -> str:
    return (date.fromisoformat(day) + timedelta(days=days)).isoformat()


def answer(asked: Asked, *, seed: int) -> Answered:
    """Answer an order as the simulated supplier does: by its seed and the row, and nothing else.

    Of ten rows about six come whole and on time, one in part, one late, one at another price, and
    one is out of stock.

    Parameters
    ----------
    asked : Asked
    seed : int
    """
    rows = []
    for row in asked.rows:
        said = f"{seed}|{asked.number}|{row.item}|{row.name}"
        chance = random.Random(hashlib.sha256(said.encode()).digest())
        draw = chance.random()
        price, on = Decimal(row.price), _days_on(asked.ordered_on, asked.days)
        kind: Answer = "confirmed"
        count, note = row.count, ""
        if draw < 0.1:
            kind, count, on, note = "out-of-stock", 0, "", "out of stock, nobody knows until when"
        elif draw < 0.2 and row.count > 1:
            kind, count = "part", max(1, row.count * 2 // 3)
            note = f"{count} of {row.count} are there, the rest is not promised"
        elif draw < 0.32:
            kind, on = "late", _days_on(asked.ordered_on, asked.days + chance.randint(2, 9))
            note = "comes later than usual"
        elif draw < 0.44 and price > 0:
            share = Decimal(chance.choice(("1.04", "1.08", "0.97", "1.12")))
            price = (price * share).quantize(Decimal("0.01"), ROUND_HALF_UP)
            note = f"now {price} instead of {row.price}"
        rows.append(
            AnsweredRow(
                ref=row.ref,
                answer=kind,
                count=count,
                expected_on=on,
                price=f"{price:.2f}",
                note=note,
            )
        )
    return Answered(number=asked.number, rows=rows)


class SimulatedSupplier:
    """The stand-in, in this process; `clothyard supplier` serves it in its own."""

    def __init__(self, seed: int = 1):
        self.seed = seed

    def order(self, asked: Asked) -> Answered:
        """Take an order."""
        return answer(asked, seed=self.seed)


def supplier_app(seed: int) -> Any:
    """Return the stand-in as an application to serve: POST /orders, GET /."""
    from fastapi import FastAPI  # noqa: PLC0415 - only where it is served

    app = FastAPI(title="Simulated supplier", openapi_url=None)

    @app.get("/")
    def what() -> Mapping[str, Any]:
        return {"what": "a simulated supplier", "seed": seed, "takes": "clothyard-purchase/1"}

    @app.post("/orders")
    def order(asked: Asked) -> Answered:
        return answer(asked, seed=seed)

    return app
