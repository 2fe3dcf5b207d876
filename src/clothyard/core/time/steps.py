"""Steps: what hands do while the machine stands at a stop, and what they lay or fix."""

from __future__ import annotations

from clothyard.core.errors import BadInput, unknown_id
from clothyard.core.house.document import House
from clothyard.core.job.document import Placement, Step
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts

SHARED = {"turn"}
"""Steps that serve a whole hooping unless it is said otherwise."""


@record
class SheetPiece:
    """A piece of sheet goods: its material, size, and how many a piece or a hooping takes. [mm]"""

    material: str
    width_mm: float
    height_mm: float
    count: int
    per_hooping: bool


@record
class FixedPart:
    """A snap, a ring, a length of ribbon: how many, or how many metres, of one piece."""

    item: str
    amount: float
    unit: str


@record
class StepTime:
    """A step's seconds, for a piece or for a whole hooping."""

    label: str
    seconds: float
    per_hooping: bool


@record
class StepPlan:
    """The stops of one placement.

    `stops` have tasks; `bare_stops` are in the file and nobody said what they are for. `patches`
    are prepared by hand before the run, per piece and per hooping.
    """

    stops: int
    bare_stops: int
    times: tuple[StepTime, ...]
    sheets: tuple[SheetPiece, ...]
    parts: tuple[FixedPart, ...]
    patches: int
    hooping_patches: int


def _time(step: Step, house: House, *, shared: bool) -> StepTime:
    if step.do == "lay":
        task = house.tasks["lay"]
        return StepTime(task.label, task.seconds * step.count, shared)
    if step.do == "trim":
        task = house.tasks["trim-outline"]
        return StepTime(task.label, task.seconds * (step.outline_mm or 0) * step.count, shared)
    if step.do == "turn":
        task = house.tasks["turn-hoop"]
        return StepTime(task.label, task.seconds * step.count, shared)
    part = house.hardware[step.hardware or ""]
    return StepTime(f"Insert: {part.label.lower()}", part.seconds * step.count, shared)


def _check(step: Step, facts: DesignFacts, house: House, where: str) -> None:
    if step.after_block is not None and step.after_block > len(facts.blocks):
        raise BadInput(
            f"the design has {len(facts.blocks)} colour blocks, not {step.after_block}.",
            where=f"{where}.after_block",
            remedy="Enter the block that the step follows.",
            code="out-of-range",
        )
    if step.at_stop is not None and step.at_stop > facts.stops:
        raise BadInput(
            f"the design has {facts.stops} stops, not {step.at_stop}.",
            where=f"{where}.at_stop",
            remedy="Say after which block instead.",
            code="out-of-range",
        )
    for key, known in (("sheet", house.sheet_goods), ("hardware", house.hardware)):
        given = getattr(step, key)
        if given is not None and given not in known:
            raise unknown_id(given, known, where=f"{where}.{key}", what=key)
    stocked = {roll.material for roll in house.rolls.values()}
    stocked |= {sheet.material for sheet in house.sheets.values()}
    if step.do == "lay" and step.sheet not in stocked:
        raise BadInput(
            f"the shop has no roll and no sheet of {step.sheet!r}.",
            where=f"{where}.sheet",
            remedy="Choose another, or add one to the house.",
            code="roll-unknown",
        )


def plan_steps(placement: Placement, facts: DesignFacts, house: House, *, where: str) -> StepPlan:
    """Plan the stops of a placement: their seconds, sheet goods and hardware.

    Parameters
    ----------
    placement : Placement
        As asked.
    facts : DesignFacts
        Of the design.
    house : House
        The standards.
    where : str
        Its place in the job, for errors.

    Returns
    -------
    StepPlan

    Raises
    ------
    BadInput
        If a step follows a block or stop that the design lacks, or names what the shop lacks.

    Source
    ------
    docs/formulas.md 7 and 8: at a stop the machine stands as long as its tasks take.
    """
    times, sheets, parts = [], [], []
    patches = hooping_patches = 0
    for i, step in enumerate(placement.steps):
        _check(step, facts, house, f"{where}.steps[{i}]")
        shared = (step.per or ("hooping" if step.do in SHARED else "piece")) == "hooping"
        times.append(_time(step, house, shared=shared))
        if step.do == "lay":
            sheets.append(
                SheetPiece(step.sheet or "", step.width_mm or 0, step.height_mm or 0, step.count,
                           shared)
            )  # fmt: skip
            patches += 0 if shared else step.count
            hooping_patches += step.count if shared else 0
        if step.do == "insert":
            kind = house.hardware[step.hardware or ""]
            each = (step.width_mm or 0) / 1000 if kind.unit == "m" else 1
            parts.append(FixedPart(step.hardware or "", each * step.count, kind.unit))
    served = {step.at_stop for step in placement.steps if step.at_stop is not None}
    between = {step.after_block for step in placement.steps if step.after_block is not None}
    return StepPlan(
        stops=len(served) + len(between),
        bare_stops=facts.stops - len(served),
        times=tuple(times),
        sheets=tuple(sheets),
        parts=tuple(parts),
        patches=patches,
        hooping_patches=hooping_patches,
    )
