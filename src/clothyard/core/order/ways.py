"""What would make a wanted day: each way with its day, what it costs more, and how it is taken.

A draft is laid beside the shop's open orders; `plan` says when it is ready, `estimate` what it
costs. Nothing is changed by looking.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from decimal import Decimal
from functools import lru_cache
from typing import Any, Literal

from clothyard.core.errors import ClothyardError
from clothyard.core.estimate.document import Estimate
from clothyard.core.estimate.make import Pricing, settled, work_of
from clothyard.core.figure_text import counted, day_text
from clothyard.core.house.document import House
from clothyard.core.house.week_text import (
    Spans,
    day_after,
    read_own_hours,
    weekday_of,
    write_own_hours,
)
from clothyard.core.job.document import Job
from clothyard.core.plan.calendar import Calendar, calendar_of, carried_on, handed_over_by
from clothyard.core.plan.futures import Chances
from clothyard.core.plan.promise import Promise, Promiser
from clothyard.core.plan.schedule import Planned
from clothyard.core.plan.units import ARRIVES_H, GOODS, Unit, wait_unit, work_units
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.stock.buying import arrives_on
from clothyard.core.units import exact, money_text

DRAFT = "draft"
MOST_OVERTIME_H = 4
QUICKER_S = 60.0
MOST_QUICKER = 6

Kind = Literal["overtime", "machine", "before", "part", "express", "quicker"]


@record
class Way:
    """What would make a wanted day: when it is there then ("" for never), what it costs more.

    It is taken by `patch` (JSON Patch) on the job, by `head` on the quote's head, by `standards`
    (key, value). `late` are the orders, by number, that are late by it.
    """

    kind: Kind
    label: str
    day: str
    cost: Decimal
    makes_it: bool
    late: tuple[str, ...] = ()
    patch: tuple[dict[str, Any], ...] = ()
    head: tuple[tuple[str, Any], ...] = ()
    standards: tuple[tuple[str, str], ...] = ()


@record
class Lacks:
    """Something that the shelf lacks: who sells it ("" for nobody), by when it can be here."""

    supplier: str
    by: str


@lru_cache(maxsize=8)
def _promiser(
    planned: tuple[Planned, ...], line: tuple[str, ...], calendar: Calendar, day: str, hour: float
) -> Promiser:
    return Promiser(planned, calendar, from_day=day, from_h=hour, line=line)


@record
class Draft:
    """A priced draft beside a shop's open orders.

    Parameters
    ----------
    job, estimate, house, designs
        What it is, what it costs, by which house and files.
    units : tuple of Unit
        Of its work.
    lacks : tuple of Lacks
        What the shelf lacks of what it needs.
    express : bool
        Whether what lacks is sent express already.
    planned, line : tuple
        The open orders, and the order in which they are planned.
    numbers : mapping
        What each open order is called, by its id.
    day, hour : str, float
        From when on it is planned: ISO day, hour of it. [h]
    factor : float
        How much longer its own time is, so that it is ready on its safe day: by this what else
        could be done is tried.
    threaded : tuple of (machine, threads)
        What is on each machine now.
    chances : Chances, optional
        How far times may be off: a day is safe by futures then, else by the factor.
    simulated : mapping of plan hash to seconds
        Runs as they were simulated.
    """

    job: Job
    estimate: Estimate | None
    house: House
    designs: Mapping[str, DesignFacts]
    units: tuple[Unit, ...]
    lacks: tuple[Lacks, ...]
    express: bool
    planned: tuple[Planned, ...]
    line: tuple[str, ...]
    numbers: Mapping[str, str]
    day: str
    hour: float
    factor: float
    simulated: Mapping[str, float]
    threaded: tuple[tuple[str, tuple[str, ...]], ...] = ()
    chances: Chances | None = None

    def waits_until(self, *, express: bool | None = None) -> str:
        """Return the day on which all that it lacks can be here, "" where it lacks nothing."""
        express = self.express if express is None else express
        days = []
        for row in self.lacks:
            supplier = self.house.suppliers.get(row.supplier)
            day = row.by
            if express and supplier and supplier.express_days:
                day = min(day, arrives_on(supplier, self.day, express=True))
            days.append(day)
        return max(days, default="")

    def planned_as(
        self, units: Sequence[Unit] | None = None, *, until: str | None = None
    ) -> Planned:
        """Return it as it is planned, its goods waited for until a day."""
        units = tuple(self.units if units is None else units)
        until = self.waits_until() if until is None else until
        if until:
            said = "waits for goods or materials"
            wait = wait_unit(GOODS, said, until, until_h=ARRIVES_H)
            units = (wait, *(u if u.after else replace(u, after=(wait.id,)) for u in units))
        return Planned(DRAFT, units, "", 10**6)

    def promiser(self) -> Promiser:
        """Return what says when it is ready beside the open orders."""
        return _promiser(
            self.planned, self.line, calendar_of(self.house, self.threaded), self.day, self.hour
        )

    def there(self, ready: str) -> str:
        """Return the day on which it is with the customer."""
        return carried_on(ready, self.house) if ready else ""

    def own_place(self, before: str, *, factor: float) -> str:
        """Return the day on which it is ready, before another order where it goes before that."""
        if before:
            return self.promiser().day_before(self.planned_as(), before, factor=factor)
        return self.promiser().day(self.planned_as(), factor=factor)

    def promise(self, before: str, chances: Chances) -> tuple[Promise, float]:
        """Say when it is ready, likely and safely, and by which factor of its own time."""
        promiser, own = self.promiser(), self.planned_as()
        found = promiser.promise(own, chances, before=before)
        return found, promiser.factor(own, found.safe, before=before) if found.safe else 1.0

    def spoil(self) -> float:
        """Return the share of its pieces that is usually made again."""
        goods = self.house.goods
        shares = [goods[line.goods.class_].spoil * line.quantity for line in self.job.lines]
        return float(sum(shares)) / max(1, self.pieces())

    def express_cost(self) -> Decimal:
        """Add up what the suppliers of what lacks ask for sending it express."""
        names = {row.supplier for row in self.lacks}
        sold = self.house.suppliers.items()
        return sum((s.express for key, s in sold if key in names and s.express_days), Decimal(0))

    def pieces(self) -> int:
        """Count its pieces."""
        return sum(line.quantity for line in self.job.lines)

    def part_day(self, count: int) -> str:
        """Return the day on which so many of its pieces are ready, safely."""
        share = min(1.0, count / self.pieces())
        units = tuple(
            replace(
                u,
                elapsed_s=u.elapsed_s * share,
                person_s=u.person_s * share,
                machine_s=u.machine_s * share,
            )
            if u.kind in {"prepare", "sew", "finish", "pack"}
            else u
            for u in self.units
        )
        return self.safe_on(self.promiser(), self.planned_as(units))

    def safe_on(self, promiser: Promiser, planned: Planned, *, before: str = "") -> str:
        """Return the day on which it is safely ready, planned in a way; "" for none."""
        if before:
            day = promiser.day_before(planned, before, factor=self.factor)
        else:
            day = promiser.day(planned, factor=self.factor)
        if self.chances is None or not day:
            return day
        return promiser.promise(planned, self.chances, before=before).safe

    def priced(self, job: Job, *, compare: bool = False) -> Estimate:
        """Price it made otherwise."""
        pricing = Pricing(job, self.house, self.designs, simulated=self.simulated)
        return pricing.estimate(compare=compare, pieces=False)

    def units_of(self, job: Job) -> tuple[Unit, ...]:
        """List its units, made otherwise."""
        return units_of(job, self.house, self.designs)

    def costs_more(self, job: Job) -> Decimal:
        """Say what it costs more, made otherwise."""
        assert self.estimate is not None
        return Decimal(self.priced(job).total.cost) - Decimal(self.estimate.total.cost)


def units_of(job: Job, house: House, designs: Mapping[str, DesignFacts]) -> tuple[Unit, ...]:
    """List the units of a job's work.

    Raises
    ------
    BadInput
        Where it cannot be made so.
    """
    job, changed = settled(job, house)
    washed = [line.id for line in job.lines if line.sample and line.sample.wash]
    return tuple(work_units(work_of(job, house, designs), changed, washed=washed))


def on_machine(job: Job, machine: str) -> Job:
    """Return a job with every placement on one machine."""
    lines = []
    for line in job.lines:
        placements = tuple(
            place.model_copy(
                update={"methods": place.methods.model_copy(update={"machine": machine})}
            )
            for place in line.placements
        )
        lines.append(line.model_copy(update={"placements": placements}))
    return job.model_copy(update={"lines": tuple(lines)})


def ways(draft: Draft, wanted: str) -> list[Way]:
    """Work out what would make a day, those that do first, the cheapest before.

    Parameters
    ----------
    draft : Draft
    wanted : str
        The ISO day on which it is to be with the customer.

    Source
    ------
    The handbook's workshop 6.
    """
    makers: tuple[Callable[[Draft, str], list[Way]], ...] = (
        overtime,
        machines,
        before,
        express,
        quicker,
        part,
    )
    found = [way for make in makers for way in make(draft, wanted)]
    return sorted(
        found,
        # a part is not the whole of it
        key=lambda way: (not way.makes_it, way.kind == "part", way.cost, way.day),
    )


def _way(
    draft: Draft, wanted: str, kind: Kind, label: str, ready: str, cost: Decimal, **how: Any
) -> Way:
    day = draft.there(ready)
    return Way(kind, label, day, cost, bool(day) and day <= wanted, **how)


def _days_until(draft: Draft, day: str) -> dict[str, Spans]:
    """Return the days until one on which the first person works, each with its hours."""
    person = calendar_of(draft.house).people[0]
    others = dict(person.others)
    found, at = {}, draft.day
    while at <= day:
        if spans := others.get(at, person.week[weekday_of(at)]):
            found[at] = spans
        at = day_after(at, 1)
    return found


MOST_TRIED = 3
"""Places in line whose futures are drawn."""


def overtime(draft: Draft, wanted: str) -> list[Way]:
    """Work an hour longer, or more, each day until then: the fewest hours that make it."""
    by = handed_over_by(wanted, draft.house)
    days = _days_until(draft, by)
    person, row = next(iter(draft.house.people.items()))
    rate = draft.house.rates.labour_per_h + draft.house.rates.overhead_per_h
    for hours in range(1, MOST_OVERTIME_H + 1):
        also, more_min = read_own_hours(row.also), 0
        for day, (*earlier, (begin, end)) in days.items():
            longer = min(end + hours * 60, 24 * 60)
            also[day] = (*earlier, (begin, longer))
            more_min += longer - end
        text = write_own_hours(also)
        people = draft.house.people | {person: row.model_copy(update={"also": text})}
        calendar = calendar_of(draft.house.model_copy(update={"people": people}), draft.threaded)
        promiser = Promiser(
            draft.planned, calendar, from_day=draft.day, from_h=draft.hour, line=draft.line
        )
        soon = promiser.day(draft.planned_as(), factor=draft.factor)
        if not soon or soon > by:
            continue
        ready = draft.safe_on(promiser, draft.planned_as())
        if ready and ready <= by:
            when = "one day" if len(days) == 1 else f"{len(days)} days"
            label = f"{row.label} works {counted(hours, 'hour')} longer on {when}"
            cost = rate * exact(more_min) / 60
            taken = ((f"people.{person}.also", text),)
            return [_way(draft, wanted, "overtime", label, ready, cost, standards=taken)]
    return []


def machines(draft: Draft, wanted: str) -> list[Way]:
    """Sew it on another of the shop's machines."""
    used = {unit.machine for unit in draft.units if unit.machine}
    found = []
    for key, machine in draft.house.machines.items():
        if not machine.owned or used == {key}:
            continue
        job = on_machine(draft.job, key)
        try:
            units, cost = draft.units_of(job), draft.costs_more(job)
        except ClothyardError:
            continue  # it cannot be sewn there
        ready = draft.safe_on(draft.promiser(), draft.planned_as(units))
        patch = tuple(
            {"op": "add", "path": f"/lines/{n}/placements/{k}/methods/machine", "value": key}
            for n, line in enumerate(job.lines)
            for k in range(len(line.placements))
        )
        label = f"Sew it on {machine.label}"
        found.append(_way(draft, wanted, "machine", label, ready, cost, patch=patch))
    return [way for way in found if way.makes_it]


