"""The run in closed form: how long an order takes when hands and machine overlap."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING

from clothyard.core.house.document import House, RunRules
from clothyard.core.record import record
from clothyard.core.work.handwork import TaskUse
from clothyard.core.work.once import once_an_order
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan

if TYPE_CHECKING:
    from clothyard.core.work.line_work import LineDone


@record
class PassRun:
    """One pass of a batch. Seconds over the whole pass, but for `cycles`.

    `machine_s` of the machine, `attend_s` of the operator at it, `before_s` and `after_s` of hand
    work; `second_hoop` says whether the next piece can be hooped meanwhile.
    """

    machine_id: str
    cycles: int
    machine_s: float
    attend_s: float
    before_s: float
    after_s: float
    second_hoop: bool


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
    before, machine = run.before_s / c, run.machine_s / c
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


def passes_of(done: LineDone) -> list[PassRun]:
    """Take the passes of a line's batch; what a piece takes once goes with the first pass.

    Parameters
    ----------
    done : LineDone

    Returns
    -------
    list of PassRun, shape (n_placements,)
    """
    found = []
    for i, (placed, each) in enumerate(zip(done.joint.placements, done.whole, strict=True)):
        before, after = _hands(placed, each)
        after += each.winding_s * each.pieces
        if i == 0:
            more = _sides((task, done.batch) for task in done.plan.tasks)
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
            )
        )
    return found


@record
class ElapsedPart:
    """A stretch of an order's elapsed time; `run` is the pass it is of, None for set-up. [s]"""

    label: str
    seconds: float
    run: PassRun | None = None


def elapsed_parts(lines: Sequence[LineDone], house: House) -> list[ElapsedPart]:
    """Elapsed time of an order in closed form, part by part.

    Set-up and samples first, then each pass until its last piece is sewn, and its finishing.

    Parameters
    ----------
    lines : sequence of LineDone, one a line of the order
    house : House

    Source
    ------
    docs/formulas.md 9.
    """
    rules = house.run
    once = sum(task.total_s for task in once_an_order([done.plan for done in lines], house))
    for done in lines:
        once += done.names_s
        # a person stays with the sample
        once += max(done.sample_machine_s, done.sample_attend_s) + done.sample_hand_s
    found = [ElapsedPart("set-up and samples", once / rules.operators)]
    for n, done in enumerate(lines, 1):
        if not done.leads:
            continue
        for placed, run in zip(done.plan.placements, passes_of(done), strict=True):
            sewn, after = pass_seconds(run, rules)
            where = f"line {n}, {placed.making.position_id}"
            found.append(ElapsedPart(f"{where}: {run.cycles} cycles", sewn, run))
            found.append(ElapsedPart(f"{where}: finishing", after, run))
    return found


def elapsed_seconds(lines: Sequence[LineDone], house: House) -> float:
    """Elapsed time of an order in closed form; see `elapsed_parts`. [s]

    Parameters
    ----------
    lines : Sequence[LineDone]
        The figures of each line.
    house : House
        The standards.

    Returns
    -------
    float
    """
    return sum(part.seconds for part in elapsed_parts(lines, house))
