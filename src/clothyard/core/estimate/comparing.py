"""What else could be done: other methods, other schools, other machines, in money and minutes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from decimal import Decimal
from typing import Any

from clothyard.core.errors import ClothyardError
from clothyard.core.house.document import FINE_BOBBINS
from clothyard.core.job.document import Methods, Placement
from clothyard.core.methods.backing import with_backing
from clothyard.core.methods.choice import Wish
from clothyard.core.methods.making import Making
from clothyard.core.methods.offers import offers, with_other
from clothyard.core.methods.patch import as_patch, as_patch_fix
from clothyard.core.methods.schools import school_methods, schools_for
from clothyard.core.methods.settle import settle_methods, wish_of
from clothyard.core.price.amounts import ZERO
from clothyard.core.price.cost import LineCost, LineCoster
from clothyard.core.price.order_level import once_cost
from clothyard.core.record import record
from clothyard.core.work.batches import batched, rebatched
from clothyard.core.work.elapsed import elapsed_seconds
from clothyard.core.work.line_plan import plan_line
from clothyard.core.work.order import OrderWork, plan_place

_YES_NO = {"baste", "knock_down"}
_ORDER_WIDE = {"machine", "thread", "hold", "knock_down", "edge"}
"""Methods that change what is done once an order: a border makes another file of a design."""


_COST_NOTHING = {"needle", "way"}


@record
class Differs:
    """Another value of a method: why one might take it, and what it changes."""

    placement: int
    key: str
    value: str
    reason: str
    money: Decimal
    minutes: float


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

    Parameters
    ----------
    order : OrderWork
    index : int
        Of the line.
    costers : sequence of LineCoster
        Of the lines as they are.
    """

    def __init__(self, order: OrderWork, index: int, costers: Sequence[LineCoster]):
        self.order, self.index, self.coster = order, index, costers[index]
        self.work = order.lines[index]
        self.costers = costers
        self.plan = self.work.plan
        self.base: LineCost = self.coster.alone(self.plan.line.quantity)
        self.once = once_cost(order.plans, order.house)

    def differs(
        self, at: int, making: Making, *, order_wide: bool, asked: Placement | None = None
    ) -> tuple[Decimal, float]:
        """Cost a placement with another making.

        Parameters
        ----------
        at : int
            Which placement of the line.
        making : Making
        order_wide : bool
            Whether what is done once an order may change too.
        asked : Placement, optional
            As it would then be asked, where more than its methods differ.

        Returns
        -------
        (money, minutes)
            More than as it is; less than 0 saves. [money, min]
        """
        line, house = self.plan.line, self.order.house
        if asked is not None:
            placements = list(line.placements)
            placements[at] = asked
            line = line.model_copy(update={"placements": tuple(placements)})
        swapped = list(self.plan.placements)
        swapped[at] = plan_place(
            line,
            line.placements[at],
            making,
            self.order.sewn[self.index][at],
            house,
            where="",
            like=None if asked else self.plan.placements[at],
        )
        other = plan_line(line, swapped, house, enquiry=self.plan.enquiry)
        money, cost = ZERO, self.base
        for n, work in rebatched(self.order.lines, self.index, other).items():
            known = self.costers[n]
            quantity = known.plan.line.quantity
            changed = LineCoster(work, known.supply).cost(quantity)
            money += changed.own - known.alone(quantity).own
            cost = changed if n == self.index else cost
        if order_wide:
            plans = list(self.order.plans)
            plans[self.index] = other
            money += once_cost(plans, house) - self.once
        return money, (cost.done.labour_s - self.base.done.labour_s) / 60

    def methods(self) -> list[Differs]:
        """Cost each sensible alternative of every method."""
        found = []
        for i, placement in enumerate(self.plan.line.placements):
            making, found_policy = self.plan.placements[i].making, self.base.passes[i].policy
            wish = self._wish(i, placement)
            for key, value, reason in offers(making, self.order.house):
                if key == "bobbin_policy" and value == found_policy:
                    continue
                same = key in _COST_NOTHING or {value, making.bobbin} <= FINE_BOBBINS
                if same and not self.work.alike:
                    found.append(Differs(i, key, value, reason, ZERO, 0.0))  # costs no more
                    continue
                made = with_other(making, key, value, self.order.house)
                beside = placement.methods.second_backing is None or making.second is not None
                if key == "backing" and beside:  # a second that lay beside nothing would come back
                    made = with_backing(making, value, wish)
                if made is None:
                    made = self._settled(i, _rechosen(placement, key, value), like=making)
                money, minutes = self.differs(i, made, order_wide=key in _ORDER_WIDE)
                found.append(Differs(i, key, value, reason, money, minutes))
        return found

    def _wish(self, at: int, placement: Placement) -> Wish:
        facts = self.order.sewn[self.index][at].facts
        return wish_of(self.plan.line, placement, facts, self.order.house, where="")

    def _settled(self, at: int, placement: Placement, *, like: Making | None) -> Making:
        """Settle a placement anew; `like` is as it is made, where only its methods differ."""
        facts, house = self.order.sewn[self.index][at].facts, self.order.house
        where = f"lines[{self.index}].placements[{at}]"
        return settle_methods(self.plan.line, placement, facts, house, where=where, like=like)

    def _with_school(self, at: int, changes: dict[str, Any]) -> tuple[dict[str, Any], Making]:
        """Take a school for a placement: its methods then, and its making.

        Raises
        ------
        ClothyardError
            If the shop has not what it takes.
        """
        placement, making = self.plan.line.placements[at], self.plan.placements[at].making
        kept = placement.methods.model_dump(exclude_none=True)
        if "hold" in changes:
            kept = {k: v for k, v in kept.items() if k not in {"hoop", "baste"}}
        methods = Methods.model_validate(kept | changes)
        other = placement.model_copy(update={"methods": methods})
        return kept | changes, self._settled(at, other, like=making)

    def schools(self) -> list[SchoolDiffers]:
        """Cost each other school that is for these goods and is not what is done already."""
        found = []
        for i, placed in enumerate(self.plan.placements):
            for school_id, school in schools_for(placed.making, self.order.house):
                try:
                    methods, made = self._with_school(i, school_methods(school))
                except ClothyardError:
                    continue
                money, minutes = self.differs(i, made, order_wide=True)
                path = f"/lines/{self.index}/placements/{i}/methods"
                fix = [{"op": "add", "path": path, "value": methods}]
                found.append(
                    SchoolDiffers(i, school_id, school.question, school.why, fix, money, minutes)
                )
            found += self._as_patch(i)
        return found

    def _as_patch(self, at: int) -> list[SchoolDiffers]:
        """Cost a cap's design as a patch that is sewn flat and fixed on."""
        house, placement = self.order.house, self.plan.line.placements[at]
        path = f"/lines/{self.index}/placements/{at}"
        asked, fix = as_patch(placement, house), as_patch_fix(placement, house, path)
        if not self.plan.placements[at].making.goods.is_cap or asked is None or fix is None:
            return []
        try:
            made = self._settled(at, asked, like=None)
        except ClothyardError:
            return []
        money, minutes = self.differs(at, made, order_wide=True, asked=asked)
        why = (
            "Sewn flat as a patch, several a hooping, its border, film and fixing counted: no cap "
            "frame, and a spoiled one costs no cap."
        )
        return [SchoolDiffers(at, "as-patch", "On the cap or a patch", why, fix, money, minutes)]


