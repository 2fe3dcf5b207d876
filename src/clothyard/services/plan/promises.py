"""When a quote could be ready, what would make a wanted day, and the day that its papers state."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Literal

from pydantic import BaseModel

from clothyard.core.advice.document import Advice
from clothyard.core.advice.order import date_tight
from clothyard.core.estimate.make import settled, work_of
from clothyard.core.figure_text import counted, day_text
from clothyard.core.house.document import House
from clothyard.core.job.document import Job
from clothyard.core.order.ways import Draft, Lacks, Way, charged_otherwise
from clothyard.core.order.ways import ways as ways_out
from clothyard.core.plan.futures import chances_of, late_counts
from clothyard.core.plan.units import work_units
from clothyard.core.record import record
from clothyard.core.stock.needs import needs_of
from clothyard.core.units import money_text
from clothyard.services.house.standards import shop_house
from clothyard.services.plan.planning import OpenOrders, open_orders, plan_of, quarter
from clothyard.services.quotes.drafts import Shown, price_typed
from clothyard.services.quotes.estimates import kept_designs
from clothyard.services.stock.shelf import shelf_for
from clothyard.store.quotes import KeptQuote, find_quote, find_version
from clothyard.store.shop import Shop, hour_now, today
from clothyard.store.stock import list_purchases


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
    `uncounted` things were never counted: they are waited for as if they were not here.
    """

    likely: str
    safe: str
    stated: str
    waits_until: str
    uncounted: int
    orders: int
    advice: list[Advice]
    ways: list[WayOut]
    currency: str
    taken: list[str]
    let_go: list[dict[str, Any]]
    """JSON Patch on the job that takes back what was charged for what was taken."""


MOST_ARRIVALS = 60
"""Orders to suppliers that are looked at for how late they come."""


@record
class _Asked:
    """A priced draft beside a shop's open orders, and what is kept of it; None where it has no
    price yet."""

    quote: KeptQuote
    open: OpenOrders
    draft: Draft | None
    uncounted: int = 0


def _asked(shop: Shop, quote: KeptQuote, house: House, job: Job | None = None) -> _Asked:
    """Lay a quote beside the open orders; `job` as it was priced before, or as it can be now."""
    estimate = None
    if job is None:
        priced = price_typed(shop, quote.job, house, Shown(), first=True)
        job, estimate = priced.job, priced.estimate
    if job is None:
        return _Asked(quote, OpenOrders(house, (), {}, ()), None)
    made, changed = settled(job, house)
    designs = kept_designs(shop, job)
    work = work_of(made, house, designs)
    own = frozenset(line.id for line in made.lines if line.goods.supplied_by == "customer")
    shelf = shelf_for(shop, needs_of(work, changed, customers=own), house)
    sellers = {row.label: key for key, row in house.suppliers.items()}
    washed = [line.id for line in made.lines if line.sample and line.sample.wash]
    found = open_orders(shop, house)
    # the order that it is of is not in its own way
    found = replace(found, planned=tuple(p for p in found.planned if p.id != str(quote.id)))
    draft = Draft(
        job=job,
        estimate=estimate,
        house=house,
        designs=designs,
        units=tuple(work_units(work, changed, washed=washed)),
        lacks=tuple(
            Lacks(sellers.get(row.supplier, ""), row.by) for row in shelf.rows if row.short != "0"
        ),
        express=bool(quote.express),
        planned=found.planned,
        line=plan_of(found).line,
        numbers={key: order.number for key, order in found.kept.items()},
        day=today(),
        hour=quarter(hour_now()),
        factor=1.0,
        simulated=shop.simulated,
        threaded=found.threaded,
    )
    return _Asked(quote, found, draft, sum(row.unknown for row in shelf.rows))


def _arrivals_late(shop: Shop) -> tuple[int, ...]:
    """Count how late what was ordered came, of the last arrivals."""
    rows = [
        row
        for purchase in list_purchases(shop, state="arrived", limit=MOST_ARRIVALS)
        for row in purchase.rows
    ]
    return late_counts(
        (row["expected_on"], row["arrived_on"])
        for row in rows
        if row.get("expected_on") and row.get("arrived_on")
    )


def _days(shop: Shop, asked: _Asked, draft: Draft) -> tuple[str, str, Draft]:
    """Say when it is with the customer: (likely, safe), and the draft by its safe factor."""
    before = str(asked.quote.goes_before or "")
    chances = chances_of(draft.house, spoil=draft.spoil(), late=_arrivals_late(shop))
    found, factor = draft.promise(before, chances)
    return (
        draft.there(found.likely),
        draft.there(found.safe),
        replace(draft, factor=factor, chances=chances),
    )


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
    asked = _asked(shop, quote, house)
    draft, currency = asked.draft, house.price.currency
    if draft is None:
        return PromiseView(
            likely="",
            safe="",
            stated=quote.promised_on,
            waits_until="",
            uncounted=0,
            orders=0,
            advice=[],
            ways=[],
            currency=currency,
            taken=[],
            let_go=[],
        )
    likely, safe, draft = _days(shop, asked, draft)
    shown = likely
    # what is promised is held against; a day that is only wanted where nothing is
    promised = quote.promised_on or _sent_with(shop, quote)
    wanted = promised or quote.due_on
    said = "It is promised for" if promised else "It is wanted by"
    if quote.first_part and quote.due_on and not quote.promised_on:  # a part by then is enough
        part = draft.there(draft.part_day(quote.first_part))
        wanted, likely, safe_for = quote.due_on, part, part
        said = f"{counted(quote.first_part, 'piece')} of it are promised for"
    else:
        safe_for = safe
    tight = date_tight(wanted, likely, safe_for, said=said)
    found = ways_out(draft, wanted) if ways and tight and quote.state == "draft" else []
    if found:
        tight = date_tight(wanted, likely, safe_for, said=said, ways=len(found))
    return PromiseView(
        likely=shown,
        safe=safe,
        stated=promised or _stated(quote, safe),
        waits_until=draft.waits_until(),
        uncounted=asked.uncounted,
        orders=len(asked.open.planned),
        advice=[tight] if tight else [],
        ways=[_way_out(way, currency) for way in found],
        currency=currency,
        taken=_taken(asked),
        let_go=list(charged_otherwise(draft)),
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


def _way_out(way: Way, currency: str) -> WayOut:
    return WayOut(
        id=way.kind,
        label=way.label,
        day=way.day,
        cost=money_text(way.cost, currency),
        makes_it=way.makes_it,
        late=list(way.late),
        patch=list(way.patch),
        head=dict(way.head),
        standards=[StandardTo(key=key, value=value) for key, value in way.standards],
    )


def stated_day(shop: Shop, quote: KeptQuote, house: House, job: Job) -> str:
    """Return the day that a quote's papers state: as typed, else the safe one, "" for none.

    `job` is the quote's, as it was priced.

    What is wanted later than that is promised for the day it is wanted: it has time.
    """
    if quote.promised_on:
        return quote.promised_on
    asked = _asked(shop, quote, house, job)
    return _stated(quote, _days(shop, asked, asked.draft)[1]) if asked.draft else ""


def _sent_with(shop: Shop, quote: KeptQuote) -> str:
    """Return the day that a quote was sent with, "" for a draft."""
    if quote.state == "draft" or not quote.version:
        return ""
    return str(find_version(shop, quote.id, quote.version).head.get("promised_on", ""))


def _stated(quote: KeptQuote, safe: str) -> str:
    if quote.promised_on or not safe:
        return quote.promised_on
    return max(safe, quote.due_on)
