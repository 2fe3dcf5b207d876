"""Hours of a day, days, weekdays, as they are typed: "9-12:30, 13-17", "2026-12-24..2026-12-28"."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from itertools import pairwise
from typing import Any

import numpy as np

WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
NONE = "-"
MOST_DAYS = 750
"""Days that one span may hold: two years."""

MOST_LOOKED = 3700
"""Days that are looked at for one on which is worked: ten years."""

Spans = tuple[tuple[int, int], ...]
"""From and to, in minutes of the day, in order and apart."""

_SPAN = re.compile(
    r"(\d{1,2})(?:[:.](\d{2}))?\s*(?:-|–|to)\s*(\d{1,2})(?:[:.](\d{2}))?", re.IGNORECASE
)
_DAYS = re.compile(r"(\d{4}-\d{2}-\d{2})(?:\s*(?:\.\.|–|to)\s*(\d{4}-\d{2}-\d{2}))?")


def _parts(text: str, apart: str) -> list[str]:
    return [part.strip() for part in re.split(apart, text) if part.strip() not in {"", NONE}]


def read_hours(text: str) -> Spans:
    """Read the hours of a day.

    Parameters
    ----------
    text : str
        Such as "9-12:30, 13-17"; a dash or nothing: none.

    Raises
    ------
    ValueError
        If a part is no span, ends before it begins, or overlaps another.
    """
    found = []
    for part in _parts(text, r"[,;]|\s(?=\d{1,2}(?:[:.]\d{2})?\s*(?:-|–))"):
        read = _SPAN.fullmatch(part)
        if read is None:
            raise ValueError(f"{part[:20]!r} is no span of hours")
        begin = int(read[1]) * 60 + int(read[2] or 0)
        end = int(read[3]) * 60 + int(read[4] or 0)
        if not begin < end <= 24 * 60 or int(read[2] or 0) > 59 or int(read[4] or 0) > 59:
            raise ValueError(f"{part[:20]!r} does not end later on the same day")
        found.append((begin, end))
    found.sort()
    for (_, end), (begin, _) in pairwise(found):
        if begin < end:
            raise ValueError("two spans overlap")
    return tuple(found)


def _clock(minutes: int) -> str:
    return f"{minutes // 60}:{minutes % 60:02}" if minutes % 60 else str(minutes // 60)


def write_hours(spans: Iterable[tuple[int, int]]) -> str:
    """Write the hours of a day as they are read."""
    return ", ".join(f"{_clock(begin)}-{_clock(end)}" for begin, end in spans) or NONE


def _day(text: str) -> np.datetime64:
    try:
        return np.datetime64(text, "D")
    except ValueError:
        raise ValueError(f"{text} is no day of the calendar") from None


def read_dates(text: str) -> frozenset[str]:
    """Read days, single or from one to another.

    Parameters
    ----------
    text : str
        Such as "2026-12-24..2026-12-28, 2027-01-01"; a dash or nothing: none.

    Returns
    -------
    frozenset of str
        ISO days.

    Raises
    ------
    ValueError
        If a part is no day, or a span runs backwards or over two years.
    """
    found: set[str] = set()
    for part in _parts(text, r"[,;\n]|\s(?=\d{4}-)(?<!\.\.\s)(?<!to\s)(?<!–\s)"):
        read = _DAYS.fullmatch(part)
        if read is None:
            raise ValueError(f"{part[:24]!r} is no day")
        first = _day(read[1])
        last = _day(read[2]) if read[2] else first
        count = int((last - first).astype(int)) + 1
        if not 1 <= count <= MOST_DAYS:
            raise ValueError(f"{part[:24]!r} runs backwards, or over two years")
        found.update(str(first + n) for n in range(count))
    return frozenset(found)


def write_dates(days: Iterable[str]) -> str:
    """Write days as they are read, those in a row as from and to."""
    rows: list[list[np.datetime64]] = []
    for day in sorted(np.datetime64(each, "D") for each in days):
        if rows and int((day - rows[-1][1]).astype(int)) <= 1:
            rows[-1][1] = day
        else:
            rows.append([day, day])
    return ", ".join(str(a) if a == b else f"{a}..{b}" for a, b in rows) or NONE


def read_own_hours(text: str) -> dict[str, Spans]:
    """Read days with hours of their own.

    Parameters
    ----------
    text : str
        Such as "2026-12-05 9-13; 2026-12-06 10-12, 13-14"; a dash or nothing: none.

    Returns
    -------
    dict of str to Spans
        ISO day to its hours; () for a day off.

    Raises
    ------
    ValueError
        If a part is no day with hours, or a day stands twice.
    """
    found: dict[str, Spans] = {}
    for part in _parts(text, r"[;\n]"):
        first, _, hours = part.partition(" ")
        day = str(_day(first))
        if day in found:
            raise ValueError(f"{day} stands twice")
        found[day] = read_hours(hours)
    return found


def write_own_hours(days: Mapping[str, Spans]) -> str:
    """Write days with hours of their own as they are read."""
    return "; ".join(f"{day} {write_hours(days[day])}" for day in sorted(days)) or NONE


def read_weekdays(text: str) -> tuple[bool, ...]:
    """Read weekdays: (Monday, …, Sunday), each whether it is named.

    Raises
    ------
    ValueError
        If a word is no weekday.
    """
    words = [word.lower()[:3] for word in re.split(r"[\s,;]+", text) if word not in {"", NONE}]
    for word in words:
        if word not in WEEKDAYS:
            raise ValueError(f"{word!r} is no weekday: mon, tue, wed, thu, fri, sat, sun")
    return tuple(day in words for day in WEEKDAYS)


def weekday_of(day: str) -> int:
    """Return an ISO day's weekday, 0 for Monday."""
    return (int(np.datetime64(day, "D").astype(int)) + 3) % 7  # the epoch was a Thursday


def day_after(day: str, days: int) -> str:
    """Return the ISO day so many days later; earlier below 0."""
    return str(np.datetime64(day, "D") + days)


def on_working_day(
    day: str, days: int, *, works: str = "mon tue wed thu fri", closed: str = "-"
) -> str:
    """Count so many working days on from a day, or back below 0.

    Parameters
    ----------
    day : str
        ISO day, not counted itself.
    days : int
        0: the day itself.
    works, closed : str
        Weekdays on which is worked, days on which not, as typed in the standards.

    Returns
    -------
    str
        ISO day; ten years on where no weekday is worked.
    """
    open_on, shut = read_weekdays(works), read_dates(closed)
    step = 1 if days > 0 else -1
    left, at = abs(days), day
    for _ in range(MOST_LOOKED):
        if left <= 0:
            break
        at = day_after(at, step)
        left -= open_on[weekday_of(at)] and at not in shut
    return at


def write_weekdays(worked: Iterable[bool]) -> str:
    """Write weekdays, Monday first, as they are read."""
    return " ".join(day for day, is_on in zip(WEEKDAYS, worked, strict=True) if is_on) or NONE


READERS: dict[str, tuple[Callable[[str], Any], str]] = {
    "day hours": (read_hours, "Write it like 9-12:30, 13-17; a dash for none."),
    "dates": (read_dates, "Write it like 2026-12-24..2026-12-28, 2027-01-01; a dash for none."),
    "own hours": (read_own_hours, "Write it like 2026-12-05 9-13; 2026-12-06 10-12."),
    "weekdays": (read_weekdays, "Write it like mon tue wed thu fri."),
}
"""By its unit: what reads a standard that is typed so, and how it is written."""
