"""The order as a whole: what is done once, and the thread of all its lines by colour."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from decimal import Decimal

from clothyard.core.house import House
from clothyard.core.price.line import LineCost, OrderLevel
from clothyard.core.price.plan import ZERO, LinePlan, PlacementPlan, thread_price_per_m
from clothyard.core.price.ways import digitising_costs
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.thread.putups import Bought, cheapest_put_ups
from clothyard.core.thread.use import grams_of_length
from clothyard.core.time.handwork import TaskUse, order_tasks
from clothyard.core.time.needles import plan_needles
from clothyard.core.units import exact

Colour = tuple[str, str]


def colour_ids(facts: DesignFacts) -> tuple[str, ...]:
    """Name each block's thread so that it holds over the order.

    A known colour is the same thread everywhere; unknown ones all differ, and are the same only
    in the same design.
    """
    identity = facts.identity
    return tuple(
        block.colour or ("base" if block.role == "base" else f"{identity}|{key}")
        for block, key in zip(facts.blocks, facts.colour_keys, strict=True)
    )


def once_an_order(plans: Sequence[LinePlan], house: House) -> tuple[TaskUse, ...]:
    """List what is done once an order, over all its lines.

    Source: docs/formulas.md 14: each design loaded once on each machine, each colour threaded
    once; a machine threaded by hand: the first only.
    """
    placed = [p for plan in plans for p in plan.placements]
    machines = dict.fromkeys(p.making.machine_id for p in placed)
    designs = colours = 0
    for machine_id in machines:
        here = [p for p in placed if p.making.machine_id == machine_id]
        designs += len({p.facts.identity for p in here})
        machine = house.machines[machine_id]
        threads = {
            (p.making.thread_id, colour)
            for p in here
            for colour in plan_needles(colour_ids(p.facts), machine.needles).threaded
        }
        colours += len(threads) if machine.auto_change else 1
    return tuple(
        order_tasks(
            house,
            designs=designs,
            colours=colours,
            cap_frame=any(p.making.on_cap_frame for p in placed),
        )
    )


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


def _metres_of(placed: PlacementPlan, cost: LineCost, at: int) -> list[tuple[str, float, float]]:
    """Needle and matching bobbin metres of each thread of a pass, over its pieces. [m]"""
    done = cost.passes[at]
    ids = colour_ids(placed.facts)
    tail = done.hand_change_m / len(ids)
    match = placed.making.bobbin == "match"
    return [
        (key, (needle + tail) * done.pieces, bobbin * done.pieces if match else 0.0)
        for key, needle, bobbin in zip(ids, done.thread.needle_m, done.thread.bobbin_m, strict=True)
    ]


def thread_table(
    plans: Sequence[LinePlan], costs: Sequence[LineCost], spares: Sequence[int], house: House
) -> list[ThreadUsed]:
    """Add up the thread of an order by kind and colour, and what to open or buy for it.

    Parameters
    ----------
    plans, costs, spares : sequence, one for each line
        Spares are pieces bought beyond the quantity.

    Source
    ------
    docs/formulas.md 2 and 14.
    """
    sums: dict[Colour, list[float]] = {}
    shown: dict[Colour, tuple[str | None, str]] = {}
    for plan, cost, spare in zip(plans, costs, spares, strict=True):
        more = (cost.quantity + cost.sample_pieces + spare) / cost.quantity
        for at, placed in enumerate(plan.placements):
            labels = zip(placed.facts.blocks, placed.facts.colour_keys, strict=True)
            for (key, needle, bobbin), (block, label) in zip(
                _metres_of(placed, cost, at), labels, strict=True
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


def order_levels(
    plans: Sequence[LinePlan], costs: Sequence[LineCost], bought: Decimal, house: House
) -> list[OrderLevel]:
    """Say for each line what the order takes once, and what the other lines cost without it."""
    tasks = once_an_order(plans, house)
    whole = sum((cost.own for cost in costs), ZERO)
    digitising = ZERO
    if house.price.digitising_shown == "spread":
        digitising = sum((cost for _, cost in digitising_costs(plans, house)), ZERO)
    shared = OrderLevel(tasks=tasks, bought=bought, digitising=digitising, lines=len(plans))
    return [
        replace(shared, others=whole - cost.own, alike=alike)
        for cost, alike in zip(costs, pieces_alike(plans), strict=True)
    ]


def pieces_alike(plans: Sequence[LinePlan]) -> list[int]:
    """Count, for each line, the pieces of other lines with the same designs in the same places.

    Source: docs/formulas.md 11: 24 polos and 24 sweatshirts with one crest are 48.
    """
    sewn = [
        frozenset((p.facts.identity, p.making.position_id) for p in plan.placements)
        for plan in plans
    ]
    counts = [plan.line.quantity for plan in plans]
    return [
        sum(n for k, (n, other) in enumerate(zip(counts, sewn, strict=True))
            if k != i and other == mine)
        for i, mine in enumerate(sewn)
    ]  # fmt: skip
