"""The plan: open orders' units placed over the coming days, and when one more could be ready.

Working time is cut into slots of a quarter of an hour; in each a shop has so many people and each
machine once. A plan is a function of its orders, the calendar and the moment it begins at.
"""

from __future__ import annotations

import bisect
import math
from collections.abc import Iterator, Sequence
from itertools import chain

import numpy as np
from numpy.typing import NDArray

from clothyard.core.plan.calendar import DAY_S, SLOT_S, Calendar, Horizon, hours_a_day
from clothyard.core.plan.units import SetUp, Unit
from clothyard.core.record import record

MOST_TRIES = 200
MOST_AGAIN = 1600
"""Units that tries place anew, in all: many orders get fewer tries, and no longer a wait."""

MOST_PLACES = 12
"""Places in line at which one more order is tried."""

FREE = 3
"""The rank of what may be moved; below it are what is begun and what is pinned."""

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
    """When an order begins and is handed over by the plan, how many days late (0 for not).

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
class Taken:
    """Where a unit lies, in seconds; how it was changed over to."""

    begin: float
    end: float
    behind: str = ""
    stay: int = 0
    change_s: float = 0.0


class _Machine:
    """A machine's slots (1 free, 0 out of service, −1 taken) and its turns, earliest first;
    `loaded` are the threads that are on it before any of them."""

    def __init__(self, free: NDArray[np.float64], needles: int, loaded: tuple[str, ...]):
        self.free, self.needles, self.loaded = free, needles, loaded
        self.turns: list[_Turn] = []

    def copy(self) -> _Machine:
        other = _Machine(self.free.copy(), self.needles, self.loaded)
        other.turns = self.turns.copy()
        return other


class Room:
    """What is free in each slot: people, and each machine.

    `kept`: what was free before each step is looked at again, so that a step changes a copy.
    """

    def __init__(self, horizon: Horizon, *, kept: bool = True):
        self.horizon, self.kept = horizon, kept
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
            loaded = dict(calendar.threaded).get(key, ())
            self.machines[key] = _Machine(free, dict(calendar.needles).get(key, 1), loaded)
        return self.machines[key]

    def copy(self) -> Room:
        """Return the same room, to try something in: what is taken is copied first."""
        other = Room.__new__(Room)
        other.horizon, other.people, other.kept = self.horizon, self.people, True
        other.machines = self.machines.copy()
        return other

    def _changed(self, machine: _Machine, before: _Turn | None, to: SetUp) -> tuple[float, int]:
        """Say what changing over to a set-up takes, and how many threads stay. [s]"""
        times = self.horizon.calendar.changes
        loaded = before.loaded if before else machine.loaded
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
        loaded = before.loaded if before else machine.loaded
        others = [t for t in loaded if t not in to.threads]
        room = machine.needles - len(to.threads)
        return (*known, *others[: max(0, room)])

    def sew(self, unit: Unit, start: float, order: str) -> Taken | None:
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
            begin = int(fits.argmax()) if stop > at else 0
            if stop == at or not fits[begin]:
                if stop == whole:
                    return None
                at = stop
                continue
            first = at + begin
            n = bisect.bisect_right(machine.turns, first, key=_begin_of)
            before = machine.turns[n - 1] if n else None
            if before and before.end >= first:  # it pauses there, and is not done
                at = before.end + 1
                continue
            change_s, stay = self._changed(machine, before, set_up)
            follower = machine.turns[n] if n < len(machine.turns) else None
            extra_s = 0.0
            if follower:  # what it takes more to change over to the next is done beforehand
                after = _Turn(first, first, order, set_up, self._after(machine, before, set_up))
                new, _ = self._changed(machine, after, follower.set_up)
                was, _ = self._changed(machine, before, follower.set_up)
                extra_s = max(0.0, new - was)
            need = (unit.elapsed_s + change_s + extra_s) / SLOT_S
            so_far = fits[begin:].cumsum()
            last = int(so_far.searchsorted(need - 1e-9))
            if last >= len(so_far):
                if stop == whole:
                    return None
                wide *= 4
                continue
            end = first + last
            if follower and follower.begin <= end:  # the gap is too short: behind what fills it
                at = follower.end + 1
                continue
            used = fits[begin : begin + last + 1].astype(float)
            used[-1] -= so_far[last] - need
            if self.kept:
                machine = self.machines[unit.machine] = machine.copy()
                self.people = self.people.copy()
            self.people[first : end + 1] -= used * share
            machine.free[first : end + 1][used > 1e-9] = TAKEN
            machine.turns.insert(
                n, _Turn(first, end, order, set_up, self._after(machine, before, set_up))
            )
            stop_s = float(self.horizon.at[end]) + SLOT_S * min(1.0, float(used[-1]))
            behind = before.order if before else ""
            return Taken(float(self.horizon.at[first]), stop_s, behind, stay, change_s + extra_s)

    def work(self, unit: Unit, start: float) -> Taken | None:
        """Place hand work as early as may be: it takes what is left of a person, at most one."""
        at = self.horizon.first_from(start)
        need = unit.elapsed_s / SLOT_S
        wide = max(48, math.ceil(need) * 3)
        while True:  # most units find their place soon: the far days are looked at only if not
            people = self.people[at : at + wide]
            amount = np.minimum(people, 1.0)
            amount *= amount >= LEAST_OF_A_PERSON
            so_far = amount.cumsum()
            last = int(so_far.searchsorted(need - 1e-9))
            if last < len(so_far):
                break
            if at + wide >= len(self.horizon):
                return None
            wide *= 4
        used = amount[: last + 1].copy()
        used[-1] -= so_far[last] - need
        if self.kept:
            self.people = self.people.copy()
        self.people[at : at + last + 1] -= used
        first = int((used > 1e-9).argmax())
        begin = float(self.horizon.at[at + first])
        end = float(self.horizon.at[at + last]) + SLOT_S * min(1.0, float(used[-1] / amount[last]))
        return Taken(begin, end)

    def take(self, unit: Unit, start: float, order: str) -> Taken | None:
        """Place a unit from a moment on."""
        if unit.elapsed_s <= 0:
            return Taken(start, start)
        if unit.machine and unit.machine_s > 0:
            return self.sew(unit, start, order)
        return self.work(unit, start)


def _begin_of(turn: _Turn) -> int:
    return turn.begin


Ends = dict[str, Taken]


def place(room: Room, order: Planned, unit: Unit, found: Ends) -> Taken | None:
    """Place a unit of an order as early as may be after what goes before it.

    Parameters
    ----------
    room : Room
        What it is taken of.
    order : Planned
    unit : Unit
    found : dict
        Where the order's units before it lie, by id.

    Returns
    -------
    Taken or None
        None where it has no place within the horizon.
    """
    start, horizon = 0.0, room.horizon
    for at in unit.after:
        if at in found:
            start = max(start, found[at].end)
        elif any(each.id == at for each in order.units):
            return None  # what goes before it has no place within the horizon
    if unit.kind == "wait":
        until = start
        if unit.until:
            until = horizon.moment(unit.until) + unit.until_h * 3600
        return Taken(start, max(start, until))
    if unit.kind == "dry":
        return Taken(start, start + unit.elapsed_s)
    if order.pin.day:
        start = max(start, horizon.moment(order.pin.day))
    return room.take(unit, start, order.id)


def last_end(ends: Ends) -> float:
    """Return when the last of some units ends. [s]"""
    return max((taken.end for taken in ends.values()), default=0.0)


def _late(order: Planned, end: float, horizon: Horizon) -> int:
    if not order.promised_on:
        return 0
    day = np.datetime64(horizon.handed_over(end), "D")
    return max(0, int((day - np.datetime64(order.promised_on, "D")).astype(int)))


NEVER_LATE_DAYS = 1000.0
"""What an order counts that does not end within the horizon."""

Score = tuple[float, float, float]


@record
class Step:
    """A unit in the line: whose it is, which of its units."""

    order: int
    unit: int


class Line:
    """Units placed in a row, with the room as it was before each: what is changed behind some of
    them is placed anew from there on. Scored by days late, change-overs, ends."""

    def __init__(self, orders: Sequence[Planned], horizon: Horizon):
        self.horizon = horizon
        self.orders = tuple(orders)
        self.steps: list[Step] = []
        self.rooms: list[Room] = []
        self.taken: list[Taken | None] = []
        self.room = Room(horizon)
        self._found: list[Ends] = [{} for _ in orders]
        self.go_on([Step(n, k) for n, order in enumerate(orders) for k in range(len(order.units))])

    def go_on(self, steps: Sequence[Step]) -> None:
        """Place some units more."""
        for step in steps:
            self.steps.append(step)
            self.rooms.append(self.room)
            order = self.orders[step.order]
            unit = order.units[step.unit]
            found = self._found[step.order]
            taken = self._place(order, unit, found)
            self.taken.append(taken)
            if taken is not None:
                found[unit.id] = taken
        self.score = self._score()

    def _place(self, order: Planned, unit: Unit, found: Ends) -> Taken | None:
        """Place a unit as early as may be after what goes before it."""
        if unit.kind not in NOT_WORKED:
            self.room = self.room.copy()
        return place(self.room, order, unit, found)

    def _score(self) -> Score:
        late = change = last = 0.0
        for n, order in enumerate(self.orders):
            found = self._found[n]
            if len(found) < len(order.units):
                late += NEVER_LATE_DAYS
                continue
            end = last_end(found)
            late += _late(order, end, self.horizon)
            last += end
            change += sum(taken.change_s for taken in found.values())
        return late, change, last

    def ends(self, n: int) -> Ends | None:
        """Return where an order's units lie; None where one has no place within the horizon."""
        found = self._found[n]
        return found if len(found) == len(self.orders[n].units) else None

    def late_of(self, n: int) -> int:
        """Return by how many days an order is late."""
        ends = self.ends(n)
        if ends is None:
            return int(NEVER_LATE_DAYS)
        return _late(self.orders[n], last_end(ends), self.horizon)

    def end_day(self, n: int) -> str:
        """Return the day on which an order ends, "" where it does not within the horizon."""
        ends = self.ends(n)
        return "" if ends is None else self.horizon.handed_over(last_end(ends))

    def blocks(self) -> list[int]:
        """List the orders as their first units come."""
        return list(dict.fromkeys(step.order for step in self.steps))

    def again(self, steps: Sequence[Step], at: int, orders: Sequence[Planned] = ()) -> Line:
        """Return the line up to a step, and then others, placed anew."""
        other = Line.__new__(Line)
        other.horizon = self.horizon
        other.orders = tuple(orders) or self.orders
        other.steps, other.rooms = self.steps[:at], self.rooms[:at]
        other.taken = self.taken[:at]
        other.room = self.rooms[at] if at < len(self.rooms) else self.room
        other._found = [{} for _ in other.orders]
        for step, taken in zip(other.steps, other.taken, strict=True):
            if taken is not None:
                other._found[step.order][other.orders[step.order].units[step.unit].id] = taken
        other.go_on(steps)
        return other

    def with_one(self, order: Planned, at: int) -> Line:
        """Return the line with one more order, placed before the at-th of its blocks."""
        blocks = self.blocks()
        n = len(self.orders)
        new = [Step(n, k) for k in range(len(order.units))]
        if at >= len(blocks):
            return self.again(new, len(self.steps), (*self.orders, order))
        from_ = next(i for i, step in enumerate(self.steps) if step.order == blocks[at])
        return self.again([*new, *self.steps[from_:]], from_, (*self.orders, order))


