"""When a quote could be ready, what would make a wanted day, and the day that its papers state."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from decimal import Decimal
from functools import lru_cache
from typing import Any, Literal

from pydantic import BaseModel

from clothyard.core.advice.document import Advice
from clothyard.core.advice.order import date_tight
from clothyard.core.errors import ClothyardError
from clothyard.core.estimate.document import Estimate
from clothyard.core.estimate.make import settled
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
from clothyard.core.plan.schedule import P80, Planned, Promiser
from clothyard.core.plan.units import Unit, wait_unit, work_units
from clothyard.core.run.simulate import spreads_of
from clothyard.core.stock.buying import arrives_on
from clothyard.core.stock.needs import needs_of
from clothyard.core.units import exact, money_text
from clothyard.services.house.standards import shop_house
from clothyard.services.plan.planning import (
    OpenOrders,
    on_machine,
    open_orders,
    plan_of,
    quarter,
    units_of_job,
)
from clothyard.services.quotes.drafts import Shown, price_typed
from clothyard.services.quotes.estimates import pricing_of, work_job
from clothyard.services.stock.shelf import LackRow, shelf_for
from clothyard.store.quotes import KeptQuote, find_quote, find_version
from clothyard.store.shop import Shop, hour_now, today

DRAFT = "draft"
MOST_OVERTIME_H = 4
QUICKER_S = 60.0
MOST_QUICKER = 6


class StandardTo(BaseModel):
    """A standard that a way out changes, and to what."""

    key: str
    value: str


class WayOut(BaseModel):
    """What would make a wanted day: when it is then ready (safely), and what that costs more.

    It is taken by `patch` (JSON Patch) on the job, by `head` on the quote's head, by `standards`.
    `makes_it` says whether the wanted day is kept by it, `late` which orders are late by it.
    """

    id: Literal["overtime", "machine", "before", "part", "express", "quicker"]
    label: str
    day: str
    cost: str
    makes_it: bool
    late: list[str]
    patch: list[dict[str, Any]]
    head: dict[str, Any]
    standards: list[StandardTo]


class PromiseView(BaseModel):
    """When a quote could be ready; `orders` are open before it. "" where it is not priced yet.

    `stated` is the day that its papers state: the one typed, else the safe one, or the one wanted
    where that is later. `ways` are what would make the day that is wanted, the cheapest first.
    """

    likely: str
    safe: str
    stated: str
    waits_until: str
    orders: int
    advice: list[Advice]
    ways: list[WayOut]
    currency: str
    taken: list[str]
    let_go: list[dict[str, Any]]
    """JSON Patch on the job that takes back what was charged for what was taken."""


@lru_cache(maxsize=8)
def _promiser(
    planned: tuple[Planned, ...], line: tuple[str, ...], calendar: Calendar, day: str, hour: float
) -> Promiser:
    return Promiser(planned, calendar, from_day=day, from_h=hour, line=line)


class _Asked:
    """A priced draft beside a shop's open orders."""

    def __init__(self, shop: Shop, quote: KeptQuote, house: House, job: Job | None = None):
        self.shop, self.quote, self.house = shop, quote, house
        self.waits_until = ""
        self.units: tuple[Unit, ...] = ()
        self.short: list[LackRow] = []
        self.open: OpenOrders = OpenOrders(house, (), {})
        self.estimate: Estimate | None = None
        self.job = job  # as it was priced before, or as it can be now
        if job is None:
            priced = price_typed(shop, quote.job, house, Shown(), first=True)
            self.job, self.estimate = priced.job, priced.estimate
        if self.job is None:
            return
        job, changed = settled(self.job, house)
        work = work_job(shop, job, house)
        own = frozenset(line.id for line in job.lines if line.goods.supplied_by == "customer")
        shelf = shelf_for(shop, needs_of(work, changed, customers=own), house)
        self.short = [row for row in shelf.rows if row.short != "0"]
        self.waits_until = self._wait(express=bool(quote.express))
        washed = [line.id for line in job.lines if line.sample and line.sample.wash]
        self.units = tuple(work_units(work, changed, washed=washed))
        found = open_orders(shop, house)
        if quote.state == "accepted":  # the order that it is of is not in its own way
            found = replace(found, planned=tuple(p for p in found.planned if p.id != str(quote.id)))
        self.open = found
        self.factor = math.exp(P80 * math.sqrt(sum(s * s for s in spreads_of(house).values()) / 4))

    def _wait(self, *, express: bool) -> str:
        days = []
        for row in self.short:
            supplier = next(
                (s for s in self.house.suppliers.values() if s.label == row.supplier), None
            )
            day = row.by
            if express and supplier and supplier.express_days:
                day = min(day, arrives_on(supplier, today(), express=True))
            days.append(day)
        return max(days, default="")

    def draft(self, units: Sequence[Unit] | None = None, *, until: str | None = None) -> Planned:
        """Return it as it is planned, its goods waited for until a day."""
        units = tuple(self.units if units is None else units)
        until = self.waits_until if until is None else until
        if until:
            wait = wait_unit("goods", "waits for goods or materials", until)
            units = (wait, *(u if u.after else replace(u, after=(wait.id,)) for u in units))
        return Planned(DRAFT, units, "", 10**6)

    def promiser(self) -> Promiser:
        """Return what says when it is ready beside the open orders."""
        line = plan_of(self.open).line
        return _promiser(self.open.planned, line, self.open.calendar, today(), quarter(hour_now()))

    def there(self, ready: str) -> str:
        """Return the day on which it is with the customer."""
        return carried_on(ready, self.house) if ready else ""


