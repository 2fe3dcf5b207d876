"""Packing a line into the Estimate: each figure rounded once, for show."""

from __future__ import annotations

from dataclasses import replace
from decimal import ROUND_CEILING, Decimal
from functools import partial
from typing import Any

from clothyard.core.colours import colour_of
from clothyard.core.estimate.document import (
    BreakEven,
    Cost,
    CrossChecks,
    EstimateLine,
    LinePrice,
    Method,
    NextStep,
    Other,
    PieceCost,
    SchoolOffered,
    Supplied,
    Tier,
)
from clothyard.core.estimate.figures import LineFigures, OrderFigures
from clothyard.core.estimate.pack_cloth import pack_cuts, pack_places
from clothyard.core.estimate.pack_materials import pack_materials
from clothyard.core.estimate.pack_minutes import pack_minutes
from clothyard.core.estimate.pack_piece import (
    pack_bobbins,
    pack_designs,
    pack_needles,
    pack_piece,
    pack_pieces,
)
from clothyard.core.estimate.pack_sure import pack_sure
from clothyard.core.estimate.workings.line import line_working
from clothyard.core.figure_text import counted
from clothyard.core.methods.bobbin import POLICY_WHY
from clothyard.core.methods.making import Choice
from clothyard.core.price.digitising import digitising_cost, digitising_even
from clothyard.core.units import money_text, round_half_up, share_text
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.looking import scrap_words
from clothyard.core.work.passes import Pass


def _methods(figures: LineFigures, currency: str) -> list[Method]:
    others: dict[tuple[int, str], list[Other]] = {}
    for differs in figures.others:
        others.setdefault((differs.placement, differs.key), []).append(
            Other(
                value=differs.value,
                reason=differs.reason,
                cost_difference=money_text(differs.money, currency),
                minutes_difference=round_half_up(differs.minutes, 2),
            )
        )
    return [
        Method(
            placement=i,
            key=choice.key,
            value=choice.value,
            source=choice.source,
            reason=choice.reason,
            others=others.get((i, choice.key), []),
        )
        for i, (placement, done) in enumerate(figures.cost.done.placed)
        for choice in map(partial(_as_found, done, currency), placement.making.choices)
    ]


def _as_found(done: Pass, currency: str, choice: Choice) -> Choice:
    """Tell which bobbin policy was found to be cheaper, and by how much."""
    if choice.key != "bobbin_policy" or choice.value != "cheaper":
        return choice
    saved = money_text(Decimal(str(done.policy_saves)), currency)
    why = POLICY_WHY[done.policy]
    if done.policy_saves >= 0.005:  # less is told as nothing
        why = f"{why} It saves {saved} {currency} in bobbins opened and time over this run."
    return replace(choice, value=done.policy, reason=why)


def _scrap(done: LineDone) -> str:
    """Say which cloth its sample may be sewn on; "" without one."""
    return scrap_words(done.plan.placements[0].making.goods) if done.sampled.pieces else ""


def _margin(unit: Decimal, unit_cost: Decimal) -> str:
    return share_text(1 - unit_cost / unit) if unit else "0.0000"


def _next_step(figures: LineFigures, currency: str) -> NextStep | None:
    """The next tier that costs less a piece."""
    q, unit = figures.priced.asked, figures.priced.unit
    for tier, price, _ in figures.priced.tiers:
        if tier > q and price < unit:
            return NextStep(
                quantity=tier,
                more=tier - q,
                unit=money_text(price, currency),
                saves_each=money_text(unit - price, currency),
            )
    return None


def _digitising_even(figures: LineFigures, currency: str) -> list[BreakEven]:
    """Own digitising against bought, for the first design that is only a count."""
    house = figures.plan.house
    counted = [p.facts for p in figures.plan.placements if p.facts.source == "count"]
    if not counted:
        return []
    even = digitising_even(house)
    return [
        BreakEven(
            name="Digitising",
            one="own",
            one_amount=money_text(digitising_cost("own", counted[0], house)[1], currency),
            other="bought",
            other_amount=money_text(digitising_cost("supplier", counted[0], house)[1], currency),
            at="own costs less at any size" if even is None else f"{even:,} stitches",
        )
    ]


def _small_order_even(figures: LineFigures, currency: str) -> list[BreakEven]:
    """The small-order charge against the piece price."""
    least, unit = figures.plan.house.price.minimum_order, figures.priced.unit
    if not least:
        return []
    pieces = int((least / unit).to_integral_value(ROUND_CEILING)) if unit else 0
    return [
        BreakEven(
            name="Small order",
            one="minimum order",
            one_amount=money_text(least, currency),
            other="a piece",
            other_amount=money_text(unit, currency),
            at=counted(pieces, "piece"),
        )
    ]


def _schools(figures: LineFigures, currency: str) -> list[SchoolOffered]:
    return [
        SchoolOffered(
            placement=s.placement,
            id=s.school_id,
            question=s.question,
            why=s.why,
            apply=s.apply,
            cost_difference=money_text(s.money, currency),
            minutes_difference=round_half_up(s.minutes, 2),
        )
        for s in figures.schools
    ]