def _held(order: Planned) -> int:
    """Rank what is not to be moved: begun, pinned first, pinned to a day, the others."""
    if order.begun:
        return 0
    return 1 if order.pin.first else 2 if order.pin.day else FREE


def _first_list(
    orders: Sequence[Planned], horizon: Horizon, *, shortest: bool = False
) -> list[Planned]:
    """Sort orders by what time is left beside their own work; those without a day come last.

    `shortest`: those first that can be ready soonest, or are promised then: where many come to be
    late, fewer are.
    """
    day_s = hours_a_day(horizon.calendar) * 3600 or DAY_S

    def slack(order: Planned) -> tuple[int, bool, float, int]:
        own = sum(unit.elapsed_s for unit in order.units if unit.kind not in NOT_WORKED)
        due = horizon.moment(order.promised_on) if order.promised_on else 0.0
        held = _held(order)
        length = own / day_s * DAY_S
        left = max(due, length) if shortest else due - length
        return held, order.promised_on == "", left if held else 0.0, order.rank

    found = sorted(orders, key=slack)
    for order in [each for each in found if each.pin.before]:
        at = next((n for n, each in enumerate(found) if each.id == order.pin.before), None)
        if at is not None and at < found.index(order) and not found[at].begun:
            found.remove(order)
            found.insert(at, order)
    return found


