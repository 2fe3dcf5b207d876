"""Steps: what hands do while the machine stands at a stop, and what they lay or fix."""

from __future__ import annotations

from clothyard.core.errors import BadInput, unknown_id
from clothyard.core.house.document import House
from clothyard.core.job.document import Placement, Step
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts

Size = tuple[float, float]

SHARED = {"turn"}
"""Steps that serve a whole hooping unless it is said otherwise."""


@record
class SheetPiece:
    """A piece of sheet goods: its material, size, and how many a piece or a hooping takes. [mm]

    `step` is its step's place in the list; `grain` keeps it from being turned on the roll.
    """

    step: int
    material: str
    width_mm: float
    height_mm: float
    count: int
    per_hooping: bool
    grain: bool = False


@record
class FixedPart:
    """A snap, a ring, a length of ribbon: how many, or how many metres, of one piece."""

    item: str
    amount: float
    unit: str


@record
class StepTime:
    """A step's seconds, for a piece or for a whole hooping.

    `at` is when: colour blocks sewn by then, a half more at a stop inside of one; None after
    sewing. `task` is the house's, "" for hardware, done `times` over.
    """

    step: int
    at: float | None
    task: str
    label: str
    seconds: float
    times: float
    per_hooping: bool


@record
class StepPlan:
    """What hands do for one placement besides holding it.

    `times` are done while the machine stands, `after` out of the hoop, in the order of the work;
    `stops` have tasks; `bare_stops` are in the file and nobody said what they are for; `stop_at`
    is when each stop of the file comes, as of `StepTime.at`. `patches` are prepared by hand before
    the run, per piece and per hooping; `shaped_mm` of their outlines is cut then.
    """

    stops: int
    bare_stops: int
    times: tuple[StepTime, ...]
    after: tuple[StepTime, ...]
    stop_at: tuple[float, ...]
    sheets: tuple[SheetPiece, ...]
    parts: tuple[FixedPart, ...]
    patches: int
    hooping_patches: int
    shaped_mm: float
    hooping_shaped_mm: float


_TASKS = {
    "lay": "lay",
    "tack": "tack",
    "trim": "trim-outline",
    "turn": "turn-hoop",
    "tape": "tape",
    "open": "open-zip",
    "press": "press",
    "punch": "punch",
    "turn-out": "turn-out",
    "stuff": "stuff",
    "close": "close-seam",
    "tie": "tie",
}


def stops_at(facts: DesignFacts) -> tuple[float, ...]:
    """Say when each stop of the file comes: inside its block, so half a block more.

    Returns
    -------
    tuple of float, shape (facts.stops,)
    """
    return tuple(i + 0.5 for i, block in enumerate(facts.blocks) for _ in range(block.stops))


def when(step: Step, stop_at: tuple[float, ...]) -> float | None:
    """Say when a step is done, as of `StepTime.at`; None after sewing."""
    if step.at_stop is not None:
        return stop_at[step.at_stop - 1]
    return None if step.after_block is None else float(step.after_block)


def _driven(step: Step) -> float:
    """How often a step's task is done: by what it is counted in."""
    if step.do in {"trim", "cut-out"}:
        return (step.outline_mm or 0) * step.count
    if step.do == "close":
        return (step.outline_mm or 0) / 100 * step.count
    return step.count


def _time(index: int, step: Step, house: House, at: float | None, *, shared: bool) -> StepTime:
    if step.do == "insert":
        part = house.hardware[step.hardware or ""]
        label, seconds = f"Insert: {part.label.lower()}", part.seconds * step.count
        return StepTime(index, at, "", label, seconds, step.count, shared)
    task_id = _TASKS.get(step.do) or ("cut-straight" if step.straight else "cut-shape")
    task, times = house.tasks[task_id], _driven(step)
    label = task.label
    if step.do == "lay":
        label += f": {house.sheet_goods[step.sheet or ''].label.lower()}"
        label += ", underneath" if step.side == "under" else ""
    seconds = task.seconds * times
    if step.do == "tie" and step.hardware:
        seconds += house.hardware[step.hardware].seconds * step.count
        label += f": {house.hardware[step.hardware].label.lower()}"
    return StepTime(index, at, task_id, label, seconds, times, shared)


