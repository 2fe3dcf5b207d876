"""Advice on a line: its goods, its sample, its names, its blank on the shelf."""

from __future__ import annotations

from collections.abc import Iterator

from clothyard.core.advice.document import Advice
from clothyard.core.advice.say import OnLine, add_patch
from clothyard.core.figure_text import counted
from clothyard.core.job.document import NAME_MARK
from clothyard.core.price.cost import LineCost
from clothyard.core.price.priced import PricedLine
from clothyard.core.work.handwork import covered

SPARE_FROM = 0.03
"""Of goods with at least this share spoiled a spare is wanted."""


def of_sample(on: OnLine, cost: LineCost) -> Iterator[Advice]:
    """A new design on washable goods, and no sample.

    Parameters
    ----------
    on : OnLine
        The line, to put advice on.
    cost : LineCost
        At its quantity, order-level shares counted.
    """
    plan = on.plan
    many = cost.done.batch >= plan.house.sample.from_quantity
    washable = plan.placements[0].making.goods.washable
    if washable and plan.is_new and many and cost.done.sampled.pieces == 0:
        yield on.say(
            "sample-none",
            "note",
            "sample",
            "A new design on washable goods without a sample: what goes wrong goes wrong on all.",
            "Sew one and wash it first.",
            add_patch(f"{on.path}/sample", {"pieces": 1, "wash": True}),
        )


def of_goods(on: OnLine, cost: LineCost, priced: PricedLine) -> Iterator[Advice]:
    """Goods that are easily spoiled, worn on the skin, or certified.

    Parameters
    ----------
    on : OnLine
        The line, to put advice on.
    cost : LineCost
        At its quantity, order-level shares counted.
    priced : PricedLine
        At its price.
    """
    plan, line = on.plan, on.plan.line
    goods = plan.placements[0].making.goods
    if plan.spoil_reckoned > plan.spoil:
        yield on.say(
            "spoil-most",
            "warn",
            "goods",
            f"So many hoopings would spoil {plan.spoil_reckoned:.0%} of the pieces; "
            f"{plan.spoil:.0%} is counted, and the price is a guess.",
            "Use a larger hoop or fewer hoopings; or sew one and set what it spoils yourself.",
        )
    if goods.spoil >= SPARE_FROM and priced.spares == 0:
        single = cost.quantity == 1
        yield on.say(
            "spare-none",
            "note" if single else "warn",
            "goods",
            f"{goods.spoil:.0%} of such pieces are spoiled and there is no spare.",
            "Order two." if single else "Agree with the customer on spares, or a short count.",
        )
    if goods.skin and not all(covered(p.making, line.finishing) for p in plan.placements):
        yield on.say(
            "skin-cover",
            "note",
            "finishing",
            "Worn on the skin: the back of the stitches scratches.",
            "Iron on a soft cover.",
            add_patch(f"{on.path}/finishing", [*line.finishing, "soft-cover"]),
        )
    if "press" in line.finishing and goods.press == "none":
        kept = [task for task in line.finishing if task != "press"]
        yield on.say(
            "press-spoils",
            "warn",
            "finishing",
            f"{goods.label} is not pressed: heat spoils it. No pressing is counted.",
            "Leave pressing out.",
            add_patch(f"{on.path}/finishing", kept),
        )
    if "pins" in line.finishing and not goods.pierce:
        kept = [task for task in line.finishing if task != "pins"]
        yield on.say(
            "pierce",
            "warn",
            "finishing",
            f"Pins leave holes in {goods.label.lower()} that stay.",
            "Hold its margin with tape or clips.",
            add_patch(f"{on.path}/finishing", kept),
        )
    if line.goods.once_only:
        yield on.say(
            "once-only",
            "warn",
            "goods",
            "It cannot be bought again: it is sewn slower, with a person by all the time.",
            "Sew twice on scrap first, baste it down, and agree in writing what happens if it "
            "spoils.",
        )
    if goods.special:
        yield on.say(
            "wear-special",
            "warn",
            "goods",
            "Sewing may reduce a reflective area or end a certificate.",
            "Ask the maker of the goods before sewing.",
        )


