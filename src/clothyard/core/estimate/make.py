"""The estimate: a pure function of job, house and designs."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from decimal import Decimal
from typing import Any

from clothyard.core.advice.all import advise, overruled
from clothyard.core.estimate.comparing import Comparer, run_machine
from clothyard.core.estimate.document import Estimate, ReadAs
from clothyard.core.estimate.figures import LineFigures, OrderFigures
from clothyard.core.estimate.pack_line import pack_line
from clothyard.core.estimate.pack_order import pack_machines, pack_threads, pack_total
from clothyard.core.house.check import build_house
from clothyard.core.house.document import House
from clothyard.core.house.learnt import with_hands
from clothyard.core.job.check import check_job
from clothyard.core.job.document import Job
from clothyard.core.price.amounts import ZERO
from clothyard.core.price.charges import kits_sold, order_charges
from clothyard.core.price.cost import LineCost, LineCoster
from clothyard.core.price.goods import Supply, in_packs, plan_supplies, spares_of_batch
from clothyard.core.price.order_level import OrderLevel, order_levels
from clothyard.core.price.priced import price_line
from clothyard.core.price.selling import Pricer, check_margins
from clothyard.core.price.threads import ThreadUsed, bought_beyond_use, thread_table
from clothyard.core.record import record
from clothyard.core.run.simulate import plan_hash, run_plan
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.units import round_money
from clothyard.core.work.document import Work
from clothyard.core.work.elapsed import elapsed_parts
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.order import OrderWork, plan_order
from clothyard.core.work.write import write_work


def settled(job: Job, house: House) -> tuple[Job, House]:
    """Settle a job's currency and lay its own changes over the house: (job, house).

    Parameters
    ----------
    job : Job
        Its `house` is a merge patch on `house`; without a currency it is in the house's.
    house : House

    Raises
    ------
    BadInput
        If the job contradicts itself, or its changes are refused.
    """
    if job.house:
        house = build_house(job.house, on=house)
    if not job.currency:
        job = job.model_copy(update={"currency": house.price.currency})
    house = with_hands(house)
    check_job(job, made=[key for key, goods in house.goods.items() if goods.made])
    return job, house


def _needed_beyond(order: OrderWork, supplies: Sequence[Supply]) -> list[tuple[int, ...]]:
    """Pieces to have ready beyond each line's quantity, cell by cell, before whole packs."""
    rules, found = order.house.spoilage, []
    supplied = dict(zip(map(id, order.plans), supplies, strict=True))
    shares: dict[int, list[tuple[int, ...]]] = {}
    for work in order.lines:
        lines = work.batch.lines
        batch = [(plan.line, supplied[id(plan)]) for plan in lines]
        at = next(i for i, plan in enumerate(lines) if plan is work.plan)
        key = id(lines[0])
        if key not in shares:
            shares[key] = spares_of_batch(batch, spoil=work.plan.spoil, rules=rules)
        found.append(shares[key][at])
    return found


def _supplies(job: Job, order: OrderWork) -> list[Supply]:
    """Say how each line's blanks and spares are bought."""
    return plan_supplies(job, order.house, lambda supplies: _needed_beyond(order, supplies))


def _spares(supplies: Sequence[Supply], job: Job) -> list[int]:
    """Pieces to have ready beyond each line's quantity, in whole packs."""
    return [
        in_packs(line.quantity, supply.spares, supply)
        for line, supply in zip(job.lines, supplies, strict=True)
    ]


def work_of(job: Job, house: House, designs: Mapping[str, DesignFacts]) -> Work:
    """Work out what is done for a job, without money.

    Parameters
    ----------
    job, house, designs
        As of `estimate`.

    Raises
    ------
    BadInput, NotFound
        As `estimate`.

    Source
    ------
    docs/formats.md, clothyard-work/1.
    """
    job, house = settled(job, house)
    order = plan_order(job, house, designs)
    return _write(job, order, _supplies(job, order))


def _write(job: Job, order: OrderWork, supplies: Sequence[Supply]) -> Work:
    """Write what is done, with the spares that are bought."""
    return write_work(order, _spares(supplies, job), [supply.spares_of for supply in supplies])


@record
class _Worked:
    """An order worked out: its lines' costers and prices, its thread, what stops it."""

    order: OrderWork
    costers: tuple[LineCoster, ...]
    pricers: tuple[Pricer, ...]
    spares: tuple[int, ...]
    threads: tuple[ThreadUsed, ...]


def _put_ups(
    others: Sequence[tuple[LineDone, int]], coster: LineCoster
) -> Callable[[LineDone], Decimal]:
    """Say what whole put-ups cost beyond use, with a line done at another quantity.

    `others` are the order's other lines with their spares.
    """
    house = coster.plan.house

    def bought(done: LineDone) -> Decimal:
        if house.thread_use.charge != "bought":
            return ZERO
        lines, spares = zip(*others, (done, coster.spares(done.quantity)), strict=True)
        table = thread_table(lines, spares, house)
        return bought_beyond_use(table, house)

    return bought