def _supplied(figures: LineFigures, currency: str) -> Supplied | None:
    plan, cost, supply = figures.plan, figures.cost, figures.supply
    if plan.line.goods.supplied_by == "customer":
        return None
    bought, house = cost.goods, plan.house
    blank = house.blanks.get(supply.blank or "")
    beyond = next((step for step in supply.steps if step[0] > bought.step), None)
    return Supplied(
        blank=supply.blank,
        label=blank.label if blank else "",
        supplier=house.suppliers[blank.supplier].label if blank else "",
        each=share_text(bought.each),
        step=bought.step,
        next_step=beyond[0] if beyond else None,
        next_each=share_text(beyond[1]) if beyond else None,
        alike=supply.alike,
        more=bought.bought - cost.quantity,
        pack=supply.pack,
        delivery=money_text(bought.delivery, currency),
        days=supply.days,
        typed=supply.source == "typed",
    )


def _price(figures: LineFigures, currency: str) -> LinePrice:
    priced, quantity = figures.priced, figures.cost.quantity
    pricer, ways = priced.pricer, priced.ways
    return LinePrice(
        method=priced.method,
        unit=money_text(priced.unit, currency),
        line=money_text(priced.unit * quantity, currency),
        margin=_margin(priced.net, priced.unit_cost),
        net=money_text(priced.net, currency),
        floor=money_text(pricer.house_floor(quantity), currency),
        safe_discount=share_text(pricer.safe_discount(priced.unit, quantity)),
        cross_checks=CrossChecks(
            margin=money_text(ways["margin"], currency),
            stitch_rate=money_text(ways["stitch-rate"], currency),
            hour_rate=money_text(ways["hour-rate"], currency),
        ),
    )


def _tiers(figures: LineFigures, currency: str) -> list[Tier]:
    pricer = figures.priced.pricer.together or figures.priced.pricer
    return [
        Tier(
            quantity=q,
            unit=money_text(unit, currency),
            line=money_text(unit * q, currency),
            unit_cost=share_text(unit_cost),
            margin=_margin(pricer.terms.net(unit), unit_cost),
            set_up=share_text(pricer.cost(q).set_up_whole / q),
        )
        for q, unit, unit_cost in figures.priced.tiers
    ]


def _piece_cost(figures: LineFigures) -> PieceCost:
    cost = figures.cost
    return PieceCost(
        **{name: share_text(part / cost.quantity) for name, part in cost.parts.items()},
        total=share_text(figures.priced.unit_cost),
    )


def _details(figures: LineFigures, currency: str, *, pieces: bool) -> dict[str, Any]:
    """Pack what is looked at of the line that is open only."""
    cost = figures.cost
    return {
        "pieces": pack_pieces(cost.done) if pieces else [],
        "designs": pack_designs(cost.done),
        "places": pack_places(cost.done),
        "methods": _methods(figures, currency),
        "materials": pack_materials(figures, figures.shown, currency),
        "cuts": pack_cuts(cost.done, figures.batch_spares, currency),
        "supplied": _supplied(figures, currency),
        "minutes": pack_minutes(cost.done),
        "needles": pack_needles(cost.done),
        "schools": _schools(figures, currency),
        "next_step": _next_step(figures, currency),
        "break_evens": [
            *_digitising_even(figures, currency),
            *_small_order_even(figures, currency),
        ],
        "sure": pack_sure(figures, currency),
        "tiers": _tiers(figures, currency),
    }


def pack_line(
    figures: LineFigures,
    whole: OrderFigures | None,
    currency: str,
    *,
    working: bool,
    pieces: bool = True,
    open_: bool = True,
) -> EstimateLine:
    """Pack a line: each cost part rounded once, the total their sum.

    Parameters
    ----------
    figures : LineFigures
    whole : OrderFigures or None
        The order's, for the first line: its working stands there.
    currency : str
    working : bool
        Fill the working of every figure.
    pieces : bool
        Fill each piece's own figures where they differ.
    open_ : bool
        Fill what is looked at of the open line only; without it the line is not `whole`.
    """
    plan, cost, priced = figures.plan, figures.cost, figures.priced
    shown = {name: money_text(part, currency) for name, part in figures.shown.items()}
    total = money_text(sum(figures.shown.values(), Decimal(0)), currency)
    return EstimateLine(
        id=plan.line.id,
        whole=open_,
        quantity=cost.quantity,
        cloth=colour_of(plan.line.cells[0].colour) if plan.line.cells else None,
        batch=[each.line.id for each in cost.done.together],
        batch_quantity=cost.done.batch,
        scrap=_scrap(cost.done),
        per_piece=pack_piece(cost.done),
        bobbins=pack_bobbins(cost.done),
        spares=priced.spares,
        goods_bought=cost.goods.bought,
        tier_quantity=cost.quantity + cost.order.alike,
        cost=Cost(**shown, total=total),
        piece_cost=_piece_cost(figures),
        price=_price(figures, currency),
        advice=figures.advice,
        working=line_working(figures, whole, currency) if working else [],
        **(_details(figures, currency, pieces=pieces) if open_ else {}),
    )
