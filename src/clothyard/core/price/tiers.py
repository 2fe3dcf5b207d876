"""Prices by quantity: never rising, and never more for fewer."""

from __future__ import annotations

import math
from collections.abc import Callable
from decimal import Decimal

from clothyard.core.house.document import TierMode
from clothyard.core.record import record
from clothyard.core.units import floor_money


@record
class Inversion:
    """Quantities that would cost more than a later tier."""

    first: int
    last: int
    offer: int


class PriceLadder:
    """Unit prices at any quantity, from the method's raw price at that quantity.

    Parameters
    ----------
    tiers : iterable of int
        Quantities of the price table.
    raw : callable, quantity to Decimal
        The method's price at the cost of that quantity, rounded up to the house step.
    mode : smooth or stepped
    currency : str
    least : Decimal
        The minimum order: what a customer pays for any quantity at least.
    bound : callable, (first, last) to Decimal, optional
        No raw price of these quantities is more than this; told from the last of them.

    Notes
    -----
    From the largest tier down, unit(tier) = max(raw(tier), unit(next tier)). Between tiers
    unit(q) = min(unit(tier at or below), max(raw(x) for q ≤ x < next tier, unit(next tier))), so it
    never rises where cost moves in steps (a bobbin, a row of backing); below the first tier the
    same without the min. Smooth:
    where q·unit(q) still exceeds a later tier's line, unit(q) is that line ÷ q, rounded down to
    the minor unit. Stepped: unit(q) = unit(tier at or below).

    Source
    ------
    docs/formulas.md 11.
    """

    def __init__(
        self,
        tiers: tuple[int, ...],
        raw: Callable[[int], Decimal],
        *,
        mode: TierMode,
        currency: str,
        least: Decimal = Decimal(0),
        bound: Callable[[int, int], Decimal] | None = None,
    ):
        self.tiers = tuple(sorted(set(tiers)))
        self.mode = mode
        self._bound = bound
        self._raw, self._mode, self._currency, self._least = raw, mode, currency, least
        self._rule: dict[int, Decimal] = {}
        self._units: dict[int, Decimal] = {}
        self._left = list(self.tiers)
        self._higher = Decimal(0)

    def _down_to(self, tier: int) -> None:
        """Work the tiers out from the largest down to one."""
        while self._left and self._left[-1] >= tier:
            at = self._left.pop()
            self._higher = self._rule[at] = max(self._raw(at), self._higher)
            self._units[at] = self._smooth(at, self._higher)

    @property
    def units(self) -> dict[int, Decimal]:
        """The unit price at each tier."""
        self._down_to(0)
        return self._units

    def _smooth(self, quantity: int, unit: Decimal) -> Decimal:
        if self._mode != "smooth":
            return unit
        lines = [t * u for t, u in self._units.items() if t > quantity]
        if lines and quantity * unit > min(lines):
            return floor_money(min(lines) / quantity, self._currency)
        return unit

    def unit(self, quantity: int) -> Decimal:
        """Return the unit price at a quantity."""
        below = max((t for t in self.tiers if t < quantity), default=None)
        self._down_to(quantity if below is None or quantity in self.tiers else below)
        if quantity in self._units:
            return self._units[quantity]
        if below is not None and self._mode == "stepped":
            return self._units[below]
        above = min((t for t in self.tiers if t > quantity), default=None)
        least = self._rule[above] if above else Decimal(0)
        if above is not None:
            unit = max(least, self._most(quantity, above))
            return self._smooth(quantity, unit if below is None else min(self._rule[below], unit))
        return min(self._rule[self.tiers[-1]], self._since(self.tiers[-1], quantity))

    def _most(self, first: int, end: int) -> Decimal:
        """Return the highest raw price of a stretch; what lies under its bound is passed over."""
        most, at, width = self._raw(first), first + 1, 2
        while at < end:
            last = min(end, at + width) - 1
            if self._bound is not None and last > at and self._bound(at, last) <= most:
                at, width = last + 1, width * 2
            elif width > 2 and self._bound is not None:
                width //= 2
            else:
                most = max(most, self._raw(at))
                at += 1
        return most

    def _since(self, below: int, quantity: int) -> Decimal:
        """Return the raw price beyond the last tier, kept from rising since it.

        Cost moves in steps (a bobbin, a row of backing, a sample), so raw may rise by a hair.
        The stretch is cut into blocks at below + 1, + 4, + 9 …: no less than the least so far at
        the end of its block, no more than the least so far at its beginning and since.
        """
        n = math.isqrt(quantity - below)
        ends = [below + j * j for j in range(1, n + 1)]
        end = below + (n + 1) ** 2
        least = min(self._raw(q) for q in [*ends, *range(ends[-1] + 1, quantity + 1)])
        return max(least, min(self._raw(q) for q in [*ends, end]))

    def inversions(self) -> list[Inversion]:
        """List the stretches of quantities that cost more than a later tier."""
        found: list[Inversion] = []
        if self._mode == "smooth":
            return found
        for below, above in zip(self.tiers, self.tiers[1:], strict=False):
            line = max(self._least, above * self.units[above])
            bad = [q for q in range(below, above) if q * self.unit(q) > line]
            if bad:
                found.append(Inversion(bad[0], bad[-1], above))
        return found