def before(draft: Draft, wanted: str) -> list[Way]:
    """Go before other orders: before the last one that makes it, and who is late by that."""
    by = handed_over_by(wanted, draft.house)
    promiser, own = draft.promiser(), draft.planned_as()
    soon: list[tuple[str, Sequence[str]]] = []
    for other, day, late in promiser.before(own, factor=draft.factor):
        if day and day <= by:
            soon.append((other, late))
            if not late:
                break
    tried = sorted(soon, key=lambda row: len(row[1]))[:MOST_TRIED]
    safe = ((*row, draft.safe_on(promiser, own, before=row[0])) for row in tried)
    found = next((row for row in safe if row[2] and row[2] <= by), None)
    if found is None:
        return []
    first, behind, ready = found
    label = f"Let it go before {draft.numbers[first]}"
    numbers = tuple(draft.numbers[key] for key in behind)
    head = (("goes_before", int(first)),)
    return [_way(draft, wanted, "before", label, ready, Decimal(0), late=numbers, head=head)]


def express(draft: Draft, wanted: str) -> list[Way]:
    """Have what lacks sent express, where its suppliers offer that."""
    if not draft.lacks or draft.express:
        return []
    until = draft.waits_until(express=True)
    if until >= draft.waits_until():
        return []
    cost = draft.express_cost()
    ready = draft.safe_on(draft.promiser(), draft.planned_as(until=until))
    charged = money_text(draft.job.delivery + cost, draft.house.price.currency)
    patch = ({"op": "add", "path": "/delivery", "value": charged},) if cost else ()
    label = f"Have the goods sent express, here by {day_text(until)}"
    taken = (("express", True),)
    return [_way(draft, wanted, "express", label, ready, cost, head=taken, patch=patch)]


