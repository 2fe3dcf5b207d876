"""Safe days of made-up weeks, held against further futures than those they were drawn of."""

from __future__ import annotations

import random
from dataclasses import replace

from clothyard.core.plan.calendar import Calendar, PersonWeek
from clothyard.core.plan.futures import Chances, Futures
from clothyard.core.plan.promise import Promiser
from clothyard.core.plan.schedule import Planned
from clothyard.core.plan.units import GOODS, Unit, wait_unit

CHANCES = Chances((0.08, 0.35, 0.25, 0.20, 0.50), 0.02)
"""Of the default house."""
FURTHER = 100
MONDAY = "2026-05-04"
WEEKDAYS = (((540, 960),),) * 5 + ((), ())
"""Seven hours a day, Monday to Friday."""


def _order(id_: str, chance: random.Random, rank: int) -> Planned:
    """An order of half an hour to nine hours at the machine; some wait for goods."""
    sew_s = chance.uniform(0.5, 9) * 3600
    pieces = chance.randint(1, 60)
    waits = chance.random() < 0.4
    until = f"2026-05-{chance.randint(4, 14):02d}" if waits else ""
    first: tuple[Unit, ...] = ()
    if until:
        first = (wait_unit(GOODS, "waits for goods", until, until_h=24.0),)
    after = tuple(unit.id for unit in first)

    def unit(kind: str, seconds: float, after_: tuple[str, ...], machine: str = "") -> Unit:
        person = seconds * (0.3 if machine else 1.0)
        return Unit(
            kind,
            kind,  # type: ignore[arg-type]
            kind,
            machine,
            pieces,
            pieces,
            seconds if machine else 0.0,
            person,
            seconds,
            after_,
            "pieces",
        )

    units = (
        *first,
        unit("prepare", sew_s * 0.2, after),
        unit("sew", sew_s, ("prepare",), "m"),
        unit("finish", sew_s * 0.25, ("sew",)),
    )
    due = f"2026-05-{chance.randint(6, 29):02d}" if chance.random() < 0.7 else ""
    return Planned(id_, units, due, rank)


def week(seed: int) -> tuple[list[Planned], Planned, Calendar]:
    """Return a shop's open orders, a draft, and when it works."""
    chance = random.Random(f"held {seed}")
    orders = [_order(f"{seed}.{n}", chance, n) for n in range(chance.randint(0, 10))]
    draft = replace(_order(f"draft {seed}", chance, 99), promised_on="")
    return orders, draft, Calendar((PersonWeek("maker", WEEKDAYS),), needles=(("m", 10),))


def held(seed: int) -> tuple[float, float]:
    """Return in how many of 100 further futures a week's safe day holds, and the day before it."""
    orders, draft, calendar = week(seed)
    promiser = Promiser(orders, calendar, from_day=MONDAY)
    safe = promiser.promise(draft, CHANCES).safe
    line = promiser.line
    further = Futures(line.orders, line.steps, line.horizon, CHANCES, count=FURTHER, seed=991)
    days = further.days(draft)
    return float(sum(day <= safe for day in days)), float(sum(day < safe for day in days))