def of_terms(on: OnLine, cost: LineCost) -> Iterator[Advice]:
    """What the terms of a bought design, or of the customer's own, let be sewn.

    Parameters
    ----------
    on : OnLine
        The line, to put advice on.
    cost : LineCost
        At its quantity, order-level shares counted.
    """
    for at, placement in enumerate(on.plan.line.placements):
        origin = placement.design.origin
        if origin is None:
            continue
        pieces = cost.quantity + cost.order.alike
        where = f"placements[{at}].design.origin"
        if origin.pieces_most is not None and pieces > origin.pieces_most:
            yield on.say(
                "design-terms",
                "warn",
                where,
                f"The design's terms let {origin.pieces_most:,} pieces be sold; here are "
                f"{pieces:,}.",
                "Ask its maker, or buy the right to more.",
            )
        elif origin.terms:
            yield on.say(
                "design-terms",
                "note",
                where,
                f"The design's terms: {origin.terms}",
                "Keep to them, and tell the customer what of them is theirs to keep.",
            )


def of_asked(on: OnLine, priced: PricedLine) -> Iterator[Advice]:
    """Names that no design uses; an agreed price that no longer holds.

    Parameters
    ----------
    on : OnLine
        The line, to put advice on.
    priced : PricedLine
        At its price.
    """
    plan, line = on.plan, on.plan.line
    if line.names and not any(p.own for p in plan.placements):
        yield on.say(
            "names-unused",
            "note",
            "names",
            f"{counted(len(line.names), 'name')}, and no design has words with {NAME_MARK} in "
            "them.",
            f"Add a placement with the words {NAME_MARK}, or remove the names.",
        )
    if line.agreed is not None and priced.method != "agreed" and line.unit_price is None:
        yield on.say(
            "agreed-over",
            "note",
            "price",
            f"The agreed price of {line.agreed.unit_price} held until {line.agreed.until}.",
            "Agree on a new one; this is the price worked out.",
        )


def of_blank(on: OnLine, cost: LineCost, priced: PricedLine) -> Iterator[Advice]:
    """What does not agree with the blank as the shelf has it.

    Parameters
    ----------
    on : OnLine
        The line, to put advice on.
    cost : LineCost
        At its quantity, order-level shares counted.
    priced : PricedLine
        At its price.
    """
    goods, house = on.plan.line.goods, on.plan.house
    if goods.supplied_by == "customer" or goods.blank is None:
        return
    blank = house.blanks[goods.blank]
    if blank.goods != goods.class_:
        made, kept = house.goods[goods.class_].label, house.goods[blank.goods].label
        yield on.say(
            "blank-differs",
            "note",
            "goods",
            f"On the shelf {blank.label} is {kept.lower()}; here it is made as {made.lower()}.",
            f"Make it as {kept.lower()}.",
            [{"op": "replace", "path": f"{on.path}/goods/class", "value": blank.goods}],
        )
    if not cost.goods.each and priced.pricer.coster.supply.source != "typed":
        yield on.say(
            "blank-unpriced",
            "warn",
            "goods",
            f"{blank.label} has no price on the shelf: the goods are reckoned at nothing.",
            "Enter its prices on the shelf, or type what one costs here.",
        )
    yield from _missing_cells(on)


def _listed(text: str, sep: str | None) -> list[str]:
    return [part.strip() for part in text.split(sep) if part.strip()]


def _missing_cells(on: OnLine) -> Iterator[Advice]:
    """Sizes and colours that the blank does not come in."""
    line = on.plan.line
    blank = on.plan.house.blanks[line.goods.blank or ""]
    sizes, colours = _listed(blank.sizes, None), _listed(blank.colours, ",")
    for asked, known, unsaid, what in (
        ({c.size.strip() for c in line.cells} - {""}, sizes, "one-size", "size"),
        ({c.colour.strip() for c in line.cells} - {""}, colours, "any", "colour"),
    ):
        folded = {name.casefold() for name in known}
        missing = sorted(name for name in asked if name.casefold() not in folded)
        if missing and unsaid not in folded:
            yield on.say(
                "cell-none",
                "warn",
                "cells",
                f"{blank.label} does not come in {what} {', '.join(missing)}: the shelf has "
                f"{', '.join(known)}.",
                "Ask the supplier, or choose one that is there.",
            )
