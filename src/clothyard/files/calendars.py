"""Calendars as .ics: a plan written, days off read."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta

from dateutil.rrule import rrulestr
from icalendar import Calendar, Component, Event
from icalendar.prop import vRecur

from clothyard.core.errors import BadInput, TooLarge

MAX_BYTES = 2_000_000
MOST_EVENTS = 5000
MOST_DAYS = 800
"""Days of one event, or of what repeats."""
LOOK_AHEAD_DAYS = 740


@dataclass(frozen=True, slots=True)
class Entry:
    """Something on a plan: whole days where `begin_h` is None, else hours of the day. [h]

    Times are those of the shop's wall, without a zone: they stand so wherever they are read.
    """

    id: str
    title: str
    words: str
    begin_day: str
    end_day: str
    begin_h: float | None = None
    end_h: float | None = None


@dataclass(frozen=True, slots=True)
class DayOff:
    """A day that a calendar names; ISO."""

    day: str
    name: str


def _moment(day: str, hour: float) -> datetime:
    return datetime.combine(date.fromisoformat(day), time()) + timedelta(minutes=round(hour * 60))


def write_ics(entries: Iterable[Entry], *, name: str, made_on: str) -> bytes:
    """Write a calendar.

    Parameters
    ----------
    entries : iterable of Entry
    name : str
        What the calendar is called where it is read.
    made_on : str
        ISO moment.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Clothyard//Plan//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    stamp = datetime.fromisoformat(made_on).astimezone(UTC)
    for entry in entries:
        event = Event()
        event.add("uid", f"{entry.id}@clothyard")
        event.add("dtstamp", stamp)
        event.add("summary", entry.title)
        if entry.words:
            event.add("description", entry.words)
        if entry.begin_h is None or entry.end_h is None:
            event.add("dtstart", date.fromisoformat(entry.begin_day))
            event.add("dtend", date.fromisoformat(entry.end_day) + timedelta(days=1))
            event.add("transp", "TRANSPARENT")
        else:
            event.add("dtstart", _moment(entry.begin_day, entry.begin_h))
            event.add("dtend", _moment(entry.end_day, entry.end_h))
        calendar.add_component(event)
    return bytes(calendar.to_ical())


def _refused(words: str, remedy: str = "Choose another file; nothing was changed.") -> BadInput:
    return BadInput(words, where="file", remedy=remedy, code="calendar-unreadable")


def _day(value: date | datetime) -> date:
    return value.date() if isinstance(value, datetime) else value


def read_days(data: bytes, *, from_day: str) -> list[DayOff]:
    """Read the days that a calendar's entries cover, from a day on, two years ahead at most.

    An entry of whole days covers each of them, one with times the day it begins on; what repeats
    is followed.

    Raises
    ------
    TooLarge
        Over 2 MB.
    BadInput
        If it is no calendar, or holds more entries than a shop has.
    """
    if len(data) > MAX_BYTES:
        raise TooLarge("the calendar is over 2 MB.", where="file", remedy="Write out less of it.")
    try:
        calendar = Calendar.from_ical(data)
    except (ValueError, IndexError, KeyError, UnicodeDecodeError) as error:
        raise _refused("this is no calendar (.ics).") from error
    if getattr(calendar, "name", "") != "VCALENDAR":
        raise _refused("this is no calendar (.ics).")
    events = list(calendar.walk("VEVENT"))
    if len(events) > MOST_EVENTS:
        raise _refused(f"it holds {len(events)} entries; {MOST_EVENTS} are read at most.")
    first = date.fromisoformat(from_day)
    last = first + timedelta(days=LOOK_AHEAD_DAYS)
    found: dict[str, str] = {}
    for event in events:
        name = str(event.get("SUMMARY", "")).strip()[:100]
        for day in _days_of(event, first, last):
            found.setdefault(day.isoformat(), name)
    return [DayOff(day, found[day]) for day in sorted(found)]


def _days_of(event: Component, first: date, last: date) -> list[date]:
    try:
        begin = event.decoded("DTSTART")
        end = event.decoded("DTEND", None)
        if end is None:
            end = begin + event.decoded("DURATION", timedelta(0))
        repeats = event.get("RRULE")
        start, whole = _day(begin), not isinstance(begin, datetime)
        length = (_day(end) - start).days if whole else 1
        starts = [start]
        if repeats and _by_days(repeats):
            rule = rrulestr(
                repeats.to_ical().decode(), dtstart=datetime.combine(start, time()), ignoretz=True
            )
            until = datetime.combine(last, time())
            from_ = datetime.combine(max(first - timedelta(days=max(1, length)), start), time())
            starts = [
                moment.date()
                for moment in rule.xafter(from_, count=MOST_DAYS, inc=True)
                if moment <= until
            ]
    except (ValueError, TypeError, KeyError, AttributeError, OverflowError):
        return []  # an entry without a day of its own says nothing
    left_out = _left_out(event)
    starts = [at for at in starts if at not in left_out]
    days = [at + timedelta(days=n) for at in starts for n in range(min(max(1, length), MOST_DAYS))]
    return [day for day in days if first <= day <= last]


def _by_days(rule: vRecur) -> bool:
    """Whether a rule names days: one by the hour or shorter does not, one of no step never ends."""
    often = str((rule.get("FREQ") or [""])[0]).upper()
    step = (rule.get("INTERVAL") or [1])[0]
    return often in {"DAILY", "WEEKLY", "MONTHLY", "YEARLY"} and int(step) >= 1


def _left_out(event: Component) -> set[date]:
    """Return the days on which what repeats does not take place."""
    rows = event.get("EXDATE", [])
    lists = rows if isinstance(rows, list) else [rows]
    return {_day(each.dt) for row in lists for each in getattr(row, "dts", [])}