def _on_machine(order: OrderWork, machine_id: str) -> OrderWork:
    """Plan the whole order on one machine; hoops are proposed anew where another is needed."""
    lines = []
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
                plan_place(
                    plan.line, placement, made, sewn, house, where=where, like=plan.placements[i]
                )
            )
        lines.append(plan_line(plan.line, placed, house, enquiry=plan.enquiry))
    return replace(order, lines=batched(lines))


def run_machine(order: OrderWork, costers: Sequence[LineCoster], machine_id: str) -> MachineRun:
    """Cost and time the whole order on one machine; as it is made where that is on it already.

    Parameters
    ----------
    order : OrderWork
        As it is made.
    costers : sequence of LineCoster, one a line
        Of the lines as they are.
    machine_id : str

    Source
    ------
    docs/formulas.md 7 and 9.
    """
    used = {p.making.machine_id for plan in order.plans for p in plan.placements}
    other = order
    if used != {machine_id}:
        other = _on_machine(order, machine_id)
        costers = [
            LineCoster(line, known.supply) for line, known in zip(other.lines, costers, strict=True)
        ]
    costs = [coster.alone(coster.plan.line.quantity) for coster in costers]
    lines = [cost.done for cost in costs]
    return MachineRun(
        machine_id=machine_id,
        fits=all(p.making.hoop is not None for plan in other.plans for p in plan.placements),
        chosen=used == {machine_id},
        cost=sum((cost.own for cost in costs), ZERO) + once_cost(other.plans, order.house),
        machine_s=sum(done.machine_s + done.sample_machine_s for done in lines),
        elapsed_s=elapsed_seconds(lines, order.house),
    )