def _check(step: Step, facts: DesignFacts, house: House, where: str) -> None:
    if step.after_block is not None and step.after_block > len(facts.blocks):
        raise BadInput(
            f"the design has {len(facts.blocks)} colour blocks, not {step.after_block}.",
            where=f"{where}.after_block",
            remedy="Enter the block that the step follows.",
            code="out-of-range",
        )
    if step.of_block is not None and step.of_block > len(facts.blocks):
        raise BadInput(
            f"the design has {len(facts.blocks)} colour blocks, not {step.of_block}.",
            where=f"{where}.of_block",
            remedy="Enter the block that tacks it down.",
            code="out-of-range",
        )
    if step.at_stop is not None and step.at_stop > facts.stops:
        raise BadInput(
            f"the design has {facts.stops} stops, not {step.at_stop}.",
            where=f"{where}.at_stop",
            remedy="Say after which block instead.",
            code="out-of-range",
        )
    kinds = (("sheet", house.sheet_goods), ("web", house.sheet_goods), ("hardware", house.hardware))
    for key, known in kinds:
        given = getattr(step, key)
        if given is not None and given not in known:
            raise unknown_id(given, known, where=f"{where}.{key}", what=key)
    stocked = {roll.material for roll in house.rolls.values()}
    stocked |= {sheet.material for sheet in house.sheets.values()}
    for key in ("sheet", "web") if step.do == "lay" else ():
        material = getattr(step, key)
        if material is not None and material not in stocked:
            raise BadInput(
                f"the shop has no roll and no sheet of {material!r}.",
                where=f"{where}.{key}",
                remedy="Choose another, or add one to the house.",
                code="roll-unknown",
            )


def _patch_size(
    step: Step, facts: DesignFacts, house: House, hooping_mm: Size, *, shared: bool, where: str
) -> Size:
    """Size a patch: as said, as the block that it follows, or as all of a hooping. [mm]"""
    block = facts.blocks[step.of_block - 1] if step.of_block else None
    sewn: tuple[float | None, float | None] = (None, None)
    if block is not None and block.width_mm is not None:
        sewn = block.width_mm, block.height_mm
    elif shared:
        sewn = hooping_mm
    more = 0.0 if step.precut else 2 * house.cutting.layer_margin_mm
    known = [None if side is None else side + more for side in sewn]
    width, height = step.width_mm or known[0], step.height_mm or known[1]
    if width is None or height is None:
        raise BadInput(
            f"is needed to lay: of block {step.of_block} only the count is known.",
            where=f"{where}.{'height_mm' if width else 'width_mm'}",
            remedy="Enter it, or give the design's file.",
            code="missing",
        )
    return width, height


def plan_steps(
    placement: Placement, facts: DesignFacts, house: House, hooping_mm: Size, *, where: str
) -> StepPlan:
    """Plan the stops of a placement: their seconds, sheet goods and hardware.

    Parameters
    ----------
    placement : Placement
        As asked.
    facts : DesignFacts
        Of the design.
    house : House
        The standards.
    hooping_mm : (float, float)
        What is sewn in one hooping. [mm]
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
    sheets: list[SheetPiece] = []
    parts: list[FixedPart] = []
    done: list[StepTime] = []
    laid = {False: 0, True: 0}
    shaped = {False: 0.0, True: 0.0}
    stop_at = stops_at(facts)
    for i, step in enumerate(placement.steps):
        _check(step, facts, house, f"{where}.steps[{i}]")
        shared = (step.per or ("hooping" if step.do in SHARED else "piece")) == "hooping"
        done.append(_time(i, step, house, when(step, stop_at), shared=shared))
        if step.do == "lay":
            size = _patch_size(
                step, facts, house, hooping_mm, shared=shared, where=f"{where}.steps[{i}]"
            )
            for material in filter(None, (step.sheet, step.web)):
                sheets.append(SheetPiece(i, material, *size, step.count, shared, step.grain))
            laid[shared] += step.count
            shaped[shared] += (step.outline_mm or 0.0) * step.count if step.precut else 0.0
        if step.do in {"insert", "tie"} and step.hardware:
            kind = house.hardware[step.hardware]
            each = (step.width_mm or 0) / 1000 if kind.unit == "m" else 1
            parts.append(FixedPart(step.hardware, each * step.count, kind.unit))
    served = {step.at_stop for step in placement.steps if step.at_stop is not None}
    between = {step.after_block for step in placement.steps if step.after_block is not None}
    return StepPlan(
        stops=len(served) + len(between),
        bare_stops=facts.stops - len(served),
        times=tuple(sorted((t for t in done if t.at is not None), key=lambda t: t.at or 0.0)),
        after=tuple(t for t in done if t.at is None),
        stop_at=stop_at,
        sheets=tuple(sheets),
        parts=tuple(parts),
        patches=laid[False],
        hooping_patches=laid[True],
        shaped_mm=shaped[False],
        hooping_shaped_mm=shaped[True],
    )
