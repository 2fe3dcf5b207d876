"""What is done once an order, whatever its quantity."""

from __future__ import annotations

from collections.abc import Sequence

from clothyard.core.house.document import House
from clothyard.core.time.needles import plan_needles
from clothyard.core.work.handwork import TaskUse, customer_task, order_tasks
from clothyard.core.work.line_plan import LinePlan


def once_an_order(plans: Sequence[LinePlan], house: House) -> tuple[TaskUse, ...]:
    """List what is done once an order, over all its lines.

    Parameters
    ----------
    plans : Sequence[LinePlan]
        The lines, as planned.
    house : House
        The standards.

    Returns
    -------
    tuple[TaskUse, ...]

    Source
    ------
    docs/formulas.md 14: each design loaded once on each machine, each colour threaded
    once; a machine threaded by hand: the first only.
    """
    placed = [p for plan in plans for p in plan.placements]
    machines = dict.fromkeys(p.making.machine_id for p in placed)
    designs = colours = further = 0
    for machine_id in machines:
        here = [p for p in placed if p.making.machine_id == machine_id]
        designs += len({p.identity for p in here})
        machine = house.machines[machine_id]
        threads = {
            (p.making.thread_id, colour)
            for p in here
            for colour in plan_needles(p.colour_ids, machine.needles).threaded
        }
        here_threaded = len(threads) if machine.auto_change else 1
        colours += here_threaded
        further += here_threaded * (machine.heads - 1)
    repeat = not any(plan.is_new for plan in plans)
    return tuple(
        order_tasks(
            house,
            designs=designs,
            colours=colours,
            further_heads=further,
            cap_frame=any(p.making.on_cap_frame for p in placed),
            customer=customer_task(plans[0].enquiry, repeat=repeat),
        )
    )
