"""Amounts that every cost is made of: an hour, a metre of thread."""

from __future__ import annotations

from decimal import Decimal

from clothyard.core.house.document import House
from clothyard.core.units import exact

ZERO = Decimal(0)
HOUR = Decimal(3600)
"""Seconds, to turn time into hours at a rate."""


def thread_price_per_m(house: House, thread_id: str) -> Decimal:
    """Price a metre of thread from the shop's largest put-up.

    Parameters
    ----------
    house : House
    thread_id : str
        Kind of thread, one of the house's.

    Returns
    -------
    Decimal
        [money/m], not rounded.

    Source
    ------
    docs/formulas.md 14: without a shelf every colour counts as on it in cones.
    """
    largest = max(house.putups.values(), key=lambda putup: putup.length_m)
    factor = house.threads[thread_id].price_factor
    return largest.price * factor / exact(largest.length_m)


def hours_at(seconds: float, rate_per_h: Decimal) -> Decimal:
    """Cost some seconds at an hourly rate. Not rounded.

    Parameters
    ----------
    seconds : float
        [s]
    rate_per_h : Decimal
        [money/h]

    Source
    ------
    docs/formulas.md 11.
    """
    return exact(seconds) / HOUR * rate_per_h
