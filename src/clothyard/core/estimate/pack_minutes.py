"""Packing one piece's minutes: each stretch of its work, in the order it is done."""

from __future__ import annotations

from collections.abc import Iterator

from clothyard.core.colours import colour_name
from clothyard.core.estimate.document import Minute
from clothyard.core.units import round_half_up
from clothyard.core.work.handwork import TaskUse
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan


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


def _hand(task: TaskUse, at: int | None, share: float, done: Pass | None) -> Minute:
    seconds = task.total_s * share
    if done is not None:
        seconds *= done.practice if task.practised else 1.0
        seconds *= done.loads.hoopings / done.pieces if task.per == "hooping" else 1.0
    return _minute(at, "hand", task.label, seconds, 0.0)


def _at_machine(placed: PlacementPlan, done: Pass, at: int, share: float) -> Iterator[Minute]:
    """The machine's events: sewing told by colour, all else as it is."""
    whole = sum(placed.needle_s) or 1.0
    known = zip(placed.facts.blocks, placed.facts.colour_keys, strict=True)
    names = [colour_name(block.colour) if block.colour else key for block, key in known]
    blocks = list(zip(names, placed.needle_s, strict=True))
    for event in done.events:
        if event.name != "sew":
            yield _minute(
                at, "machine", event.label, event.machine_s * share, event.operator_s * share
            )
            continue
        for name, needle_s in blocks:
            part = needle_s / whole * share
            yield _minute(at, "sew", f"Sew {name}", event.machine_s * part, event.operator_s * part)


def pack_minutes(done: LineDone) -> list[Minute]:
    """List a piece's stretches of work: before the needle, at the machine, after it, packing.

    Their hand, sewing and machine seconds add up to the piece's minutes; what an operator does
    while the machine loads counts as attending.

    Source: docs/formulas.md 7 and 8.
    """
    tasks = done.plan.tasks
    found = [_hand(t, None, 1.0, None) for t in tasks if t.before]
    for at, (placed, each) in enumerate(done.placed):
        share = each.pieces / done.quantity
        found += [_hand(t, at, share, each) for t in placed.tasks if t.before]
        found += _at_machine(placed, each, at, share)
        found += [_hand(t, at, share, each) for t in placed.tasks if not t.before]
        if each.winding_s:
            found.append(_minute(at, "hand", "Wind bobbins", each.winding_s * share, 0.0))
    found += [_hand(t, None, 1.0, None) for t in tasks if not t.before]
    return [minute for minute in found if minute.seconds or minute.attend_s]
