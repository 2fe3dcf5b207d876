"""All advice on a line, stops first."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from clothyard.core.advice import line, place, price, steps, stitches
from clothyard.core.advice.document import Advice
from clothyard.core.advice.names import of_names
from clothyard.core.advice.say import OnLine, OnPlace
from clothyard.core.job.document import Job
from clothyard.core.price.cost import LineCost
from clothyard.core.price.priced import PricedLine
from clothyard.core.work.line_plan import LinePlan

MAY_OVERRULE = {"price-floor", "letter-small"}
"""Stops that a reason can lift: goodwill, charity, a customer who was told."""

ON_PLACES: tuple[Callable[[OnPlace], Iterator[Advice]], ...] = (
    place.of_methods,
    place.of_sharing,
    place.of_place_order,
    place.of_layout,
    place.of_cuts,
    stitches.of_letters,
    stitches.of_columns,
    stitches.of_lengths,
    stitches.of_density,
    stitches.of_order,
    stitches.of_threads,
    stitches.of_scale,
    place.of_seams,
    place.of_bobbins,
    place.of_file,
    place.of_trims,
    place.of_room,
    steps.of_layers,
    steps.of_applique,
    steps.of_zips,
    steps.of_order,
    steps.of_patches,
    steps.of_overlap,
    of_names,
)


def overruled(found: list[Advice], job: Job, line_id: str) -> list[Advice]:
    """Mark the advice that the job goes against, with its reason.

    A reason lifts a price under the floor; what cannot be made stays a stop.

    Parameters
    ----------
    found : list of Advice
        On one line.
    job : Job
    line_id : str
        The line's.
    """
    marked = []
    for advice in found:
        reason = next(
            (
                o.reason
                for o in job.overruled
                if (o.code, o.line) == (advice.code, line_id)
                and o.where in {"", advice.where, advice.of}
            ),
            "",
        )
        lifted = advice.level == "note" or _may_go_against(advice)
        marked.append(
            advice.model_copy(update={"overruled": reason}) if reason and lifted else advice
        )
    return marked


def _on_line(on: OnLine, cost: LineCost, priced: PricedLine) -> Iterator[Advice]:
    yield from line.of_sample(on, cost)
    yield from line.of_goods(on, cost, priced)
    yield from line.of_terms(on, cost)
    yield from line.of_asked(on, priced)
    yield from line.of_blank(on, cost, priced)
    yield from price.of_currency(on, priced)
    yield from price.of_floor(on, cost, priced)
    yield from price.of_loss(on, cost, priced)
    yield from price.of_crosschecks(on, cost, priced)
    yield from price.of_tiers(on, priced)


def advise(plan: LinePlan, cost: LineCost, priced: PricedLine, *, index: int) -> list[Advice]:
    """List the advice on a line, stops first.

    Parameters
    ----------
    plan, cost, priced : LinePlan, LineCost, PricedLine
        The line, at its quantity.
    index : int
        Of the line in the job: fixes are patches on the job.
    """
    found: list[Advice] = []
    for number, done in enumerate(cost.passes):
        on = OnPlace(plan, done, index, number)
        for advice in ON_PLACES:
            found += advice(on)
    found += _on_line(OnLine(plan, index), cost, priced)
    rank = {"stop": 0, "warn": 1, "note": 2}
    told = sorted(found, key=lambda advice: rank[advice.level])
    return [advice.model_copy(update={"against": _may_go_against(advice)}) for advice in told]


def _may_go_against(advice: Advice) -> bool:
    """Whether a reason changes anything: a warning, or a stop that a reason lifts."""
    return advice.level == "warn" or advice.code in MAY_OVERRULE
