"""The plan: open orders' units placed over the coming days, and when one more could be ready.

Working time is cut into slots of a quarter of an hour; in each a shop has so many people and each
machine once. A plan is a function of its orders, the calendar and the moment it begins at.
"""

from __future__ import annotations

import bisect
import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from clothyard.core.record import record
from clothyard.core.work.calendar import DAY_S, SLOT_S, Calendar, Horizon, hours_a_day
from clothyard.core.work.units import SetUp, Unit

MOST_TRIES = 200
MOST_AGAIN = 700
"""Orders that tries place anew, in all: many orders get fewer tries, and no longer a wait."""

NOT_WORKED = frozenset({"wait", "dry"})
OUT, TAKEN = 0, -1
LEAST_OF_A_PERSON = 0.05
"""What is less than a minute of a slot is no time to work in."""


@record
class Pin:
    """What the seller holds to: before all others, on this day, before that order ("" for none)."""

    first: bool = False
    day: str = ""
    before: str = ""


NO_PIN = Pin()


@record
class Planned:
    """An order to plan: its units in their order, its promise ("" for none), its place in line.

    What is `begun` stays: it goes before all that is not.
    """

    id: str
    units: tuple[Unit, ...]
    promised_on: str
    rank: int
    pin: Pin = NO_PIN
    begun: bool = False


@record
class Placed:
    """A unit on the plan: from its first to its last slot, as days and hours of the day.

    Sewing comes `behind` an order on its machine ("" for none), from which so many threads `stay`
    and to which it takes `change_s` to change over. [s]
    """

    order: str
    unit: str
    kind: str
    label: str
    machine: str
    begin_day: str
    begin_h: float
    end_day: str
    end_h: float
    behind: str = ""
    stay: int = 0
    change_s: float = 0.0


@record
class Told:
    """When an order begins and ends by the plan, by how many days that is late (0 for not).

    `unpinned` says why a pinned day is not kept, "" where it is.
    """

    order: str
    begin_day: str
    end_day: str
    late_days: int
    unpinned: str = ""


@record
class Plan:
    """Every unit's place, each order's end, in how many tries it was found.

    `over` are orders that do not end within the horizon; `line` all of them as they were placed.
    """

    placed: tuple[Placed, ...]
    told: tuple[Told, ...]
    tries: int
    over: tuple[str, ...]
    line: tuple[str, ...]
    change_s: float


@record
class _Turn:
    """A unit's turn on a machine: its slots, whose it is, and what stands there after it."""

    begin: int
    end: int
    order: str
    set_up: SetUp
    loaded: tuple[str, ...]


@record
class _Taken:
    """Where a unit lies, in seconds; how it was changed over to."""

    begin: float
    end: float
    behind: str = ""
    stay: int = 0
    change_s: float = 0.0


class _Machine:
    """A machine's slots (1 free, 0 out of service, −1 taken) and its turns, earliest first."""

    def __init__(self, free: NDArray[np.float64], needles: int):
        self.free, self.needles = free, needles
        self.turns: list[_Turn] = []

    def copy(self) -> _Machine:
        other = _Machine(self.free.copy(), self.needles)
        other.turns = self.turns.copy()
        return other


