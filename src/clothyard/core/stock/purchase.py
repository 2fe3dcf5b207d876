"""What was ordered of a supplier, row by row."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

RowState = Literal["asked", "confirmed", "part", "late", "out-of-stock"]


class OrderedRow(BaseModel):
    """A row of an order to a supplier: what was asked, answered, and has arrived, in packs.

    `amount` is what one pack holds; `offer` is a changed price that could become the shelf's;
    `arrived_on` the day on which the last of it came.
    """

    item: str
    label: str
    unit: str
    pack: str
    amount: str
    count: int
    confirmed: int
    arrived: int
    price: str
    asked_price: str
    expected_on: str
    state: RowState
    note: str
    closed: bool
    standard: str
    offer: bool
    arrived_on: str = ""