def charged_otherwise(draft: Draft) -> tuple[dict[str, Any], ...]:
    """Take what express goods cost off the delivery that is charged: a JSON Patch on the job."""
    if not draft.express:
        return ()
    left = max(Decimal(0), draft.job.delivery - draft.express_cost())
    charged = money_text(left, draft.house.price.currency)
    return ({"op": "add", "path": "/delivery", "value": charged},)


@record
class _Other:
    """Another method of a place: how much sooner by it, what it is called, how it is taken."""

    saved_s: float
    name: str
    job: Job
    patch: dict[str, Any]


def _others(draft: Draft) -> list[_Other]:
    """List what the bench offers that is quicker by more than a minute, the quickest first."""
    found = []
    for n, line in enumerate(draft.priced(draft.job, compare=True).lines):
        for method in line.methods:
            for other in method.others:
                if other.minutes_difference is None or other.cost_difference is None:
                    continue
                saved_s = -other.minutes_difference * 60 * line.quantity
                if saved_s < QUICKER_S or method.key == "machine":
                    continue
                value = _read_method(method.key, other.value)
                path = f"/lines/{n}/placements/{method.placement}/methods/{method.key}"
                found.append(
                    _Other(
                        saved_s,
                        f"{method.key.replace('_', ' ')} {other.value.replace('-', ' ')}",
                        _with_method(draft.job, n, method.placement, method.key, value),
                        {"op": "add", "path": path, "value": value},
                    )
                )
    return sorted(found, key=lambda row: -row.saved_s)


