"""Three ways to price: margin, stitch rate, hour rate."""

from __future__ import annotations

from decimal import Decimal
from typing import Protocol

from clothyard.core.house.document import House, Price, PriceMethod
from clothyard.core.price.amounts import ZERO, hours_at
from clothyard.core.price.cost import LineCost
from clothyard.core.units import exact
from clothyard.core.work.line_plan import LinePlan
from clothyard.core.work.placement_plan import PlacementPlan


def margin_price(
    unit_cost: Decimal,
    *,
    margin: Decimal,
    fee_share: Decimal = ZERO,
    fee_fixed: Decimal = ZERO,
) -> Decimal:
    """Price a cost so that the margin is left after fees. Not rounded.

    Parameters
    ----------
    unit_cost, fee_fixed : Decimal
        Per piece.
    margin, fee_share : Decimal
        Shares of the price; together under 1.

    Source
    ------
    docs/formulas.md 11: (cost + fixed fee) / (1 - margin - fee share).

    >>> round(margin_price(Decimal("9.10"), margin=Decimal("0.35")), 2)
    Decimal('14.00')
    """
    return (unit_cost + fee_fixed) / (1 - margin - fee_share)


def stitch_rate_at(house: House, quantity: int) -> Decimal:
    """Return the rate for a thousand stitches at a quantity: it steps, it is never interpolated.

    Parameters
    ----------
    house : House
        The standards.
    quantity : int
        Pieces.

    Returns
    -------
    Decimal
    """
    rates = sorted(house.stitch_rates.values(), key=lambda rate: rate.quantity)
    found = rates[0].rate
    for rate in rates:
        if rate.quantity <= quantity:
            found = rate.rate
    return found


def _marked_up_goods(cost: LineCost, price: Price) -> Decimal:
    return cost.parts["goods"] / cost.quantity * (1 + price.goods_mark_up)


def letters_of(name: str) -> int:
    """Count a name's letters: all but its spaces."""
    return sum(not char.isspace() for char in name)


def names_price(placed: PlacementPlan, price: Price) -> Decimal:
    """Price a piece's name: a price that holds some letters, and so much for each further one.

    Of several names the mean; while none is given, a name of the house's length.

    Parameters
    ----------
    placed : PlacementPlan
        The placement as planned.
    price : Price
        The rules of pricing.

    Returns
    -------
    Decimal

    Source
    ------
    docs/formulas.md 11.
    """
    if placed.own is None:
        return ZERO
    names = placed.own.names
    over = sum(max(0, letters_of(name) - price.name_letters) for name in names)
    more = Decimal(over) / len(names) if names else ZERO
    return price.name + more * price.name_letter


def stitch_rate_price(plan: LinePlan, cost: LineCost) -> Decimal:
    """Price a piece by the stitch rate. Not rounded.

    Parameters
    ----------
    plan : LinePlan
        Whatever the quantity.
    cost : LineCost
        At its quantity, order-level shares counted.

    Returns
    -------
    Decimal

    Source
    ------
    docs/formulas.md 11 and 14: per placement max(least, stitches / 1000 × rate at q),
    goods marked up, names, set-up at cost ÷ q.
    """
    rate = stitch_rate_at(plan.house, cost.quantity + cost.order.alike)
    stitching = sum(
        (
            max(plan.house.price.stitch_rate_least, exact(done.stitches) * rate / 1000)
            * done.pieces
            / cost.quantity
            + names_price(p, plan.house.price) * done.pieces / cost.quantity
            for p, done in zip(plan.placements, cost.passes, strict=True)
        ),
        ZERO,
    )
    set_up = cost.parts["set_up"] / cost.quantity
    return stitching + _marked_up_goods(cost, plan.house.price) + set_up


def hour_rate_price(plan: LinePlan, cost: LineCost) -> Decimal:
    """Price a piece by the hour rate. Not rounded.

    Parameters
    ----------
    plan : LinePlan
        Whatever the quantity.
    cost : LineCost
        At its quantity, order-level shares counted.

    Returns
    -------
    Decimal

    Source
    ------
    docs/formulas.md 11 and 14: goods marked up, materials, machine and hand hours at
    their charges, set-up and sample hours counted.
    """
    price = plan.house.price
    machine_s = cost.done.machine_s + (cost.done.sample_machine_s if cost.sample else 0.0)
    hand_s = cost.done.labour_s + cost.set_up_s
    hours = hours_at(machine_s, price.machine_charge_per_h)
    hours += hours_at(hand_s, price.hand_charge_per_h)
    each = (cost.run.materials + hours) / cost.quantity
    return _marked_up_goods(cost, price) + each


class Fees(Protocol):
    """Fees of a net price: a share of it, and a fixed one an order."""

    @property
    def fee_share(self) -> Decimal:
        """Share of the net price."""

    @property
    def fee_fixed(self) -> Decimal:
        """An order."""


def way_price(
    way: PriceMethod, plan: LinePlan, cost: LineCost, *, margin: Decimal, terms: Fees
) -> Decimal:
    """Price a piece at this quantity one of the three ways, net. Not rounded.

    Parameters
    ----------
    way : PriceMethod
        Which of the three.
    plan : LinePlan
        Whatever the quantity.
    cost : LineCost
        At its quantity, order-level shares counted.
    margin : Decimal
        Target, a share of the net price.
    terms : Fees
        Fees on what is paid.

    Returns
    -------
    Decimal
        In the house's currency.
    """
    if way == "stitch-rate":
        return stitch_rate_price(plan, cost)
    if way == "hour-rate":
        return hour_rate_price(plan, cost)
    return margin_price(
        cost.total / cost.quantity,
        margin=margin,
        fee_share=terms.fee_share,
        fee_fixed=terms.fee_fixed / cost.quantity,
    )
