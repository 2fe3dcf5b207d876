"""The simulated supplier: confirms, delivers in part or late, changes a price, has none left.

Its protocol is small and open: see docs/formats.md. Any supplier's own service that answers so can
take its place.
"""

from __future__ import annotations

import hashlib
import random
import urllib.error
import urllib.request
from collections.abc import Mapping
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from typing import Any, Literal, Protocol

from pydantic import BaseModel, ConfigDict, Field

Answer = Literal["confirmed", "part", "late", "out-of-stock"]
TIMEOUT_S = 5
MOST_BYTES = 1_000_000


class SupplierError(Exception):
    """The supplier did not answer, or not in its protocol; the words say which."""


class AskedRow(BaseModel):
    """A row of an order: so many packs of what, at which price each."""

    model_config = ConfigDict(extra="forbid")

    ref: str = Field(max_length=40)
    item: str = Field(max_length=200)
    name: str = Field(max_length=300)
    count: int = Field(ge=1, le=1_000_000)
    price: str = Field(max_length=20)


class Asked(BaseModel):
    """An order to a supplier (clothyard-purchase/1)."""

    model_config = ConfigDict(extra="forbid")

    format: Literal["clothyard-purchase/1"] = "clothyard-purchase/1"
    number: str = Field(max_length=80)
    supplier: str = Field(max_length=80)
    ordered_on: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")
    days: int = Field(ge=0, le=365)
    rows: list[AskedRow] = Field(min_length=1, max_length=500)


class AnsweredRow(BaseModel):
    """What comes of a row: how many, on which day, at which price each, and why."""

    ref: str
    answer: Answer
    count: int
    expected_on: str
    price: str
    note: str


class Answered(BaseModel):
    """A supplier's answer to an order."""

    format: Literal["clothyard-purchase-answer/1"] = "clothyard-purchase-answer/1"
    number: str
    rows: list[AnsweredRow]


class SupplierService(Protocol):
    """Who takes orders: a supplier's service, or its stand-in."""

    def order(self, asked: Asked) -> Answered:
        """Take an order; the same one again gets the same answer.

        Raises
        ------
        SupplierError
        """


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


class HttpSupplier:
    """A supplier's service over HTTP.

    Parameters
    ----------
    address : str
        Where it is, without what follows the name.
    """

    def __init__(self, address: str):
        self.address = address.rstrip("/")

    def order(self, asked: Asked) -> Answered:
        """Send an order.

        Raises
        ------
        SupplierError
        """
        request = urllib.request.Request(
            f"{self.address}/orders",
            data=asked.model_dump_json().encode(),
            headers={"content-type": "application/json"},
            method="POST",
        )
        try:
            with urllib.request.urlopen(request, timeout=TIMEOUT_S) as response:
                found = Answered.model_validate_json(response.read(MOST_BYTES))
        except (urllib.error.URLError, OSError) as error:
            reason = getattr(error, "reason", error)
            raise SupplierError(f"the supplier's service does not answer ({reason})") from None
        except ValueError:
            raise SupplierError("the supplier's service answers in no known form") from None
        refs = {row.ref for row in asked.rows}
        if {row.ref for row in found.rows} != refs:
            raise SupplierError("the supplier's service answered other rows than were asked")
        return found


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
