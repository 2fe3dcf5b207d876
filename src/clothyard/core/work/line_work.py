"""A line's work at any quantity: its batch's passes, samples, names."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from clothyard.core.record import record
from clothyard.core.work.handwork import name_tasks
from clothyard.core.work.line_done import LineDone, Sampled
from clothyard.core.work.line_plan import LinePlan
from clothyard.core.work.passes import Pass, Passes, PatchKey, cut_together, share_of


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

    def as_one(self, plan: LinePlan) -> LineWork:
        """Make the work of the batch as one line, of one of its lines' goods."""
        line = plan.line.model_copy(update={"quantity": self.pieces, "cells": ()})
        joint = replace(self.joint, line=line)
        return LineWork(joint, batch=Batch((joint,), joint, self.passes))

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
        known = like.passes if like else (None,) * len(plan.placements)
        self.plan, self.elsewhere = plan, elsewhere or {}
        self.batch = batch or Batch(
            (plan,),
            plan,
            tuple(
                was if was and was.plan is put else Passes(put, plan.house, like=was)
                for put, was in zip(plan.placements, known, strict=True)
            ),
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