class _Room:
    """What is free in each slot: people, and each machine."""

    def __init__(self, horizon: Horizon):
        self.horizon = horizon
        self.people = horizon.people.copy()
        self.machines: dict[str, _Machine] = {}

    def machine(self, key: str) -> _Machine:
        """Return a machine."""
        if key not in self.machines:
            calendar = self.horizon.calendar
            free = np.ones(len(self.horizon))
            for machine, days in calendar.out:
                if machine == key:
                    free[self.horizon.on_days(days)] = OUT
            self.machines[key] = _Machine(free, dict(calendar.needles).get(key, 1))
        return self.machines[key]

    def copy(self) -> _Room:
        """Return the same room, to try something in."""
        other = _Room.__new__(_Room)
        other.horizon, other.people = self.horizon, self.people.copy()
        other.machines = {key: machine.copy() for key, machine in self.machines.items()}
        return other

    def _changed(self, machine: _Machine, before: _Turn | None, to: SetUp) -> tuple[float, int]:
        """Say what changing over to a set-up takes, and how many threads stay. [s]"""
        times = self.horizon.calendar.changes
        loaded = before.loaded if before else ()
        stay = len(set(to.threads).intersection(loaded))
        seconds = times.thread_s * (len(to.threads) - stay)
        if before:
            was = before.set_up
            seconds += times.hoop_s if to.hoop != was.hoop and not to.cap_driver else 0.0
            seconds += times.driver_s if to.cap_driver != was.cap_driver else 0.0
            seconds += times.needle_s if to.needle != was.needle else 0.0
        elif to.cap_driver:
            seconds += times.driver_s
        return seconds, stay

    def _after(self, machine: _Machine, before: _Turn | None, to: SetUp) -> tuple[str, ...]:
        """Return the threads on a machine after a unit: its own, then what stays beside them."""
        known = [t for t in to.threads if not t.startswith("?")]
        others = [t for t in (before.loaded if before else ()) if t not in to.threads]
        room = machine.needles - len(to.threads)
        return (*known, *others[: max(0, room)])

    def sew(self, unit: Unit, start: float, order: str) -> _Taken | None:
        """Place sewing as early as may be; None where the horizon is too short.

        It takes its machine, with a share of a person, and may pause over breaks, days and while
        nobody is free; another order's sewing never lies within it.
        """
        machine, set_up = self.machine(unit.machine), unit.set_up or SetUp()
        share = min(1.0, unit.person_s / unit.elapsed_s)
        at = self.horizon.first_from(start)
        whole = len(self.horizon)
        wide = max(48, math.ceil(unit.elapsed_s / SLOT_S) * 3)
        while True:
            stop = min(whole, at + wide)
            free = machine.free[at:stop]
            fits = (free > 0) & (self.people[at:stop] >= share - 1e-9)
            if not fits.any():
                if stop == whole:
                    return None
                at = stop
                continue
            first = at + int(np.argmax(fits))
            n = bisect.bisect_right([turn.begin for turn in machine.turns], first)
            before = machine.turns[n - 1] if n else None
            change_s, stay = self._changed(machine, before, set_up)
            follower = machine.turns[n] if n < len(machine.turns) else None
            extra_s = 0.0
            if follower:  # what it takes more to change over to the next is done beforehand
                after = _Turn(first, first, order, set_up, self._after(machine, before, set_up))
                new, _ = self._changed(machine, after, follower.set_up)
                was, _ = self._changed(machine, before, follower.set_up)
                extra_s = max(0.0, new - was)
            need = (unit.elapsed_s + change_s + extra_s) / SLOT_S
            so_far = np.cumsum(fits[first - at :])
            last = int(np.searchsorted(so_far, need - 1e-9))
            if last >= len(so_far):
                if stop == whole:
                    return None
                wide *= 4
                continue
            end = first + last
            if follower and follower.begin <= end:  # the gap is too short: behind what fills it
                at = follower.end + 1
                continue
            used = fits[first - at : first - at + last + 1].astype(float)
            used[-1] -= so_far[last] - need
            self.people[first : end + 1] -= used * share
            machine.free[first : end + 1][used > 1e-9] = TAKEN
            machine.turns.insert(
                n, _Turn(first, end, order, set_up, self._after(machine, before, set_up))
            )
            stop_s = float(self.horizon.at[end]) + SLOT_S * min(1.0, float(used[-1]))
            behind = before.order if before else ""
            return _Taken(float(self.horizon.at[first]), stop_s, behind, stay, change_s + extra_s)

    def work(self, unit: Unit, start: float) -> _Taken | None:
        """Place hand work as early as may be: it takes what is left of a person, at most one."""
        at = self.horizon.first_from(start)
        need = unit.elapsed_s / SLOT_S
        wide = max(48, math.ceil(need) * 3)
        while True:  # most units find their place soon: the far days are looked at only if not
            people = self.people[at : at + wide]
            amount = np.minimum(1.0, np.maximum(0.0, people))
            amount[amount < LEAST_OF_A_PERSON] = 0.0
            so_far = np.cumsum(amount)
            last = int(np.searchsorted(so_far, need - 1e-9))
            if last < len(so_far):
                break
            if at + wide >= len(self.horizon):
                return None
            wide *= 4
        used = amount[: last + 1].copy()
        used[-1] -= so_far[last] - need
        self.people[at : at + last + 1] -= used
        first = int(np.argmax(used > 1e-9))
        begin = float(self.horizon.at[at + first])
        end = float(self.horizon.at[at + last]) + SLOT_S * min(1.0, float(used[-1] / amount[last]))
        return _Taken(begin, end)

    def take(self, unit: Unit, start: float, order: str) -> _Taken | None:
        """Place a unit from a moment on."""
        if unit.elapsed_s <= 0:
            return _Taken(start, start)
        if unit.machine and unit.machine_s > 0:
            return self.sew(unit, start, order)
        return self.work(unit, start)