def _own_place(asked: _Asked, factor: float) -> str:
    """Return the day on which the draft is ready at the place that was taken for it."""
    promiser, draft = asked.promiser(), asked.draft()
    before = str(asked.quote.goes_before or "")
    if before:
        return promiser.day_before(draft, before, factor=factor)
    return promiser.day(draft, factor=factor)


def _days(asked: _Asked) -> tuple[str, str]:
    """Say when it is with the customer: (likely, safe)."""
    return asked.there(_own_place(asked, 1.0)), asked.there(_own_place(asked, asked.factor))


def promise_quote(shop: Shop, quote_id: int, *, ways: bool = True) -> PromiseView:
    """Say when a quote could be ready, behind all open orders, from shelf, suppliers, the week.

    Parameters
    ----------
    ways : bool
        Work out what would make the wanted day, where it is missed.

    Raises
    ------
    NotFound
    """
    quote = find_quote(shop, quote_id)
    house = shop_house(shop)
    asked = _Asked(shop, quote, house)
    currency = house.price.currency
    if asked.job is None:
        return PromiseView(
            likely="",
            safe="",
            stated=quote.promised_on,
            waits_until="",
            orders=0,
            advice=[],
            ways=[],
            currency=currency,
            taken=[],
            let_go=[],
        )
    likely, safe = _days(asked)
    shown = likely
    # what is promised is held against; a day that is only wanted where nothing is
    promised = quote.promised_on or _sent_with(shop, quote)
    wanted = promised or quote.due_on
    said = "It is promised for" if promised else "It is wanted by"
    if quote.first_part and quote.due_on and not quote.promised_on:  # a part by then is enough
        part = asked.there(_part_day(asked, quote.first_part))
        wanted, likely, safe_for = quote.due_on, part, part
        said = f"{counted(quote.first_part, 'piece')} of it are promised for"
    else:
        safe_for = safe
    tight = date_tight(wanted, likely, safe_for, said=said)
    found = _ways(asked, wanted) if ways and tight and quote.state == "draft" else []
    if found:
        tight = date_tight(wanted, likely, safe_for, said=said, ways=len(found))
    return PromiseView(
        likely=shown,
        safe=safe,
        stated=promised or _stated(quote, safe),
        waits_until=asked.waits_until,
        orders=len(asked.open.planned),
        advice=[tight] if tight else [],
        ways=found,
        currency=currency,
        taken=_taken(asked),
        let_go=_let_go(asked),
    )


