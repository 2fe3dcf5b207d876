"""Digitising: what new designs take, made by oneself, bought, or checked."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal

from clothyard.core.house.document import House
from clothyard.core.job.document import Origin
from clothyard.core.price.amounts import HOUR, ZERO, hours_at
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.units import exact
from clothyard.core.work.line_plan import LinePlan

BOUGHT, OWN, CHECK = "Digitising, bought", "Digitising", "Stitch file check"
DESIGN = "Design, bought"


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
    """Name and cost what one new design's stitch file takes.

    Parameters
    ----------
    how : str
        "own", "supplier" or "none": who makes the files.
    facts : DesignFacts
        Of the design.
    house : House
        The standards.

    Returns
    -------
    tuple[str, Decimal]
    """
    rules = house.digitising
    design = sum(block.stitches for block in facts.blocks if block.role == "design")
    if how == "supplier" and facts.source == "count":
        price = rules.supplier_per_1000 * exact(design) / 1000
        return BOUGHT, max(rules.supplier_least, price)
    if facts.source == "file":
        name, seconds = CHECK, rules.check_s
    else:
        name, seconds = OWN, rules.own_s + rules.own_per_1000_s * design / 1000
    return name, _own_time(seconds, house)


def _own_time(seconds: float, house: House) -> Decimal:
    """Own time at labour and overhead. Not rounded."""
    return hours_at(seconds, house.rates.labour_per_h + house.rates.overhead_per_h)


def design_cost(
    how: str, facts: DesignFacts, origin: Origin | None, house: House
) -> list[tuple[str, Decimal]]:
    """List what one new design takes, by where it comes from: (name, cost) each. Not rounded.

    Parameters
    ----------
    how : str
        "own", "supplier" or "none": who makes files that are digitised for the order.
    facts : DesignFacts
        Of the design.
    origin : Origin or None
        Where it comes from; None: made for the order, or words.
    house : House
        The standards.

    Returns
    -------
    list of (str, Decimal)

    Source
    ------
    docs/formulas.md 8: an asked price as it is; a bought one's over the orders that use it; built
    in: nothing; the customer's: its check, as of every file that is handed in.
    """
    kind = origin.kind if origin else None
    check = [(CHECK, _own_time(house.digitising.check_s, house))]
    if how == "none" or kind == "built-in":
        return []
    if kind == "customer":
        return check
    if kind == "bought" and origin is not None:
        part = (origin.price or ZERO) / origin.orders
        return [(DESIGN, part), *(check if facts.source == "file" else [])]
    if facts.source == "words":
        return []
    if kind == "digitised" and origin is not None:
        if origin.price is not None:
            return [(BOUGHT, origin.price), *(check if facts.source == "file" else [])]
        how = "supplier"
    return [digitising_cost(how, facts, house)]


def digitising_costs(plans: Sequence[LinePlan], house: House) -> list[tuple[str, Decimal]]:
    """Return what an order's new designs take to have: (name, cost) each sort. Not rounded.

    Each design once, however many lines and places it has; of lines that differ in how, the
    dearest. Of "none" and of one sewn before nothing; "own" (the default) is time at labour and
    overhead, "supplier" the supplier's price for a count, of a file its check; where its origin
    is said, as that asks. Words from our own lettering cost nothing.

    Parameters
    ----------
    plans : Sequence[LinePlan]
        The lines, as planned.
    house : House
        The standards.

    Returns
    -------
    list[tuple[str, Decimal]]

    Source
    ------
    docs/formulas.md 8 and 14.
    """
    found: dict[str, list[tuple[str, Decimal]]] = {}
    placed = [
        (plan, asked.design, planned)
        for plan in plans
        for asked, planned in zip(plan.line.placements, plan.placements, strict=True)
    ]
    repeats = {planned.identity for _, design, planned in placed if design.repeat}
    for plan, design, planned in placed:
        key, facts = planned.identity, planned.facts
        if key in repeats:
            continue
        costs = design_cost(plan.line.digitising or "own", facts, design.origin, house)
        if _sum(costs) > _sum(found.get(key, [])):
            found[key] = costs
    sums: dict[str, Decimal] = {}
    for name in (DESIGN, BOUGHT, OWN, CHECK):
        each = [cost for costs in found.values() for named, cost in costs if named == name]
        if each:
            sums[name] = sum(each, ZERO)
    return list(sums.items())


def _sum(costs: Sequence[tuple[str, Decimal]]) -> Decimal:
    return sum((cost for _, cost in costs), ZERO)