Ends = dict[str, _Taken]


def _ends(order: Planned, room: _Room) -> Ends | None:
    """Place an order's units, each after what goes before it."""
    found: Ends = {}
    horizon = room.horizon
    pinned = horizon.moment(order.pin.day) if order.pin.day else 0.0
    for unit in order.units:
        start = max((found[at].end for at in unit.after if at in found), default=0.0)
        if unit.kind == "wait":
            until = horizon.moment(unit.until) if unit.until else start
            found[unit.id] = _Taken(start, max(start, until))
        elif unit.kind == "dry":
            found[unit.id] = _Taken(start, start + unit.elapsed_s)
        else:
            taken = room.take(unit, max(start, pinned), order.id)
            if taken is None:
                return None
            found[unit.id] = taken
    return found


def _last(ends: Ends) -> float:
    return max((taken.end for taken in ends.values()), default=0.0)


def _late(order: Planned, end: float, horizon: Horizon) -> int:
    if not order.promised_on:
        return 0
    day = np.datetime64(horizon.day_and_hour(end)[0], "D")
    return max(0, int((day - np.datetime64(order.promised_on, "D")).astype(int)))


NEVER_LATE_DAYS = 1000.0
"""What an order counts that does not end within the horizon."""

Score = tuple[float, float, float]


class _Line:
    """Orders placed in a row, with the room as it was before each: what is changed behind some of
    them is placed anew from there on. Scored by days late, change-overs, ends."""

    def __init__(self, orders: Sequence[Planned], horizon: Horizon):
        self.horizon = horizon
        self.orders: list[Planned] = []
        self.rooms: list[_Room] = []
        self.scores: list[Score] = []
        self.found: dict[str, Ends | None] = {}
        self.room = _Room(horizon)
        self.score: Score = (0.0, 0.0, 0.0)
        self._go_on(orders)

    def _go_on(self, orders: Sequence[Planned]) -> None:
        for order in orders:
            self.orders.append(order)
            self.rooms.append(self.room)
            self.scores.append(self.score)
            self.room = self.room.copy()
            ends = _ends(order, self.room)
            self.found[order.id] = ends
            last = _last(ends) if ends else 0.0
            late = NEVER_LATE_DAYS if ends is None else float(_late(order, last, self.horizon))
            change = sum(taken.change_s for taken in ends.values()) if ends else 0.0
            self.score = self.score[0] + late, self.score[1] + change, self.score[2] + last

    def cut(self, at: int) -> _Line:
        """Return the line up to an order, as it was before it."""
        if at >= len(self.orders):
            return self
        other = _Line((), self.horizon)
        other.orders, other.rooms = self.orders[:at], self.rooms[:at]
        other.scores = self.scores[:at]
        other.found = {order.id: self.found[order.id] for order in other.orders}
        other.room, other.score = self.rooms[at], self.scores[at]
        return other

    def moved(self, n: int, at: int) -> _Line:
        """Return the line with its n-th order put before an earlier one."""
        other = self.cut(at)
        other._go_on([self.orders[n], *self.orders[at:n], *self.orders[n + 1 :]])
        return other

    def with_one(self, order: Planned, at: int) -> _Line:
        """Return the line with one more, placed before its at-th."""
        other = self.cut(at)
        if other is self:
            other = _Line((), self.horizon)
            other.orders, other.rooms = [*self.orders], [*self.rooms]
            other.scores, other.found = [*self.scores], dict(self.found)
            other.room, other.score = self.room, self.score
        other._go_on([order, *self.orders[at:]])
        return other

    def late_of(self, order: Planned) -> int:
        """Return by how many days an order is late."""
        ends = self.found[order.id]
        return int(NEVER_LATE_DAYS) if ends is None else _late(order, _last(ends), self.horizon)

    def end_day(self, id_: str) -> str:
        """Return the day on which an order ends, "" where it does not within the horizon."""
        ends = self.found[id_]
        return "" if ends is None else self.horizon.day_and_hour(_last(ends))[0]


