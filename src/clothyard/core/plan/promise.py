"""The promise: when one more order could be ready beside all that is promised."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from clothyard.core.plan.calendar import Calendar, Horizon
from clothyard.core.plan.futures import Chances, Futures
from clothyard.core.plan.schedule import (
    MOST_PLACES,
    MOST_TRIES,
    NOT_WORKED,
    Line,
    Planned,
    placed_line,
)
from clothyard.core.plan.units import Unit
from clothyard.core.record import record


@record
class Promise:
    """When one more order could be ready: likely, and safe; "" where not within the horizon."""

    likely: str
    safe: str


FACTORS = (1.0, 1.1, 1.25, 1.4, 1.6, 1.8, 2.0, 2.5, 3.0, 4.0)
"""By which a draft's own time is made longer, to try what would make it safe."""


def slower(units: Sequence[Unit], factor: float) -> tuple[Unit, ...]:
    """Return units whose work takes a factor of its time; what is waited for stays."""
    return tuple(
        unit
        if unit.kind in NOT_WORKED
        else replace(
            unit,
            elapsed_s=unit.elapsed_s * factor,
            machine_s=unit.machine_s * factor,
            person_s=unit.person_s * factor,
        )
        for unit in units
    )


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
        self._futures: dict[tuple[Chances, str], Futures] = {}
        if line is None:
            self.line, _ = placed_line(orders, horizon, MOST_TRIES)
        else:
            at = {id_: n for n, id_ in enumerate(line)}
            self.line = Line(sorted(orders, key=lambda o: at.get(o.id, len(at))), horizon)

    def day(self, draft: Planned, *, factor: float = 1.0) -> str:
        """Return the day on which a draft is ready behind all others, "" for none."""
        draft = replace(draft, units=slower(draft.units, factor))
        n = len(self.line.orders)
        return self.line.with_one(draft, n).end_day(n)

    def futures(self, chances: Chances, *, before: str = "") -> Futures:
        """Return the futures behind the line, or behind what goes before one order of it."""
        key = chances, before
        if key not in self._futures:
            steps = self.line.steps
            at = self._block(before) if before else len(steps)
            self._futures[key] = Futures(self.line.orders, steps[:at], self.line.horizon, chances)
        return self._futures[key]

    def _block(self, other: str) -> int:
        """Return the step at which an order begins; that after the last where it has begun."""
        orders, steps = self.line.orders, self.line.steps
        return next(
            (
                n
                for n, step in enumerate(steps)
                if orders[step.order].id == other and not orders[step.order].begun
            ),
            len(steps),
        )

    def promise(self, draft: Planned, chances: Chances, *, before: str = "") -> Promise:
        """Say when a draft is ready: likely with expected times, safely in 80 of 100 futures.

        Parameters
        ----------
        draft : Planned
        chances : Chances
            How far its times, and those of the orders before it, may be off.
        before : str
            The order that it goes before, "" for none.

        Source
        ------
        The handbook's workshop 6.
        """
        likely = self.day_before(draft, before) if before else self.day(draft)
        safe = self.futures(chances, before=before).safe(draft)
        return Promise(likely, max(likely, safe) if likely and safe else "")

    def factor(self, draft: Planned, safe: str, *, before: str = "") -> float:
        """Return how much longer a draft's own time is, so that it is ready on its safe day."""
        for factor in FACTORS:
            if before:
                day = self.day_before(draft, before, factor=factor)
            else:
                day = self.day(draft, factor=factor)
            if not day or day >= safe:
                return factor
        return FACTORS[-1]

    def day_before(self, draft: Planned, other: str, *, factor: float = 1.0) -> str:
        """Return the day on which a draft is ready that goes before another order.

        Behind all where that is not among them, or begun already.
        """
        draft = replace(draft, units=slower(draft.units, factor))
        line, orders = self.line, self.line.orders
        blocks = line.blocks()
        at = next(
            (k for k, n in enumerate(blocks) if orders[n].id == other and not orders[n].begun),
            len(blocks),
        )
        return line.with_one(draft, at).end_day(len(orders))

    def before(
        self, draft: Planned, *, factor: float = 1.0, most: int = MOST_PLACES
    ) -> Iterator[tuple[str, str, list[str]]]:
        """Say when a draft is ready before others, and who is late by it.

        Parameters
        ----------
        draft : Planned
        factor : float
            Of its seconds.
        most : int
            Places in line that are tried at most, evenly over it.

        Yields
        ------
        (id of the order it goes before, ISO day, ids of those that become later than they are)
            From the last of the line to the first that is not begun.
        """
        draft = replace(draft, units=slower(draft.units, factor))
        orders, blocks = self.line.orders, self.line.blocks()
        own, begun = len(orders), sum(1 for n in blocks if orders[n].begun)
        step = max(1, -(-(len(blocks) - begun) // most))
        for at in range(len(blocks) - 1, begun - 1, -step):
            line = self.line.with_one(draft, at)
            late = [orders[n].id for n in blocks[at:] if line.late_of(n) > self.line.late_of(n)]
            yield orders[blocks[at]].id, line.end_day(own), late


def promise(
    draft: Planned,
    orders: Sequence[Planned],
    calendar: Calendar,
    *,
    from_day: str,
    chances: Chances,
    from_h: float = 0.0,
    days: int = 180,
) -> Promise:
    """Say when a draft could be ready, behind all that is promised; see `Promiser`."""
    promiser = Promiser(orders, calendar, from_day=from_day, from_h=from_h, days=days)
    return promiser.promise(draft, chances)
