"""Goods: what blanks cost at a quantity, by supplier's steps, packs and delivery, and spares."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from decimal import Decimal

from clothyard.core.errors import unknown_id
from clothyard.core.house.document import Blank, House, Spoilage
from clothyard.core.job.document import Cell, Job, Line
from clothyard.core.price.spares import spares_needed
from clothyard.core.record import record

ZERO = Decimal(0)

Steps = tuple[tuple[int, Decimal], ...]
"""What one costs from each number on, the smallest number first."""


@record
class Supply:
    """How a line's blanks are bought.

    Attributes
    ----------
    steps : tuple of (int, Decimal)
        Mean price of a blank over the line's cells, from each number on; the first is the least
        number that is sold.
    style : tuple of (int, Decimal)
        The same over every line of this blank: by it the whole purchase is chosen.
    cells : tuple of Decimal
        Each cell's price at the first step.
    pack : int
    delivery : Decimal
        The line's own as typed, or the supplier's whole one.
    blank : str or None
        Its id on the shelf.
    supplier : str or None
        Whose delivery is shared; None for the line's own.
    source : str
        Where the price comes from, in words.
    spares : int
        Pieces to have beyond the line's own quantity, before whole packs.
    spares_of : tuple of int
        The same of each of its cells; of all its pieces where it has none.
    alike, before : int
        Pieces and spares of other lines of the same blank, and those in lines before this one.
    others : Decimal
        What other lines buy from the same supplier.
    lines : int
        Lines that are bought from the same supplier, this one too.
    free_from : Decimal
        Goods of this much come without delivery; 0 for never.
    days : int or None
        From the order to the parcel.
    """

    steps: Steps
    style: Steps
    cells: tuple[Decimal, ...]
    pack: int = 1
    delivery: Decimal = ZERO
    blank: str | None = None
    supplier: str | None = None
    source: str = "typed"
    spares: int = 0
    spares_of: tuple[int, ...] = ()
    alike: int = 0
    before: int = 0
    others: Decimal = ZERO
    lines: int = 1
    free_from: Decimal = ZERO
    days: int | None = None


@record
class GoodsBought:
    """Blanks of a line at a quantity.

    `bought` may be more than the pieces, where that costs less or packs hold more; `each` is the
    mean price of one bought, which holds from `step` on; `delivery` is the line's share; `total`
    is what the pieces cost with it: what is left of a pack goes to the shelf. Not rounded.
    """

    bought: int
    each: Decimal
    step: int
    delivery: Decimal
    total: Decimal


OWN = Supply(steps=((1, ZERO),), style=((1, ZERO),), cells=(), source="customer's own")
"""The customer's own goods: they cost nothing, and nothing is bought."""


def _price(steps: Steps, bought: int) -> tuple[int, Decimal]:
    """Find the step that holds for a number bought: (from, price)."""
    found = steps[0]
    for step in steps:
        if step[0] <= bought:
            found = step
    return found


def _style_bought(supply: Supply, pieces: int) -> int:
    """Say how many blanks of a style are bought for so many pieces: the cheapest whole packs."""
    pack, asked = supply.pack, max(pieces, supply.style[0][0])
    if len(supply.style) == 1:
        return math.ceil(asked / pack) * pack
    wanted = [asked, *(n for n, _ in supply.style if n > asked)]
    packs = [math.ceil(n / pack) * pack for n in wanted]
    return min(packs, key=lambda n: (n * _price(supply.style, n)[1], n))


def goods_bought(supply: Supply, quantity: int, spares: int = 0) -> GoodsBought:
    """Buy blanks for a quantity and its spares as cheaply as steps and packs allow.

    Parameters
    ----------
    supply : Supply
    quantity, spares : int
        Good pieces of the line, and those to have beyond them.

    Returns
    -------
    GoodsBought
        The least, over m ≥ all pieces and spares of the style in whole packs, of m × price(m), of
        which the line has its share; and its share of the supplier's one delivery, by what is
        bought.

    Source
    ------
    docs/formulas.md 11. The customer's own cost nothing.
    """
    need = quantity + spares
    whole = need + supply.alike
    m = _style_bought(supply, whole)
    step, each = _price(supply.steps, m)
    # shares in whole blanks that add up to m, whatever the lines
    bought = (supply.before + need) * m // whole - supply.before * m // whole
    goods = bought * each
    delivery = supply.delivery
    together = goods + supply.others
    if supply.supplier is not None:
        if supply.free_from and together >= supply.free_from:
            delivery = ZERO
        elif together:
            delivery = delivery * goods / together
        else:
            delivery = delivery / supply.lines
    return GoodsBought(bought, each, step, delivery, quantity * each + delivery)


