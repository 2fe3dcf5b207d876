"""Blanks compared by trial: what a good one comes to, its minutes and what is spoiled with it."""

from __future__ import annotations

from decimal import Decimal

from clothyard.core.house.document import House
from clothyard.core.price.amounts import ZERO
from clothyard.core.units import exact

MINUTES_AN_HOUR = 60


def minute_rate(house: House, machine_id: str = "") -> Decimal:
    """Return what a minute of hands and machine costs: labour, overhead, that machine.

    Parameters
    ----------
    house : House
    machine_id : str
        "" or unknown: the shop's first.
    """
    machine = house.machines.get(machine_id) or next(iter(house.machines.values()))
    hour = house.rates.labour_per_h + house.rates.overhead_per_h + machine.rate_per_h
    return hour / MINUTES_AN_HOUR


def good_cost(
    price: Decimal,
    minutes: float,
    *,
    tried: int,
    spoiled: int,
    a_minute: Decimal,
    materials: Decimal = ZERO,
) -> Decimal | None:
    """Cost a good piece: the blank and its minutes, the spoiled ones borne by the good.

    Parameters
    ----------
    price : Decimal
        Of one blank. [money]
    minutes : float
        Of a piece, hands and machine. [min]
    tried, spoiled : int
        Pieces sewn, and of them those that were lost.
    a_minute : Decimal
        See `minute_rate`. [money]
    materials : Decimal
        Thread and backing of a piece. [money]

    Returns
    -------
    Decimal or None
        Not rounded; None where none was good.

    Source
    ------
    docs/formulas.md 10: what is lost is shared by what is good.
    """
    good = tried - spoiled
    if good < 1:
        return None
    return (price + materials + exact(minutes) * a_minute) * tried / good