def _as_one(costers: Sequence[LineCoster], at: int, batch: Sequence[int]) -> LineCoster:
    """Cost a batch as the one line it is sewn as, of one of its lines' goods."""
    coster, supply = costers[at], costers[at].supply
    others = [
        costers[n].plan.line.quantity + costers[n].supply.spares
        for n in batch
        if n != at and supply.alike and costers[n].supply.blank == supply.blank
    ]
    bought = replace(
        supply,
        spares=sum(costers[n].supply.spares for n in batch),
        spares_of=(),
        alike=max(0, supply.alike - sum(others)),
        before=0,
        cells=(),
    )
    return LineCoster(coster.work.batch.as_one(coster.plan), bought)


def _together(
    job: Job,
    costers: Sequence[LineCoster],
    levels: Sequence[OrderLevel],
    alone: Sequence[LineCost],
    told: Sequence[tuple[LineDone, int]],
) -> list[Pricer | None]:
    """Price each batch as the one line it is sewn as, once for lines of one price of goods.

    Source: docs/formulas.md 11.
    """
    known: dict[tuple[int, Any], Pricer] = {}
    found: list[Pricer | None] = []
    for at, (coster, level) in enumerate(zip(costers, levels, strict=True)):
        batch = [n for n, c in enumerate(costers) if c.work.batch is coster.work.batch]
        line = coster.plan.line
        if len(batch) == 1:
            found.append(None)
            continue
        key = id(coster.work.batch), (coster.supply.steps, line.discount, line.tax_rate)
        if key not in known:
            less = sum((alone[n].own for n in batch if n != at), ZERO)
            pieces = sum(costers[n].plan.line.quantity for n in batch if n != at)
            one = _as_one(costers, at, batch)
            others = [each for n, each in enumerate(told) if n not in batch]
            once = replace(
                level,
                bought=_put_ups(others, one),
                others=level.others - less,
                lines=level.lines - len(batch) + 1,
                alike=max(0, level.alike - pieces),
            )
            known[key] = Pricer(job, one, once)
        found.append(known[key])
    return found


def _work_out(job: Job, order: OrderWork) -> _Worked:
    """Cost every line on its own, then what the order takes once, then price them."""
    house = order.house
    supplies = _supplies(job, order)
    costers = [LineCoster(w, supply) for w, supply in zip(order.lines, supplies, strict=True)]
    spares = _spares(supplies, job)
    alone = [coster.alone(coster.plan.line.quantity) for coster in costers]
    threads = thread_table([cost.done for cost in alone], spares, house)
    told = [(cost.done, n) for cost, n in zip(alone, spares, strict=True)]
    bought = [_put_ups([*told[:i], *told[i + 1 :]], c) for i, c in enumerate(costers)]
    levels = order_levels(order.plans, [cost.own for cost in alone], bought, house)
    together = _together(job, costers, levels, alone, told)
    pricers = [
        Pricer(job, coster, level, together=one)
        for coster, level, one in zip(costers, levels, together, strict=True)
    ]
    return _Worked(order, tuple(costers), tuple(pricers), tuple(spares), tuple(threads))


def _line(job: Job, index: int, worked: _Worked) -> LineFigures:
    """Price one line and look it over; what else could be done of it is left to `_compared`."""
    pricer = worked.pricers[index]
    plan = worked.order.plans[index]
    cost = pricer.cost(plan.line.quantity)
    priced = price_line(job, pricer, worked.spares[index])
    return LineFigures(
        cost=cost,
        priced=priced,
        advice=overruled(advise(plan, cost, priced, index=index), job, plan.line.id),
        others=[],
        schools=[],
        shown={},
        batch_spares=sum(
            spares
            for spares, other in zip(worked.spares, worked.order.plans, strict=True)
            if any(other is each for each in cost.done.together)
        ),
    )


def _rounded(amount: Decimal, currency: str) -> Decimal:
    """Round half up what is a half but for the noise of its seconds and metres."""
    return round_money(amount.quantize(Decimal("1e-7")), currency)


def _shown(lines: Sequence[LineFigures], currency: str) -> list[LineFigures]:
    """Round every part of every line's cost for show, so that a batch's lines add up to it."""
    before: dict[tuple[int, str], Decimal] = {}
    found = []
    for figures in lines:
        shown, of = {}, id(figures.cost.done.together[0])
        for name, part in figures.cost.parts.items():
            known = before.get((of, name), ZERO)
            before[of, name] = known + part
            shown[name] = _rounded(known + part, currency) - _rounded(known, currency)
        found.append(replace(figures, shown=shown))
    return found