def _step_price(
    steps: Mapping[int, Decimal], cell: Cell, dearer: Mapping[str, Decimal], number: int
) -> Decimal:
    """What a blank of a cell costs from a number on: its own price follows the steps."""
    base, here = steps[min(steps)], steps[number]
    if cell.unit_cost is None:
        return here + dearer.get(cell.size.strip().casefold(), ZERO)
    return cell.unit_cost * (here / base if base else 1)


def _mean_steps(
    steps: Mapping[int, Decimal], cells: Sequence[Cell], dearer: Mapping[str, Decimal]
) -> Steps:
    if not cells:
        return tuple(sorted(steps.items()))
    pieces = sum(cell.quantity for cell in cells)
    return tuple(
        (n, sum((c.quantity * _step_price(steps, c, dearer, n) for c in cells), ZERO) / pieces)
        for n in sorted(steps)
    )


def _typed_steps(line: Line) -> dict[int, Decimal]:
    goods = line.goods
    first = goods.price_breaks[0].unit_cost if goods.price_breaks else ZERO
    steps = {1: first if goods.unit_cost is None else goods.unit_cost}
    return steps | {b.quantity: b.unit_cost for b in goods.price_breaks}


def _supply(line: Line, house: House, where: str) -> Supply:
    """Say how one line's blanks are bought, on its own: what is typed overrides the shelf."""
    goods = line.goods
    if goods.supplied_by == "customer":
        return OWN
    known = house.goods.get(goods.class_)
    if known is not None and known.made and goods.unit_cost is None and not goods.price_breaks:
        return replace(OWN, source="made in the hoop: no blank is bought")
    if goods.blank is None:
        return _from_steps(line, _typed_steps(line), {}, Supply((), (), ()))
    if goods.blank not in house.blanks:
        raise unknown_id(goods.blank, house.blanks, where=f"{where}.goods.blank", what="blank")
    blank = house.blanks[goods.blank]
    supplier = house.suppliers[blank.supplier]
    shelf = Supply(
        (),
        (),
        (),
        pack=blank.pack,
        delivery=supplier.delivery,
        blank=goods.blank,
        supplier=blank.supplier,
        source=f"the shelf: {blank.label}",
        free_from=supplier.free_from,
        days=supplier.days,
    )
    if goods.unit_cost is not None or goods.price_breaks:
        steps = _typed_steps(line)
        if goods.unit_cost is None:
            steps[1] = _shelf_steps(blank).get(1, steps[1])
        return _from_steps(line, steps, {}, replace(shelf, source="typed"))
    return _from_steps(line, _shelf_steps(blank), blank.dearer, shelf)


def _shelf_steps(blank: Blank) -> dict[int, Decimal]:
    return {int(number): price for number, price in blank.prices.items()}


def _from_steps(
    line: Line, steps: Mapping[int, Decimal], dearer: Mapping[str, Decimal], like: Supply
) -> Supply:
    goods = line.goods
    sizes = {size.casefold(): more for size, more in dearer.items()}
    mean = _mean_steps(steps, line.cells, sizes)
    own = goods.delivery is not None or like.supplier is None
    return replace(
        like,
        steps=mean,
        style=mean,
        cells=tuple(_step_price(steps, cell, sizes, min(steps)) for cell in line.cells),
        pack=goods.pack or like.pack,
        delivery=(goods.delivery or ZERO) if own else like.delivery,
        supplier=None if own else like.supplier,
    )


def _style_steps(supplies: Sequence[tuple[Supply, int]]) -> Steps:
    """Mean the steps of the lines of one style by their pieces."""
    pieces = sum(n for _, n in supplies)
    return tuple(
        (number, sum((s.steps[k][1] * n for s, n in supplies), ZERO) / pieces)
        for k, (number, _) in enumerate(supplies[0][0].steps)
    )