def _held(order: Planned) -> int:
    """Rank what is not to be moved: begun, pinned first, pinned to a day, the others."""
    if order.begun:
        return 0
    return 1 if order.pin.first else 2 if order.pin.day else 3


def _first_list(orders: Sequence[Planned], horizon: Horizon) -> list[Planned]:
    """Sort orders by what time is left beside their own work; those without a day come last."""
    day_s = hours_a_day(horizon.calendar) * 3600 or DAY_S

    def slack(order: Planned) -> tuple[int, bool, float, int]:
        own = sum(unit.elapsed_s for unit in order.units if unit.kind not in NOT_WORKED)
        due = horizon.moment(order.promised_on) if order.promised_on else 0.0
        held = _held(order)
        left = due - own / day_s * DAY_S
        return held, order.promised_on == "", left if held else 0.0, order.rank

    found = sorted(orders, key=slack)
    for order in [each for each in found if each.pin.before]:
        at = next((n for n, each in enumerate(found) if each.id == order.pin.before), None)
        if at is not None and at < found.index(order) and not found[at].begun:
            found.remove(order)
            found.insert(at, order)
    return found


def _keeps(orders: Sequence[Planned]) -> bool:
    """Whether who is to go before another order does."""
    at = {order.id: n for n, order in enumerate(orders)}
    return all(
        at[order.id] < at[order.pin.before]
        for order in orders
        if order.pin.before in at and not orders[at[order.pin.before]].begun
    )


def _improved(line: _Line, tries: int) -> tuple[_Line, int]:
    """Put orders earlier while days late, then change-overs, then ends fall: (line, tries)."""
    tried, again, better = 0, 0, True  # tries, and orders placed anew by them
    held = sum(1 for order in line.orders if _held(order) < 3)
    before = any(order.pin.before for order in line.orders)
    while better:
        better = False
        late = [line.late_of(order) > 0 for order in line.orders]
        order_of = sorted(range(held, len(line.orders)), key=lambda n: not late[n])
        for n in order_of:
            for at in range(n - 1, held - 1, -1):
                if tried >= tries or again >= MOST_AGAIN:
                    return line, tried
                tried += 1
                again += len(line.orders) - at
                other = line.moved(n, at)
                if other.score < line.score and (not before or _keeps(other.orders)):
                    line, better = other, True
                    break
            if better:
                break
    return line, tried


def _placed_line(orders: Sequence[Planned], horizon: Horizon, tries: int) -> tuple[_Line, int]:
    return _improved(_Line(_first_list(orders, horizon), horizon), tries)


def plan_orders(
    orders: Sequence[Planned], calendar: Calendar, *, from_day: str, from_h: float = 0.0,
    days: int = 120, tries: int = MOST_TRIES,
) -> Plan:  # fmt: skip
    """Plan open orders over the coming days.

    Parameters
    ----------
    orders : sequence of Planned
    calendar : Calendar
    from_day : str
        ISO day on which work may begin.
    from_h : float
        Hour of that day before which nothing is begun. [h]
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
    The handbook's workshop 6: the list by slack, pins and what is begun before; serial placing
    with change-overs; improved by insertion while the days late, then the change-overs, then the
    ends fall.
    """
    horizon = Horizon(calendar, from_day, days, from_h=from_h)
    return _told(*_placed_line(orders, horizon, tries))


def _told(line: _Line, tried: int) -> Plan:
    horizon = line.horizon
    placed: list[Placed] = []
    told: list[Told] = []
    over: list[str] = []
    for order in line.orders:
        ends = line.found[order.id]
        if ends is None:
            over.append(order.id)
            continue
        for unit in order.units:
            taken = ends[unit.id]
            begins = horizon.day_and_hour(taken.begin + 1e-3)
            end = taken.end + (1e-3 if unit.kind == "wait" else 0.0)  # it waits until that morning
            placed.append(
                Placed(order.id, unit.id, unit.kind, unit.label, unit.machine, *begins,
                       *horizon.day_and_hour(end), taken.behind, taken.stay, taken.change_s)
            )  # fmt: skip
        work = [ends[unit.id] for unit in order.units if unit.kind not in NOT_WORKED]
        begin = min((taken.begin for taken in work), default=0.0)
        begin_day = horizon.day_and_hour(begin + 1e-3)[0]
        told.append(
            Told(order.id, begin_day, horizon.day_and_hour(_last(ends))[0],
                 _late(order, _last(ends), horizon), _unpinned(order, ends, begin_day))
        )  # fmt: skip
    return Plan(
        tuple(placed), tuple(told), tried, tuple(over), tuple(o.id for o in line.orders),
        line.score[1],
    )  # fmt: skip