def _keeps(line: Line) -> bool:
    """Whether who is to go before another order does."""
    at = {line.orders[n].id: k for k, n in enumerate(line.blocks())}
    begun = {order.id for order in line.orders if order.begun}
    return all(
        at[order.id] < at[order.pin.before]
        for order in line.orders
        if order.pin.before in at and order.pin.before not in begun
    )


Move = tuple[list[Step], int]
"""The steps from a place in the line on, and that place."""


def _block_moves(line: Line, n: int, held: int) -> Iterator[Move]:
    """Put a whole order before another one, from near to far, or behind it."""
    own = [step for step in line.steps if step.order == n]
    rest = [step for step in line.steps if step.order != n]
    blocks = line.blocks()
    at = blocks.index(n)
    near = sorted(range(held, len(blocks)), key=lambda k: (k > at, abs(k - at)))
    for k in near:
        if k == at:
            continue
        before = blocks[k] if k < at else (blocks[k + 1] if k + 1 < len(blocks) else None)
        put = (
            len(rest)
            if before is None
            else next(i for i, step in enumerate(rest) if step.order == before)
        )
        yield _from_change(line, [*rest[:put], *own, *rest[put:]])


def _unit_moves(line: Line, n: int, least: int) -> Iterator[Move]:
    """Put one unit of an order earlier, as far as what goes before it allows."""
    units = line.orders[n].units
    places = [i for i, step in enumerate(line.steps) if step.order == n]
    for i in places:
        unit = units[line.steps[i].unit]
        low = max(
            (j + 1 for j in places if j < i and units[line.steps[j].unit].id in unit.after),
            default=least,
        )
        for j in range(i - 1, max(low, least) - 1, -1):
            if line.steps[j].order != n:
                steps = line.steps
                yield _from_change(line, [*steps[:j], steps[i], *steps[j:i], *steps[i + 1 :]])
    for i in reversed(places):  # or later, as far as what comes after it allows
        own = units[line.steps[i].unit].id
        high = min(
            (j for j in places if j > i and own in units[line.steps[j].unit].after),
            default=len(line.steps),
        )
        for j in range(i + 2, high + 1):
            if line.steps[j - 1].order != n:
                steps = line.steps
                yield _from_change(line, [*steps[:i], *steps[i + 1 : j], steps[i], *steps[j:]])


