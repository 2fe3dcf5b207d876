"""What the order takes once, and how its lines share it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from decimal import Decimal

from clothyard.core.house.document import House
from clothyard.core.price.amounts import ZERO, hours_at
from clothyard.core.price.digitising import digitising_costs
from clothyard.core.record import record
from clothyard.core.work.handwork import TaskUse
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.line_plan import LinePlan
from clothyard.core.work.once import once_an_order


def _none(_: LineDone) -> Decimal:
    """Nothing is bought whole."""
    return ZERO


@record
class OrderLevel:
    """What the order takes once, and what its other lines cost without it.

    `tasks` once an order; `bought` what whole put-ups cost beyond the thread used, with this line
    as it is done; `digitising`
    where it is spread into the prices; `others` the other lines' cost, by which all is shared;
    `alike` the pieces of other lines with the same designs in the same places: tiers count them.
    """

    tasks: tuple[TaskUse, ...] = ()
    bought: Callable[[LineDone], Decimal] = _none
    digitising: Decimal = ZERO
    others: Decimal = ZERO
    lines: int = 1
    alike: int = 0

    @property
    def seconds(self) -> float:
        """Of all tasks. [s]"""
        return sum(task.total_s for task in self.tasks)

    def share(self, own: Decimal) -> Decimal:
        """The share a line bears, by its other cost."""
        if not self.others:
            return Decimal(1) if own or self.lines == 1 else Decimal(1) / self.lines
        return own / (own + self.others)


ALONE = OrderLevel()
"""A line by itself: nothing that the order takes once."""


def order_levels(
    plans: Sequence[LinePlan],
    owns: Sequence[Decimal],
    bought: Sequence[Callable[[LineDone], Decimal]],
    house: House,
) -> list[OrderLevel]:
    """Say for each line what the order takes once, and what the other lines cost without it.

    Parameters
    ----------
    plans : sequence of LinePlan
    owns : sequence of Decimal, one a line
        What each costs without its share of the order.
    bought : sequence of callable, one a line
        What whole put-ups cost beyond the thread used, with that line as it is done.
    house : House

    Returns
    -------
    list of OrderLevel, one a line
    """
    whole = sum(owns, ZERO)
    digitising = ZERO
    if house.price.digitising_shown == "spread":
        digitising = sum((cost for _, cost in digitising_costs(plans, house)), ZERO)
    tasks = once_an_order(plans, house)
    shared = OrderLevel(tasks=tasks, digitising=digitising, lines=len(plans))
    return [
        replace(shared, bought=put_ups, others=whole - own, alike=alike)
        for own, put_ups, alike in zip(owns, bought, pieces_alike(plans), strict=True)
    ]


def pieces_alike(plans: Sequence[LinePlan]) -> list[int]:
    """Count, for each line, the pieces of other lines with the same designs in the same places.

    Source: docs/formulas.md 11: 24 polos and 24 sweatshirts with one crest are 48.
    """
    sewn = [
        frozenset((p.identity, p.making.position_id) for p in plan.placements) for plan in plans
    ]
    counts = [plan.line.quantity for plan in plans]
    return [
        sum(
            n
            for k, (n, other) in enumerate(zip(counts, sewn, strict=True))
            if k != i and other == mine
        )
        for i, mine in enumerate(sewn)
    ]


def once_cost(plans: Sequence[LinePlan], house: House) -> Decimal:
    """What is done once an order costs, in labour and overhead. Not rounded.

    Parameters
    ----------
    plans : Sequence[LinePlan]
        The lines, as planned.
    house : House
        The standards.

    Returns
    -------
    Decimal
    """
    seconds = sum(task.total_s for task in once_an_order(plans, house))
    return hours_at(seconds, house.rates.labour_per_h + house.rates.overhead_per_h)