def _taken(asked: _Asked) -> list[str]:
    """Say in words what was taken so that the day is kept."""
    quote, said = asked.quote, []
    if str(quote.goes_before or "") in asked.open.kept:
        said.append(f"goes before {asked.open.kept[str(quote.goes_before)].number}")
    if quote.express:
        said.append("goods are sent express")
    if quote.first_part:
        by = f" by {day_text(quote.due_on)}" if quote.due_on else ""
        said.append(f"{counted(quote.first_part, 'piece')}{by} as a first part")
    return said


def _let_go(asked: _Asked) -> list[dict[str, Any]]:
    """Take what express goods cost off the delivery that is charged."""
    if not asked.quote.express or asked.job is None:
        return []
    left = max(Decimal(0), asked.job.delivery - _express_cost(asked))
    charged = money_text(left, asked.house.price.currency)
    return [{"op": "add", "path": "/delivery", "value": charged}]


def _express_cost(asked: _Asked) -> Decimal:
    """Add up what the suppliers of what lacks ask for sending it express."""
    labels = {row.supplier for row in asked.short}
    return sum(
        (s.express for s in asked.house.suppliers.values() if s.label in labels and s.express_days),
        Decimal(0),
    )


def stated_day(shop: Shop, quote: KeptQuote, house: House, job: Job) -> str:
    """Return the day that a quote's papers state: as typed, else the safe one, "" for none.

    `job` is the quote's, as it was priced.

    What is wanted later than that is promised for the day it is wanted: it has time.
    """
    if quote.promised_on:
        return quote.promised_on
    return _stated(quote, _days(_Asked(shop, quote, house, job))[1])


def _sent_with(shop: Shop, quote: KeptQuote) -> str:
    """Return the day that a quote was sent with, "" for a draft."""
    if quote.state == "draft" or not quote.version:
        return ""
    return str(find_version(shop, quote.id, quote.version).head.get("promised_on", ""))


def _stated(quote: KeptQuote, safe: str) -> str:
    if quote.promised_on or not safe:
        return quote.promised_on
    return max(safe, quote.due_on)


def _ways(asked: _Asked, wanted: str) -> list[WayOut]:
    """Work out what would make a day, those that do first, the cheapest before."""
    makers: list[Callable[[_Asked, str], list[WayOut]]] = [
        _overtime,
        _machines,
        _before,
        _express,
        _quicker,
        _part,
    ]
    found = [way for make in makers for way in make(asked, wanted)]
    order = {"part": 1}  # a part is not the whole of it
    return sorted(found, key=lambda w: (not w.makes_it, order.get(w.id, 0), Decimal(w.cost), w.day))


def _way(
    asked: _Asked, wanted: str, id_: Any, label: str, ready: str, cost: Decimal, **how: Any
) -> WayOut:
    day = asked.there(ready)
    values: dict[str, Any] = {"late": [], "patch": [], "head": {}, "standards": []}
    return WayOut(
        id=id_,
        label=label,
        day=day,
        cost=money_text(cost, asked.house.price.currency),
        makes_it=bool(day) and day <= wanted,
        **values | how,
    )


def _later(asked: _Asked, day: str) -> dict[str, Spans]:
    """Return the days until one on which the first person works, each with its hours."""
    person = asked.open.calendar.people[0]
    others = dict(person.others)
    found, at = {}, today()
    while at <= day:
        if spans := others.get(at, person.week[weekday_of(at)]):
            found[at] = spans
        at = day_after(at, 1)
    return found


