"""How long an order takes in closed form, when hands and machine overlap."""

from __future__ import annotations

from collections.abc import Sequence

from clothyard.core.house.document import House
from clothyard.core.record import record
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.once import once_an_order
from clothyard.core.work.pass_run import PassRun, pass_seconds


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
        for placed, run in zip(done.plan.placements, done.runs, strict=True):
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
