"""When is worked: each person's week, days off, days with other hours; machines out of service.

Times are of the clock on the shop's wall: a day on which the clocks change has its usual hours.
"""

from __future__ import annotations

import bisect
from dataclasses import field

import numpy as np
from numpy.typing import NDArray

from clothyard.core.house.document import House
from clothyard.core.house.week_text import (
    WEEKDAYS,
    Spans,
    day_after,
    on_working_day,
    read_dates,
    read_hours,
    read_own_hours,
    weekday_of,
)
from clothyard.core.record import record

SLOT_S = 900.0
DAY_S = 86_400.0
SLOTS_A_DAY = 96


@record
class PersonWeek:
    """A person's hours on each weekday, the days on which they are others (() for off)."""

    id: str
    week: tuple[Spans, ...]
    others: tuple[tuple[str, Spans], ...] = ()


@record
class ChangeTimes:
    """What a change-over takes: each thread, another kind of hoop, the cap driver, a needle. [s]"""

    thread_s: float = 75.0
    hoop_s: float = 60.0
    driver_s: float = 600.0
    needle_s: float = 90.0


@record
class Calendar:
    """Who works when; each machine's days out of service and needles, by its id; change-overs.

    What is packed later than `collect_h` before a day's end is handed over on the next. [h]
    `threaded` are the threads that are on each machine now.
    """

    people: tuple[PersonWeek, ...]
    out: tuple[tuple[str, frozenset[str]], ...] = ()
    needles: tuple[tuple[str, int], ...] = ()
    changes: ChangeTimes = field(default_factory=ChangeTimes)
    collect_h: float = 0.0
    threaded: tuple[tuple[str, tuple[str, ...]], ...] = ()


def calendar_of(house: House, threaded: tuple[tuple[str, tuple[str, ...]], ...] = ()) -> Calendar:
    """Read when a shop works from its standards; `threaded` as of the calendar.

    A day off is none of its hours; hours of its own go before both it and a closing day.
    """
    closed = read_dates(house.week.closed)
    people = []
    for key, row in house.people.items():
        others: dict[str, Spans] = dict.fromkeys(closed | read_dates(row.off), ())
        others |= read_own_hours(row.also)
        week = tuple(read_hours(getattr(row, day)) for day in WEEKDAYS)
        people.append(PersonWeek(key, week, tuple(sorted(others.items()))))
    out = tuple(
        (key, read_dates(machine.out))
        for key, machine in house.machines.items()
        if machine.out != "-"
    )
    needles = tuple((key, machine.needles) for key, machine in house.machines.items())
    tasks = house.tasks
    changes = ChangeTimes(
        *(
            float(tasks[key].seconds)
            for key in ("thread-colour", "change-hoop", "cap-driver", "change-needle")
        )
    )
    return Calendar(tuple(people), out, needles, changes, house.week.collect_h, threaded)


def carried_on(day: str, house: House) -> str:
    """Return the day on which what is ready on a day is with the customer, by the carrier."""
    week = house.week
    if not week.carrier_days:
        return day
    taken = on_working_day(
        day_after(day, -1), 1, works=week.carrier_works, closed=week.carrier_closed
    )
    return on_working_day(
        taken, week.carrier_days, works=week.carrier_works, closed=week.carrier_closed
    )


def handed_over_by(day: str, house: House) -> str:
    """Return the last day on which a parcel is handed over that is there on a day."""
    week = house.week
    if not day or not week.carrier_days:
        return day
    at = on_working_day(
        day, -week.carrier_days, works=week.carrier_works, closed=week.carrier_closed
    )
    while carried_on(at, house) > day:
        at = day_after(at, -1)
    return at


def hours_a_day(calendar: Calendar) -> float:
    """Return the hours of the longest usual day of the person who works longest. [h]"""
    longest = [
        sum(end - begin for begin, end in spans)
        for person in calendar.people
        for spans in person.week
    ]
    return max(longest, default=0) / 60


