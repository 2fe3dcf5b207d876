"""Which rates a price is made of, and how many of them nobody has set yet."""

from __future__ import annotations

from pydantic import BaseModel

from clothyard.core.estimate.make import Pricing
from clothyard.core.estimate.rates_used import rates_used
from clothyard.services.house.standards import StandardView, standards_of
from clothyard.store.shop import Shop


class Rate(BaseModel):
    """A rate that a price is made of; `guessed` while it is the one that came with the shop."""

    key: str
    name: str
    value: str
    unit: str
    guessed: bool


class Rates(BaseModel):
    """The rates that a price is made of, and how many of them are still guesses."""

    of: int
    guessed: int
    rates: list[Rate]


def _rate(view: StandardView) -> Rate:
    name = f"{view.of}, {view.name}" if view.of else view.name
    guessed = view.basis == "guess" and not view.changed and not view.added
    return Rate(key=view.key, name=name, value=str(view.value), unit=view.unit, guessed=guessed)


def rates_of(shop: Shop, pricing: Pricing) -> Rates:
    """Say which rates an estimate is made of, and which of them nobody has set yet."""
    rows = [_rate(view) for view in standards_of(shop, rates_used(pricing.lines, pricing.house))]
    return Rates(of=len(rows), guessed=sum(row.guessed for row in rows), rates=rows)
