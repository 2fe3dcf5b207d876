"""The thread of an order: all its lines by kind and colour, and what to open or buy for it."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal

from clothyard.core.house.document import House
from clothyard.core.price.amounts import ZERO, thread_price_per_m
from clothyard.core.record import record
from clothyard.core.thread.putups import Bought, cheapest_put_ups
from clothyard.core.thread.use import grams_of_length
from clothyard.core.units import exact
from clothyard.core.work.line_work import LineDone
from clothyard.core.work.once import colour_ids
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan

Colour = tuple[str, str]


@record
class ThreadUsed:
    """One thread over the order.

    Attributes
    ----------
    thread_id, key : str
        Kind of thread, and the colour as `colour_ids` names it.
    colour : str or None
        "#rrggbb" when known.
    label : str
        Of an unknown colour: its place in the design.
    needle_m, bobbin_m : float
        Of the good pieces; bobbins only where they match. [m]
    needed_m : float
        With samples and spares. [m]
    grams : float
        Of `needed_m`. [g]
    put_ups : tuple of (id, count)
        The cheapest set that holds `needed_m`.
    used_cost, bought_cost : Decimal
        By the metre used, and of those put-ups.
    """

    thread_id: str
    key: str
    colour: str | None
    label: str
    needle_m: float
    bobbin_m: float
    needed_m: float
    grams: float
    put_ups: Bought
    used_cost: Decimal
    bought_cost: Decimal


def _metres_of(placed: PlacementPlan, done: Pass) -> list[tuple[str, float, float]]:
    """Needle and matching bobbin metres of each thread of a pass, over its pieces. [m]"""
    ids = colour_ids(placed.facts)
    tail = done.hand_change_m / len(ids)
    match = placed.making.bobbin == "match"
    return [
        (key, (needle + tail) * done.pieces, bobbin * done.pieces if match else 0.0)
        for key, needle, bobbin in zip(ids, done.thread.needle_m, done.thread.bobbin_m, strict=True)
    ]


def thread_table(
    lines: Sequence[LineDone], spares: Sequence[int], house: House
) -> list[ThreadUsed]:
    """Add up the thread of an order by kind and colour, and what to open or buy for it.

    Parameters
    ----------
    lines, spares : sequence, one for each line
        What is done; pieces bought beyond the quantity.

    Source
    ------
    docs/formulas.md 2 and 14.
    """
    sums: dict[Colour, list[float]] = {}
    shown: dict[Colour, tuple[str | None, str]] = {}
    for line, spare in zip(lines, spares, strict=True):
        more = (line.quantity + line.sampled.pieces + spare) / line.quantity
        for placed, done in zip(line.plan.placements, line.passes, strict=True):
            labels = zip(placed.facts.blocks, placed.facts.colour_keys, strict=True)
            for (key, needle, bobbin), (block, label) in zip(
                _metres_of(placed, done), labels, strict=True
            ):
                row = sums.setdefault((placed.making.thread_id, key), [0.0, 0.0, 0.0])
                shown.setdefault((placed.making.thread_id, key), (block.colour, label))
                row[0] += needle
                row[1] += bobbin
                row[2] += (needle + bobbin) * more
    table = []
    for (thread_id, key), (needle, bobbin, needed) in sums.items():
        kind = house.threads[thread_id]
        put_ups, price = cheapest_put_ups(needed, house.putups, price_factor=kind.price_factor)
        table.append(
            ThreadUsed(
                thread_id=thread_id,
                key=key,
                colour=shown[thread_id, key][0],
                label=shown[thread_id, key][1],
                needle_m=needle,
                bobbin_m=bobbin,
                needed_m=needed,
                grams=grams_of_length(needed, tex=kind.tex),
                put_ups=put_ups,
                used_cost=exact(needle + bobbin) * thread_price_per_m(house, thread_id),
                bought_cost=price,
            )
        )
    return sorted(table, key=lambda row: (row.thread_id, row.colour is None, row.key))


def bought_beyond_use(table: Sequence[ThreadUsed], house: House) -> Decimal:
    """Return what whole put-ups cost beyond the thread used, when the shop charges them."""
    if house.thread_use.charge != "bought":
        return ZERO
    return sum((max(ZERO, row.bought_cost - row.used_cost) for row in table), ZERO)
