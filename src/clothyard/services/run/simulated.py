"""Runs, simulated: of an order, of a draft, of a job document; and what else would save."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from decimal import Decimal
from pathlib import Path
from typing import Literal

from pydantic import BaseModel

from clothyard.core.errors import ClothyardError
from clothyard.core.estimate.make import settled, work_of
from clothyard.core.figure_text import counted
from clothyard.core.house.document import House
from clothyard.core.job.document import Job
from clothyard.core.run.simulate import (
    Interval,
    RunPlan,
    best,
    bottleneck,
    instead,
    plan_hash,
    run_plan,
    simulate,
    spreads_of,
)
from clothyard.core.units import exact, money_text
from clothyard.core.work.document import Work
from clothyard.services.orders import follow as orders
from clothyard.services.orders.opened import open_version
from clothyard.services.quotes.estimates import read_job_file, remember_run, work_job
from clothyard.services.sending import send as sending
from clothyard.store import orders as kept
from clothyard.store.shop import Shop

MOST_RUNS = 500
MOST_HOOPS = 4
"""The largest of the shop's that are tried."""


class LaneInterval(BaseModel):
    """A stretch of a lane: from, to, why; of which pass and cycle. [s]"""

    start_s: float
    end_s: float
    cause: str
    of: str
    cycle: int


class RunLane(BaseModel):
    """A machine or a pair of hands over the run; busy and waiting add up to the whole. [s]"""

    id: str
    label: str
    kind: Literal["machine", "hands"]
    intervals: list[LaneInterval]
    busy_s: float
    waiting_s: float


class RunInstead(BaseModel):
    """Another way: what it would take, and save in seconds and, at the hour's rates, in money."""

    id: str
    label: str
    elapsed_s: float
    saved_s: float
    saved: str


class RunDocument(BaseModel):
    """A run as simulated (clothyard-run/1); `plan_sha256` is of what it was simulated from.

    `closed_form_s` is what the passes take by the closed form; `seed` None for expected values.
    """

    format: Literal["clothyard-run/1"] = "clothyard-run/1"
    plan_sha256: str
    seed: int | None
    elapsed_s: float
    closed_form_s: float
    waits: bool
    bottleneck: str
    lanes: list[RunLane]
    instead: list[RunInstead]
    passes: dict[str, str]
    currency: str


class SpreadStep(BaseModel):
    """How far a spread is: so many of so many runs; at the end the times in 10, 50, 90 of 100."""

    done: int
    of: int
    p10_s: float | None = None
    p50_s: float | None = None
    p90_s: float | None = None


def _interval(each: Interval) -> LaneInterval:
    return LaneInterval(
        start_s=round(each.start_s, 2),
        end_s=round(each.end_s, 2),
        cause=each.cause,
        of=each.of,
        cycle=each.cycle,
    )


def larger_hoopings(
    work: Work, house: House, again: Callable[[Job], Work], job: Job
) -> list[tuple[str, str, RunPlan]]:
    """Work a job out in larger hoops of the shop, where that makes fewer hoopings."""
    hoopings = sum(each.hoopings for each in work.passes)
    areas = {key: h.field_width_mm * h.field_height_mm for key, h in house.hoops.items() if h.owned}
    found: list[tuple[int, str, RunPlan]] = []
    for key in sorted(areas, key=lambda each: -areas[each])[:MOST_HOOPS]:
        try:
            other = again(_in_hoop(job, key))
        except ClothyardError:
            continue  # it cannot be sewn in that one
        fewer = sum(each.hoopings for each in other.passes)
        fits = all(p.hoop == key for line in other.lines for p in line.placements)
        if fits and fewer < hoopings:
            found.append((fewer, house.hoops[key].label, run_plan(other, house)))
    if not found:
        return []
    fewer, label, plan = min(found, key=lambda row: row[0])
    said = f"{counted(fewer, 'hooping')} in {label}, not {hoopings}"
    return [("hoopings", said, plan)]


def _in_hoop(job: Job, hoop: str) -> Job:
    lines = []
    for line in job.lines:
        placements = tuple(
            place.model_copy(update={"methods": place.methods.model_copy(update={"hoop": hoop})})
            for place in line.placements
        )
        lines.append(line.model_copy(update={"placements": placements}))
    return job.model_copy(update={"lines": tuple(lines)})


