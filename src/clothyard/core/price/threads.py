"""The thread of an order: all its lines by kind and colour, and what to open or buy for it."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal

from clothyard.core.house.document import House
from clothyard.core.price.amounts import ZERO
from clothyard.core.record import record
from clothyard.core.stock.key import thread_key
from clothyard.core.thread.putups import Bought, cheapest_put_ups
from clothyard.core.thread.use import grams_of_length
from clothyard.core.units import exact
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.threads import ThreadMetres, thread_metres


@record
class ThreadUsed:
    """One thread over the order: its metres, what to open or buy for it, what that costs.

    `put_ups` are the cheapest set that holds what is needed, (id, count) each; `used_cost` is by
    the metre used, `bought_cost` of those put-ups. [g, money]
    """

    metres: ThreadMetres
    grams: float
    put_ups: Bought
    used_cost: Decimal
    bought_cost: Decimal


def _used(metres: ThreadMetres, house: House) -> ThreadUsed:
    kind = house.threads[metres.thread_id]
    needed = metres.needed_m
    put_ups, price = cheapest_put_ups(needed, house.putups, price_factor=kind.price_factor)
    used = exact(metres.needle_m + metres.bobbin_m)
    return ThreadUsed(
        metres=metres,
        grams=grams_of_length(needed, tex=kind.tex),
        put_ups=put_ups,
        used_cost=used * house.thread_price_per_m(metres.thread_id),
        bought_cost=price,
    )


def thread_table(
    lines: Sequence[LineDone], spares: Sequence[int], house: House
) -> list[ThreadUsed]:
    """Add up the thread of an order by kind and colour, and what to open or buy for it.

    Parameters
    ----------
    lines, spares : sequence, one for each line
        What is done; pieces bought beyond the quantity.
    house : House

    Source
    ------
    docs/formulas.md 2 and 14.
    """
    return [_used(metres, house) for metres in thread_metres(lines, spares)]


def bought_beyond_use(table: Sequence[ThreadUsed], house: House) -> Decimal:
    """Return what whole put-ups cost beyond the thread used, when the shop charges them.

    Parameters
    ----------
    table : Sequence[ThreadUsed]
        Thread by kind and colour.
    house : House
        The standards.

    Returns
    -------
    Decimal
    """
    if house.thread_use.charge != "bought":
        return ZERO
    return sum((_beyond(row, house) for row in table), ZERO)


def _beyond(row: ThreadUsed, house: House) -> Decimal:
    """What must be bought of a thread beyond its share of the use: nothing of what lies there."""
    metres = row.metres
    needed = metres.needed_m
    there = house.on_hand.get(thread_key(metres.thread_id, metres.colour or "").name, 0.0)
    if there <= 0:
        return max(ZERO, row.bought_cost - row.used_cost)
    short = needed - float(there)
    if short <= 0:
        return ZERO
    factor = house.threads[metres.thread_id].price_factor
    _, price = cheapest_put_ups(short, house.putups, price_factor=factor)
    return max(ZERO, price - row.used_cost * exact(short / needed))