def _slots(spans: Spans) -> NDArray[np.int64]:
    """Say in which slots of a day somebody is there: whole ones only. Shape (96,)."""
    there = np.zeros(SLOTS_A_DAY, dtype=np.int64)
    for begin, end in spans:
        there[-(-begin // 15) : end // 15] = 1
    return there


class Horizon:
    """The slots in which somebody works, of so many days from a day on.

    Parameters
    ----------
    calendar : Calendar
    from_day : str
        ISO day on which the first slot may lie.
    days : int
        How many days ahead are looked at.
    from_h : float
        Hour of the first day before which nothing is begun.
    """

    def __init__(self, calendar: Calendar, from_day: str, days: int, *, from_h: float = 0.0):
        self.calendar = calendar
        first = np.datetime64(from_day, "D")
        self.days = [str(first + n) for n in range(days)]
        number = {day: n for n, day in enumerate(self.days)}
        there = np.zeros((days, SLOTS_A_DAY), dtype=np.int64)
        weekday = np.arange(weekday_of(from_day), weekday_of(from_day) + days) % 7
        for person in calendar.people:
            own = np.array([_slots(spans) for spans in person.week])[weekday]
            for day, spans in person.others:
                if day in number:
                    own[number[day]] = _slots(spans)
            there += own
        there[0, : min(SLOTS_A_DAY, int(np.ceil(from_h * 3600 / SLOT_S)))] = 0
        rows, slots = np.nonzero(there)
        self.at: NDArray[np.float64] = rows * DAY_S + slots * SLOT_S
        """When each slot begins, in seconds from the first day's midnight."""
        self.people: NDArray[np.float64] = there[rows, slots].astype(float)
        """How many people are there in each slot."""
        self._number = number
        self._of_day = rows
        self._starts: list[float] = self.at.tolist()
        self._closes = {
            int(n): end * DAY_S / SLOTS_A_DAY + int(n) * DAY_S - calendar.collect_h * 3600
            for n, end in zip(rows, slots + 1, strict=True)
        }
        self._worked = sorted(self._closes)

    def backward(self, end: float) -> Horizon:
        """Return the slots before a moment as they come going back from it.

        Its moments are seconds before that one; days and hours are not told of it.
        """
        other = Horizon.__new__(Horizon)
        kept = self.at + SLOT_S <= end + 1e-6
        other.calendar, other.days, other._number = self.calendar, self.days, self._number
        other.at = end - (self.at[kept][::-1] + SLOT_S)
        other.people = self.people[kept][::-1].copy()
        other._of_day = self._of_day[kept][::-1]
        other._starts = other.at.tolist()
        other._closes, other._worked = {}, []
        return other

    def last_moment(self, day: str) -> float:
        """Return until when something is packed that is handed over on a day, or before it.

        0 where nobody works before.
        """
        n = self._number.get(day, len(self.days) - 1)
        at = bisect.bisect_right(self._worked, n) - 1
        return self._closes[self._worked[at]] if at >= 0 else 0.0

    def handed_over(self, moment: float) -> str:
        """Return the day on which is handed over what is packed at a moment."""
        n = min(int((moment - 1e-6) // DAY_S) if moment > 0 else 0, len(self.days) - 1)
        if n in self._closes and moment > self._closes[n] + 1e-3:
            n += 1
        at = bisect.bisect_left(self._worked, n)
        return self.days[self._worked[at] if at < len(self._worked) else n]

    def __len__(self) -> int:
        return len(self.at)

    def first_from(self, moment: float) -> int:
        """Return the first slot that begins at a moment or later."""
        return bisect.bisect_left(self._starts, moment - 1e-6)

    def moment(self, day: str) -> float:
        """Return the midnight at which a day begins, in seconds; before the first: 0."""
        known = self._number.get(day)
        if known is None:
            n = int((np.datetime64(day, "D") - np.datetime64(self.days[0], "D")).astype(int))
            return max(0.0, n * DAY_S)
        return known * DAY_S

    def day_and_hour(self, moment: float) -> tuple[str, float]:
        """Say a moment as a day and an hour of it; an end at midnight is the day's before."""
        n = min(int((moment - 1e-6) // DAY_S) if moment > 0 else 0, len(self.days) - 1)
        return self.days[n], round((moment - n * DAY_S) / 3600, 2)

    def on_days(self, days: frozenset[str]) -> NDArray[np.bool_]:
        """Say which slots lie on some days. Shape (n_slots,)."""
        numbers = [self._number[day] for day in days if day in self._number]
        return np.isin(self._of_day, numbers)
