"""The working of a line: every figure, complete enough to recompute it by hand."""

from __future__ import annotations

from clothyard.core.estimate.figures import LineFigures, OrderFigures
from clothyard.core.estimate.workings import of_cost, of_price, of_thread, of_time
from clothyard.core.estimate.workings.of_time import Where
from clothyard.core.estimate.workings.sheet import Sheet
from clothyard.core.working import Working


def _placement(sheet: Sheet, at: Where) -> None:
    placed, done, prefix = at.placed, at.done, at.prefix
    of_thread.thickness(sheet, placed, prefix)
    of_thread.stitches(sheet, placed, done, prefix)
    of_thread.thread(sheet, placed, done, prefix)
    of_thread.bobbins(sheet, placed, done, prefix)
    of_thread.cuts(sheet, placed, done, prefix)
    of_time.needle_time(sheet, at)
    of_time.practice(sheet, at)
    of_time.events(sheet, at)


def line_working(figures: LineFigures, whole: OrderFigures | None, currency: str) -> list[Working]:
    """Write the working of a line's figures, in the order they depend on each other.

    Parameters
    ----------
    figures : LineFigures
    whole : OrderFigures or None
        The order's charges and elapsed time stand with the first line.
    currency : str

    Returns
    -------
    list of Working
        Ids are stable: "placements[0].needle", "cost.backing", "price.unit" … An input that was
        worked out names its working; all others are facts, or standards with their key.
    """
    sheet, done = Sheet(figures.plan.house, currency), figures.cost.done
    ats = [Where(placed, each, f"placements[{i}]") for i, (placed, each) in enumerate(done.placed)]
    for at in ats:
        _placement(sheet, at)
    of_time.hand_time(sheet, done, ats, done.quantity, "")
    of_cost.goods(sheet, figures)
    of_cost.thread_and_cuts(sheet, figures.cost, ats)
    of_cost.small_things(sheet, figures, ats)
    of_cost.times(sheet, figures, ats)
    of_cost.sample(sheet, figures)
    of_cost.set_up(sheet, figures)
    of_cost.overhead(sheet, figures)
    of_cost.spoilage(sheet, figures)
    of_price.unit_cost(sheet, figures)
    of_price.sure(sheet, figures)
    of_price.ways(sheet, figures, ats)
    of_price.price(sheet, figures)
    if whole:
        of_price.charges(sheet, figures, whole.charges)
        of_price.elapsed(sheet, whole)
    return sheet.entries
