"""A line's work at any quantity: its passes, samples, names, and what is expected to go wrong."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from clothyard.core.record import record
from clothyard.core.work.handwork import TaskUse, name_tasks
from clothyard.core.work.line_plan import LinePlan
from clothyard.core.work.passes import Pass, Passes, PatchKey, cut_together, share_of
from clothyard.core.work.placement_plan import PlacementPlan
from clothyard.core.work.run import pass_seconds, passes_of


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
    def waiting_s(self) -> float:
        """Hands waiting for the machine, where labour is by elapsed time; else 0. [s]

        Its share of its batch's passes in closed form, less what hands do of them.

        Source: docs/formulas.md 9.
        """
        rules = self.plan.house.run
        if rules.labour != "elapsed":
            return 0.0
        runs = passes_of(self)
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
        if plan.line.goods.supplied_by == "customer":
            return 0.0
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


def carried(passes: tuple[Pass, ...], plan: LinePlan) -> tuple[Pass, ...]:
    """Carry short bobbin ends to the next pass that takes them.

    Parameters
    ----------
    passes : tuple of Pass, shape (n_placements,)
    plan : LinePlan

    Returns
    -------
    tuple of Pass
        Their waste less by the ends that a later pass sews from.

    Source
    ------
    docs/formulas.md 3: to the next pass that takes it, else from `shelf_m` on to the shelf.
    """
    if len(passes) == 1 or not any(each.waste_m for each in passes):
        return passes
    found, shelf_m = list(passes), plan.house.bobbin_plan.shelf_m
    for at, done in enumerate(passes):
        left = (
            [
                each
                for _, run in done.bobbins
                for each, number in run.ends_m
                if each < shelf_m
                for _ in range(min(number, done.pieces))
            ]
            if done.waste_m
            else []
        )
        for later in range(at + 1, len(passes)):
            if not left or not _same_bobbin(plan, at, later):
                continue
            use, pieces = passes[later].bobbin_m, passes[later].pieces
            taken = [end for end in left if use <= end][:pieces] if use else []
            rests = sum(end % use for end in taken)
            found[at] = replace(found[at], waste_m=max(0.0, found[at].waste_m - sum(taken)))
            found[later] = replace(found[later], waste_m=found[later].waste_m + rests)
            left = [end for end in left if end not in taken]
    return tuple(found)


def _same_bobbin(plan: LinePlan, one: int, other: int) -> bool:
    first, second = plan.placements[one].making, plan.placements[other].making
    return first.bobbin == second.bobbin != "match" and (
        first.machine.bobbin == second.machine.bobbin
    )


@record
class Batch:
    """Lines that are sewn as one.

    `joint` is the one line they are sewn as, `passes` its placements at any number of pieces.
    """

    lines: tuple[LinePlan, ...]
    joint: LinePlan
    passes: tuple[Passes, ...]

    @property
    def pieces(self) -> int:
        """Of all lines."""
        return sum(plan.line.quantity for plan in self.lines)

    def whole(self, quantity: int) -> tuple[Pass, ...]:
        """Work its passes out, patches cut for each by itself. Shape (n_placements,)."""
        return carried(tuple(p.of(p.plan.pieces_of(quantity)) for p in self.passes), self.joint)


class LineWork:
    """A line's work at any quantity, each pass worked out once.

    Parameters
    ----------
    plan : LinePlan
    batch : Batch, optional
        What it is sewn with; None for a line by itself.
    like : LineWork, optional
        One that shares placements with this, whose passes are known.
    elsewhere : mapping of PatchKey to int
        Patches that the order's other lines cut, those of its batch left out.
    """

    def __init__(
        self,
        plan: LinePlan,
        *,
        batch: Batch | None = None,
        like: LineWork | None = None,
        elsewhere: Mapping[PatchKey, int] | None = None,
    ):
        known = {id(p.plan): p for p in like.passes} if like else {}
        self.plan, self.elsewhere = plan, elsewhere or {}
        self.batch = batch or Batch(
            (plan,),
            plan,
            tuple(known.get(id(put)) or Passes(put, plan.house) for put in plan.placements),
        )
        self.alike = self.batch.pieces - plan.line.quantity
        self._own = tuple(
            None if put is of_batch or put.own is None else Passes(put, plan.house)
            for put, of_batch in zip(plan.placements, self.batch.joint.placements, strict=True)
        )
        self._first: tuple[Pass, ...] | None = None

    @property
    def passes(self) -> tuple[Passes, ...]:
        """Its batch's, shape (n_placements,)."""
        return self.batch.passes

    def first(self) -> tuple[Pass, ...]:
        """Work out one first piece: unpractised, its own cut. Shape (n_placements,).

        Source: docs/formulas.md 14.
        """
        if self._first is None:
            self._first = tuple(p.of(1, practised=False) for p in self.passes)
        return self._first

    def samples(self, quantity: int) -> Sampled:
        """Say how many samples are sewn of so many pieces, and what each takes.

        Source: docs/formulas.md 8 and 14: stated samples at every tier; the default rule at each
        tier's own quantity.
        """
        plan, stated = self.plan, self.plan.line.sample
        if stated is not None:
            pieces, wash = stated.pieces, stated.wash
        else:
            rule, wash = plan.house.sample, False
            pieces = rule.pieces if plan.is_new and quantity >= rule.from_quantity else 0
        more = wash and "wash" not in plan.line.finishing
        washing = plan.house.tasks["wash"].seconds if more else 0.0
        return Sampled(pieces, wash, self.first() if pieces else (), washing)

    def at(self, quantity: int) -> LineDone:
        """Work out all that is done at a quantity.

        Parameters
        ----------
        quantity : int
            Good pieces, 1 or more.
        """
        plan, batch = self.plan, quantity + self.alike
        joint = self.batch.joint
        whole = cut_together(self.batch.whole(batch), joint.placements, self.elsewhere)
        return LineDone(
            plan=plan,
            quantity=quantity,
            batch=batch,
            together=self.batch.lines,
            joint=joint,
            passes=self._shares(whole, quantity) if self.alike else whole,
            whole=whole,
            sampled=self.samples(batch),
            name_tasks=tuple(name_tasks(plan.house, plan.names_of(quantity))),
        )

    def _shares(self, whole: tuple[Pass, ...], quantity: int) -> tuple[Pass, ...]:
        """Its share of each of the batch's passes: where names differ, with its own names."""
        found = []
        for placed, own, each in zip(self.plan.placements, self._own, whole, strict=True):
            pieces = placed.pieces_of(quantity)
            found.append(own.in_batch(each, pieces) if own else share_of(each, pieces))
        return tuple(found)
