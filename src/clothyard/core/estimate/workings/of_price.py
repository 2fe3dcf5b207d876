"""Workings of a line's prices, of the order's charges and of its time."""

from __future__ import annotations

from decimal import Decimal

from clothyard.core.estimate.figures import LineFigures, OrderFigures
from clothyard.core.estimate.workings.of_time import Where
from clothyard.core.estimate.workings.sheet import Input, Sheet, worked
from clothyard.core.price.amounts import ZERO
from clothyard.core.price.charges import Charged
from clothyard.core.price.sure import P10, P80, P90, as_money
from clothyard.core.price.ways import names_price, stitch_rate_at
from clothyard.core.units import money_text
from clothyard.core.work.elapsed import ElapsedPart


def sure(sheet: Sheet, figures: LineFigures) -> None:
    """How sure the cost is: its three largest terms, and what it stays under.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    figures : LineFigures
        Of the line.

    Source
    ------
    docs/formulas.md 15.
    """
    cost, pricer = figures.cost, figures.priced.pricer
    band = pricer.band(cost.quantity)
    rows = [Input("full cost", cost.total, "money", "the sum of its parts")]
    rows += [
        Input(
            f"± {term.name}",
            as_money(term.spread * term.moves),
            "money",
            f"spread {term.spread:g} of {term.moves:.2f}",
        )
        for term in band.terms[:3]
    ]
    rows.append(Input("further terms", max(0, len(band.terms) - 3), "terms", "smaller ones"))
    rows.append(Input("chance spoiled", cost.done.plan.spoil, "share", "each piece"))
    formula = "one skewed sum of all terms, over the numbers of pieces that may be spoiled"
    for share, name in (
        (P10, "less in 10 of 100 cases"),
        (P80, "less in 80 of 100 cases"),
        (P90, "less in 90 of 100 cases"),
    ):
        sheet.add(
            f"sure.p{share * 100:.0f}",
            f"Cost, {name}",
            formula,
            rows,
            as_money(band.quantile(share)),
            "money",
        )


def unit_cost(sheet: Sheet, figures: LineFigures) -> None:
    """Full cost of a piece: every part, its working a press away."""
    cost, priced = figures.cost, figures.priced
    rows = []
    for name, part in cost.parts.items():
        if part:
            rows.append(worked(name.replace("_", " "), part, "money", f"cost.{name}"))
    rows.append(Input("pieces", cost.quantity, "pieces", "asked"))
    apart = priced.pricer.apart(cost.quantity)
    formula = "sum of the costs ÷ pieces"
    if apart:
        formula = "(sum of the costs − set-up charged apart) ÷ pieces"
        rows.append(Input("set-up charged apart", apart, "money", "a line of its own"))
    sheet.add("unit_cost", "Full cost of a piece", formula, rows, priced.unit_cost, "money")


def _fees(sheet: Sheet) -> list[Input]:
    return [
        sheet.standard("fee share", "price.fee_share", "share"),
        sheet.standard("fixed fee", "price.fee_fixed", "money"),
    ]


def _target(sheet: Sheet, figures: LineFigures) -> Input:
    """The margin aimed at: typed in the job, or the house's."""
    target, house = figures.priced.target, sheet.house
    if target == house.price.margin:
        return sheet.standard("margin", "price.margin", "share")
    return Input("margin", target, "share", "asked")


def _stitch_rate(sheet: Sheet, figures: LineFigures, ats: list[Where], goods: list[Input]) -> None:
    cost, house = figures.cost, sheet.house
    at_quantity = cost.quantity + cost.order.alike
    rate = stitch_rate_at(house, at_quantity)
    key = max(
        (k for k, row in house.stitch_rates.items() if row.quantity <= at_quantity),
        key=lambda k: house.stitch_rates[k].quantity,
        default=next(iter(house.stitch_rates)),
    )
    names = sum((names_price(at.placed, house.price) for at in ats), ZERO)
    sheet.add(
        "way.stitch_rate",
        "By stitch rate",
        "Σ max(least, stitches ÷ 1000 × rate) + names + goods × (1 + mark-up) + set-up ÷ pieces",
        [
            *(
                worked(
                    f"stitches, {at.placed.making.position_id}",
                    at.done.stitches,
                    "stitches",
                    f"{at.prefix}.stitches",
                )
                for at in ats
            ),
            Input("names", names, "money", "house, by letters", standard="price.name"),
            Input(
                "rate",
                rate,
                "money/1000",
                "house, at this quantity",
                standard=f"stitch_rates.{key}.rate",
            ),
            sheet.standard("least", "price.stitch_rate_least", "money"),
            *goods,
            worked("set-up", cost.parts["set_up"], "money", "cost.set_up"),
        ],
        figures.priced.ways["stitch-rate"],
        "money",
    )


def _hour_rate(sheet: Sheet, figures: LineFigures, goods: list[Input]) -> None:
    cost, done = figures.cost, figures.cost.done
    machine_s = done.machine_s + done.sample_machine_s
    sheet.add(
        "way.hour_rate",
        "By hour rate",
        "goods × (1 + mark-up) + (materials + machine h × charge + hand h × charge) ÷ pieces",
        [
            *goods,
            Input("materials", cost.run.materials, "money", "thread, cuts and small things"),
            worked("machine, sample included", machine_s, "s", "run.machine"),
            sheet.standard("machine charge", "price.machine_charge_per_h", "money/h"),
            worked("hand, set-up included", done.labour_s + cost.set_up_s, "s", "run.hand"),
            sheet.standard("hand charge", "price.hand_charge_per_h", "money/h"),
        ],
        figures.priced.ways["hour-rate"],
        "money",
    )


