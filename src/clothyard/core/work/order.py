"""An order's work: every line with its designs, methods and stops, at any quantity."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from decimal import Decimal

from clothyard.core.house.document import House
from clothyard.core.job.document import NAME_MARK, Job, Line, Placement
from clothyard.core.methods.making import Making
from clothyard.core.methods.settle import goods_class, settle_methods
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.time.steps import plan_steps
from clothyard.core.work.batches import batched
from clothyard.core.work.designs import Sewn, sewn_designs
from clothyard.core.work.handwork import Enquiry, check_finishing
from clothyard.core.work.line_plan import LinePlan, plan_line
from clothyard.core.work.line_work import LineWork
from clothyard.core.work.lying import lie
from clothyard.core.work.placement_plan import PlacementPlan, PlacementWish, plan_placement


@record
class OrderWork:
    """All lines of an order; `sewn` are their designs, one a placement."""

    job: Job
    lines: tuple[LineWork, ...]
    sewn: tuple[tuple[Sewn, ...], ...]
    house: House

    @property
    def plans(self) -> tuple[LinePlan, ...]:
        """What does not depend on any quantity, a plan a line."""
        return tuple(line.plan for line in self.lines)


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
    line, placement : Line, Placement
    making : Making
    sewn : Sewn
        Its design; it is put on a base here when the making has one.
    house : House
    where : str
        Path of the placement, for errors.
    like : PlacementPlan, optional
        One of the same design with other methods, to take over what they share.

    Raises
    ------
    BadInput
        If a step cannot be served.
    """
    sewn = sewn.on_base(house) if making.knock_down else sewn
    sewn = sewn.bordered(house) if making.finish.edge == "border" else sewn
    size = making.layout.size_mm
    if like and like.facts is sewn.facts and like.making.layout.size_mm == size:
        steps = like.steps
    else:
        steps = plan_steps(placement, sewn.facts, house, size, where=where)
    wish = PlacementWish(placement, making, sewn.facts, sewn.own, steps, line.finishing, like)
    return plan_placement(wish, house)


def _as_hooped(placement: Placement, before: Making) -> Placement:
    """A placement that shares a hooping is held as the one before: hoop, backing and machine."""
    made = {
        "backing": before.backing_id,
        "layers": before.layers,
        "second_backing": before.second_id,
        "second_layers": before.second_layers,
        "hold": before.hold,
        "hoop": before.hoop_id if before.hoop else None,
        "machine": before.machine_id,
        "baste": before.baste,
    }
    return placement.model_copy(update={"methods": placement.methods.model_copy(update=made)})


def _plan(
    line: Line, sewn: Sequence[Sewn], house: House, *, enquiry: Enquiry, where: str
) -> LinePlan:
    check_finishing(line.finishing, where=where)
    line = lie(line, sewn, house)
    goods_class(line, house, where=where)
    placed: list[PlacementPlan] = []
    for i, (placement, design) in enumerate(zip(line.placements, sewn, strict=True)):
        asked = placement
        if placement.shares and placed:
            asked = _as_hooped(placement, placed[-1].making)
        place = f"{where}.placements[{i}]"
        making = settle_methods(line, asked, design.facts, house, where=place)
        placed.append(plan_place(line, asked, making, design, house, where=place))
    return plan_line(line, placed, house, enquiry=enquiry, where=where)


_APART = {
    "id": "",
    "quantity": 1,
    "cells": (),
    "unit_price": None,
    "discount": Decimal(0),
    "tax_rate": None,
    "agreed": None,
    "sample": None,
    "digitising": None,
}
"""What of a line does not bear on how its places are made; of its cells the sizes do."""


def _same_making(one: Line, other: Line) -> bool:
    """Whether two lines are asked to be made alike, whatever their numbers: one plan does for both.

    Names, and pieces that share a hooping, go by their number: such a line has a plan of its own.
    """
    if one.goods.class_ != other.goods.class_ or len(one.placements) != len(other.placements):
        return False
    if one.names or any(p.together or NAME_MARK in (p.design.text or "") for p in one.placements):
        return False
    if {cell.size for cell in one.cells} != {cell.size for cell in other.cells}:
        return False
    mine, theirs = (
        line.model_copy(
            update=_APART
            | {"placements": tuple(p.model_copy(update={"id": ""}) for p in line.placements)}
        )
        for line in (one, other)
    )
    return mine == theirs


def _like(line: Line, plan: LinePlan, house: House, *, enquiry: Enquiry, where: str) -> LinePlan:
    """Plan a line that is made as another one, under its own ids."""
    asked = tuple(
        known.model_copy(update={"id": placement.id})
        for placement, known in zip(line.placements, plan.line.placements, strict=True)
    )
    placed = tuple(
        replace(known, id=placement.id)
        for placement, known in zip(line.placements, plan.placements, strict=True)
    )
    line = line.model_copy(update={"placements": asked})
    return plan_line(line, placed, house, enquiry=enquiry, where=where)


def plan_order(job: Job, house: House, designs: Mapping[str, DesignFacts]) -> OrderWork:
    """Plan every line of a job.

    Parameters
    ----------
    job : Job
    house : House
    designs : mapping of str to DesignFacts
        Of the stitch files it names, by content hash or name.

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
    plans: list[LinePlan] = []
    for i, line in enumerate(job.lines):
        like = next((k for k in range(i) if _same_making(line, job.lines[k])), None)
        if like is not None:
            plans.append(_like(line, plans[like], house, enquiry=job.enquiry, where=f"lines[{i}]"))
            continue
        plans.append(_plan(line, sewn[i], house, enquiry=job.enquiry, where=f"lines[{i}]"))
    return OrderWork(job, batched(plans), sewn, house)
