"""The plan: open orders' units placed over the coming days, and when one more could be ready.

Working time is cut into slots of a quarter of an hour; in each a shop has so many people and each
machine once. A plan is a function of its orders, the calendar and the day it begins on.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from clothyard.core.record import record
from clothyard.core.work.units import Unit

SLOT_S = 900.0
DAY_S = 86_400.0
WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
MOST_TRIES = 200
MOST_AGAIN = 900
"""Orders that tries place anew, in all: many orders get fewer tries, and no longer a wait."""

FULL = 1 - 1e-9


@record
class Calendar:
    """When the shop works: from which hour and how many hours on each weekday, closing days.

    `people` work at the same time; `out` are the days on which a machine is out of service.
    """

    start_h: float
    hours: tuple[float, ...]
    closed: frozenset[str]
    people: int
    out: Mapping[str, frozenset[str]]


@record
class Planned:
    """An order to plan: its units in their order, its promise ("" for none), its place in line."""

    id: str
    units: tuple[Unit, ...]
    promised_on: str
    rank: int


@record
class Placed:
    """A unit on the plan: from its first to its last slot, as days and hours of the day."""

    order: str
    unit: str
    kind: str
    label: str
    machine: str
    begin_day: str
    begin_h: float
    end_day: str
    end_h: float


@record
class Told:
    """When an order ends by the plan, and by how many days that is late (0 for not)."""

    order: str
    begin_day: str
    end_day: str
    late_days: int


@record
class Plan:
    """Every unit's place, each order's end, in how many tries it was found."""

    placed: tuple[Placed, ...]
    told: tuple[Told, ...]
    tries: int
    over: tuple[str, ...]
    """Orders that do not end within the horizon."""


class Horizon:
    """The working slots of so many days from a day on.

    Parameters
    ----------
    calendar : Calendar
    from_day : str
        ISO day on which the first slot may lie.
    days : int
        How many days ahead are looked at.
    """

    def __init__(self, calendar: Calendar, from_day: str, days: int):
        self.calendar = calendar
        first = np.datetime64(from_day, "D")
        rows: list[tuple[int, float]] = []
        self.days = [str(first + n) for n in range(days)]
        weekday = (int(first.astype(int)) + 3) % 7  # the epoch was a Thursday
        for n, day in enumerate(self.days):
            hours = calendar.hours[(weekday + n) % 7]
            if day in calendar.closed:
                continue
            count = int(hours * 3600 // SLOT_S)
            rows += [(n, calendar.start_h * 3600 + k * SLOT_S) for k in range(count)]
        self.at = np.array([n * DAY_S + s for n, s in rows])
        """When each slot begins, in seconds from the first day's midnight."""

    def __len__(self) -> int:
        return len(self.at)

    def first_from(self, moment: float) -> int:
        """Return the first slot that begins at a moment or later."""
        return int(np.searchsorted(self.at, moment - 1e-6))

    def moment(self, day: str) -> float:
        """Return the midnight at which a day begins, in seconds; before the first: 0."""
        n = int((np.datetime64(day, "D") - np.datetime64(self.days[0], "D")).astype(int))
        return max(0.0, n * DAY_S)

    def day_and_hour(self, moment: float) -> tuple[str, float]:
        """Say a moment as a day and an hour of it."""
        n = min(int(moment // DAY_S), len(self.days) - 1)
        return self.days[n], round((moment - n * DAY_S) / 3600, 2)


class _Room:
    """What is free in each slot: people, and each machine."""

    def __init__(self, horizon: Horizon):
        self.horizon = horizon
        self.people = np.full(len(horizon), float(horizon.calendar.people))
        self.machines: dict[str, NDArray[np.float64]] = {}

    def machine(self, key: str) -> NDArray[np.float64]:
        """Return a machine's slots: 1 where it is free."""
        if key not in self.machines:
            free = np.ones(len(self.horizon))
            out = self.horizon.calendar.out.get(key, frozenset())
            for n, day in enumerate(self.horizon.days):
                if day in out:
                    free[self.horizon.at // DAY_S == n] = 0.0
            self.machines[key] = free
        return self.machines[key]

    def _amount(
        self, unit: Unit, start: int, stop: int, share: float, *, sews: bool
    ) -> NDArray[np.float64]:
        """Say how much of each slot a unit could have."""
        people = self.people[start:stop]
        if sews:
            fits = (self.machine(unit.machine)[start:stop] > FULL) & (people >= share - 1e-9)
            found: NDArray[np.float64] = fits.astype(float)
            return found
        amount: NDArray[np.float64] = np.minimum(1.0, np.maximum(0.0, people))
        amount[amount < 0.05] = 0.0  # what is less than a minute is no time to work in
        return amount

    def copy(self) -> _Room:
        """Return the same room, to try something in."""
        other = _Room(self.horizon)
        other.people = self.people.copy()
        other.machines = {key: free.copy() for key, free in self.machines.items()}
        return other

    def take(self, unit: Unit, start: float) -> tuple[float, float] | None:
        """Place a unit as early as may be from a moment on; None where the horizon is too short.

        Hands take what is left of a person, at most one; a machine sews whole slots, with its
        share of a person in each, and may pause over breaks and days.
        """
        at = self.horizon.first_from(start)
        if unit.elapsed_s <= 0:
            return start, start
        sews = bool(unit.machine) and unit.machine_s > 0
        share = min(1.0, unit.person_s / unit.elapsed_s) if sews else 1.0
        need = unit.elapsed_s / SLOT_S
        wide = max(48, math.ceil(need) * 3)
        while True:  # most units find their place soon: the far days are looked at only if not
            amount = self._amount(unit, at, at + wide, share, sews=sews)
            so_far = np.cumsum(amount)
            last = int(np.searchsorted(so_far, need - 1e-9))
            if last < len(so_far):
                break
            if at + wide >= len(self.horizon):
                return None
            wide *= 4
        used = amount[: last + 1].copy()
        used[-1] -= so_far[last] - need
        where = slice(at, at + last + 1)
        self.people[where] -= used * share
        if sews:
            self.machine(unit.machine)[where] -= (used > 1e-9).astype(float)
        first = int(np.argmax(used > 1e-9))
        begin = float(self.horizon.at[at + first])
        end = float(self.horizon.at[at + last]) + SLOT_S * min(1.0, float(used[-1] / amount[last]))
        return begin, end


def _ends(order: Planned, room: _Room) -> dict[str, tuple[float, float]] | None:
    """Place an order's units, each after what goes before it."""
    found: dict[str, tuple[float, float]] = {}
    for unit in order.units:
        start = max((found[at][1] for at in unit.after if at in found), default=0.0)
        if unit.kind == "wait":
            until = room.horizon.moment(unit.until) if unit.until else start
            found[unit.id] = (start, max(start, until))
        elif unit.kind == "dry":
            found[unit.id] = (start, start + unit.elapsed_s)
        else:
            taken = room.take(unit, start)
            if taken is None:
                return None
            found[unit.id] = taken
    return found


def _late(order: Planned, end: float, horizon: Horizon) -> int:
    if not order.promised_on:
        return 0
    day = np.datetime64(horizon.day_and_hour(end)[0], "D")
    return max(0, int((day - np.datetime64(order.promised_on, "D")).astype(int)))


Found = dict[str, dict[str, tuple[float, float]] | None]


class _Line:
    """Orders placed in a row, with the room as it was before each: what is changed behind some of
    them is placed anew from there on."""

    def __init__(self, orders: Sequence[Planned], horizon: Horizon):
        self.horizon = horizon
        self.orders: list[Planned] = []
        self.rooms: list[_Room] = []
        self.scores: list[tuple[float, float]] = []
        self.found: Found = {}
        self._go_on(orders, _Room(horizon), (0.0, 0.0))

    def _go_on(self, orders: Sequence[Planned], room: _Room, score: tuple[float, float]) -> None:
        for order in orders:
            self.orders.append(order)
            self.rooms.append(room.copy())
            self.scores.append(score)
            ends = _ends(order, room)
            self.found[order.id] = ends
            last = max((stop for _, stop in ends.values()), default=0.0) if ends else 0.0
            late = 1000.0 if ends is None else float(_late(order, last, self.horizon))
            score = score[0] + late, score[1] + last
        self.score = score

    def moved(self, n: int, at: int) -> _Line:
        """Return the line with its n-th order put before an earlier one."""
        other = _Line((), self.horizon)
        other.orders, other.rooms = self.orders[:at], self.rooms[:at]
        other.scores = self.scores[:at]
        other.found = {order.id: self.found[order.id] for order in other.orders}
        rest = [self.orders[n], *self.orders[at:n], *self.orders[n + 1 :]]
        other._go_on(rest, self.rooms[at].copy(), self.scores[at])
        return other


def _placed(orders: Sequence[Planned], horizon: Horizon) -> Found:
    """Place orders in a row."""
    return _Line(orders, horizon).found


def _first_list(orders: Sequence[Planned], horizon: Horizon) -> list[Planned]:
    """Sort orders by what time is left beside their own work; those without a day come last."""

    def slack(order: Planned) -> tuple[bool, float, int]:
        own = sum(unit.elapsed_s for unit in order.units if unit.kind not in {"wait", "dry"})
        day_s = max(horizon.calendar.hours) * 3600 or DAY_S
        due = horizon.moment(order.promised_on) if order.promised_on else 0.0
        return order.promised_on == "", due - own / day_s * DAY_S, order.rank

    return sorted(orders, key=slack)


def plan_orders(
    orders: Sequence[Planned], calendar: Calendar, *, from_day: str, days: int = 120,
    tries: int = MOST_TRIES,
) -> Plan:  # fmt: skip
    """Plan open orders over the coming days.

    Parameters
    ----------
    orders : sequence of Planned
    calendar : Calendar
    from_day : str
        ISO day on which work may begin.
    days : int
        How many days ahead are looked at.
    tries : int
        How often an order is tried at another place in line, at most.

    Returns
    -------
    Plan
        The same orders give the same plan.

    Source
    ------
    The handbook's workshop 6: the list by slack, serial placing, improved by insertion while the
    days late, then the ends, fall.
    """
    horizon = Horizon(calendar, from_day, days)
    line = _Line(_first_list(orders, horizon), horizon)
    tried, again, better = 0, 0, True  # tries, and orders placed anew by them
    while better and tried < tries and line.score[0] > 0:
        better = False
        for n, order in enumerate(line.orders):
            ends = line.found[order.id]
            last = max((stop for _, stop in ends.values()), default=0.0) if ends else math.inf
            if ends and not _late(order, last, horizon):
                continue
            for at in range(n - 1, -1, -1):
                if tried >= tries or again >= MOST_AGAIN:
                    break
                tried += 1
                again += len(line.orders) - at
                other = line.moved(n, at)
                if other.score < line.score:
                    line, better = other, True
                    break
            if better:
                break
    return _told(line.orders, line.found, horizon, tried)


def _told(line: Sequence[Planned], found: Found, horizon: Horizon, tries: int) -> Plan:
    placed: list[Placed] = []
    told: list[Told] = []
    over: list[str] = []
    for order in line:
        ends = found[order.id]
        if ends is None:
            over.append(order.id)
            continue
        units = {unit.id: unit for unit in order.units}
        for key, (begin, end) in ends.items():
            unit = units[key]
            day, hour = horizon.day_and_hour(begin)
            end_day, end_hour = horizon.day_and_hour(end)
            placed.append(
                Placed(order.id, key, unit.kind, unit.label, unit.machine, day, hour, end_day,
                       end_hour)
            )  # fmt: skip
        work = [row for key, row in ends.items() if units[key].kind not in {"wait", "dry"}]
        begin = min((b for b, _ in work), default=0.0)
        last = max((e for _, e in ends.values()), default=0.0)
        told.append(
            Told(order.id, horizon.day_and_hour(begin)[0], horizon.day_and_hour(last)[0],
                 _late(order, last, horizon))
        )  # fmt: skip
    return Plan(tuple(placed), tuple(told), tries, tuple(over))


@record
class Promise:
    """When one more order could be ready: likely, and safe; "" where not within the horizon."""

    likely: str
    safe: str


P80 = 0.8416
"""Of a normal spread: eight of ten lie below."""


def promise(
    draft: Planned, orders: Sequence[Planned], calendar: Calendar, *, from_day: str, spread: float,
    days: int = 180,
) -> Promise:  # fmt: skip
    """Say when a draft could be ready, behind all that is promised.

    Parameters
    ----------
    draft : Planned
    orders : sequence of Planned
        Open ones: they keep their places.
    calendar, from_day, days
        See `plan_orders`.
    spread : float
        Of the draft's own seconds, as a logarithm: safe is at its P80, the others as expected.

    Source
    ------
    The handbook's workshop 6.
    """
    horizon = Horizon(calendar, from_day, days)
    line = _first_list(orders, horizon)
    found = []
    for factor in (1.0, math.exp(P80 * spread)):
        units = tuple(
            unit
            if unit.kind in {"wait", "dry"}
            else replace(
                unit, elapsed_s=unit.elapsed_s * factor, machine_s=unit.machine_s * factor,
                person_s=unit.person_s * factor,
            )
            for unit in draft.units
        )  # fmt: skip
        places = _placed([*line, replace(draft, units=units)], horizon)
        ends = places[draft.id]
        last = max((end for _, end in ends.values()), default=0.0) if ends is not None else None
        found.append("" if last is None else horizon.day_and_hour(last)[0])
    return Promise(*found)
