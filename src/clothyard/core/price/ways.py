"""Three ways to price: margin, stitch rate, hour rate."""

from __future__ import annotations

from decimal import Decimal

from clothyard.core.house import House, Price
from clothyard.core.job import Line
from clothyard.core.price.line import HOUR, ZERO, LineCost, LinePlan
from clothyard.core.units import exact


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


def margin_of_mark_up(mark_up: Decimal) -> Decimal:
    """Turn a mark-up on cost into a margin on price: m / (1 + m)."""
    return mark_up / (1 + mark_up)


def stitch_rate_at(house: House, quantity: int) -> Decimal:
    """Return the rate for a thousand stitches at a quantity: it steps, it is never interpolated."""
    rates = sorted(house.stitch_rates.values(), key=lambda rate: rate.quantity)
    found = rates[0].rate
    for rate in rates:
        if rate.quantity <= quantity:
            found = rate.rate
    return found


def _marked_up_goods(plan: LinePlan, price: Price) -> Decimal:
    return plan.goods_each * (1 + price.goods_mark_up)


def stitch_rate_price(plan: LinePlan, cost: LineCost) -> Decimal:
    """Price a piece by the stitch rate. Not rounded.

    Source: docs/formulas.md 11 and 14: per placement max(least, stitches / 1000 × rate at q),
    goods marked up, set-up at cost ÷ q.
    """
    rate = stitch_rate_at(plan.house, cost.quantity)
    stitching = sum(
        (
            max(plan.house.price.stitch_rate_least, Decimal(p.stitches) / 1000 * rate)
            for p in plan.placements
        ),
        ZERO,
    )
    set_up = cost.parts["set_up"] / cost.quantity
    return stitching + _marked_up_goods(plan, plan.house.price) + set_up


def hour_rate_price(plan: LinePlan, cost: LineCost) -> Decimal:
    """Price a piece by the hour rate. Not rounded.

    Source: docs/formulas.md 11 and 14: goods marked up, materials, machine and hand hours at
    their charges, set-up and sample hours counted.
    """
    price = plan.house.price
    machine_s = cost.run.machine_s + (cost.sample.machine_s if cost.sample else 0.0)
    hand_s = cost.labour_s + cost.set_up_s
    hours = exact(machine_s) / HOUR * price.machine_charge_per_h
    hours += exact(hand_s) / HOUR * price.hand_charge_per_h
    each = (cost.run.materials + hours) / cost.quantity
    return _marked_up_goods(plan, price) + each


def all_ways(plan: LinePlan, cost: LineCost, *, margin: Decimal) -> dict[str, Decimal]:
    """Return the three prices of a piece at this quantity, none rounded."""
    price = plan.house.price
    return {
        "margin": margin_price(
            cost.total / cost.quantity,
            margin=margin,
            fee_share=price.fee_share,
            fee_fixed=price.fee_fixed / cost.quantity,
        ),
        "stitch-rate": stitch_rate_price(plan, cost),
        "hour-rate": hour_rate_price(plan, cost),
    }


def digitising_seconds(line: Line, plan: LinePlan) -> float:
    """Return own digitising time of a line's new designs, or the file check's. [s]

    Source: docs/formulas.md 8.
    """
    rules = plan.house.digitising
    seconds = 0.0
    for placement, planned in zip(line.placements, plan.placements, strict=True):
        if placement.design.repeat:
            continue
        if planned.facts.source == "file":
            seconds += rules.check_s
        else:
            seconds += rules.own_s + rules.own_per_1000_s * planned.facts.stitches / 1000
    return seconds


def digitising_cost(plan: LinePlan) -> tuple[str, Decimal]:
    """Return the name and the cost of what digitising a line's new designs takes. Not rounded.

    "none" costs nothing; "own" (the default) is time at labour and overhead, a supplied file
    only its check; "supplier" is the supplier's price for a count, the check for a file.
    """
    line, house = plan.line, plan.house
    how = line.digitising or "own"
    if how == "none" or not plan.is_new:
        return "", ZERO
    rates = house.rates
    if how == "supplier":
        bought = ZERO
        rules = house.digitising
        for placement, planned in zip(line.placements, plan.placements, strict=True):
            if placement.design.repeat or planned.facts.source == "file":
                continue
            thousands = Decimal(planned.facts.stitches) / 1000
            bought += max(rules.supplier_least, rules.supplier_per_1000 * thousands)
        if bought:
            return "Digitising, bought", bought
    seconds = exact(digitising_seconds(line, plan))
    cost = seconds / HOUR * (rates.labour_per_h + rates.overhead_per_h)
    files_only = all(p.facts.source == "file" for p in plan.placements)
    return "Stitch file check" if files_only else "Digitising", cost
