"""What else could be done: other methods, other schools, other machines, in money and minutes."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from clothyard.core.errors import ClothyardError
from clothyard.core.job import Methods, Placement
from clothyard.core.making import Making
from clothyard.core.methods import settle_methods
from clothyard.core.order import once_an_order
from clothyard.core.others import alternatives, school_methods, schools_for, with_other
from clothyard.core.planning import OrderPlan, plan_place
from clothyard.core.price.line import Consumed, LineCost, OrderLevel, cost_line
from clothyard.core.price.plan import LinePlan, plan_line
from clothyard.core.record import record
from clothyard.core.run import pass_seconds, passes_of

ALONE = OrderLevel()
_YES_NO = {"baste", "knock_down"}
_ORDER_WIDE = {"machine", "thread", "hold", "knock_down"}
"""Methods that change what is done once an order."""


@record
class SchoolDiffers:
    """Another school for a placement: the fix that takes it, and what it changes."""

    placement: int
    school_id: str
    question: str
    why: str
    apply: list[dict[str, Any]]
    money: Decimal
    minutes: float


@record
class MachineRun:
    """The whole order on one machine. Seconds; money not rounded."""

    machine_id: str
    fits: bool
    chosen: bool
    cost: Decimal
    machine_s: float
    elapsed_s: float


def _rechosen(placement: Placement, key: str, value: str) -> Placement:
    """Choose another value; holding differently leaves hoop and basting to be proposed."""
    changes: dict[str, Any] = {key: value == "true" if key in _YES_NO else value}
    if key == "hold":
        changes |= {"baste": None, "hoop": None}
    methods = placement.methods.model_copy(update=changes)
    return placement.model_copy(update={"methods": methods})


class Comparer:
    """Costs one line made otherwise, the rest of the order as it is.

    Money is what the whole order would cost more, put-ups left out; minutes are hand and attending
    of the line's good pieces.
    """

    def __init__(self, order: OrderPlan, index: int, quantity: int, first: Consumed):
        self.order, self.index, self.quantity = order, index, quantity
        self.plan = order.plans[index]
        self.base: LineCost = cost_line(self.plan, quantity, ALONE, first=first)
        self.once = order.once_cost(order.plans)

    def differs(self, at: int, making: Making, *, order_wide: bool) -> tuple[Decimal, float]:
        """Cost a placement with another making: (money, minutes)."""
        line, house = self.plan.line, self.order.house
        swapped = list(self.plan.placements)
        swapped[at] = plan_place(
            line, line.placements[at], making, self.order.sewn[self.index][at], house,
            where="", like=self.plan.placements[at],
        )  # fmt: skip
        other = plan_line(line, swapped, house, self.plan.supply)
        cost = cost_line(other, self.quantity, ALONE)
        money = cost.own - self.base.own
        if order_wide:
            plans = list(self.order.plans)
            plans[self.index] = other
            money += self.order.once_cost(plans) - self.once
        return money, (cost.labour_s - self.base.labour_s) / 60

    def methods(self) -> dict[tuple[int, str, str], tuple[str, Decimal, float]]:
        """Cost each sensible alternative: (placement, key, value) to (reason, money, minutes)."""
        found: dict[tuple[int, str, str], tuple[str, Decimal, float]] = {}
        line, house = self.plan.line, self.order.house
        for i, placement in enumerate(line.placements):
            making = self.plan.placements[i].making
            for key, value, reason in alternatives(making, house):
                if key == "needle" or {value, making.bobbin} == {"white", "black"}:
                    found[i, key, value] = (reason, Decimal(0), 0.0)  # neither costs more
                    continue
                made = with_other(making, key, value, house)
                if made is None:
                    made = self._settled(i, _rechosen(placement, key, value))
                money, minutes = self.differs(i, made, order_wide=key in _ORDER_WIDE)
                found[i, key, value] = (reason, money, minutes)
        return found

    def _settled(self, at: int, placement: Placement) -> Making:
        facts = self.order.sewn[self.index][at].facts
        where = f"lines[{self.index}].placements[{at}]"
        return settle_methods(self.plan.line, placement, facts, self.order.house, where=where)

    def schools(self) -> list[SchoolDiffers]:
        """Cost each other school that is for these goods and is not what is done already."""
        found = []
        house = self.order.house
        for i, placement in enumerate(self.plan.line.placements):
            making = self.plan.placements[i].making
            for school_id, school in schools_for(making, house):
                changes = school_methods(school)
                kept = placement.methods.model_dump(exclude_none=True)
                if "hold" in changes:
                    kept = {k: v for k, v in kept.items() if k not in {"hoop", "baste"}}
                methods = Methods.model_validate(kept | changes)
                try:
                    made = self._settled(i, placement.model_copy(update={"methods": methods}))
                except ClothyardError:
                    continue  # the shop has not what it takes
                money, minutes = self.differs(i, made, order_wide=True)
                path = f"/lines/{self.index}/placements/{i}/methods"
                fix = [{"op": "add", "path": path, "value": kept | changes}]
                found.append(
                    SchoolDiffers(i, school_id, school.question, school.why, fix, money, minutes)
                )
        return found


def _on_machine(order: OrderPlan, machine_id: str) -> list[LinePlan]:
    """Plan the whole order on one machine; hoops are proposed anew where another is needed."""
    plans = []
    house = order.house
    for n, plan in enumerate(order.plans):
        placed = []
        for i, placement in enumerate(plan.line.placements):
            where = f"lines[{n}].placements[{i}]"
            changes = {"machine": machine_id, "hoop": None}
            methods = placement.methods.model_copy(update=changes)
            other = placement.model_copy(update={"methods": methods})
            sewn = order.sewn[n][i]
            made = settle_methods(plan.line, other, sewn.facts, house, where=where)
            placed.append(
                plan_place(plan.line, placement, made, sewn, house, where=where,
                           like=plan.placements[i])
            )  # fmt: skip
        plans.append(plan_line(plan.line, placed, house, plan.supply))
    return plans


def run_machine(order: OrderPlan, machine_id: str) -> MachineRun:
    """Cost and time the whole order on one machine.

    Source: docs/formulas.md 7 and 9.
    """
    plans = _on_machine(order, machine_id)
    costs = [cost_line(plan, plan.line.quantity, ALONE) for plan in plans]
    used = {p.making.machine_id for plan in order.plans for p in plan.placements}
    return MachineRun(
        machine_id=machine_id,
        fits=all(p.making.hoop is not None for plan in plans for p in plan.placements),
        chosen=used == {machine_id},
        cost=sum((cost.own for cost in costs), Decimal(0)) + order.once_cost(plans),
        machine_s=sum(machine_seconds(cost) for cost in costs),
        elapsed_s=elapsed_seconds(order, plans, costs),
    )


def machine_seconds(cost: LineCost) -> float:
    """Machine time of a line, its samples included. [s]"""
    return cost.run.machine_s + (cost.sample.machine_s if cost.sample else 0.0)


def elapsed_parts(
    order: OrderPlan, plans: Sequence[LinePlan], costs: Sequence[LineCost]
) -> list[tuple[str, float]]:
    """Elapsed time of an order in closed form, part by part: (what, seconds).

    Set-up and samples first, then each pass until its last piece is sewn, and its finishing.

    Source: docs/formulas.md 9.
    """
    rules = order.house.run
    once = sum(task.total_s for task in once_an_order(plans, order.house))
    for cost in costs:
        once += sum(task.total_s for task in cost.name_tasks)
        if cost.sample:  # a person stays with the sample
            once += max(cost.sample.machine_s, cost.sample.attend_s) + cost.sample.hand_s
    found = [("set-up and samples", once / rules.operators)]
    for n, (plan, cost) in enumerate(zip(plans, costs, strict=True), 1):
        for placed, run in zip(plan.placements, passes_of(plan, cost), strict=True):
            sewn, after = pass_seconds(run, rules)
            where = f"line {n}, {placed.making.position_id}"
            found += [(f"{where}: {run.cycles} cycles", sewn), (f"{where}: finishing", after)]
    return found


def elapsed_seconds(
    order: OrderPlan, plans: Sequence[LinePlan], costs: Sequence[LineCost]
) -> float:
    """Elapsed time of an order in closed form. [s]"""
    return sum(seconds for _, seconds in elapsed_parts(order, plans, costs))
