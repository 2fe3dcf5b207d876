"""The plan of a shop's open orders: where each lies and why, what moved, what is pinned."""

from __future__ import annotations

from collections.abc import Collection
from functools import lru_cache
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.errors import BadInput, ClothyardError
from clothyard.core.figure_text import counted, day_text
from clothyard.core.house.document import House
from clothyard.core.house.week_text import on_working_day, write_weekdays
from clothyard.core.order.held import still_to_do
from clothyard.core.order.state import OPEN, done_share
from clothyard.core.order.ways import on_machine, units_of
from clothyard.core.plan.calendar import Calendar, Horizon, calendar_of, handed_over_by
from clothyard.core.plan.schedule import NO_PIN, Pin, Placed, Plan, Planned, Told, plan_orders
from clothyard.core.plan.units import ARRIVES_H, GOODS, Unit, read_units, wait_unit
from clothyard.core.record import record
from clothyard.core.stock.key import item_of
from clothyard.services.house.standards import shop_house
from clothyard.services.orders import follow as orders
from clothyard.services.orders.opened import open_version
from clothyard.services.quotes.drafts import read_day
from clothyard.services.quotes.estimates import kept_designs
from clothyard.services.stock.shelf import read_shelf
from clothyard.store import orders as kept
from clothyard.store import stock
from clothyard.store.settings import read_setting, write_setting
from clothyard.store.shop import Shop, hour_now, today
from clothyard.store.threaded import threaded_machines

REST_AHEAD_DAYS = 42
TOLD = "plan-told"


class PlanStrip(BaseModel):
    """A unit on the plan, from begin to end, in days and hours of the day.

    On its machine it comes behind an order's ("" for none), from which so many threads stay.
    """

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
    behind: str
    stay: int
    change_min: float


class PlanPin(BaseModel):
    """What the seller holds to of an order: first of all, not before a day, on a machine, before
    another order (its id, 0 for none)."""

    model_config = ConfigDict(extra="forbid")

    first: bool = False
    day: str = Field(default="", max_length=10)
    machine: str = Field(default="", max_length=100)
    before: int = Field(default=0, ge=0, le=2**53)


class PlanOrder(BaseModel):
    """An order on the plan: when it is begun and ends, how late that is, why it lies there.

    `hand_over_by` is the day by which it leaves the shop to be there as promised; `cloth` the
    colour of its goods, "" for none.
    """

    id: int
    number: str
    customer: str
    summary: str
    state: str
    promised_on: str
    hand_over_by: str
    begin_day: str
    end_day: str
    late_days: int
    why: str
    pin: PlanPin
    unpinned: str
    cloth: str


class PlanMoved(BaseModel):
    """An order that the plan has ending on another day than when it was last looked at."""

    number: str
    was: str
    now: str


class PlanLane(BaseModel):
    """A machine of the plan, and on which days it is out of service."""

    id: str
    label: str
    out: list[str]


class PlanDocument(BaseModel):
    """Open orders over the coming days (clothyard-plan/1), those that are begun first before.

    `rest_days` are those on which nobody works.
    """

    format: Literal["clothyard-plan/1"] = "clothyard-plan/1"
    from_day: str
    orders: list[PlanOrder]
    strips: list[PlanStrip]
    over: list[str]
    rest_days: list[str]
    tries: int
    moved: list[PlanMoved]
    machines: list[PlanLane]
    change_over_min: float


_KNOWN: dict[tuple[str, int, int, str], tuple[Unit, ...]] = {}
_MOST_KNOWN = 1000


def _units(shop: Shop, identity: str, order: kept.KeptOrder) -> tuple[Unit, ...]:
    """List the units of an order's version; it never changes, so that they are worked out once."""
    key = identity, order.quote_id, order.version, order.pin_machine
    if key not in _KNOWN:
        if len(_KNOWN) >= _MOST_KNOWN:
            _KNOWN.clear()
        units = read_units(order.units)
        if order.pin_machine:
            opened = open_version(shop, order.quote_id, order.version)
            try:
                job = on_machine(opened.asked, order.pin_machine)
                units = units_of(job, opened.house, kept_designs(shop, job))
            except ClothyardError:
                pass  # it cannot be sewn there: told by `_unpinned`
        _KNOWN[key] = units
    return _KNOWN[key]


def _waits(order: kept.KeptOrder, goods: str, house: House) -> list[Unit]:
    """List what an order waits for before it is begun, each until its day."""
    found = []
    if order.state == "waiting" and order.waits not in {"goods", "materials"}:
        what = {"file": "its stitch file", "payment": "a payment"}
        said = what.get(order.waits, f"the {order.waits}")
        found.append(wait_unit("wait", f"waits for {said}", _unknown(house)))
    if goods:
        said = "waits for goods or materials"
        found.append(wait_unit(GOODS, said, goods, until_h=ARRIVES_H))
    return found


