"""What is asked of a supplier (clothyard-purchase/1): its documents, and the client.

The protocol is small and open: see docs/formats.md. Any supplier's own service that answers so can
be asked.
"""

from __future__ import annotations

from typing import Literal, Protocol

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from clothyard.core.days import Day, SetDay
from clothyard.ports.client import Device, DeviceError

Answer = Literal["confirmed", "part", "late", "out-of-stock"]


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
    ordered_on: SetDay
    days: int = Field(ge=0, le=365)
    rows: list[AskedRow] = Field(min_length=1, max_length=500)


class AnsweredRow(BaseModel):
    """What comes of a row: how many, on which day, at which price each, and why."""

    ref: str = Field(max_length=40)
    answer: Answer
    count: int = Field(ge=0, le=1_000_000)
    expected_on: Day
    price: str = Field(pattern=r"^\d{1,12}(\.\d{1,6})?$")
    note: str = Field(max_length=500)


class Answered(BaseModel):
    """A supplier's answer to an order."""

    format: Literal["clothyard-purchase-answer/1"] = "clothyard-purchase-answer/1"
    number: str = Field(max_length=80)
    rows: list[AnsweredRow] = Field(max_length=500)


class SupplierService(Protocol):
    """Who takes orders: a supplier's service, or its stand-in."""

    def order(self, asked: Asked) -> Answered:
        """Take an order; the same one again gets the same answer.

        Raises
        ------
        SupplierError
        """


class HttpSupplier:
    """A supplier's service over HTTP.

    Parameters
    ----------
    address : str
        Where it is, without what follows the name.
    """

    def __init__(self, address: str):
        self.device = Device(address)

    def order(self, asked: Asked) -> Answered:
        """Send an order.

        Raises
        ------
        SupplierError
        """
        try:
            told = self.device.ask("POST", "/orders", asked.model_dump_json().encode())
            found = Answered.model_validate(told)
        except DeviceError as error:
            said = str(error).removeprefix("it ").rstrip(".")
            raise SupplierError(f"the supplier's service {said}") from None
        except ValidationError:
            raise SupplierError("the supplier's service answers in no known form") from None
        refs = sorted(row.ref for row in asked.rows)
        if sorted(row.ref for row in found.rows) != refs:
            raise SupplierError("the supplier's service answered other rows than were asked")
        if found.number != asked.number:
            raise SupplierError("the supplier's service answered another order than was asked")
        return found
