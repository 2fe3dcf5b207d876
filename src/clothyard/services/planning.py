"""The plan of open orders, and when a quote could be ready."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

from pydantic import BaseModel

from clothyard.core.advice.document import Advice
from clothyard.core.advice.order import date_tight
from clothyard.core.estimate.make import settled
from clothyard.core.figure_text import day_text
from clothyard.core.house.document import House
from clothyard.core.stock.buying import days_before, item_of, supplier_of
from clothyard.core.stock.ledger import ZERO
from clothyard.core.stock.needs import needs_of
from clothyard.core.work.schedule import Calendar, Planned, plan_orders, promise
from clothyard.core.work.simulate import spreads_of
from clothyard.core.work.units import Unit, work_units
from clothyard.services import orders
from clothyard.services.estimates import work_job
from clothyard.services.quotes import Shown, price_typed
from clothyard.services.shelf import Shelf, shelf_for
from clothyard.services.standards import shop_house
from clothyard.store import orders as kept
from clothyard.store import stock
from clothyard.store.quotes import find_quote
from clothyard.store.shop import Shop, today

OPEN = ("accepted", "waiting", "ready", "in-work")
MOST_PLANNED = 200


class PlanStrip(BaseModel):
    """A unit on the plan, from begin to end, in days and hours of the day."""

    order: int
    number: str
    unit: str
    kind: str
    label: str
    machine: str
    begin_day: str
    begin_h: float
    end_day: str
    end_h: float


class PlanOrder(BaseModel):
    """An order on the plan: when it is begun and ends, how late that is, what holds it."""

    id: int
    number: str
    customer: str
    summary: str
    promised_on: str
    begin_day: str
    end_day: str
    late_days: int
    why: str


class PlanDocument(BaseModel):
    """Open orders over the coming days (clothyard-plan/1), those that are begun first before."""

    format: Literal["clothyard-plan/1"] = "clothyard-plan/1"
    from_day: str
    orders: list[PlanOrder]
    strips: list[PlanStrip]
    over: list[str]
    tries: int


class PromiseView(BaseModel):
    """When a quote could be ready; `orders` are open before it. "" where it is not priced yet."""

    likely: str
    safe: str
    waits_until: str
    orders: int
    advice: list[Advice]


def calendar_of(house: House) -> Calendar:
    """Read when a shop works."""
    week = house.week
    hours = tuple(
        float(getattr(week, day)) for day in ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
    )
    closed = frozenset(re.findall(r"\d{4}-\d{2}-\d{2}", week.closed))
    return Calendar(float(week.start_h), hours, closed, house.run.operators, {})


_KNOWN: dict[tuple[str, int, int], tuple[Unit, ...]] = {}
_MOST_KNOWN = 1000


def _units(shop: Shop, identity: str, order: kept.KeptOrder) -> tuple[Unit, ...]:
    """List the units of an order's version; it never changes, so that they are worked out once."""
    key = identity, order.quote_id, order.version
    if key not in _KNOWN:
        if len(_KNOWN) >= _MOST_KNOWN:
            _KNOWN.clear()
        _KNOWN[key] = tuple(orders.Opened(shop, order.quote_id, order.version).units())
    return _KNOWN[key]


def _left(
    order: kept.KeptOrder, units: Sequence[Unit], done: float, waits: Sequence[Unit]
) -> tuple[Unit, ...]:
    """List the units of an order that are still to do; those of sewn pieces are shorter."""
    passed = {key.partition("|")[2] for key in order.ready if key.startswith("sample|")}
    gone = {unit.id for unit in units if unit.of in passed}
    first = tuple(unit.id for unit in waits)
    found = list(waits)
    for unit in units:
        if unit.id in gone:
            continue
        share = 1.0 - done if unit.kind in {"prepare", "sew", "finish"} else 1.0
        after = tuple(at for at in unit.after if at not in gone) or first
        found.append(
            replace(unit, elapsed_s=unit.elapsed_s * share, person_s=unit.person_s * share,
                    machine_s=unit.machine_s * share, after=after)
        )  # fmt: skip
    return tuple(found)


def _wait(id_: str, label: str, until: str) -> Unit:
    return Unit(id_, "wait", label, "", 0, 0, 0.0, 0.0, 0.0, (), "no", "", until)


def _waits(order: kept.KeptOrder, goods: str, house: House) -> list[Unit]:
    """List what an order waits for before it is begun, each until its day."""
    found = []
    if order.state == "waiting" and order.waits not in {"goods", "materials"}:
        what = {"file": "its stitch file", "payment": "a payment"}
        said = what.get(order.waits, f"the {order.waits}")
        found.append(_wait("wait", f"waits for {said}", _unknown(house)))
    if goods:
        found.append(_wait("goods", "waits for goods or materials", goods))
    return found


def _unknown(house: House) -> str:
    """Return the day on which something without a date is expected."""
    return days_before(today(), -house.run.goods_days)


