"""A line of an order: all of its work that does not depend on the quantity."""

from __future__ import annotations

from collections.abc import Sequence

from clothyard.core.errors import unknown_id
from clothyard.core.house.document import House
from clothyard.core.job.document import Line
from clothyard.core.record import record
from clothyard.core.time.steps import FixedPart
from clothyard.core.work.handwork import Enquiry, TaskUse, piece_tasks
from clothyard.core.work.placement_plan import PlacementPlan


@record
class LinePlan:
    """A line: all that does not depend on the quantity."""

    line: Line
    house: House
    placements: tuple[PlacementPlan, ...]
    tasks: tuple[TaskUse, ...]
    hand_s: float
    hardware: tuple[FixedPart, ...]
    spoil: float
    """Chance that a piece is spoiled, as it is counted: up to the most that means anything."""

    spoil_reckoned: float
    is_new: bool
    enquiry: Enquiry
    """How the order's customer comes to it."""

    def names_of(self, quantity: int) -> int:
        """Names to type at a quantity: the sewn pieces of a placement with names."""
        own = [p.pieces_of(quantity) for p in self.placements if p.own is not None]
        return max(own, default=0)


def _spoil(line: Line, placements: Sequence[PlacementPlan], house: House) -> float:
    """Chance that a piece is spoiled. Source: docs/formulas.md 10."""
    rules = house.spoilage
    good = 1 - placements[0].making.goods.spoil
    hoopings = sum(p.making.layout.hoopings for p in placements if not p.shares)
    good *= (1 - rules.further_hooping) ** (hoopings - 1)
    letters = [p.facts.letter_height_mm for p in placements]
    if any(height is not None and height < rules.small_letter_mm for height in letters):
        good *= 1 - rules.small_letters
    if any(p.own for p in placements):
        good *= 1 - rules.personalised
    return 1 - good


def plan_hardware(line: Line, house: House, *, where: str) -> tuple[FixedPart, ...]:
    """Plan what is fixed to each piece after sewing.

    Parameters
    ----------
    line : Line
        As asked.
    house : House
        The standards.
    where : str
        Its place in the job, for errors.

    Returns
    -------
    tuple[FixedPart, ...]

    Raises
    ------
    BadInput
        If the shop has no such part.
    """
    parts = []
    for i, part in enumerate(line.hardware):
        if part.item not in house.hardware:
            raise unknown_id(
                part.item, house.hardware, where=f"{where}.hardware[{i}].item", what="hardware"
            )
        unit = house.hardware[part.item].unit
        each = (part.length_mm or 0) / 1000 if unit == "m" else 1
        parts.append(FixedPart(part.item, each * part.count, unit))
    return tuple(parts)


def _with_fixing(tasks: list[TaskUse], line: Line, house: House) -> list[TaskUse]:
    """Fix each part of hardware before the piece is checked."""
    for part in line.hardware:
        if part.item in house.hardware:
            kind = house.hardware[part.item]
            check = next(i for i, task in enumerate(tasks) if task.task == "check")
            label = f"Fix: {kind.label.lower()}"
            fixed = TaskUse(
                f"fix-{part.item}", label, kind.seconds, part.count, practised=False, before=False
            )
            tasks.insert(check, fixed)
    return tasks


def _with_more(
    tasks: list[TaskUse], line: Line, placements: Sequence[PlacementPlan], house: House
) -> list[TaskUse]:
    """Add what a blank takes beyond what is reckoned for its class, as a trial of it had it.

    Source: docs/formulas.md 10.
    """
    if line.goods.minutes is None:
        return tasks
    reckoned = sum(task.total_s for task in tasks)
    for placed in placements:
        load = house.events.load_operator_s if not placed.shares else 0.0
        reckoned += sum(placed.needle_s) + sum(placed.hand_s) + load
    more = line.goods.minutes * 60 - reckoned
    if more <= 0:
        return tasks
    extra = TaskUse("tried", "More on this blank, as tried", more, 1, practised=False, before=False)
    at = next(i for i, task in enumerate(tasks) if task.task == "check")
    return [*tasks[:at], extra, *tasks[at:]]


def plan_line(
    line: Line,
    placements: Sequence[PlacementPlan],
    house: House,
    *,
    enquiry: Enquiry = "proof",
    where: str = "line",
) -> LinePlan:
    """Work out all of a line that does not depend on the quantity.

    Parameters
    ----------
    line : Line
    placements : sequence of PlacementPlan, shape (n_placements,)
    house : House
    enquiry : Enquiry
        How the order's customer comes to it.
    where : str
        Path of the line, for errors.

    Raises
    ------
    BadInput
        If it names hardware that the shop lacks.

    Source
    ------
    docs/formulas.md 8, 10 and 14.
    """
    makings = [p.making for p in placements]
    reckoned = _spoil(line, placements, house)
    tasks = _with_fixing(piece_tasks(makings, line.finishing, house), line, house)
    tasks = _with_more(tasks, line, placements, house)
    return LinePlan(
        line=line,
        house=house,
        placements=tuple(placements),
        tasks=tuple(tasks),
        hand_s=sum(task.total_s for task in tasks),
        hardware=plan_hardware(line, house, where=where),
        spoil=min(reckoned, house.spoilage.most),
        spoil_reckoned=reckoned,
        is_new=not all(p.design.repeat for p in line.placements),
        enquiry=enquiry,
    )
