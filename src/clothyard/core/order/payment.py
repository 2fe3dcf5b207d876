"""What was paid of an order."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict

from clothyard.core.days import Day
from clothyard.core.units import Money, read_typed


class Payment(BaseModel):
    """What was paid on a day; money that was given back is below zero."""

    model_config = ConfigDict(extra="forbid")

    on: Day
    amount: Annotated[Money, BeforeValidator(read_typed)]
    kind: Literal["deposit", "payment", "refund"] = "payment"
