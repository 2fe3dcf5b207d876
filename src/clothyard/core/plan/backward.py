"""When an order is begun at the latest: its units laid back from the day it is handed over."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

from clothyard.core.house.week_text import day_after
from clothyard.core.plan.calendar import Calendar, Horizon
from clothyard.core.plan.schedule import Room
from clothyard.core.plan.units import Unit
from clothyard.core.record import record

BACK_DAYS = (21, 90, 365)
"""How far back is looked, the next where that is not far enough."""


@record
class BeginBy:
    """The last working day on which an order is begun, and the day by which its goods are here.

    What arrives on a day is used from the next opening on, so that goods are there the day before.
    """

    begin: str
    goods: str


def _back(units: Sequence[Unit], horizon: Horizon, due: str) -> str:
    """Lay units back from a day: the day of the first, "" where the horizon is too short."""
    end = horizon.last_moment(due)
    room, begins = Room(horizon.backward(end)), dict[str, float]()
    for unit in reversed(units):
        start = max(
            (begins[u.id] for u in units if unit.id in u.after and u.id in begins), default=0.0
        )
        if unit.kind in {"wait", "dry"}:
            begins[unit.id] = start + (unit.elapsed_s if unit.kind == "dry" else 0.0)
            continue
        taken = room.take(unit, start, "")
        if taken is None:
            return ""
        begins[unit.id] = taken.end
    first = end - max(begins.values(), default=0.0)
    return horizon.day_and_hour(first + 1e-3)[0] if first > 0 else ""


@lru_cache(maxsize=2048)
def begins_by(units: tuple[Unit, ...], calendar: Calendar, due: str) -> BeginBy:
    """Say when an order is begun at the latest so that it is handed over on a day.

    Parameters
    ----------
    units : tuple of Unit
        What is left of it, what goes before first; what is waited for counts nothing.
    calendar : Calendar
        In which only this order is made: others take their time beside it.
    due : str
        ISO day on which it is handed over; "" for none: then both are "".

    Returns
    -------
    BeginBy
        "" too where it cannot be made within a year.

    Source
    ------
    The handbook's workshop 6: a backward pass over the same calendars.
    """
    if not due:
        return BeginBy("", "")
    for days in BACK_DAYS:
        horizon = Horizon(calendar, day_after(due, -days), days + 1)
        if begin := _back(units, horizon, due):
            return BeginBy(begin, day_after(begin, -1))
    return BeginBy("", "")
