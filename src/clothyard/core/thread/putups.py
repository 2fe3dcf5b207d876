"""Put-ups: the cheapest set of spools and cones that holds a length of thread."""

from __future__ import annotations

import math
from collections.abc import Mapping
from decimal import Decimal
from functools import lru_cache

from clothyard.core.house.document import PutUp
from clothyard.core.units import LENGTH_EPSILON, exact

Bought = tuple[tuple[str, int], ...]


def cheapest_put_ups(
    length_m: float, putups: Mapping[str, PutUp], *, price_factor: Decimal = Decimal(1)
) -> tuple[Bought, Decimal]:
    """Find the put-ups to buy for a length of one colour.

    Parameters
    ----------
    length_m : float
        Thread of the colour over the whole order. [m]
    putups : mapping of id to PutUp
        What is sold.
    price_factor : Decimal
        The thread kind's price against the put-ups listed.

    Returns
    -------
    (((id, count), …), price)
        Dearest put-up first; among equal prices the one with the fewest pieces.

    Source
    ------
    docs/formulas.md 2: the cheapest set of put-ups that covers the order.

    >>> from clothyard.core.house.check import default_house
    >>> cheapest_put_ups(1150.0, default_house().putups)
    ((('king-1000', 1), ('spool-200', 1)), Decimal('3.60'))
    """
    kinds = tuple((key, p.length_m, p.price * price_factor) for key, p in putups.items())
    if length_m <= LENGTH_EPSILON:
        return (), Decimal(0)
    return _cover(length_m, kinds)


@lru_cache(maxsize=2048)
def _cover(
    length_m: float, kinds: tuple[tuple[str, float, Decimal], ...]
) -> tuple[Bought, Decimal]:
    """Branch over how many of each put-up, the best value first, and cut what cannot be cheaper."""
    ordered = sorted(kinds, key=lambda kind: (kind[2] / exact(kind[1]), -kind[1]))
    best: list[tuple[Decimal, int, dict[str, int]]] = []

    def go(at: int, left: float, price: Decimal, taken: dict[str, int]) -> None:
        if left <= LENGTH_EPSILON:
            mine = (price, sum(taken.values()))
            if not best or mine < best[0][:2]:
                best[:] = [(*mine, dict(taken))]
            return
        if at == len(ordered):
            return
        key, length, cost = ordered[at]
        if best and price + exact(left) * cost / exact(length) > best[0][0]:
            return
        for n in range(math.ceil(left / length - LENGTH_EPSILON), -1, -1):
            go(at + 1, left - n * length, price + n * cost, taken | ({key: n} if n else {}))

    go(0, length_m, Decimal(0), {})
    price, _, taken = best[0]
    by_price = {key: cost for key, _, cost in kinds}
    return tuple(sorted(taken.items(), key=lambda item: -by_price[item[0]])), price