def _goods_days(shop: Shop, house: House) -> dict[int, str]:
    """Say on which day each open order has what it is short of: ordered, or after its supplier."""
    shelf = Shelf(shop, house)
    found: dict[int, str] = {}
    for need in stock.open_needs(shop, short=True):
        day = shelf.coming_on.get(need.item, "")
        if shelf.coming.get(need.item, ZERO) < need.short or not day:
            known = shelf.items.get(need.item)
            item = item_of(need.item, shelf.unit(need.item))
            supplier = supplier_of(item, house, chosen=known.supplier if known else "")
            day = days_before(today(), -house.suppliers[supplier].days)
        if day < today():  # it should be here, and is not
            day = _unknown(house)
        found[need.order] = max(found.get(need.order, ""), day)
    return found


def _planned(shop: Shop, house: House) -> tuple[list[Planned], dict[str, kept.KeptOrder]]:
    orders.keep_up(shop)
    rows, _ = kept.list_orders(
        shop, search="", state="", sort="promise", down=None, offset=0, limit=MOST_PLANNED
    )
    goods = _goods_days(shop, house) if stock.on_hand(shop) else {}
    found, by_id = [], {}
    identity = shop.identity()
    counts = kept.count_pieces(shop, [row.quote_id for row in rows])
    for n, row in enumerate(rows):
        if row.state not in OPEN:
            continue
        pieces = counts.get(row.quote_id, {})
        sewn = sum(pieces.get(s, 0) for s in ("sewn", "good", "mended"))
        whole = sewn + pieces.get("waiting", 0) + pieces.get("prepared", 0)
        waits = _waits(row, goods.get(row.quote_id, ""), house)
        done = sewn / whole if whole else 0.0
        units = _left(row, _units(shop, identity, row), done, waits)
        found.append(Planned(str(row.quote_id), units, row.promised_on, n))
        by_id[str(row.quote_id)] = row
    return found, by_id


def plan_shop(shop: Shop) -> PlanDocument:
    """Plan a shop's open orders from today on."""
    house = shop_house(shop)
    planned, by_id = _planned(shop, house)
    plan = plan_orders(planned, calendar_of(house), from_day=today())
    waits = {
        strip.order: strip for strip in plan.placed
        if strip.kind == "wait" and strip.end_day > today()
    }  # fmt: skip
    found = []
    for told in sorted(plan.told, key=lambda row: (row.begin_day, row.end_day, row.order)):
        order = by_id[told.order]
        wait = waits.get(told.order)
        why = f"{wait.label} until {day_text(wait.end_day)}" if wait else ""
        if told.late_days:
            late = f"{told.late_days} {'day' if told.late_days == 1 else 'days'} late"
            why = f"{late}; {why}" if why else late
        found.append(
            PlanOrder(
                id=order.quote_id, number=order.number, customer=order.customer,
                summary=order.summary, promised_on=order.promised_on, begin_day=told.begin_day,
                end_day=told.end_day, late_days=told.late_days, why=why,
            )
        )  # fmt: skip
    return PlanDocument(
        from_day=today(), orders=found, over=[by_id[key].number for key in plan.over],
        tries=plan.tries,
        strips=[
            PlanStrip(
                order=int(p.order), number=by_id[p.order].number, unit=p.unit, kind=p.kind,
                label=p.label, machine=p.machine, begin_day=p.begin_day, begin_h=p.begin_h,
                end_day=p.end_day, end_h=p.end_h,
            )
            for p in plan.placed
            if p.kind != "wait"
        ],
    )  # fmt: skip


def promise_quote(shop: Shop, quote_id: int) -> PromiseView:
    """Say when a quote could be ready, behind all open orders, from shelf and suppliers.

    Raises
    ------
    NotFound
    """
    quote = find_quote(shop, quote_id)
    house = shop_house(shop)
    priced = price_typed(shop, quote.job, house, Shown(), first=True)
    if priced.job is None:
        return PromiseView(likely="", safe="", waits_until="", orders=0, advice=[])
    job, changed = settled(priced.job, house)
    work = work_job(shop, job, house)
    own = frozenset(line.id for line in job.lines if line.goods.supplied_by == "customer")
    shelf = shelf_for(shop, needs_of(work, changed, customers=own), house)
    until = max((row.by for row in shelf.rows if row.short != "0"), default="")
    waits = [("goods", "waits for goods or materials", until)] if until else []
    washed = [line.id for line in job.lines if line.sample and line.sample.wash]
    units = work_units(work, changed, waits=waits, washed=washed)
    planned, _ = _planned(shop, house)
    own_spread = math.sqrt(sum(s * s for s in spreads_of(house).values()) / 4)
    found = promise(
        Planned("draft", tuple(units), "", 10**6), [p for p in planned if p.id != str(quote_id)],
        calendar_of(house), from_day=today(), spread=own_spread,
    )  # fmt: skip
    tight = date_tight(quote.due_on, found.likely, found.safe)
    return PromiseView(
        likely=found.likely, safe=found.safe, waits_until=until, orders=len(planned),
        advice=[tight] if tight else [],
    )  # fmt: skip
