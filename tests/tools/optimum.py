"""The plan against a constraint solver's optimum on small weeks, and against first come, first
served on big ones. A tool of the bench alone."""

from __future__ import annotations

import random
from collections.abc import Sequence

from ortools.sat.python import cp_model

from clothyard.core.plan.calendar import Calendar, PersonWeek
from clothyard.core.plan.schedule import Planned, plan_orders
from clothyard.core.plan.units import Unit

MONDAY = "2026-05-04"
SLOTS = 7
"""Hours of a day: units are of whole ones, and sewing is either watched all the time or not."""
DAYS = 9
HOUR_S = 3600.0
HOURS = (((540, 960),),) * 5 + ((), ())
"""Seven hours a day, Monday to Friday."""


def calendar(needles: int = 10) -> Calendar:
    """One person, one machine."""
    return Calendar((PersonWeek("maker", HOURS),), needles=(("m", needles),))


def small_week(seed: int) -> list[Planned]:
    """Four to six orders of a shop's week, each prepared, sewn with a share of a person, finished;
    promised so that some come to be late."""
    chance = random.Random(f"week {seed}")
    orders = []
    for n in range(chance.randint(4, 6)):
        before, sewn, after = chance.randint(1, 2), chance.randint(1, 7), chance.randint(1, 3)
        share = chance.choice([0.0, 0.0, 1.0])

        def unit(kind: str, slots: int, of: float, after_: tuple[str, ...]) -> Unit:
            seconds = slots * HOUR_S
            machine = "m" if kind == "sew" else ""
            return Unit(
                kind,
                kind,
                kind,
                machine,
                1,
                1,
                seconds if machine else 0.0,  # type: ignore[arg-type]
                seconds * of,
                seconds,
                after_,
                "cycles",
            )

        units = (
            unit("prepare", before, 1.0, ()),
            unit("sew", sewn, share, ("prepare",)),
            unit("finish", after, 1.0, ("sew",)),
        )
        due = chance.choice([0, 0, 1, 1, 2, 3])
        orders.append(Planned(f"o{n}", units, f"2026-05-{4 + due:02}", n))
    return orders


def late_days(orders: Sequence[Planned]) -> int:
    """Return the sum of days late of the plan, in days that are worked."""
    plan = plan_orders(orders, calendar(), from_day=MONDAY)
    due = {order.id: _day(order.promised_on) for order in orders}
    return sum(max(0, _day(told.end_day) - due[told.order]) for told in plan.told)


def first_come(orders: Sequence[Planned]) -> tuple[int, int]:
    """Return the days late of the plan, and of the same orders placed as they came."""
    plain = [Planned(o.id, o.units, o.promised_on, o.rank, begun=True) for o in orders]
    due = {order.id: order.promised_on for order in orders}
    sums = []
    for line, tries in ((orders, 200), (plain, 0)):
        plan = plan_orders(line, calendar(), from_day=MONDAY, tries=tries)
        assert not plan.over
        sums.append(sum(told.late_days for told in plan.told if due[told.order]))
    return sums[0], sums[1]


def _day(iso: str) -> int:
    """Number a day by those that are worked: Monday the fourth is 0."""
    n = int(iso[8:]) - 4
    return n // 7 * 5 + min(n % 7, 5)


def optimum(orders: Sequence[Planned], *, most_s: float = 30.0) -> tuple[int, bool]:
    """Return the least sum of days late a solver can prove, and whether it is reached.

    The same shop: hand work takes what is left of the person slot by slot and may pause; sewing
    takes the machine in one go with its share of the person.
    """
    model = cp_model.CpModel()
    slots = range(SLOTS * DAYS)
    person: list[list[cp_model.LinearExprT]] = [[] for _ in slots]
    machine: list[list[cp_model.LinearExprT]] = [[] for _ in slots]
    late: list[cp_model.LinearExprT] = []
    for order in orders:
        before, sew, after = (round(unit.elapsed_s / HOUR_S) for unit in order.units)
        watched = round(order.units[1].person_s / order.units[1].elapsed_s)
        start = [model.new_bool_var("") for _ in slots]
        first = [model.new_bool_var("") for _ in slots]
        last = [model.new_bool_var("") for _ in slots]
        model.add_exactly_one(start)
        model.add(sum(first) == before)
        for t in slots:
            if t + sew > len(slots):
                model.add(start[t] == 0)
            model.add(sum(first[:t]) == before).only_enforce_if(start[t])
            running = sum(start[max(0, t - sew + 1) : t + 1])
            machine[t].append(running)
            person[t] += [first[t], last[t], watched * running]
            model.add(last[t] <= sum(start[: max(0, t - sew + 1)]))
        for day in range(_day(order.promised_on), DAYS):
            ended = model.new_bool_var("")
            model.add(sum(last[: (day + 1) * SLOTS]) >= after).only_enforce_if(ended)
            late.append(1 - ended)
    for t in slots:
        model.add(sum(person[t]) <= 1)
        model.add(sum(machine[t]) <= 1)
    model.minimize(sum(late))
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = most_s
    solver.parameters.num_workers = 2
    solver.parameters.random_seed = 1
    status = solver.solve(model)
    return round(solver.best_objective_bound), status == cp_model.OPTIMAL
