"""Goods: what blanks cost at a quantity, by supplier's breaks and packs, and the spares to buy."""

from __future__ import annotations

import math
from collections.abc import Sequence
from decimal import Decimal

from clothyard.core.house import Spoilage
from clothyard.core.job import Goods, Line
from clothyard.core.price.spares import spares_needed
from clothyard.core.record import record

ZERO = Decimal(0)


@record
class GoodsBought:
    """Blanks of a line at a quantity.

    `bought` may be more than the pieces, where that costs less or packs hold more; `each` is the
    mean price of one bought; `total` holds the delivery. Not rounded.
    """

    bought: int
    each: Decimal
    total: Decimal


def _mean_each(line: Line) -> Decimal:
    """Mean price of a blank over the cells, without breaks."""
    base = line.goods.unit_cost or ZERO
    if not line.cells:
        return base
    total = sum(
        (c.quantity * (base if c.unit_cost is None else c.unit_cost) for c in line.cells), ZERO
    )
    return total / line.quantity


def _break_share(goods: Goods, bought: int) -> Decimal:
    """Price at a bought quantity against the undiscounted one; cells follow in proportion."""
    base = goods.unit_cost or (goods.price_breaks[0].unit_cost if goods.price_breaks else ZERO)
    price = base
    for found in sorted(goods.price_breaks, key=lambda b: b.quantity):
        if found.quantity <= bought:
            price = found.unit_cost
    return price / base if base else Decimal(1)


def goods_bought(line: Line, quantity: int) -> GoodsBought:
    """Buy blanks for a quantity as cheaply as breaks and packs allow.

    Parameters
    ----------
    line : Line
        Its goods' breaks, pack and delivery; its cells' own prices.
    quantity : int
        Good pieces.

    Returns
    -------
    GoodsBought
        The least, over m ≥ quantity in whole packs, of m × price(m), and the delivery.

    Source
    ------
    docs/formulas.md 11. The customer's own cost nothing.
    """
    goods = line.goods
    if goods.supplied_by == "customer":
        return GoodsBought(quantity, ZERO, ZERO)
    mean = _mean_each(line)
    wanted = [quantity, *(b.quantity for b in goods.price_breaks if b.quantity > quantity)]
    best: tuple[Decimal, int, Decimal] | None = None
    for m in wanted:
        whole = math.ceil(m / goods.pack) * goods.pack
        each = mean * _break_share(goods, whole)
        if best is None or (whole * each, whole) < best[:2]:
            best = (whole * each, whole, each)
    assert best is not None
    return GoodsBought(best[1], best[2], best[0] + goods.delivery)


def spares_for(line: Line, quantity: int, *, spoil: float, rules: Spoilage) -> int:
    """Return the spares to buy for a quantity; none of the customer's own goods.

    Over the cells at the asked quantity, as one kind at any other. Packs are rounded up: what a
    pack holds beyond the pieces counts as spares.

    Source: docs/formulas.md 10.
    """
    goods = line.goods
    if goods.supplied_by == "customer":
        return 0
    cells: Sequence[int] = [quantity]
    costs: list[float] | None = None
    if line.cells and quantity == line.quantity:
        base = goods.unit_cost or ZERO
        cells = [cell.quantity for cell in line.cells]
        costs = [float(base if c.unit_cost is None else c.unit_cost) for c in line.cells]
    found = sum(spares_needed(cells, spoil=spoil, confidence=rules.confidence, costs=costs))
    if goods.pack == 1:
        return found
    whole = math.ceil((quantity + found) / goods.pack) * goods.pack
    return whole - quantity