def _from_change(line: Line, steps: list[Step]) -> Move:
    at = next((i for i, (a, b) in enumerate(zip(line.steps, steps, strict=True)) if a != b), 0)
    return steps[at:], at


def _improved(line: Line, tries: int) -> tuple[Line, int]:
    """Move orders, then units, while days late, then change-overs, then ends fall: (line, tries).

    First improvement; what is late is tried first.
    """
    tried, again = 0, 0  # tries, and units placed anew by them
    held = sum(1 for order in line.orders if _held(order) < FREE)
    least = sum(len(order.units) for order in line.orders if _held(order) < FREE)
    before = any(order.pin.before for order in line.orders)
    better = True
    while better:
        better = False
        free = line.blocks()[held:]
        late = {n: line.late_of(n) > 0 for n in free}
        free.sort(key=lambda n: not late[n])
        moves = chain(
            (move for n in free for move in _block_moves(line, n, held)),
            (move for n in free for move in _unit_moves(line, n, least)),
        )
        for steps, at in moves:
            if tried >= tries or again >= MOST_AGAIN:
                return line, tried
            tried += 1
            again += len(steps)
            other = line.again(steps, at)
            if other.score < line.score and (not before or _keeps(other)):
                line, better = other, True
                break
    return line, tried


def placed_line(orders: Sequence[Planned], horizon: Horizon, tries: int) -> tuple[Line, int]:
    """Place orders, improved in so many tries at most: (line, tries)."""
    line, tried = _improved(Line(_first_list(orders, horizon), horizon), tries)
    if line.score[0] > 0 and tried < tries:  # some are late: once more from another beginning
        other = Line(_first_list(orders, horizon, shortest=True), horizon)
        other, more = _improved(other, tries - tried)
        tried += more
        if other.score < line.score:
            line = other
    return line, tried