def plan_supplies(
    job: Job, house: House, spares: Callable[[Sequence[Supply]], Sequence[tuple[int, ...]]]
) -> list[Supply]:
    """Say how each line's blanks are bought: lines of one blank, and of one supplier, together.

    Parameters
    ----------
    job : Job
        As asked.
    house : House
        The standards.
    spares : callable
        Given how each line's blanks are bought by itself, says how many each of its cells has
        beyond its quantity.

    Returns
    -------
    list of Supply
        One a line. Lines whose price or pack is typed are bought by themselves, but come in the
        same parcel unless their delivery is typed too.

    Raises
    ------
    BadInput
        If a line names a blank that is not on the shelf.

    Source
    ------
    docs/formulas.md 11.
    """
    found = [_supply(line, house, f"lines[{i}]") for i, line in enumerate(job.lines)]
    found = [
        replace(supply, spares=sum(cells), spares_of=cells)
        for supply, cells in zip(found, spares(found), strict=True)
    ]
    more = [supply.spares for supply in found]
    counts = [line.quantity + n for line, n in zip(job.lines, more, strict=True)]
    styles: dict[str, list[int]] = {}
    for i, supply in enumerate(found):
        if supply.blank and supply.source != "typed" and job.lines[i].goods.pack is None:
            styles.setdefault(supply.blank, []).append(i)
    for lines in styles.values():
        if len(lines) == 1:
            continue
        style = _style_steps([(found[i], counts[i]) for i in lines])
        whole, before = sum(counts[i] for i in lines), 0
        for i in lines:
            found[i] = replace(found[i], style=style, alike=whole - counts[i], before=before)
            before += counts[i]
    bought = [
        goods_bought(supply, line.quantity, supply.spares)
        for supply, line in zip(found, job.lines, strict=True)
    ]
    parcels: dict[str, list[int]] = {}
    for i, supply in enumerate(found):
        if supply.supplier is not None:
            parcels.setdefault(supply.supplier, []).append(i)
    for lines in parcels.values():
        goods = {i: bought[i].bought * bought[i].each for i in lines}
        for i in lines:
            others = sum((g for k, g in goods.items() if k != i), ZERO)
            found[i] = replace(found[i], others=others, lines=len(lines))
    return found


def spares_at(line: Line, quantity: int, *, spoil: float, rules: Spoilage) -> int:
    """Return the spares to have of one kind at a quantity, before whole packs.

    Parameters
    ----------
    line : Line
        As asked.
    quantity : int
        Pieces.
    spoil : float
        Chance that a piece is spoiled, 0 to 1.
    rules : Spoilage
        Of spoilage and spares.

    Returns
    -------
    int
        None of the customer's own goods.

    Source
    ------
    docs/formulas.md 10.
    """
    if line.goods.supplied_by == "customer":
        return 0
    [found] = spares_needed([quantity], spoil=spoil, confidence=rules.confidence)
    return found


def in_packs(quantity: int, spares: int, supply: Supply) -> int:
    """Return the spares with what a pack holds beyond the pieces.

    Source: docs/formulas.md 10.
    """
    if supply.pack == 1:
        return spares
    return math.ceil((quantity + spares) / supply.pack) * supply.pack - quantity


def spares_of_batch(
    lines: Sequence[tuple[Line, Supply]], *, spoil: float, rules: Spoilage
) -> list[tuple[int, ...]]:
    """Return the spares to buy of each cell of each line of a batch: over all of them as one.

    Parameters
    ----------
    lines : sequence of (Line, Supply)
        That are sewn as one batch, at their quantities.
    spoil : float
        Chance that a piece is spoiled, 0 to 1.
    rules : Spoilage
        Of spoilage and spares.

    Returns
    -------
    list of tuple of int, one a line
        Of each of its cells, of all its pieces where it has none; before whole packs; none of the
        customer's own goods.

    Source
    ------
    docs/formulas.md 8 and 10.
    """
    if lines[0][0].goods.supplied_by == "customer":
        return [(0,) * max(1, len(line.cells)) for line, _ in lines]
    cells: list[int] = []
    costs: list[float] = []
    owners: list[int] = []
    for at, (line, supply) in enumerate(lines):
        own = [cell.quantity for cell in line.cells] or [line.quantity]
        prices = [float(price) for price in supply.cells] or [float(supply.steps[0][1])] * len(own)
        cells, costs, owners = cells + own, costs + prices, owners + [at] * len(own)
    spares = spares_needed(cells, spoil=spoil, confidence=rules.confidence, costs=costs)
    return [
        tuple(spare for own, spare in zip(owners, spares, strict=True) if own == at)
        for at in range(len(lines))
    ]
