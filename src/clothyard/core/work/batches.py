"""Batches: lines of an order that are alike are sewn as one, and equal patches cut together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from clothyard.core.job.document import Methods
from clothyard.core.methods.making import Making
from clothyard.core.methods.settle import settle_methods
from clothyard.core.stitches.derived import mean_design
from clothyard.core.stitches.own import joined_designs
from clothyard.core.work.line_plan import LinePlan, plan_line
from clothyard.core.work.line_work import Batch, LineWork
from clothyard.core.work.passes import Passes, PatchKey, patches_of
from clothyard.core.work.placement_plan import PlacementPlan, PlacementWish, plan_placement


def _made_alike(one: Making, other: Making, *, own: bool) -> bool:
    """Whether two makings are the same, however each choice came about.

    Of names, `own`, the sizes may differ.
    """
    if one is other:
        return True
    if own:
        single = (one.layout.kind, other.layout.kind) == ("single", "single")
        layout = one.layout if single else other.layout
        other = replace(other, sewn_mm=one.sewn_mm, fit=one.fit, layout=layout)
    return replace(one, choices=(), tries=()) == replace(other, choices=(), tries=())


def alike(one: LinePlan, other: LinePlan) -> bool:
    """Whether two lines are sewn as one batch: same class, places, designs, methods, finishing.

    Names differ by piece, so that of lines with names only what is sewn round them must agree.

    Source: docs/formulas.md 8.
    """
    mine, theirs = one.line, other.line
    if [p.making.position_id for p in one.placements] != [
        p.making.position_id for p in other.placements
    ]:
        return False
    same = (
        mine.goods.class_ == theirs.goods.class_
        and mine.goods.supplied_by == theirs.goods.supplied_by
        and mine.goods.once_only == theirs.goods.once_only
        and (mine.goods.spoil, mine.goods.minutes) == (theirs.goods.spoil, theirs.goods.minutes)
        and mine.finishing == theirs.finishing
        and mine.hardware == theirs.hardware
        and mine.sample == theirs.sample
        and len(mine.placements) == len(theirs.placements)
    )
    return same and all(
        (placed.own is None) is (placed_other.own is None)
        and (placed.own is not None or placed.making.sewn_mm == placed_other.making.sewn_mm)
        and asked.model_copy(update={"id": "", "methods": Methods()})
        == of_other.model_copy(update={"id": "", "methods": Methods()})
        and _made_alike(placed.making, placed_other.making, own=placed.own is not None)
        for asked, of_other, placed, placed_other in zip(
            mine.placements, theirs.placements, one.placements, other.placements, strict=True
        )
    )


def _joint_place(plans: Sequence[LinePlan], at: int) -> PlacementPlan:
    """Plan one placement of several lines as it is sewn for all of them: with all their names."""
    first, placed = plans[0], plans[0].placements[at]
    if placed.own is None:
        return placed
    line, asked, house = first.line, first.line.placements[at], first.house
    own = joined_designs([plan.placements[at].own for plan in plans])
    facts = mean_design(own.sewn, name=placed.facts.name)
    making = settle_methods(line, asked, facts, house, where="")
    wish = PlacementWish(asked, making, facts, own, placed.steps, line.finishing)
    return plan_placement(wish, house)


def _batch(plans: Sequence[LinePlan]) -> Batch | None:
    """Make one batch of lines that are alike; None where their names together are made otherwise
    than each line's."""
    first = plans[0]
    placements = first.placements
    if len(plans) > 1:
        placements = tuple(_joint_place(plans, at) for at in range(len(placements)))
    joint = first
    if any(one is not other for one, other in zip(placements, first.placements, strict=True)):
        if not all(
            _made_alike(one.making, other.making, own=True)
            for one, other in zip(placements, first.placements, strict=True)
        ):
            return None
        joint = plan_line(first.line, placements, first.house, enquiry=first.enquiry)
    return Batch(tuple(plans), joint, tuple(Passes(put, first.house) for put in placements))


def _patches(batch: Batch) -> dict[PatchKey, int]:
    """Count the patches a batch needs, by material and size."""
    if not any(put.steps.sheets for put in batch.joint.placements):
        return {}
    return patches_of(batch.whole(batch.pieces))


def _elsewhere(of: Sequence[Batch]) -> dict[int, dict[PatchKey, int]]:
    """Say for each batch, by its id, what patches the others need."""
    needs = {id(batch): _patches(batch) for batch in of}
    found: dict[int, dict[PatchKey, int]] = {id(batch): {} for batch in of}
    for at, need in needs.items():
        for other, elsewhere in found.items():
            if other != at:
                for key, count in need.items():
                    elsewhere[key] = elsewhere.get(key, 0) + count
    return found


def _split(group: Sequence[LinePlan]) -> list[Batch]:
    """Make a group of lines one batch, or one each where they cannot be."""
    whole = _batch(group)
    return [whole] if whole else [b for plan in group if (b := _batch([plan]))]


def _works(batches: Sequence[Batch], plans: Sequence[LinePlan]) -> tuple[LineWork, ...]:
    of = {id(plan): batch for batch in batches for plan in batch.lines}
    elsewhere = _elsewhere(batches)
    return tuple(
        LineWork(plan, batch=of[id(plan)], elsewhere=elsewhere[id(of[id(plan)])]) for plan in plans
    )


def batched(plans: Sequence[LinePlan]) -> tuple[LineWork, ...]:
    """Make each line's work, those that are alike over one batch.

    Parameters
    ----------
    plans : sequence of LinePlan

    Returns
    -------
    tuple of LineWork, one a line
    """
    groups: list[list[LinePlan]] = []
    for plan in plans:
        group = next((g for g in groups if alike(g[0], plan)), None)
        if group is None:
            groups.append(group := [])
        group.append(plan)
    return _works([batch for group in groups for batch in _split(group)], plans)


def rebatched(works: Sequence[LineWork], at: int, plan: LinePlan) -> dict[int, LineWork]:
    """Make the work of an order with one line planned otherwise: it may leave its batch, and join.

    Parameters
    ----------
    works : sequence of LineWork
        Of the order as it is.
    at : int
        Which line.
    plan : LinePlan
        It, planned otherwise.

    Returns
    -------
    dict of int to LineWork
        Of the lines that change by it, its own among them.
    """
    old = works[at]
    before = list({id(work.batch): work.batch for work in works}.values())
    groups = [[one for one in b.lines if one is not old.plan] for b in before if b is old.batch]
    groups = [group for group in groups if group]
    kept = [batch for batch in before if batch is not old.batch]
    joined = next((b for b in kept if alike(b.lines[0], plan)), None)
    if joined is not None:
        kept.remove(joined)
        groups.append([*joined.lines, plan])
    elif groups and alike(groups[0][0], plan):
        groups[0].append(plan)
    else:
        alone = LineWork(plan, like=old)
        if len(before) == 1 and not groups:
            return {at: alone}
        kept.append(alone.batch)
    plans = [plan if n == at else work.plan for n, work in enumerate(works)]
    now = _works([*kept, *(batch for group in groups for batch in _split(group))], plans)
    return {
        n: work
        for n, (work, was) in enumerate(zip(now, works, strict=True))
        if work.batch is not was.batch or work.elsewhere != was.elsewhere
    }
