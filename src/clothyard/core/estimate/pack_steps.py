"""Packing what hands do between the blocks: when, for how long, with what."""

from __future__ import annotations

from clothyard.core.estimate.document import StepDone
from clothyard.core.job.document import Placement
from clothyard.core.time.steps import StepTime
from clothyard.core.units import round_half_up
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan


def when_words(at: float | None, blocks: int, *, stop: int | None = None) -> str:
    """Say when a step is done.

    Parameters
    ----------
    at : float, optional
        Blocks sewn by then; None after sewing.
    blocks : int
        Of the design.
    stop : int, optional
        The stop of the file that it is done at.
    """
    if at is None:
        return "after sewing"
    if stop is not None:
        return f"at stop {stop}"
    if at == 0:
        return "before the first block"
    return "after the last block" if at >= blocks else f"after block {at:.0f}"


def pack_steps(asked: Placement, placed: PlacementPlan, done: Pass) -> list[StepDone]:
    """Pack the steps of a placement, in the order of the work."""
    plan, hoopings = placed.steps, done.loads.hoopings
    each_piece = hoopings / done.pieces
    patches = {laid.step: laid for laid in reversed(plan.sheets)}  # a web comes after its patch
    blocks = len(placed.facts.blocks)

    def packed(time: StepTime) -> StepDone:
        step, laid = asked.steps[time.step], patches.get(time.step)
        share = each_piece if time.per_hooping else 1.0
        units = round(hoopings) if time.per_hooping else done.pieces
        return StepDone(
            step=time.step,
            at=time.at,
            when=when_words(time.at, blocks, stop=step.at_stop),
            label=time.label,
            per="hooping" if time.per_hooping else "piece",
            seconds=round_half_up(time.seconds, 2),
            piece_s=round_half_up(time.seconds * share, 2),
            piece_mm=[round_half_up(laid.width_mm, 2), round_half_up(laid.height_mm, 2)]
            if laid
            else None,
            count=units * step.count if laid else 0,
            amount=float(step.count) if step.hardware else 0.0,
            unit="each" if step.hardware else "",
        )

    return [packed(time) for time in (*plan.times, *plan.after)]