def run_of(
    work: Work,
    house: House,
    *,
    currency: str,
    seed: int | None = None,
    more: Sequence[tuple[str, str, RunPlan]] = (),
    shop: Shop | None = None,
) -> RunDocument:
    """Simulate an order's run, and what else could be done.

    Parameters
    ----------
    work, house : Work, House
        The house as the job changes it.
    seed : int, optional
        One run as it may fall; expected values without.
    more : sequence of (id, label, RunPlan)
        Other ways to look at, beside those of `instead`.
    shop : Shop, optional
        Whose estimates of the same work use what is expected.
    """
    plan = run_plan(work, house)
    used, result = best(plan)
    ways = instead(plan, result, more=more)
    if seed is None and shop is not None:
        remember_run(shop, plan_hash(plan), result.elapsed_s)
    if seed is not None:
        result = simulate(used, seed=seed, spreads=spreads_of(house))
    an_hour = house.rates.labour_per_h + house.rates.overhead_per_h
    lanes = []
    for lane in result.lanes:
        busy = sum(i.end_s - i.start_s for i in lane.intervals if not i.cause.startswith("wait"))
        label = lane.label
        if lane.kind == "machine":
            known = house.machines.get(lane.id)
            label = known.label if known else lane.id
        lanes.append(
            RunLane(
                id=lane.id,
                label=label,
                kind=lane.kind,
                busy_s=round(busy, 2),
                waiting_s=round(result.elapsed_s - busy, 2),
                intervals=[_interval(each) for each in lane.intervals],
            )
        )
    closed = sum(part.seconds for part in work.run.parts[1:])
    return RunDocument(
        plan_sha256=plan_hash(plan),
        seed=seed,
        elapsed_s=round(result.elapsed_s, 2),
        closed_form_s=round(closed, 2),
        waits=result.waits,
        bottleneck=bottleneck(result),
        lanes=lanes,
        instead=[
            RunInstead(
                id=w.id,
                label=w.label,
                elapsed_s=round(w.elapsed_s, 2),
                saved_s=round(w.saved_s, 2),
                saved=money_text(exact(w.saved_s) / Decimal(3600) * an_hour, currency),
            )
            for w in ways
        ],
        passes={each.id: each.label for each in plan.passes},
        currency=currency,
    )


def _of_order(shop: Shop, order_id: int) -> tuple[Work, House, Job]:
    orders.keep_up(shop)
    order = kept.find_order(shop, order_id)
    opened = open_version(shop, order_id, order.version)
    return opened.whole(), opened.changed, opened.job


def _of_quote(shop: Shop, quote_id: int) -> tuple[Work, House, Job]:
    _, asked, _, house = sending.preview(shop, quote_id)
    job, changed = settled(asked, house)
    return work_job(shop, job, house), changed, job


def order_run(shop: Shop, order_id: int, *, seed: int | None = None) -> RunDocument:
    """Simulate an order's run.

    Raises
    ------
    NotFound
    BadInput
        If its work cannot be told any more.
    """
    work, house, job = _of_order(shop, order_id)
    more = larger_hoopings(work, house, lambda other: work_job(shop, other, house), job)
    currency = job.currency or house.price.currency
    return run_of(work, house, currency=currency, seed=seed, more=more, shop=shop)


def quote_run(shop: Shop, quote_id: int, *, seed: int | None = None) -> RunDocument:
    """Simulate a quote's run, before it is an order.

    Raises
    ------
    NotFound
    Conflict
        If it has no price yet.
    """
    work, house, job = _of_quote(shop, quote_id)
    more = larger_hoopings(work, house, lambda other: work_job(shop, other, house), job)
    currency = job.currency or house.price.currency
    return run_of(work, house, currency=currency, seed=seed, more=more, shop=shop)


def spread_in_steps(
    shop: Shop, of: Literal["orders", "quotes"], id_: int, *, runs: int = 200, seed: int = 1
) -> Iterator[SpreadStep]:
    """Simulate a run many times, step by step: who stops asking stops it.

    Raises
    ------
    NotFound, BadInput, Conflict
    """
    work, house, _ = _of_order(shop, id_) if of == "orders" else _of_quote(shop, id_)
    used, _ = best(run_plan(work, house))
    spreads = spreads_of(house)
    found: list[float] = []
    for n in range(runs):
        if n % 10 == 0:
            yield SpreadStep(done=n, of=runs)
        found.append(simulate(used, seed=seed * 100_003 + n, spreads=spreads).elapsed_s)
    found.sort()
    p10, p50, p90 = (round(found[min(runs - 1, int(s * runs))], 2) for s in (0.1, 0.5, 0.9))
    yield SpreadStep(done=runs, of=runs, p10_s=p10, p50_s=p50, p90_s=p90)


def run_file(path: Path, *, seed: int | None = None, shop: Shop | None = None) -> RunDocument:
    """Simulate the run of a job document on disk.

    Raises
    ------
    BadInput
    """
    asked, house, designs = read_job_file(path, shop)
    job, changed = settled(asked, house)
    work = work_of(job, house, designs)
    return run_of(work, changed, currency=job.currency or house.price.currency, seed=seed)