def _overtime(asked: _Asked, wanted: str) -> list[WayOut]:
    """Work an hour longer, or more, each day until then: the fewest hours that make it."""
    by = handed_over_by(wanted, asked.house)
    days = _later(asked, by)
    person = next(iter(asked.house.people))
    row = asked.house.people[person]
    rate = asked.house.rates.labour_per_h + asked.house.rates.overhead_per_h
    for hours in range(1, MOST_OVERTIME_H + 1):
        also = read_own_hours(row.also)
        more_min = 0
        for day, (*before, (begin, end)) in days.items():
            longer = min(end + hours * 60, 24 * 60)
            also[day] = (*before, (begin, longer))
            more_min += longer - end
        text = write_own_hours(also)
        changed = asked.house.model_copy(
            update={"people": asked.house.people | {person: row.model_copy(update={"also": text})}}
        )
        ready = Promiser(
            asked.open.planned,
            calendar_of(changed),
            from_day=today(),
            from_h=quarter(hour_now()),
            line=plan_of(asked.open).line,
        ).day(asked.draft(), factor=asked.factor)
        if ready and ready <= by:
            label = f"{row.label} works {counted(hours, 'hour')} longer on {len(days)} days"
            if len(days) == 1:
                label = f"{row.label} works {counted(hours, 'hour')} longer on one day"
            cost = rate * exact(more_min) / 60
            return [
                _way(
                    asked,
                    wanted,
                    "overtime",
                    label,
                    ready,
                    cost,
                    standards=[StandardTo(key=f"people.{person}.also", value=text)],
                )
            ]
    return []


def _cost_of(asked: _Asked, job: Job) -> Decimal:
    estimate = pricing_of(asked.shop, job, asked.house).estimate(compare=False, pieces=False)
    return Decimal(estimate.total.cost)


def _now(asked: _Asked) -> Estimate:
    assert asked.estimate is not None
    return asked.estimate


def _machines(asked: _Asked, wanted: str) -> list[WayOut]:
    """Sew it on another of the shop's machines."""
    assert asked.job is not None
    used = {unit.machine for unit in asked.units if unit.machine}
    found = []
    for key, machine in asked.house.machines.items():
        if not machine.owned or used == {key}:
            continue
        job = on_machine(asked.job, key)
        try:
            units = units_of_job(asked.shop, job, asked.house)
            cost = _cost_of(asked, job) - Decimal(_now(asked).total.cost)
        except ClothyardError:
            continue  # it cannot be sewn there
        ready = asked.promiser().day(asked.draft(units), factor=asked.factor)
        patch = [
            {"op": "add", "path": f"/lines/{n}/placements/{k}/methods/machine", "value": key}
            for n, line in enumerate(job.lines)
            for k in range(len(line.placements))
        ]
        found.append(
            _way(asked, wanted, "machine", f"Sew it on {machine.label}", ready, cost, patch=patch)
        )
    return [way for way in found if way.makes_it]


def _before(asked: _Asked, wanted: str) -> list[WayOut]:
    """Go before other orders: before the last one that makes it, and who is late by that."""
    by = handed_over_by(wanted, asked.house)
    best: tuple[str, str, list[str]] | None = None
    for other, day, late in asked.promiser().before(asked.draft(), factor=asked.factor):
        if day and day <= by and (best is None or len(late) < len(best[2])):
            best = other, day, late
        if best and not best[2]:
            break
    if best is None:
        return []
    number = asked.open.kept[best[0]].number
    late = [asked.open.kept[key].number for key in best[2]]
    return [
        _way(
            asked,
            wanted,
            "before",
            f"Let it go before {number}",
            best[1],
            Decimal(0),
            late=late,
            head={"goes_before": int(best[0])},
        )
    ]


def _express(asked: _Asked, wanted: str) -> list[WayOut]:
    """Have what lacks sent express, where its suppliers offer that."""
    if not asked.short or asked.quote.express:
        return []
    until = asked._wait(express=True)
    if until >= asked.waits_until:
        return []
    cost = _express_cost(asked)
    ready = asked.promiser().day(asked.draft(until=until), factor=asked.factor)
    assert asked.job is not None
    charged = money_text(asked.job.delivery + cost, asked.house.price.currency)
    return [
        _way(
            asked,
            wanted,
            "express",
            f"Have the goods sent express, here by {day_text(until)}",
            ready,
            cost,
            head={"express": True},
            patch=[{"op": "add", "path": "/delivery", "value": charged}] if cost else [],
        )
    ]


