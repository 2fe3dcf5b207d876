"""Three ways to price: margin, stitch rate, hour rate."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal
from typing import Protocol

from clothyard.core.house import House, Price, PriceMethod
from clothyard.core.price.line import HOUR, LineCost
from clothyard.core.price.plan import ZERO, LinePlan, PlacementPlan
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.units import exact

BOUGHT, OWN, CHECK = "Digitising, bought", "Digitising", "Stitch file check"


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


def _marked_up_goods(cost: LineCost, price: Price) -> Decimal:
    return cost.parts["goods"] / cost.quantity * (1 + price.goods_mark_up)


def letters_of(name: str) -> int:
    """Count a name's letters: all but its spaces."""
    return sum(not char.isspace() for char in name)


def names_price(placed: PlacementPlan, price: Price) -> Decimal:
    """Price a piece's name: a price that holds some letters, and so much for each further one.

    Of several names the mean; while none is given, a name of the house's length.

    Source: docs/formulas.md 11.
    """
    if placed.own is None:
        return ZERO
    names = placed.own.names
    over = sum(max(0, letters_of(name) - price.name_letters) for name in names)
    more = Decimal(over) / len(names) if names else ZERO
    return price.name + more * price.name_letter


def stitch_rate_price(plan: LinePlan, cost: LineCost) -> Decimal:
    """Price a piece by the stitch rate. Not rounded.

    Source: docs/formulas.md 11 and 14: per placement max(least, stitches / 1000 × rate at q),
    goods marked up, names, set-up at cost ÷ q.
    """
    rate = stitch_rate_at(plan.house, cost.quantity + cost.order.alike)
    stitching = sum(
        (
            max(plan.house.price.stitch_rate_least, exact(done.stitches) / 1000 * rate)
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

    Source: docs/formulas.md 11 and 14: goods marked up, materials, machine and hand hours at
    their charges, set-up and sample hours counted.
    """
    price = plan.house.price
    machine_s = cost.run.machine_s + (cost.sample.machine_s if cost.sample else 0.0)
    hand_s = cost.labour_s + cost.set_up_s
    hours = exact(machine_s) / HOUR * price.machine_charge_per_h
    hours += exact(hand_s) / HOUR * price.hand_charge_per_h
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
    """Price a piece at this quantity one of the three ways, net. Not rounded."""
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


def digitising_even(house: House) -> int | None:
    """Return the stitches over which bought digitising costs less than own; None if never.

    Source: docs/formulas.md 11: own a + b·n against the larger of a least and c·n.
    """
    rules, rates = house.digitising, house.rates
    hour = rates.labour_per_h + rates.overhead_per_h
    start, each = exact(rules.own_s) / HOUR * hour, exact(rules.own_per_1000_s) / HOUR * hour
    price, least = rules.supplier_per_1000, rules.supplier_least
    if start >= least:
        return 0
    if each <= 0:
        return None
    even = (least - start) / each
    dearer_again = None if each >= price else start / (price - each)
    if dearer_again is not None and even >= dearer_again:
        return None
    return int(even * 1000)


def digitising_cost(how: str, facts: DesignFacts, house: House) -> tuple[str, Decimal]:
    """Name and cost what one new design's stitch file takes."""
    rules = house.digitising
    design = sum(block.stitches for block in facts.blocks if block.role == "design")
    if how == "supplier" and facts.source == "count":
        thousands = exact(design) / 1000
        return BOUGHT, max(rules.supplier_least, rules.supplier_per_1000 * thousands)
    if facts.source == "file":
        name, seconds = CHECK, rules.check_s
    else:
        name, seconds = OWN, rules.own_s + rules.own_per_1000_s * design / 1000
    return name, exact(seconds) / HOUR * (house.rates.labour_per_h + house.rates.overhead_per_h)


def digitising_costs(plans: Sequence[LinePlan], house: House) -> list[tuple[str, Decimal]]:
    """Return what an order's new designs take to digitise: (name, cost) each sort. Not rounded.

    Each design once, however many lines and places it has; of lines that differ in how, the
    dearest. "none" costs nothing; "own" (the default) is time at labour and overhead, a supplied
    file only its check; "supplier" is the supplier's price for a count, the check for a file.
    Words from our own lettering cost nothing.

    Source: docs/formulas.md 8 and 14.
    """
    found: dict[str, tuple[Decimal, str]] = {}
    repeats = {
        planned.facts.identity
        for plan in plans
        for placement, planned in zip(plan.line.placements, plan.placements, strict=True)
        if placement.design.repeat
    }
    for plan in plans:
        how = plan.line.digitising or "own"
        for planned in plan.placements:
            key = planned.facts.identity
            if how == "none" or key in repeats or planned.facts.source == "words":
                continue
            name, cost = digitising_cost(how, planned.facts, house)
            found[key] = max(found.get(key, (ZERO, "")), (cost, name))
    sums: dict[str, Decimal] = {}
    for name in (BOUGHT, OWN, CHECK):
        costs = [cost for cost, named in found.values() if named == name]
        if costs:
            sums[name] = sum(costs, ZERO)
    return list(sums.items())
