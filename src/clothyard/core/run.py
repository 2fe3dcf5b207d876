"""The run in closed form: how long an order takes when hands and machine overlap."""

from __future__ import annotations

from clothyard.core.house import RunRules
from clothyard.core.price.line import LineCost
from clothyard.core.price.plan import LinePlan
from clothyard.core.record import record

BEFORE = frozenset(
    {
        "inspect", "mark", "mark-jig", "cut-backing", "prepare-patch", "open-seam", "restuff",
        "pins", "hoop-screw", "hoop-border", "hoop-magnetic", "hoop-clamp", "hoop-cap",
        "hoop-tight-tube", "hoop-awkward-toy", "hoop-float",
    }
)  # fmt: skip
"""Tasks that come before the needle; all others come after it."""


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

    Source: docs/formulas.md 9: with a second hoop a cycle takes the longer of machine and hands,
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


def passes_of(plan: LinePlan, cost: LineCost) -> list[PassRun]:
    """Take a line's passes out of its costs; what a piece takes once goes with the first pass."""
    found = []
    for i, (placed, done) in enumerate(zip(plan.placements, cost.passes, strict=True)):
        n, hoopings = done.pieces, done.loads.hoopings
        before = after = 0.0
        for task in placed.tasks:
            times = hoopings if task.per == "hooping" else n
            seconds = task.total_s * times * (done.practice if task.practised else 1.0)
            before += seconds if task.task in BEFORE else 0.0
            after += 0.0 if task.task in BEFORE else seconds
        after += done.winding_s * n
        if i == 0:
            for task in plan.tasks:
                seconds = task.total_s * cost.quantity
                before += seconds if task.task in BEFORE else 0.0
                after += 0.0 if task.task in BEFORE else seconds
        hoop = placed.making.hoop
        found.append(
            PassRun(
                machine_id=placed.making.machine_id,
                cycles=done.loads.cycles,
                machine_s=done.machine_s * n,
                attend_s=done.attend_s * n,
                before_s=before,
                after_s=after,
                second_hoop=hoop is not None and hoop.count > placed.making.machine.heads,
            )
        )
    return found