def _quicker(asked: _Asked, wanted: str) -> list[WayOut]:
    """Make it in a quicker way, of those that the bench offers."""
    assert asked.job is not None
    estimate = pricing_of(asked.shop, asked.job, asked.house).estimate(pieces=False)
    tried: list[tuple[float, str, Any]] = []
    for n, line in enumerate(estimate.lines):
        for method in line.methods:
            for other in method.others:
                if other.minutes_difference is None or other.cost_difference is None:
                    continue
                saved = -other.minutes_difference * 60 * line.quantity
                if saved < QUICKER_S or method.key == "machine":
                    continue
                value: Any = other.value
                if method.key in {"baste", "knock_down"}:
                    value = value == "true"
                elif method.key == "layers":
                    value = int(value)
                path = f"/lines/{n}/placements/{method.placement}/methods/{method.key}"
                patch = [{"op": "add", "path": path, "value": value}]
                named = f"{method.key.replace('_', ' ')} {other.value.replace('-', ' ')}"
                tried.append((saved, named, (n, method.placement, method.key, value, patch)))
    found: list[WayOut] = []
    for _, named, (n, k, key, value, patch) in sorted(tried, key=lambda row: -row[0])[
        :MOST_QUICKER
    ]:
        job = _with_method(asked.job, n, k, key, value)
        try:
            units = units_of_job(asked.shop, job, asked.house)
            pricing = pricing_of(asked.shop, job, asked.house).estimate(compare=False, pieces=False)
        except ClothyardError:
            continue
        if _now(asked).sendable and not pricing.sendable:
            continue
        cost = Decimal(pricing.total.cost) - Decimal(_now(asked).total.cost)
        ready = asked.promiser().day(asked.draft(units), factor=asked.factor)
        found.append(
            _way(asked, wanted, "quicker", f"Make it quicker: {named}", ready, cost, patch=patch)
        )
    return [way for way in found if way.makes_it][:2]


def _with_method(job: Job, line: int, placement: int, key: str, value: Any) -> Job:
    lines = list(job.lines)
    places = list(lines[line].placements)
    methods = places[placement].methods.model_copy(update={key: value})
    places[placement] = places[placement].model_copy(update={"methods": methods})
    lines[line] = lines[line].model_copy(update={"placements": tuple(places)})
    return job.model_copy(update={"lines": tuple(lines)})


def _part_day(asked: _Asked, count: int) -> str:
    """Return the day on which so many pieces are ready, safely."""
    pieces = sum(line.quantity for line in asked.job.lines) if asked.job else 1
    share = min(1.0, count / pieces)
    units = tuple(
        replace(
            u,
            elapsed_s=u.elapsed_s * share,
            person_s=u.person_s * share,
            machine_s=u.machine_s * share,
        )
        if u.kind in {"prepare", "sew", "finish", "pack"}
        else u
        for u in asked.units
    )
    return asked.promiser().day(asked.draft(units), factor=asked.factor)


def _part(asked: _Asked, wanted: str) -> list[WayOut]:
    """Deliver as many pieces as are ready by then, the rest on the safe day."""
    by = handed_over_by(wanted, asked.house)
    pieces = sum(line.quantity for line in asked.job.lines) if asked.job else 0
    low, high = 0, pieces
    while low < high:  # the most that are ready by the day
        middle = (low + high + 1) // 2
        ready = _part_day(asked, middle)
        low, high = (middle, high) if ready and ready <= by else (low, middle - 1)
    if not 0 < low < pieces:
        return []
    label = f"Deliver {low} of {pieces} by then, the rest on the safe day"
    return [
        _way(
            asked,
            wanted,
            "part",
            label,
            by,
            Decimal(0),
            head={"first_part": low, "promised_on": ""},
        )
    ]
