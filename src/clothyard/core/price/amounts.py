"""Amounts that every cost is made of."""

from __future__ import annotations

from decimal import Decimal

from clothyard.core.units import exact

ZERO = Decimal(0)
HOUR = Decimal(3600)
"""Seconds, to turn time into hours at a rate."""


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
    return exact(seconds) * rate_per_h / HOUR
