"""Packing one piece's minutes: each stretch of its work, in the order it is done."""

from __future__ import annotations

from collections.abc import Iterator

from clothyard.core.colours import colour_name
from clothyard.core.price.line import LineCost, PassCost
from clothyard.core.price.plan import LinePlan, PlacementPlan
from clothyard.core.result import Minute
from clothyard.core.run import BEFORE
from clothyard.core.time.handwork import TaskUse
from clothyard.core.units import round_half_up


def _minute(
    placement: int | None, kind: str, label: str, seconds: float, attend_s: float
) -> Minute:
    return Minute.model_validate(
        {
            "placement": placement,
            "kind": kind,
            "label": label,
            "seconds": round_half_up(seconds, 2),
            "attend_s": round_half_up(attend_s, 2),
        }
    )


def _hand(task: TaskUse, at: int | None, share: float, done: PassCost | None) -> Minute:
    seconds = task.total_s * share
    if done is not None:
        seconds *= done.practice if task.practised else 1.0
        seconds *= done.loads.hoopings / done.pieces if task.per == "hooping" else 1.0
    return _minute(at, "hand", task.label, seconds, 0.0)


def _at_machine(placed: PlacementPlan, done: PassCost, at: int, share: float) -> Iterator[Minute]:
    """The machine's events: sewing told by colour, all else as it is."""
    whole = sum(placed.needle_s) or 1.0
    known = zip(placed.facts.blocks, placed.facts.colour_keys, strict=True)
    names = [colour_name(block.colour) if block.colour else key for block, key in known]
    blocks = list(zip(names, placed.needle_s, strict=True))
    for event in done.events:
        if event.name != "sew":
            yield _minute(at, "machine", event.label, event.machine_s * share,
                          event.operator_s * share)  # fmt: skip
            continue
        for name, needle_s in blocks:
            part = needle_s / whole * share
            yield _minute(at, "sew", f"Sew {name}", event.machine_s * part,
                          event.operator_s * part)  # fmt: skip


def pack_minutes(plan: LinePlan, cost: LineCost) -> list[Minute]:
    """List a piece's stretches of work: before the needle, at the machine, after it, packing.

    Their hand, sewing and machine seconds add up to the piece's minutes; what an operator does
    while the machine loads counts as attending.

    Source: docs/formulas.md 7 and 8.
    """
    found = [_hand(t, None, 1.0, None) for t in plan.tasks if t.task in BEFORE]
    for at, (placed, done) in enumerate(zip(plan.placements, cost.passes, strict=True)):
        share = done.pieces / cost.quantity
        found += [_hand(t, at, share, done) for t in placed.tasks if t.task in BEFORE]
        found += _at_machine(placed, done, at, share)
        found += [_hand(t, at, share, done) for t in placed.tasks if t.task not in BEFORE]
        if done.winding_s:
            found.append(_minute(at, "hand", "Wind bobbins", done.winding_s * share, 0.0))
    found += [_hand(t, None, 1.0, None) for t in plan.tasks if t.task not in BEFORE]
    return [minute for minute in found if minute.seconds or minute.attend_s]