def _compared(figures: LineFigures, index: int, worked: _Worked) -> LineFigures:
    """Add what else could be done of a line, and what that would change."""
    comparer = Comparer(worked.order, index, worked.costers)
    return replace(figures, others=comparer.methods(), schools=comparer.schools())


def _whole(job: Job, worked: _Worked, lines: Sequence[LineFigures]) -> OrderFigures:
    """Put the order together: kits, charges, and how long it runs."""
    pricers, house = worked.pricers, worked.order.house
    kits = kits_sold(job, pricers, [f.priced.unit for f in lines])
    in_kits = frozenset(line_id for kit in kits for line_id in kit.lines)
    sold = sum((kit.unit * kit.quantity for kit in kits), ZERO)
    sold += sum(
        (f.priced.unit * f.cost.quantity for f in lines if f.plan.line.id not in in_kits), ZERO
    )
    return OrderFigures(
        kits=tuple(kits),
        in_kits=in_kits,
        sold=sold,
        charges=tuple(order_charges(job, pricers, house, sold=sold)),
        elapsed=tuple(elapsed_parts([f.cost.done for f in lines], house)),
    )


def _sendable(lines: Sequence[LineFigures]) -> bool:
    return not any(a.level == "stop" and not a.overruled for f in lines for a in f.advice)


class Pricing:
    """A job worked out and priced; its estimate can be had alone and with its alternatives.

    Both come of one pricing: the second only adds.

    Parameters
    ----------
    job, house, designs
        As of `estimate`.
    simulated : mapping of str to float
        Seconds of runs that were simulated, by the hash of what they were simulated from: one is
        used only where that is this job's own.

    Raises
    ------
    BadInput, NotFound
        As `estimate`.
    """

    def __init__(
        self,
        job: Job,
        house: House,
        designs: Mapping[str, DesignFacts],
        *,
        simulated: Mapping[str, float] | None = None,
    ):
        self.job, self.house = settled(job, house)
        check_margins(self.job, self.house)
        self._worked = _work_out(self.job, plan_order(self.job, self.house, designs))
        lines = [_line(self.job, i, self._worked) for i in range(len(self.job.lines))]
        self._lines = _shown(lines, self.job.currency)
        self._whole = _whole(self.job, self._worked, self._lines)
        self._simulated = simulated or {}

    def _run_s(self) -> float | None:
        """Return the run as simulated from this very work, set-up before it; None for none. [s]"""
        if not self._simulated:
            return None
        order = self._worked.order
        supplies = [coster.supply for coster in self._worked.costers]
        work = _write(self.job, order, supplies)
        found = self._simulated.get(plan_hash(run_plan(work, self.house)))
        return None if found is None else self._whole.elapsed[0].seconds + found

    @property
    def lines(self) -> tuple[LineFigures, ...]:
        """All that was worked out of each line, unrounded."""
        return tuple(self._lines)

    @property
    def cost(self) -> Decimal:
        """What the lines cost, nothing of it rounded."""
        return sum((figures.cost.total for figures in self._lines), ZERO)

    def estimate(
        self,
        *,
        working: bool = False,
        compare: bool | int = True,
        pieces: bool = True,
        open_line: int | None = None,
    ) -> Estimate:
        """Write the estimate.

        Parameters
        ----------
        working, compare
            As of `clothyard.core.estimate.make.estimate`.
        pieces : bool
            Fill each piece's own figures where they differ.
        open_line : int, optional
            The line of which all is told, of others what an overview shows; None for every line.
        """
        worked, house, currency = self._worked, self.house, self.job.currency
        lines = [
            _compared(figures, i, worked) if compare is True or _is_index(compare, i) else figures
            for i, figures in enumerate(self._lines)
        ]
        total, run = pack_total(lines, self._whole, house, currency, run_s=self._run_s())
        owned = [machine_id for machine_id, machine in house.machines.items() if machine.owned]
        tried = [] if compare is False else owned
        machines = [run_machine(worked.order, worked.costers, machine_id) for machine_id in tried]
        return Estimate(
            currency=currency,
            sendable=_sendable(lines),
            lines=[
                pack_line(
                    figures,
                    self._whole if i == 0 else None,
                    currency,
                    working=working,
                    pieces=pieces,
                    open_=open_line is None or open_line == i,
                )
                for i, figures in enumerate(lines)
            ],
            threads=pack_threads(worked.threads, house, currency),
            machines=pack_machines(machines, house, currency),
            total=total,
            run=run,
            read=[
                ReadAs(where=t.where, typed=t.typed, value=t.value, unit=t.unit)
                for t in self.job.typed
            ],
        )


def _is_index(compare: bool | int, index: int) -> bool:
    return not isinstance(compare, bool) and compare == index


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

    Source
    ------
    docs/formulas.md, all of it.
    """
    return Pricing(job, house, designs).estimate(working=working, compare=compare)
