"""Planning an order: every line with its designs, methods and stops, before any quantity."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal

from clothyard.core.designs import Sewn, sewn_designs
from clothyard.core.house import House
from clothyard.core.job import Job, Line, Placement
from clothyard.core.making import Making
from clothyard.core.methods import goods_class, settle_methods
from clothyard.core.order import once_an_order
from clothyard.core.price.goods import Supply, plan_supplies
from clothyard.core.price.line import HOUR
from clothyard.core.price.plan import LinePlan, PlacementPlan, plan_line, plan_placement
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.time.handwork import check_finishing
from clothyard.core.time.steps import plan_steps
from clothyard.core.units import exact


@record
class OrderPlan:
    """All lines of an order, planned; `sewn` are their designs."""

    plans: tuple[LinePlan, ...]
    sewn: tuple[tuple[Sewn, ...], ...]
    house: House

    def once_cost(self, plans: Sequence[LinePlan]) -> Decimal:
        """What is done once costs, in labour and overhead."""
        seconds = sum(task.total_s for task in once_an_order(plans, self.house))
        rates = self.house.rates
        return exact(seconds) / HOUR * (rates.labour_per_h + rates.overhead_per_h)


def plan_place(
    line: Line,
    placement: Placement,
    making: Making,
    sewn: Sewn,
    house: House,
    *,
    where: str,
    like: PlacementPlan | None = None,
) -> PlacementPlan:
    """Plan a placement whose methods are settled.

    Parameters
    ----------
    sewn : Sewn
        Its design; it is put on a base here when the making has one.
    like : PlacementPlan, optional
        One of the same design with other methods, to take over what they share.
    """
    sewn = sewn.on_base(house) if making.knock_down else sewn
    return plan_placement(
        making,
        sewn.facts,
        house,
        line.finishing,
        steps=plan_steps(placement, sewn.facts, house, where=where),
        extras=placement,
        own=sewn.own,
        like=like,
    )


def _plan(line: Line, sewn: Sequence[Sewn], house: House, supply: Supply, where: str) -> LinePlan:
    check_finishing(line.finishing, where=where)
    goods_class(line, house, where=where)
    placed = []
    for i, (placement, design) in enumerate(zip(line.placements, sewn, strict=True)):
        place = f"{where}.placements[{i}]"
        making = settle_methods(line, placement, design.facts, house, where=place)
        placed.append(plan_place(line, placement, making, design, house, where=place))
    return plan_line(line, placed, house, supply, where=where)


def plan_order(job: Job, house: House, designs: Mapping[str, DesignFacts]) -> OrderPlan:
    """Plan every line of a job.

    Raises
    ------
    BadInput
        If it names something the shop does not have.
    NotFound
        If it names a design that was not read.
    """
    sewn = tuple(
        sewn_designs(line, house, designs, where=f"lines[{i}]") for i, line in enumerate(job.lines)
    )
    supplies = plan_supplies(job, house)
    plans = tuple(
        _plan(line, sewn[i], house, supplies[i], f"lines[{i}]") for i, line in enumerate(job.lines)
    )
    return OrderPlan(plans, sewn, house)