def plan_orders(
    orders: Sequence[Planned],
    calendar: Calendar,
    *,
    from_day: str,
    from_h: float = 0.0,
    days: int = 120,
    tries: int = MOST_TRIES,
) -> Plan:
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
    return _told(*placed_line(orders, horizon, tries))


def _told(line: Line, tried: int) -> Plan:
    horizon = line.horizon
    placed: list[Placed] = []
    told: list[Told] = []
    over: list[str] = []
    in_line = [(n, line.orders[n]) for n in line.blocks()]
    for n, order in in_line:
        ends = line.ends(n)
        if ends is None:
            over.append(order.id)
            continue
        for unit in order.units:
            taken = ends[unit.id]
            begins = horizon.day_and_hour(taken.begin + 1e-3)
            morning = unit.kind == "wait" and not unit.until_h  # it waits until that morning
            end = taken.end + (1e-3 if morning else 0.0)
            placed.append(
                Placed(
                    order.id,
                    unit.id,
                    unit.kind,
                    unit.label,
                    unit.machine,
                    *begins,
                    *horizon.day_and_hour(end),
                    taken.behind,
                    taken.stay,
                    taken.change_s,
                )
            )
        work = [ends[unit.id] for unit in order.units if unit.kind not in NOT_WORKED]
        begin = min((taken.begin for taken in work), default=0.0)
        begin_day = horizon.day_and_hour(begin + 1e-3)[0]
        told.append(
            Told(
                order.id,
                begin_day,
                horizon.handed_over(last_end(ends)),
                _late(order, last_end(ends), horizon),
                _unpinned(order, ends, begin_day),
            )
        )
    return Plan(
        tuple(placed),
        tuple(told),
        tried,
        tuple(over),
        tuple(order.id for _, order in in_line),
        line.score[1],
    )


def _unpinned(order: Planned, ends: Ends, begin_day: str) -> str:
    """Say why an order does not begin on the day that it is pinned to."""
    if not order.pin.day or begin_day == order.pin.day:
        return ""
    waits = [
        unit
        for unit in order.units
        if unit.kind == "wait" and (unit.until, unit.until_h) > (order.pin.day, 0.0)
    ]
    if waits:
        return max(waits, key=lambda unit: unit.until).label
    return "nobody, or no machine, is free that day"
