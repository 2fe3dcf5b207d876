"""How a piece of advice is put: on a line, or on one of its placements, with a fix to press."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from clothyard.core.advice.document import Advice
from clothyard.core.job.document import Line, Placement
from clothyard.core.measures import length_text, size_text
from clothyard.core.methods.choice import Level, Wish
from clothyard.core.methods.making import Making
from clothyard.core.methods.settle import wish_of
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.work.line_plan import LinePlan
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan

Patch = list[dict[str, Any]]
"""A JSON Patch on the job."""


def add_patch(path: str, value: Any) -> Patch:
    """Patch that sets a value at a place of the job.

    Parameters
    ----------
    path : str
        Where in the document.
    value : Any
        As it came, or as worked out.

    Returns
    -------
    Patch
    """
    return [{"op": "add", "path": path, "value": value}]


def methods_patch(line: Line, index: int, placement: int, values: Mapping[str, Any]) -> Patch:
    """Patch that sets methods of a placement.

    Parameters
    ----------
    line, index : Line, int
        And its place in the job.
    placement : int
        Which of the line's.
    values : mapping of str to value
    """
    path = f"/lines/{index}/placements/{placement}/methods"
    if "methods" not in line.placements[placement].model_fields_set:
        return add_patch(path, dict(values))
    return [{"op": "add", "path": f"{path}/{key}", "value": v} for key, v in values.items()]


class OnLine:
    """Puts advice on a line of a job.

    Parameters
    ----------
    plan : LinePlan
    index : int
        Its place in the job: fixes are patches on the job.
    """

    def __init__(self, plan: LinePlan, index: int):
        self.plan, self.index = plan, index
        self.path = f"/lines/{index}"

    def say(
        self,
        code: str,
        level: Level,
        where: str,
        message: str,
        fix: str,
        apply: Patch | None = None,
    ) -> Advice:
        """Put a piece of advice."""
        return Advice(
            code=code,
            level=level,
            where=where,
            message=message,
            fix=fix,
            apply=apply,
            of=self.plan.line.id,
        )


class OnPlace:
    """Puts advice on one placement of a line.

    Parameters
    ----------
    plan : LinePlan
    done : Pass
        The placement over its pieces.
    index, number : int
        Of the line in the job, of the placement in the line.
    """

    def __init__(self, plan: LinePlan, done: Pass, index: int, number: int):
        self.plan, self.done, self.index, self.number = plan, done, index, number
        self.placed: PlacementPlan = plan.placements[number]
        self.asked: Placement = plan.line.placements[number]
        self.making: Making = self.placed.making
        self.facts: DesignFacts = self.placed.facts
        self.where = f"placements[{number}]"
        self.path = f"/lines/{index}/placements/{number}"

    @property
    def wish(self) -> Wish:
        """What is asked of it, its design as it is sewn."""
        plan = self.plan
        return wish_of(plan.line, self.asked, self.facts, plan.house, where=self.where)

    def said(self, mm: float) -> str:
        """Write a length in the shop's units."""
        return length_text(mm, units=self.plan.house.shop.units)

    def said_size(self, size_mm: tuple[float, float]) -> str:
        """Write a size in the shop's units."""
        return size_text(size_mm, units=self.plan.house.shop.units)

    def methods(self, values: Mapping[str, Any]) -> Patch:
        """Patch that sets methods of this placement."""
        return methods_patch(self.plan.line, self.index, self.number, values)

    def let_go(self, *keys: str) -> Patch:
        """Patch that leaves some methods to be proposed again, where they were chosen."""
        chosen = {key: None for key in keys if getattr(self.asked.methods, key) is not None}
        return self.methods(chosen) if chosen else []

    def say(
        self,
        code: str,
        level: Level,
        message: str,
        fix: str,
        apply: Patch | None = None,
        *,
        about: str = "design",
    ) -> Advice:
        """Put a piece of advice; `about` is the part of the placement that it is of."""
        where = f"{self.where}.{about}"
        return Advice(
            code=code,
            level=level,
            where=where,
            message=message,
            fix=fix,
            apply=apply,
            of=self.asked.id,
        )
