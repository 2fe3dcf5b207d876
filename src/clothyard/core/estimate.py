"""The estimate: a pure function of job, house and designs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from clothyard.core.advice import Priced, advise
from clothyard.core.designs import Sewn, sewn_designs
from clothyard.core.errors import BadInput
from clothyard.core.house import House, build_house
from clothyard.core.job import Job, Line, Placement, check_job
from clothyard.core.making import Making
from clothyard.core.methods import goods_class, settle_methods
from clothyard.core.order import bought_beyond_use, once_an_order, order_levels, thread_table
from clothyard.core.others import alternatives, with_other
from clothyard.core.pack import LineFigures, pack_line, pack_threads, pack_total
from clothyard.core.price.line import Consumed, LineCost, OrderLevel, cost_line, first_piece
from clothyard.core.price.plan import LinePlan, PlacementPlan, plan_line, plan_placement
from clothyard.core.price.spares import spares_needed
from clothyard.core.price.tiers import PriceLadder
from clothyard.core.price.ways import all_ways, digitising_costs, margin_price
from clothyard.core.result import Estimate
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.time.handwork import check_finishing
from clothyard.core.time.steps import plan_steps
from clothyard.core.units import exact, round_money, round_up_to_step
from clothyard.core.working import Charged

HOUR = Decimal(3600)
_YES_NO = {"baste", "knock_down"}


def _plan_placement(
    line: Line,
    placement: Placement,
    making: Making,
    sewn: Sewn,
    house: House,
    where: str,
    like: PlacementPlan | None = None,
) -> PlacementPlan:
    sewn = sewn.on_base(house) if making.knock_down else sewn
    return plan_placement(
        making,
        sewn.facts,
        house,
        line.finishing,
        steps=plan_steps(placement, sewn.facts, house, where=where),
        own=sewn.own,
        like=like,
    )


def _plan(line: Line, sewn: Sequence[Sewn], house: House, where: str) -> LinePlan:
    check_finishing(line.finishing, where=where)
    goods_class(line, house, where=where)
    placed = []
    for i, (placement, design) in enumerate(zip(line.placements, sewn, strict=True)):
        place = f"{where}.placements[{i}]"
        making = settle_methods(line, placement, design.facts, house, where=place)
        placed.append(_plan_placement(line, placement, making, design, house, place))
    return plan_line(line, placed, house, where=where)


class _Pricer:
    """Costs and raw prices of one line, each quantity worked out once."""

    def __init__(self, job: Job, plan: LinePlan, house: House, order: OrderLevel):
        self.plan, self.house, self.currency, self.order = plan, house, job.currency, order
        self.margin = house.price.margin if job.margin is None else job.margin
        self.method = job.price_method or house.price.method
        self._costs: dict[int, LineCost] = {}
        self.first: Consumed = first_piece(plan)

    def cost(self, quantity: int) -> LineCost:
        if quantity not in self._costs:
            self._costs[quantity] = cost_line(self.plan, quantity, self.order, first=self.first)
        return self._costs[quantity]

    def ways(self, quantity: int) -> dict[str, Decimal]:
        return all_ways(self.plan, self.cost(quantity), margin=self.margin)

    def raw(self, quantity: int) -> Decimal:
        price = self.ways(quantity)[self.method]
        return round_up_to_step(price, self.house.price.round_to, self.currency)


def _check_fees(house: House, margin: Decimal) -> None:
    if margin + house.price.fee_share >= 1:
        raise BadInput(
            "margin and fees together are the whole price.",
            where="margin",
            remedy="Enter a smaller margin.",
            code="out-of-range",
        )


def _spares(plan: LinePlan) -> int:
    line = plan.line
    if line.goods.supplied_by == "customer":
        return 0
    cells = [cell.quantity for cell in line.cells] or [line.quantity]
    base = line.goods.unit_cost or Decimal(0)
    costs = [float(base if c.unit_cost is None else c.unit_cost) for c in line.cells]
    found = spares_needed(
        cells,
        spoil=plan.spoil,
        confidence=plan.house.spoilage.confidence,
        costs=costs or None,
    )
    return sum(found)


def _rechosen(placement: Placement, key: str, value: str) -> Placement:
    """Choose another value; holding differently leaves hoop and basting to be proposed."""
    changes: dict[str, Any] = {key: value == "true" if key in _YES_NO else value}
    if key == "hold":
        changes |= {"baste": None, "hoop": None}
    methods = placement.methods.model_copy(update=changes)
    return placement.model_copy(update={"methods": methods})


@dataclass(frozen=True, slots=True)
class _Order:
    """All lines of an order planned, and costed without what it takes once."""

    plans: tuple[LinePlan, ...]
    sewn: tuple[tuple[Sewn, ...], ...]
    house: House

    def once_cost(self, plans: Sequence[LinePlan]) -> Decimal:
        """What is done once costs, in labour and overhead."""
        seconds = sum(task.total_s for task in once_an_order(plans, self.house))
        rates = self.house.rates
        return exact(seconds) / HOUR * (rates.labour_per_h + rates.overhead_per_h)


def _differences(
    order: _Order, index: int, cost: LineCost, first: Consumed
) -> dict[tuple[int, str, str], tuple[str, Decimal, float]]:
    """Cost each sensible alternative: (placement, key, value) to (reason, money, minutes).

    Money is what the whole order would cost more, put-ups left out; minutes are hand and
    attending of the line's good pieces.
    """
    found: dict[tuple[int, str, str], tuple[str, Decimal, float]] = {}
    plan, house = order.plans[index], order.house
    line, sewn = plan.line, order.sewn[index]
    alone = OrderLevel()
    base = cost_line(plan, cost.quantity, alone, first=first)
    once = order.once_cost(order.plans)
    for i, placement in enumerate(line.placements):
        making = plan.placements[i].making
        where = f"lines[{index}].placements[{i}]"
        for key, value, reason in alternatives(making, house):
            if key == "needle" or {value, making.bobbin} == {"white", "black"}:
                found[i, key, value] = (reason, Decimal(0), 0.0)  # neither costs more
                continue
            made = with_other(making, key, value, house)
            if made is None:
                other = _rechosen(placement, key, value)
                made = settle_methods(line, other, sewn[i].facts, house, where=where)
            swapped = list(plan.placements)
            swapped[i] = _plan_placement(
                line, placement, made, sewn[i], house, where, like=plan.placements[i]
            )
            other_plan = plan_line(line, swapped, house)
            other_cost = cost_line(other_plan, cost.quantity, alone)
            plans = [*order.plans[:index], other_plan, *order.plans[index + 1 :]]
            money = other_cost.own - base.own
            if key in {"machine", "thread", "hold", "knock_down"}:
                money += order.once_cost(plans) - once
            minutes = (other_cost.labour_s - base.labour_s) / 60
            found[i, key, value] = (reason, money, minutes)
    return found


def _figures(
    job: Job, index: int, order: _Order, level: OrderLevel, spares: int, *, compare: bool
) -> LineFigures:
    plan, house = order.plans[index], order.house
    line = plan.line
    pricer = _Pricer(job, plan, house, level)
    ladder = PriceLadder(
        job.tiers or house.price.tiers,
        pricer.raw,
        mode=job.tier_mode or house.price.tier_mode,
        currency=job.currency,
    )
    cost = pricer.cost(line.quantity)
    typed = line.unit_price is not None
    unit = line.unit_price if line.unit_price is not None else ladder.unit(line.quantity)
    unit = round_money(unit, job.currency)
    unit_cost = cost.total / line.quantity
    priced = Priced(
        unit=unit,
        unit_cost=unit_cost,
        margin=1 - unit_cost / unit if unit else Decimal(0),
        target=pricer.margin,
        ways=pricer.ways(line.quantity),
        method="typed" if typed else pricer.method,
        ladder=ladder,
        spares=spares,
        currency=job.currency,
    )
    tiers = [
        (q, unit if q == line.quantity else ladder.unit(q), pricer.cost(q).total / q)
        for q in ladder.tiers
    ]
    return LineFigures(
        plan=plan,
        cost=cost,
        priced=priced,
        tiers=tiers,
        advice=advise(plan, cost, priced, index=index),
        others=_differences(order, index, cost, pricer.first) if compare else {},
    )


def _charges(job: Job, plans: Sequence[LinePlan], house: House) -> list[Charged]:
    margin = house.price.margin if job.margin is None else job.margin
    return [
        Charged(
            name,
            cost,
            round_money(
                margin_price(cost, margin=margin, fee_share=house.price.fee_share), job.currency
            ),
        )
        for name, cost in digitising_costs(plans, house)
    ]


def estimate(
    job: Job,
    house: House,
    designs: Mapping[str, DesignFacts],
    *,
    working: bool = False,
    compare: bool = True,
) -> Estimate:
    """Price a job.

    Parameters
    ----------
    job : Job
        Its `house` is a merge patch on `house`.
    house : House
        The shop's standards.
    designs : mapping of str to DesignFacts
        Facts of the stitch files the job names.
    working : bool
        Fill `working`: every figure's formula and inputs.
    compare : bool
        Fill each method's `others`.

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
    check_job(job)
    if job.house:
        house = build_house(job.house, on=house)
    _check_fees(house, house.price.margin if job.margin is None else job.margin)
    sewn = tuple(
        sewn_designs(line, house, designs, where=f"lines[{i}]") for i, line in enumerate(job.lines)
    )
    plans = tuple(_plan(line, sewn[i], house, f"lines[{i}]") for i, line in enumerate(job.lines))
    order = _Order(plans, sewn, house)
    spares = [_spares(plan) for plan in plans]
    alone = [cost_line(plan, plan.line.quantity, OrderLevel()) for plan in plans]
    threads = thread_table(plans, alone, spares, house)
    levels = order_levels(plans, alone, bought_beyond_use(threads, house), house)
    lines = [
        _figures(job, i, order, level, spares[i], compare=compare) for i, level in enumerate(levels)
    ]
    charges = _charges(job, plans, house)
    lines[0] = replace(lines[0], charges=tuple(charges))
    packed = [pack_line(figures, job.currency, working=working) for figures in lines]
    total, run = pack_total(lines, charges, house, job.currency)
    return Estimate(
        currency=job.currency,
        sendable=not any(a.level == "stop" for figures in lines for a in figures.advice),
        lines=packed,
        threads=pack_threads(threads, house, job.currency),
        total=total,
        run=run,
    )