def ways(sheet: Sheet, figures: LineFigures, ats: list[Where]) -> None:
    """The three ways of pricing. Source: docs/formulas.md 11.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    figures : LineFigures
        Of the line.
    ats : list[Where]
        The placements of the line, as named in the working.
    """
    cost, priced = figures.cost, figures.priced
    sheet.add(
        "way.margin",
        "By margin",
        "(cost + fixed fee ÷ pieces) ÷ (1 − margin − fee share)",
        [
            worked("cost", priced.unit_cost, "money", "unit_cost"),
            _target(sheet, figures),
            *_fees(sheet),
        ],
        priced.ways["margin"],
        "money",
    )
    goods = [
        worked("goods", cost.parts["goods"] / cost.quantity, "money", "cost.goods"),
        sheet.standard("goods mark-up", "price.goods_mark_up", "share"),
    ]
    _stitch_rate(sheet, figures, ats, goods)
    _hour_rate(sheet, figures, goods)


def _floor(sheet: Sheet, figures: LineFigures) -> Input:
    cost, pricer = figures.cost, figures.priced.pricer
    found = sheet.add(
        "price.floor",
        "Floor of a piece",
        "(cost + fixed fee ÷ pieces) ÷ (1 − fee share)",
        [
            worked("cost", figures.priced.unit_cost, "money", "unit_cost"),
            Input("counted", pricer.house.price.floor, "cost", "house", standard="price.floor"),
            *_fees(sheet),
        ],
        pricer.house_floor(cost.quantity),
        "money",
    )
    return found._replace(name="floor")


_HOW = {"typed": "as typed", "agreed": "as agreed"}
_WORKED = "rounded up to the step; never under the next tier's, never over the one below's"


def price(sheet: Sheet, figures: LineFigures) -> None:
    """Price of a piece, and the margin that is left."""
    priced, pricer, cost = figures.priced, figures.priced.pricer, figures.cost
    formula = _HOW.get(priced.method, _WORKED)
    raw = priced.ways.get(priced.method, priced.unit)
    of = "" if priced.method in _HOW else f"way.{priced.method.replace('-', '_')}"
    source = "worked out" if of else priced.method
    rows = [Input(f"by {priced.method}", raw, "money", source, of=of)]
    rows.append(sheet.standard("step", "price.round_to", "money"))
    less = figures.plan.line.discount
    if less:
        formula = f"less the discount, not under the floor, {formula}"
        rows += [Input("discount", less, "share", "typed"), _floor(sheet, figures)]
    if pricer.terms.included and pricer.terms.tax_rate:
        formula = f"with tax, {formula}"
        rows.append(
            Input("tax", pricer.terms.tax_rate, "share", "line or house", standard="terms.tax_rate")
        )
    apart = pricer.apart(cost.quantity)
    if apart:
        rows.append(Input("set-up charged apart", apart, "money", "not in the price"))
    unit = Decimal(money_text(priced.unit, sheet.currency))
    sheet.add("price.unit", "Price of a piece", formula, rows, unit, "money")
    sheet.add(
        "price.margin",
        "Margin",
        "1 − cost ÷ price",
        [
            worked("cost", priced.unit_cost, "money", "unit_cost"),
            worked("price, net", priced.net, "money", "price.unit"),
        ],
        priced.margin,
        "share",
    )


def charges(sheet: Sheet, figures: LineFigures, found: tuple[Charged, ...]) -> None:
    """The order's charges.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    figures : LineFigures
        Of the line.
    found : tuple[Charged, ...]
        What is charged.
    """
    for n, charge in enumerate(found):
        said = "hours at labour and overhead, or bought"
        sheet.add(
            "charge" if n == 0 else f"charge.{n}",
            charge.name,
            charge.formula,
            [
                Input("cost", charge.cost, "money", said, standard="digitising.own_s"),
                _target(sheet, figures),
                sheet.standard("fee share", "price.fee_share", "share"),
            ],
            Decimal(money_text(charge.amount, sheet.currency)),
            "money",
        )


def _pass(sheet: Sheet, part: ElapsedPart, n: int) -> Input:
    """One stretch of the run: of a pass its cycles, the longer of machine and hands."""
    if part.run is None:
        said = "set-up, names and samples ÷ hands"
        return Input(part.label, part.seconds, "s", said, standard="run.operators")
    run = part.run
    sheet.add(
        f"run.pass.{n}",
        part.label.capitalize(),
        "first one's preparation + cycles × the longer of machine and hands; finishing after",
        [
            Input("cycles", run.cycles, "cycles", "pieces, heads and layout"),
            Input("machine, all cycles", run.machine_s, "s", "its events"),
            Input("at the machine, all cycles", run.attend_s, "s", "its events"),
            Input("before the needle", run.before_s, "s", "its tasks"),
            Input("after it", run.after_s, "s", "its tasks"),
            sheet.standard("hands", "run.operators", "people"),
        ],
        part.seconds,
        "s",
    )
    return worked(part.label, part.seconds, "s", f"run.pass.{n}")


def elapsed(sheet: Sheet, whole: OrderFigures) -> None:
    """Elapsed time of the order. Source: docs/formulas.md 9."""
    sheet.add(
        "run.elapsed",
        "Elapsed time of the order",
        "set-up, then each pass: the first piece's preparation + cycles × the longer of machine "
        "and hands, and its finishing",
        [_pass(sheet, part, n) for n, part in enumerate(whole.elapsed)],
        whole.elapsed_s,
        "s",
    )
