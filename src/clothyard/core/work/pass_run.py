"""A pass as it runs: what machine and hands take of it, in closed form."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from clothyard.core.house.document import RunRules
from clothyard.core.record import record
from clothyard.core.work.handwork import TaskUse
from clothyard.core.work.line_plan import LinePlan
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan


@record
class PassRun:
    """One pass of a batch. Seconds over the whole pass, but for `cycles`.

    `machine_s` of the machine, `attend_s` of the operator at it, `before_s` and `after_s` of hand
    work; `lead_s` pass at each loading before it starts; `second_hoop` says whether the next piece
    can be hooped meanwhile.
    """

    machine_id: str
    cycles: int
    machine_s: float
    attend_s: float
    before_s: float
    after_s: float
    second_hoop: bool
    lead_s: float = 0.0


def pass_seconds(run: PassRun, rules: RunRules) -> tuple[float, float]:
    """Return (until the last piece is sewn, finishing left after it). [s]

    Parameters
    ----------
    run : PassRun
        As worked.
    rules : RunRules
        Of spoilage and spares.

    Returns
    -------
    tuple[float, float]

    Source
    ------
    docs/formulas.md 9: with a second hoop a cycle takes the longer of machine and hands,
    else the machine waits for the hooping too; the first piece is prepared before.
    """
    c = run.cycles
    before, machine = run.before_s / c, run.machine_s / c + run.lead_s
    piecewise = rules.finishing == "piece"
    hands = run.attend_s / c + before + (run.after_s / c if piecewise else 0.0)
    own = machine if run.second_hoop else machine + before
    cycle = max(own, hands / rules.operators)
    first = before if run.second_hoop else 0.0
    after = run.after_s / c if piecewise else run.after_s
    return first + c * cycle, after / rules.operators


def _sides(tasks: Iterable[tuple[TaskUse, float]]) -> tuple[float, float]:
    """Add up tasks, each with how many pieces' worth: (before the needle, after it). [s]"""
    before = after = 0.0
    for task, pieces in tasks:
        seconds = task.total_s * pieces
        before += seconds if task.before else 0.0
        after += 0.0 if task.before else seconds
    return before, after


def _hands(placed: PlacementPlan, done: Pass) -> tuple[float, float]:
    """Handwork of a pass: (before the needle, after it). [s]"""
    tasks = [
        (
            task,
            (done.loads.hoopings if task.per == "hooping" else done.pieces)
            * (done.practice if task.practised else 1.0),
        )
        for task in placed.tasks
    ]
    return _sides(tasks)


def passes_of(
    joint: LinePlan, whole: Sequence[Pass], *, tasks: Sequence[TaskUse], pieces: int
) -> list[PassRun]:
    """Take the passes of a batch as they run; what a piece takes once goes with the first pass.

    Parameters
    ----------
    joint : LinePlan
        The batch as the one line that it is sewn as.
    whole : sequence of Pass, shape (n_placements,)
        Its passes.
    tasks : sequence of TaskUse
        What each piece takes once.
    pieces : int
        Of the batch.

    Returns
    -------
    list of PassRun, shape (n_placements,)
    """
    found = []
    for i, (placed, each) in enumerate(zip(joint.placements, whole, strict=True)):
        before, after = _hands(placed, each)
        after += each.winding_s * each.pieces
        if i == 0:
            more = _sides((task, pieces) for task in tasks)
            before, after = before + more[0], after + more[1]
        hoop = placed.making.hoop
        found.append(
            PassRun(
                machine_id=placed.making.machine_id,
                cycles=round(each.loads.cycles),
                machine_s=each.machine_s * each.pieces,
                attend_s=each.attend_s * each.pieces,
                before_s=before,
                after_s=after,
                second_hoop=hoop is not None and hoop.count > placed.making.machine.heads,
                lead_s=0.0 if placed.shares else joint.house.events.lead_s,
            )
        )
    return found
