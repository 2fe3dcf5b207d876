"""Futures: the plan as it may fall out, and the day that most of them keep."""

from __future__ import annotations

import zlib
from collections.abc import Iterable, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from clothyard.core.house.document import House
from clothyard.core.plan.calendar import Horizon
from clothyard.core.plan.schedule import Ends, Planned, Room, Step, last_end, place
from clothyard.core.plan.units import GOODS, Unit
from clothyard.core.record import record

FUTURES, HELD = 60, 48
"""So many are drawn; by the safe day so many are ready."""
LATE_DAYS = (0, 1, 3, 7)
LATE_SHARES = (0.70, 0.15, 0.10, 0.05)
"""Working days that suppliers come later than they said, in so many of all cases."""
PRIOR_ARRIVALS = 20.0
_GROUPS = ("sewing", "loading", "hooping", "finishing", "order")
_GROUP_OF = {"prepare": "hooping", "finish": "finishing", "pack": "order", "look": "order"}
_REMADE = frozenset({"prepare", "sew", "finish"})
NEVER = "9999-12-31"


@record
class Chances:
    """How far what is planned may be off.

    Attributes
    ----------
    spreads : tuple of float, shape (5,)
        Of the logarithm of sewing, loading, hooping, finishing, order tasks.
    spoil : float
        Share of pieces that are made again, 0 to 1.
    late : tuple of float, shape (4,)
        In how many of all cases what is ordered comes 0, 1, 3, 7 working days late.
    """

    spreads: tuple[float, ...]
    spoil: float
    late: tuple[float, ...] = LATE_SHARES


def late_shares(counts: Sequence[int]) -> tuple[float, ...]:
    """Return how often suppliers are late, from arrivals; the start counts for 20 of them.

    Parameters
    ----------
    counts : sequence of int, shape (4,)
        Arrivals that came in time, up to 1, up to 3 and more working days late.

    >>> [round(share, 3) for share in late_shares((0, 0, 0, 20))]
    [0.35, 0.075, 0.05, 0.525]
    """
    whole = PRIOR_ARRIVALS + sum(counts)
    both = zip(LATE_SHARES, counts, strict=True)
    return tuple((PRIOR_ARRIVALS * share + count) / whole for share, count in both)


def late_counts(arrivals: Iterable[tuple[str, str]]) -> tuple[int, ...]:
    """Count arrivals by how many working days late they came, as `late_shares` takes them.

    Parameters
    ----------
    arrivals : iterable of (expected, arrived)
        ISO days.

    >>> late_counts([("2026-05-08", "2026-05-08"), ("2026-05-08", "2026-05-12")])
    (1, 0, 1, 0)
    """
    counts = [0] * len(LATE_DAYS)
    for expected, arrived in arrivals:
        days = int(np.busday_count(np.datetime64(expected, "D"), np.datetime64(arrived, "D")))
        counts[sum(days > each for each in LATE_DAYS[:-1])] += 1
    return tuple(counts)


def chances_of(house: House, *, spoil: float, late: Sequence[int] = (0, 0, 0, 0)) -> Chances:
    """Read from a house how far its times may be off."""
    sure = house.sure
    return Chances(tuple(float(getattr(sure, g)) for g in _GROUPS), spoil, late_shares(late))


@record
class _Draws:
    """What is drawn for one order, a row a future: factors by group, made again, days late."""

    factors: NDArray[np.float64]
    again: NDArray[np.float64]
    late: NDArray[np.int64]


def _draws(order: Planned, chances: Chances, count: int, seed: int) -> _Draws:
    """Draw an order's futures: its own, whatever else is in line."""
    rng = np.random.default_rng([zlib.crc32(order.id.encode()), seed])
    factors = np.exp(rng.standard_normal((count, len(_GROUPS))) * np.array(chances.spreads))
    pieces = max((unit.pieces for unit in order.units if unit.kind == "sew"), default=0)
    again = rng.binomial(pieces, chances.spoil, count) / max(1, pieces)
    late = rng.choice(np.array(LATE_DAYS), count, p=np.array(chances.late))
    return _Draws(factors, again, late)


def _unit_in(unit: Unit, draws: _Draws, n: int) -> Unit:
    """Return a unit as it is in one future."""
    if unit.kind == "wait":
        days = int(draws.late[n])
        if unit.id != GOODS or not unit.until or not days:
            return unit
        until = np.busday_offset(np.datetime64(unit.until, "D"), days, roll="forward")
        return replace(unit, until=str(until))
    if unit.kind == "dry" or unit.elapsed_s <= 0:
        return unit
    of = dict(zip(_GROUPS, draws.factors[n], strict=True))
    if unit.kind in _GROUP_OF:
        hands = machine = of[_GROUP_OF[unit.kind]]
    else:  # sewing: hands load and hoop while the machine waits or sews
        hands, machine = of["loading"], of["sewing"]
    more = 1 + float(draws.again[n]) if unit.kind in _REMADE else 1.0
    person = min(unit.person_s, unit.elapsed_s)
    elapsed = (machine * (unit.elapsed_s - person) + hands * person) * more
    share = elapsed / unit.elapsed_s
    return replace(
        unit,
        elapsed_s=elapsed,
        machine_s=unit.machine_s * share,
        person_s=unit.person_s * hands * more,
    )


class Futures:
    """What is free behind a line of orders, in each of some futures; the line keeps its order.

    Parameters
    ----------
    orders : sequence of Planned
    steps : sequence of Step
        Their units in the order in which they are placed.
    horizon : Horizon
    chances : Chances
    count, seed : int
        How many futures, and of which draw: the same seed gives the same.

    Source
    ------
    Handbook workshop 6.
    """

    def __init__(
        self,
        orders: Sequence[Planned],
        steps: Sequence[Step],
        horizon: Horizon,
        chances: Chances,
        *,
        count: int = FUTURES,
        seed: int = 0,
    ):
        self.horizon, self.chances, self.count, self.seed = horizon, chances, count, seed
        draws = [_draws(order, chances, count, seed) for order in orders]
        self._rooms = [self._room(orders, steps, draws, n) for n in range(count)]

    def _room(
        self, orders: Sequence[Planned], steps: Sequence[Step], draws: Sequence[_Draws], n: int
    ) -> Room:
        room = Room(self.horizon, kept=False)
        found: list[Ends] = [{} for _ in orders]
        for step in steps:
            order, own = orders[step.order], found[step.order]
            unit = _unit_in(order.units[step.unit], draws[step.order], n)
            taken = place(room, order, unit, own)
            if taken is not None:
                own[unit.id] = taken
        return room

    def days(self, draft: Planned) -> list[str]:
        """Return the day on which a draft behind the line is ready, in each future; NEVER for none.

        Sorted.
        """
        draws = _draws(draft, self.chances, self.count, self.seed)
        return sorted(self._day(draft, draws, n) for n in range(self.count))

    def _day(self, draft: Planned, draws: _Draws, n: int) -> str:
        room, found = self._rooms[n].copy(), Ends()
        for each in draft.units:
            unit = _unit_in(each, draws, n)
            taken = place(room, draft, unit, found)
            if taken is None:
                return NEVER
            found[unit.id] = taken
        return self.horizon.handed_over(last_end(found))

    def safe(self, draft: Planned) -> str:
        """Return the day by which 48 of 60 futures are ready, "" for none within the horizon."""
        days = self.days(draft)
        day = days[-(-HELD * self.count // FUTURES) - 1]
        return "" if day == NEVER else day
