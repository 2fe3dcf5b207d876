"""Digitising: what new designs take, made by oneself, bought, or checked."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal

from clothyard.core.house.document import House
from clothyard.core.price.amounts import HOUR, ZERO
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.units import exact
from clothyard.core.work.line_plan import LinePlan

BOUGHT, OWN, CHECK = "Digitising, bought", "Digitising", "Stitch file check"


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