def _unpinned(order: Planned, ends: Ends, begin_day: str) -> str:
    """Say why an order does not begin on the day that it is pinned to."""
    if not order.pin.day or begin_day == order.pin.day:
        return ""
    waits = [unit for unit in order.units if unit.kind == "wait" and unit.until > order.pin.day]
    if waits:
        return max(waits, key=lambda unit: unit.until).label
    return "nobody, or no machine, is free that day"


@record
class Promise:
    """When one more order could be ready: likely, and safe; "" where not within the horizon."""

    likely: str
    safe: str


P80 = 0.8416
"""Of a normal spread: eight of ten lie below."""


def slower(units: Sequence[Unit], factor: float) -> tuple[Unit, ...]:
    """Return units whose work takes a factor of its time; what is waited for stays."""
    return tuple(
        unit
        if unit.kind in NOT_WORKED
        else replace(
            unit, elapsed_s=unit.elapsed_s * factor, machine_s=unit.machine_s * factor,
            person_s=unit.person_s * factor,
        )
        for unit in units
    )  # fmt: skip


class Promiser:
    """Says when one more order could be ready beside all that is promised.

    Parameters
    ----------
    orders : sequence of Planned
        Open ones: they keep their places.
    calendar, from_day, from_h, days
        See `plan_orders`.
    line : sequence of str, optional
        The ids of the orders as the plan placed them; planned here without.
    """

    def __init__(
        self,
        orders: Sequence[Planned],
        calendar: Calendar,
        *,
        from_day: str,
        from_h: float = 0.0,
        days: int = 180,
        line: Sequence[str] | None = None,
    ):
        horizon = Horizon(calendar, from_day, days, from_h=from_h)
        if line is None:
            self.line, _ = _placed_line(orders, horizon, MOST_TRIES)
        else:
            at = {id_: n for n, id_ in enumerate(line)}
            self.line = _Line(sorted(orders, key=lambda o: at.get(o.id, len(at))), horizon)

    def day(self, draft: Planned, *, factor: float = 1.0) -> str:
        """Return the day on which a draft is ready behind all others, "" for none."""
        draft = replace(draft, units=slower(draft.units, factor))
        return self.line.with_one(draft, len(self.line.orders)).end_day(draft.id)

    def promise(self, draft: Planned, *, spread: float) -> Promise:
        """Say when a draft is ready: likely with expected times, safely with its own at their P80.

        Parameters
        ----------
        draft : Planned
        spread : float
            Of the draft's own seconds, as a logarithm.

        Source
        ------
        The handbook's workshop 6.
        """
        return Promise(self.day(draft), self.day(draft, factor=math.exp(P80 * spread)))

    def before(self, draft: Planned, *, factor: float = 1.0) -> list[tuple[str, str, list[str]]]:
        """Say when a draft is ready before each of the others, and who is late by it.

        Returns
        -------
        list of (id of the order it goes before, ISO day, ids of those that become late)
            From the last of the line to the first that is not begun.
        """
        draft = replace(draft, units=slower(draft.units, factor))
        found = []
        was = {order.id: self.line.late_of(order) for order in self.line.orders}
        for at in range(len(self.line.orders) - 1, -1, -1):
            if self.line.orders[at].begun:
                break
            line = self.line.with_one(draft, at)
            late = [o.id for o in self.line.orders[at:] if line.late_of(o) > was[o.id]]
            found.append((self.line.orders[at].id, line.end_day(draft.id), late))
        return found


def promise(
    draft: Planned, orders: Sequence[Planned], calendar: Calendar, *, from_day: str, spread: float,
    from_h: float = 0.0, days: int = 180,
) -> Promise:  # fmt: skip
    """Say when a draft could be ready, behind all that is promised; see `Promiser`."""
    promiser = Promiser(orders, calendar, from_day=from_day, from_h=from_h, days=days)
    return promiser.promise(draft, spread=spread)
