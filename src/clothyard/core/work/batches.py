"""Batches: lines of an order that are alike are sewn as one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from clothyard.core.job.document import Methods
from clothyard.core.methods.making import Making
from clothyard.core.work.line_plan import LinePlan
from clothyard.core.work.line_work import LineWork


def _made_alike(one: Making, other: Making) -> bool:
    """Whether two makings are the same, however each choice came about."""
    return replace(one, choices=(), tries=()) == replace(other, choices=(), tries=())


def alike(one: LinePlan, other: LinePlan) -> bool:
    """Whether two lines are sewn as one batch: same class, places, designs, methods, finishing.

    Lines with a name on each piece are by themselves: their passes go by the names.

    Source: docs/formulas.md 8.
    """
    mine, theirs = one.line, other.line
    if any(p.own for p in (*one.placements, *other.placements)):
        return False
    same = (
        mine.goods.class_ == theirs.goods.class_
        and mine.goods.supplied_by == theirs.goods.supplied_by
        and mine.finishing == theirs.finishing
        and mine.hardware == theirs.hardware
        and mine.sample == theirs.sample
        and len(mine.placements) == len(theirs.placements)
    )
    return same and all(
        asked.model_copy(update={"id": "", "methods": Methods()})
        == of_other.model_copy(update={"id": "", "methods": Methods()})
        and _made_alike(placed.making, placed_other.making)
        for asked, of_other, placed, placed_other in zip(
            mine.placements, theirs.placements, one.placements, other.placements, strict=True
        )
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
    of: list[list[LinePlan]] = []
    for plan in plans:
        group = next((g for g in groups if alike(g[0], plan)), None)
        if group is None:
            groups.append(group := [])
        group.append(plan)
        of.append(group)
    shared = {id(group): LineWork(group[0]).passes for group in groups}
    return tuple(
        LineWork(plan, batch=tuple(group), passes=shared[id(group)])
        for plan, group in zip(plans, of, strict=True)
    )
