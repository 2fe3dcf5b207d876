"""Who orders: people at a customer's, and prices that were agreed."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field


class Contact(BaseModel):
    """Somebody at a customer's."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(default="", max_length=200)
    role: str = Field(default="", max_length=200)
    email: str = Field(default="", max_length=200)
    phone: str = Field(default="", max_length=60)


class AgreedPrice(BaseModel):
    """A price a piece that was agreed: for which goods, from how many on, until when.

    `goods` is the id of a class, "" for any; `until` an ISO date, "" for no end.
    """

    model_config = ConfigDict(extra="forbid")

    goods: str = Field(default="", max_length=200)
    unit_price: str = Field(max_length=40)
    from_quantity: int = Field(default=1, ge=1, le=100_000)
    until: str = Field(default="", max_length=10)
    note: str = Field(default="", max_length=500)