def _unknown(house: House) -> str:
    """Return the day on which something without a date is expected, in days that are worked."""
    worked = [
        any(getattr(person, day) != "-" for person in house.people.values())
        for day in ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
    ]
    if not any(worked):
        worked = [True] * 7
    return on_working_day(
        today(), house.run.goods_days, works=write_weekdays(worked), closed=house.week.closed
    )


def _goods_days(shop: Shop, house: House, planned: Collection[int]) -> dict[int, str]:
    """Say on which day each open order has what it is short of: ordered, or after its supplier."""
    shelf = read_shelf(shop, house)
    found: dict[int, str] = {}
    for need in stock.open_needs(shop, short=True):
        if need.order not in planned:
            continue
        item = item_of(need.item, shelf.unit(need.item))
        day = shelf.here_on(item, need.short, today=today())
        if day < today():  # it should be here, and is not
            day = _unknown(house)
        found[need.order] = max(found.get(need.order, ""), day)
    return found


@record
class OpenOrders:
    """A shop's open orders as they are planned, each with what is kept of it."""

    house: House
    planned: tuple[Planned, ...]
    kept: dict[str, kept.KeptOrder]
    threaded: tuple[tuple[str, tuple[str, ...]], ...]

    @property
    def calendar(self) -> Calendar:
        """When the shop works, and what is on its machines."""
        return calendar_of(self.house, self.threaded)


def open_orders(shop: Shop, house: House | None = None) -> OpenOrders:
    """List a shop's open orders with what is left to do of each."""
    house = house or shop_house(shop)
    orders.keep_up(shop)
    rows, _ = kept.list_orders(
        shop, search="", state="", sort="promise", down=None, offset=0, limit=None
    )
    planned = {row.quote_id for row in rows}
    goods = _goods_days(shop, house, planned)
    found, by_id = [], {}
    identity = shop.identity()
    counts = kept.count_pieces(shop, [row.quote_id for row in rows])
    for n, row in enumerate(rows):
        if row.state not in OPEN:
            continue
        pieces = counts.get(row.quote_id, {})
        waits = _waits(row, goods.get(row.quote_id, ""), house)
        own = _units(shop, identity, row)
        units = still_to_do(own, row.ready, done=done_share(pieces), waits=waits)
        pin = NO_PIN
        if row.pin_first or row.pin_day or row.pin_before:
            day = row.pin_day if row.pin_day >= today() else ""  # a day that is past holds nothing
            pin = Pin(row.pin_first, day, str(row.pin_before or ""))
        due = handed_over_by(row.promised_on, house)
        begun = row.state == "in-work"
        found.append(Planned(str(row.quote_id), units, due, n, pin, begun))
        by_id[str(row.quote_id)] = row
    on = threaded_machines(shop, house.machines)
    threaded = tuple((machine, tuple(threads.values())) for machine, threads in on.items())
    return OpenOrders(house, tuple(found), by_id, threaded)


@lru_cache(maxsize=8)
def _plan(planned: tuple[Planned, ...], calendar: Calendar, day: str, hour: float) -> Plan:
    """Plan what was planned before only once: a plan is a function of what it is made from."""
    return plan_orders(planned, calendar, from_day=day, from_h=hour)


def plan_of(found: OpenOrders) -> Plan:
    """Plan open orders from now on, to the quarter of an hour."""
    return _plan(found.planned, found.calendar, today(), quarter(hour_now()))


def quarter(hour: float) -> float:
    """Return an hour's quarter that is begun. [h]"""
    return int(hour * 4) / 4


def _why(told: Told, plan: Plan, found: OpenOrders) -> str:
    """Say why an order lies where it lies: late, what holds it, what it gains by its place."""
    said = []
    if told.late_days:
        said.append(f"{counted(told.late_days, 'day')} late")
    own = [strip for strip in plan.placed if strip.order == told.order]
    waits = [strip for strip in own if strip.kind == "wait" and strip.end_day > today()]
    if waits:
        last = max(waits, key=lambda strip: strip.end_day)
        said.append(f"{last.label} until {day_text(last.end_day)}")
    stays = [strip for strip in own if strip.stay and strip.behind != told.order]
    if stays:
        first = stays[0]
        threads = "a thread stays" if first.stay == 1 else f"{first.stay} threads stay"
        after = f"after {found.kept[first.behind].number}" if first.behind else "as it is threaded"
        said.append(f"{after}: {threads}")
    order = found.kept[told.order]
    if order.pin_before and str(order.pin_before) in found.kept:
        said.append(f"goes before {found.kept[str(order.pin_before)].number}")
    return "; ".join(said)


