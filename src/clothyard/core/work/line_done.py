"""A line's work at one quantity: what is done for it, and what is expected to go wrong."""

from __future__ import annotations

from collections.abc import Sequence

from clothyard.core.record import record
from clothyard.core.work.handwork import TaskUse
from clothyard.core.work.line_plan import LinePlan
from clothyard.core.work.pass_run import PassRun, pass_seconds, passes_of
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan


@record
class Sampled:
    """Pieces sewn before the run.

    `first` is one first piece of each placement, unpractised and cut by itself, () when none is
    sewn; `washing_s` is
    washing and pressing one more than its finishing does anyway. [s]
    """

    pieces: int
    wash: bool
    first: tuple[Pass, ...]
    washing_s: float


@record
class LineDone:
    """What is done for a line at a quantity, without money.

    Attributes
    ----------
    plan : LinePlan
    quantity : int
        Good pieces.
    batch : int
        Pieces of all lines that are sewn as one batch with this, its own too.
    together : tuple of LinePlan
        Those lines.
    joint : LinePlan
        They as the one line that they are sewn as, with the names of all.
    passes : tuple of Pass, shape (n_placements,)
        Its share of the batch's.
    whole : tuple of Pass, shape (n_placements,)
        The batch's.
    sampled : Sampled
    name_tasks : tuple of TaskUse
        Before the run.
    """

    plan: LinePlan
    quantity: int
    batch: int
    together: tuple[LinePlan, ...]
    joint: LinePlan
    passes: tuple[Pass, ...]
    whole: tuple[Pass, ...]
    sampled: Sampled
    name_tasks: tuple[TaskUse, ...]

    @property
    def leads(self) -> bool:
        """Whether it is the first line of its batch, with which the batch is told."""
        return self.together[0] is self.plan

    @property
    def held(self) -> bool:
        """Whether the batch waits until its sample has passed."""
        stated = self.plan.line.sample
        return self.sampled.pieces > 0 and not (stated is not None and stated.passed)

    @property
    def share(self) -> float:
        """Its share of the batch."""
        return self.quantity / self.batch

    @property
    def samples(self) -> float:
        """Its share of the batch's samples."""
        return self.sampled.pieces * self.share

    @property
    def placed(self) -> tuple[tuple[PlacementPlan, Pass], ...]:
        """Each placement with its pass."""
        return tuple(zip(self.plan.placements, self.passes, strict=True))

    @property
    def machine_s(self) -> float:
        """Machine time of the good pieces. [s]"""
        return sum(machine_seconds_by(self.plan, self.passes).values())

    @property
    def attend_s(self) -> float:
        """Standing by, over the good pieces. [s]"""
        return sum([p.attend_s * p.pieces for p in self.passes])

    @property
    def hand_s(self) -> float:
        """Handwork of the good pieces. [s]"""
        return self.plan.hand_s * self.quantity + sum([p.hand_s * p.pieces for p in self.passes])

    @property
    def runs(self) -> list[PassRun]:
        """The passes of its batch as they run; what a piece takes once goes with the first."""
        return passes_of(self.joint, self.whole, tasks=self.plan.tasks, pieces=self.batch)

    @property
    def waiting_s(self) -> float:
        """Hands waiting for the machine, where labour is by elapsed time; else 0. [s]

        Its share of its batch's passes in closed form, less what hands do of them.

        Source: docs/formulas.md 9.
        """
        rules = self.plan.house.run
        if rules.labour != "elapsed":
            return 0.0
        runs = self.runs
        elapsed = sum(sum(pass_seconds(run, rules)) for run in runs) * rules.operators
        busy = sum(run.attend_s + run.before_s + run.after_s for run in runs)
        return max(0.0, elapsed - busy) * self.share

    @property
    def labour_s(self) -> float:
        """Hand and attendance of the good pieces, and waiting where that is charged. [s]"""
        return self.hand_s + self.attend_s + self.waiting_s

    @property
    def sample_machine_s(self) -> float:
        """Machine time of the samples. [s]"""
        if not self.sampled.pieces:
            return 0.0
        first = sum(machine_seconds_by(self.plan, self.sampled.first).values())
        return first * self.samples

    @property
    def sample_attend_s(self) -> float:
        """Standing by while samples are sewn. [s]"""
        return sum([p.attend_s for p in self.sampled.first]) * self.samples

    @property
    def sample_hand_s(self) -> float:
        """Handwork of the samples. [s]"""
        one = self.plan.hand_s + sum([p.hand_s for p in self.sampled.first])
        return (one + self.sampled.washing_s) * self.samples

    @property
    def names_s(self) -> float:
        """Typing and proofing names. [s]"""
        return float(sum(task.total_s for task in self.name_tasks))

    @property
    def remakes(self) -> float:
        """Pieces expected to be lost: remade, or of the customer's own goods short.

        Source: docs/formulas.md 10 and 14.
        """
        p = self.plan.spoil
        lost = self.quantity * p
        return lost if self.plan.line.goods.supplied_by == "customer" else lost / (1 - p)

    @property
    def repair_s(self) -> float:
        """Mending what is expected to go wrong and can be mended. [s]"""
        plan = self.plan
        share = plan.house.spoilage.repair_share
        return self.quantity * plan.spoil * share * plan.house.tasks["repair"].seconds

    @property
    def stitches_each(self) -> float:
        """Stitches of a piece, all placements, the mean over the line's pieces."""
        return sum(p.stitches * p.pieces for p in self.passes) / self.quantity


def machine_seconds_by(plan: LinePlan, passes: Sequence[Pass]) -> dict[str, float]:
    """Add up the machine time of some passes by machine: id to seconds.

    Parameters
    ----------
    plan : LinePlan
        Whatever the quantity.
    passes : Sequence[Pass]
        All of the order.

    Returns
    -------
    dict[str, float]
    """
    found: dict[str, float] = {}
    for placement, done in zip(plan.placements, passes, strict=True):
        machine_id = placement.making.machine_id
        found[machine_id] = found.get(machine_id, 0.0) + done.machine_s * done.pieces
    return found