def _read_method(key: str, value: str) -> Any:
    """Read a method's value as a job has it."""
    if key in {"baste", "knock_down"}:
        return value == "true"
    return int(value) if key.endswith("layers") else value


def quicker(draft: Draft, wanted: str) -> list[Way]:
    """Make it in a quicker way, of those that the bench offers."""
    assert draft.estimate is not None
    found: list[Way] = []
    for other in _others(draft)[:MOST_QUICKER]:
        try:
            units, priced = draft.units_of(other.job), draft.priced(other.job)
        except ClothyardError:
            continue
        if draft.estimate.sendable and not priced.sendable:
            continue
        cost = Decimal(priced.total.cost) - Decimal(draft.estimate.total.cost)
        ready = draft.safe_on(draft.promiser(), draft.planned_as(units))
        label = f"Make it quicker: {other.name}"
        found.append(_way(draft, wanted, "quicker", label, ready, cost, patch=(other.patch,)))
    return [way for way in found if way.makes_it][:2]


def _with_method(job: Job, line: int, placement: int, key: str, value: Any) -> Job:
    lines = list(job.lines)
    places = list(lines[line].placements)
    methods = places[placement].methods.model_copy(update={key: value})
    places[placement] = places[placement].model_copy(update={"methods": methods})
    lines[line] = lines[line].model_copy(update={"placements": tuple(places)})
    return job.model_copy(update={"lines": tuple(lines)})


def part(draft: Draft, wanted: str) -> list[Way]:
    """Deliver as many pieces as are ready by then, the rest on the safe day."""
    by = handed_over_by(wanted, draft.house)
    pieces = draft.pieces()
    low, high = 0, pieces
    while low < high:  # the most that are ready by the day
        middle = (low + high + 1) // 2
        ready = draft.part_day(middle)
        low, high = (middle, high) if ready and ready <= by else (low, middle - 1)
    if not 0 < low < pieces:
        return []
    label = f"Deliver {low} of {pieces} by then, the rest on the safe day"
    head = (("first_part", low), ("promised_on", ""))
    return [_way(draft, wanted, "part", label, by, Decimal(0), head=head)]
