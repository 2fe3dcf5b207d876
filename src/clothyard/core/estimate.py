"""The estimate: a pure function of job, house and designs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import Literal

from clothyard.core.advice import Priced, advise, overruled
from clothyard.core.comparing import Comparer, elapsed_parts, run_machine
from clothyard.core.house import House, build_house
from clothyard.core.job import Job, check_job
from clothyard.core.order import bought_beyond_use, order_levels, thread_table
from clothyard.core.pack import (
    LineFigures,
    OrderFigures,
    pack_line,
    pack_machines,
    pack_threads,
    pack_total,
)
from clothyard.core.planning import OrderPlan, plan_order
from clothyard.core.price.charges import kits_sold, order_charges
from clothyard.core.price.goods import spares_for
from clothyard.core.price.line import OrderLevel, cost_line, first_piece
from clothyard.core.price.selling import Pricer, agreed_price, check_margins
from clothyard.core.price.tiers import PriceLadder
from clothyard.core.result import Estimate
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.units import round_money


def _ladder(job: Job, pricer: Pricer) -> PriceLadder:
    price = pricer.house.price
    return PriceLadder(
        job.tiers or price.tiers,
        pricer.raw,
        mode=job.tier_mode or price.tier_mode,
        currency=job.currency,
        least=price.minimum_order if len(job.lines) == 1 else Decimal(0),
    )


def _at_tiers(ladder: PriceLadder, pricer: Pricer, quantity: int) -> Decimal:
    """Return the unit price at a quantity.

    Stepped tiers count the pieces of other lines with the same designs too, and still never go
    under the floor of this one. Smooth prices follow this line's own cost, in which what the lines
    share is shared already.
    """
    alike = pricer.order.alike
    if ladder.mode == "smooth" or not alike:
        return ladder.unit(quantity)
    floor = pricer.rounded(pricer.house_floor(quantity))
    return min(ladder.unit(quantity), max(ladder.unit(quantity + alike), floor))


def _figures(
    job: Job, index: int, order: OrderPlan, pricer: Pricer, spares: int, *, compare: bool
) -> LineFigures:
    plan, line = order.plans[index], order.plans[index].line
    ladder = _ladder(job, pricer)
    cost = pricer.cost(line.quantity)
    agreed = agreed_price(line, job)
    method: Literal["margin", "stitch-rate", "hour-rate", "typed", "agreed"] = pricer.method
    if line.unit_price is not None:
        unit, method = line.unit_price, "typed"
    elif agreed is not None:
        unit, method = agreed, "agreed"
    else:
        unit = _at_tiers(ladder, pricer, line.quantity)
    unit = round_money(unit, job.currency)
    unit_cost, net = pricer.unit_cost(line.quantity), pricer.terms.net(unit)
    priced = Priced(
        unit=unit,
        net=net,
        unit_cost=unit_cost,
        margin=1 - unit_cost / net if net else Decimal(0),
        target=pricer.margin,
        ways=pricer.ways(line.quantity),
        method=method,
        ladder=ladder,
        spares=spares,
        currency=job.currency,
        pricer=pricer,
    )
    tiers = [
        (q, unit if q == line.quantity else ladder.unit(q), pricer.unit_cost(q))
        for q in ladder.tiers
    ]
    comparer = Comparer(order, index, line.quantity, pricer.first) if compare else None
    return LineFigures(
        plan=plan,
        cost=cost,
        priced=priced,
        tiers=tiers,
        advice=overruled(advise(plan, cost, priced, index=index), job, index),
        others=comparer.methods() if comparer else {},
        schools=comparer.schools() if comparer else [],
    )


def estimate(
    job: Job,
    house: House,
    designs: Mapping[str, DesignFacts],
    *,
    working: bool = False,
    compare: bool | int = True,
) -> Estimate:
    """Price a job.

    Parameters
    ----------
    job : Job
        Its `house` is a merge patch on `house`; without a currency it is in the house's.
    house : House
        The shop's standards.
    designs : mapping of str to DesignFacts
        Facts of the stitch files the job names.
    working : bool
        Fill `working`: every figure's formula and inputs.
    compare : bool or int
        Fill each method's `others`, the schools and the machines; an int: of that line only.

    Returns
    -------
    Estimate
        Complete also when something cannot be made as chosen: then `sendable` is False.

    Raises
    ------
    BadInput
        If the job contradicts itself, or names something the shop does not have.
    NotFound
        If it names a design that was not read.
    """
    if job.house:
        house = build_house(job.house, on=house)
    if not job.currency:
        job = job.model_copy(update={"currency": house.price.currency})
    check_job(job)
    check_margins(job, house)
    order = plan_order(job, house, designs)
    spares = [
        spares_for(
            plan.line, plan.supply, plan.line.quantity, spoil=plan.spoil, rules=house.spoilage
        )
        for plan in order.plans
    ]
    firsts = [first_piece(plan) for plan in order.plans]
    alone = [
        cost_line(plan, plan.line.quantity, OrderLevel(), first=first)
        for plan, first in zip(order.plans, firsts, strict=True)
    ]
    threads = thread_table(order.plans, alone, spares, house)
    levels = order_levels(order.plans, alone, bought_beyond_use(threads, house), house)
    pricers = [
        Pricer(job, plan, house, level, first)
        for plan, level, first in zip(order.plans, levels, firsts, strict=True)
    ]
    lines = [
        _figures(job, i, order, pricer, spares[i], compare=_compared(compare, i))
        for i, pricer in enumerate(pricers)
    ]
    whole = _whole(job, order, pricers, lines)
    total, run = pack_total(lines, whole, house, job.currency)
    machines = [] if compare is False else [run_machine(order, m) for m in house.machines]
    return Estimate(
        currency=job.currency,
        sendable=not any(
            a.level == "stop" and not a.overruled for figures in lines for a in figures.advice
        ),
        lines=[
            pack_line(figures, whole if i == 0 else None, job.currency, working=working)
            for i, figures in enumerate(lines)
        ],
        threads=pack_threads(threads, house, job.currency),
        machines=pack_machines(machines, house, job.currency),
        total=total,
        run=run,
    )


def _compared(compare: bool | int, index: int) -> bool:
    return compare if isinstance(compare, bool) else compare == index


def _whole(
    job: Job, order: OrderPlan, pricers: Sequence[Pricer], lines: Sequence[LineFigures]
) -> OrderFigures:
    """Put the order together: kits, charges, and how long it runs."""
    kits = kits_sold(job, pricers, [f.priced.unit for f in lines])
    in_kits = {i for kit in kits for i in kit.lines}
    sold = sum((kit.unit * kit.quantity for kit in kits), Decimal(0))
    sold += sum(
        (f.priced.unit * f.cost.quantity for i, f in enumerate(lines) if i not in in_kits),
        Decimal(0),
    )
    return OrderFigures(
        kits=tuple(kits),
        in_kits=frozenset(in_kits),
        sold=sold,
        charges=tuple(order_charges(job, pricers, order.house, sold=sold)),
        elapsed=tuple(elapsed_parts(order, order.plans, [f.cost for f in lines])),
    )