def _unpinned(shop: Shop, told: Told, order: kept.KeptOrder) -> str:
    """Say what of an order's pins is not kept, and why."""
    said = []
    if told.unpinned:
        said.append(f"not begun on {day_text(order.pin_day)}: {told.unpinned}")
    if order.pin_machine:
        opened = open_version(shop, order.quote_id, order.version)
        job = on_machine(opened.asked, order.pin_machine)
        try:
            units_of(job, opened.house, kept_designs(shop, job))
        except ClothyardError as error:
            said.append(f"not on {order.pin_machine}: {error.message}")
    return "; ".join(said)


def plan_shop(shop: Shop) -> PlanDocument:
    """Plan a shop's open orders from now on."""
    open_ = open_orders(shop)
    plan = plan_of(open_)
    by_id, house = open_.kept, open_.house
    found = []
    for told in sorted(plan.told, key=lambda row: (row.begin_day, row.end_day, row.order)):
        order = by_id[told.order]
        found.append(
            PlanOrder(
                id=order.quote_id,
                number=order.number,
                customer=order.customer,
                summary=order.summary,
                state=order.state,
                promised_on=order.promised_on,
                hand_over_by=handed_over_by(order.promised_on, house),
                begin_day=told.begin_day,
                end_day=told.end_day,
                late_days=told.late_days,
                why=_why(told, plan, open_),
                pin=PlanPin(
                    first=order.pin_first,
                    day=order.pin_day,
                    machine=order.pin_machine,
                    before=order.pin_before,
                ),
                unpinned=_unpinned(shop, told, order),
                cloth=order.cloth,
            )
        )
    before = read_setting(shop, TOLD)
    ends = {told.order: told.end_day for told in plan.told}
    moved = [
        PlanMoved(number=by_id[key].number, was=was, now=ends[key])
        for key, was in (before.items() if isinstance(before, dict) else ())
        if key in ends and ends[key] != was
    ]
    out = dict(open_.calendar.out)
    return PlanDocument(
        from_day=today(),
        orders=found,
        over=[by_id[key].number for key in plan.over],
        tries=plan.tries,
        rest_days=_rest_days(open_.calendar),
        moved=moved,
        change_over_min=round(plan.change_s / 60, 1),
        machines=[
            PlanLane(id=key, label=row.label, out=sorted(out.get(key, ())))
            for key, row in house.machines.items()
            if row.owned
        ],
        strips=[_strip(p, by_id) for p in plan.placed if p.kind != "wait"],
    )


def _rest_days(calendar: Calendar) -> list[str]:
    """List the coming days on which nobody works."""
    horizon = Horizon(calendar, today(), REST_AHEAD_DAYS)
    worked = {horizon.day_and_hour(float(at) + 1)[0] for at in horizon.at}
    return [day for day in horizon.days if day not in worked]


def _strip(placed: Placed, by_id: dict[str, kept.KeptOrder]) -> PlanStrip:
    behind = by_id[placed.behind].number if placed.behind in by_id else ""
    return PlanStrip(
        order=int(placed.order),
        number=by_id[placed.order].number,
        unit=placed.unit,
        kind=placed.kind,
        label=placed.label,
        machine=placed.machine,
        begin_day=placed.begin_day,
        begin_h=placed.begin_h,
        end_day=placed.end_day,
        end_h=placed.end_h,
        behind=behind,
        stay=placed.stay,
        change_min=round(placed.change_s / 60, 1),
    )


def plan_seen(shop: Shop) -> None:
    """Note that the plan was looked at as it stands: what moves from now on is told."""
    plan = plan_of(open_orders(shop))
    with shop.unit() as unit:
        write_setting(unit, TOLD, {told.order: told.end_day for told in plan.told})


def pin_order(shop: Shop, order_id: int, pin: PlanPin) -> PlanDocument:
    """Pin an order on the plan, or let it go.

    Raises
    ------
    NotFound
    BadInput
        If the day is none, the machine or the other order is not the shop's.
    """
    house = shop_house(shop)
    day = read_day(pin.day, "day")
    if pin.machine and (pin.machine not in house.machines or not house.machines[pin.machine].owned):
        raise BadInput(
            f"the shop has no machine {pin.machine[:40]!r}.",
            where="machine",
            remedy="Choose one of its own.",
            code="unknown-id",
        )
    if pin.before:
        kept.find_order(shop, pin.before)
    before = pin.before if pin.before != order_id else 0
    with shop.unit() as unit:
        kept.pin_order(unit, order_id, first=pin.first, day=day, machine=pin.machine, before=before)
    return plan_shop(shop)
