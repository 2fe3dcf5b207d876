"""The estimate: a pure function of job, house and designs."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import Any

from clothyard.core.advice import Priced, advise
from clothyard.core.errors import BadInput, NotFound
from clothyard.core.house import House, build_house
from clothyard.core.job import Design, Job, Line, Placement, check_job
from clothyard.core.methods import goods_class, settle_methods
from clothyard.core.others import alternatives, with_other
from clothyard.core.pack import LineFigures, pack_line, pack_total
from clothyard.core.price.line import LineCost, LinePlan, cost_line, plan_line
from clothyard.core.price.spares import spares_needed
from clothyard.core.price.tiers import PriceLadder
from clothyard.core.price.ways import all_ways, digitising_cost, margin_price
from clothyard.core.result import Estimate
from clothyard.core.stitches.count import count_facts
from clothyard.core.stitches.facts import DesignFacts, recoloured
from clothyard.core.time.handwork import check_finishing
from clothyard.core.units import round_money, round_up_to_step

MAX_TIERS = 30


def design_facts(
    design: Design, house: House, designs: Mapping[str, DesignFacts], *, where: str
) -> DesignFacts:
    """Find or work out the facts of a job's design.

    Parameters
    ----------
    designs : mapping of str to DesignFacts
        Keyed by content hash, and by the name a job gives a file.

    Raises
    ------
    NotFound
        If a file is named that was not read.
    """
    if design.stitches is not None:
        kind = house.kinds[design.kind or "mixed"]
        return count_facts(
            design.stitches,
            kind=design.kind or "mixed",
            mean_stitch_mm=kind.mean_stitch_mm,
            satin_share=kind.satin_share,
            colours=design.colours or 1,
            width_mm=design.width_mm,
            height_mm=design.height_mm,
            trims=design.trims,
            letter_height_mm=design.letter_height_mm,
        )
    key = design.sha256 or design.file or ""
    if key not in designs:
        raise NotFound(
            f"the design {key[:12]!r} is not here.",
            where=f"{where}.design",
            remedy="Drop its stitch file again.",
            code="design-unknown",
        )
    facts = recoloured(designs[key], design.thread_colours)
    told = {"kind": design.kind, "letter_height_mm": design.letter_height_mm}
    return facts.model_copy(update={k: v for k, v in told.items() if v is not None})


def _plan(line: Line, house: House, designs: Mapping[str, DesignFacts], where: str) -> LinePlan:
    check_finishing(line.finishing, where=where)
    goods_class(line, house, where=where)
    facts, makings = [], []
    for i, placement in enumerate(line.placements):
        place = f"{where}.placements[{i}]"
        found = design_facts(placement.design, house, designs, where=place)
        facts.append(found)
        makings.append(settle_methods(line, placement, found, house, where=place))
    return plan_line(line, makings, facts, house)


class _Pricer:
    """Costs and raw prices of one line, each quantity worked out once."""

    def __init__(self, job: Job, plan: LinePlan, house: House):
        self.plan, self.house, self.currency = plan, house, job.currency
        self.margin = house.price.margin if job.margin is None else job.margin
        self.method = job.price_method or house.price.method
        self._costs: dict[int, LineCost] = {}

    def cost(self, quantity: int) -> LineCost:
        if quantity not in self._costs:
            self._costs[quantity] = cost_line(self.plan, quantity)
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
    changes: dict[str, Any] = {key: value == "true" if key == "baste" else value}
    if key == "hold":
        changes |= {"baste": None, "hoop": None}
    methods = placement.methods.model_copy(update=changes)
    return placement.model_copy(update={"methods": methods})


def _differences(
    plan: LinePlan, cost: LineCost, designs: list[DesignFacts], where: str
) -> dict[tuple[int, str, str], tuple[str, Decimal, float]]:
    """Cost each sensible alternative: (placement, key, value) to (reason, money, minutes)."""
    found: dict[tuple[int, str, str], tuple[str, Decimal, float]] = {}
    line, house = plan.line, plan.house
    makings = [p.making for p in plan.placements]
    for i, placement in enumerate(line.placements):
        for key, value, reason in alternatives(makings[i], house):
            if key == "needle" or {value, makings[i].bobbin} == {"white", "black"}:
                found[i, key, value] = (reason, Decimal(0), 0.0)  # neither costs more
                continue
            made = with_other(makings[i], key, value, house)
            if made is None:
                other = _rechosen(placement, key, value)
                made = settle_methods(line, other, designs[i], house, where=where)
            swapped = [*makings[:i], made, *makings[i + 1 :]]
            other_plan = plan_line(line, swapped, designs, house, like=plan)
            other_cost = cost_line(other_plan, cost.quantity)
            minutes = (other_cost.labour_s - cost.labour_s) / 60
            found[i, key, value] = (reason, other_cost.total - cost.total, minutes)
    return found


def _figures(
    job: Job, index: int, house: House, designs: Mapping[str, DesignFacts], *, compare: bool
) -> LineFigures:
    line, where = job.lines[index], f"lines[{index}]"
    plan = _plan(line, house, designs, where)
    pricer = _Pricer(job, plan, house)
    _check_fees(house, pricer.margin)
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
        spares=_spares(plan),
        currency=job.currency,
    )
    tiers = [
        (q, unit if q == line.quantity else ladder.unit(q), pricer.cost(q).total / q)
        for q in ladder.tiers
    ]
    facts = [p.facts for p in plan.placements]
    name, bought = digitising_cost(plan)
    charge = margin_price(bought, margin=pricer.margin, fee_share=house.price.fee_share)
    return LineFigures(
        plan=plan,
        cost=cost,
        priced=priced,
        tiers=tiers,
        advice=advise(plan, cost, priced, index=index),
        others=_differences(plan, cost, facts, where) if compare else {},
        charge=(name, bought, round_money(charge, job.currency)) if name else None,
    )


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
    lines = [_figures(job, i, house, designs, compare=compare) for i in range(len(job.lines))]
    packed = [pack_line(figures, job.currency, working=working) for figures in lines]
    total, run = pack_total(lines, house, job.currency)
    return Estimate(
        currency=job.currency,
        sendable=not any(a.level == "stop" for figures in lines for a in figures.advice),
        lines=packed,
        total=total,
        run=run,
    )
