"""Workings of a line's costs, part by part."""

from __future__ import annotations

from decimal import Decimal

from clothyard.core.cloth.cutting import Cut
from clothyard.core.estimate.figures import LineFigures
from clothyard.core.estimate.workings.of_time import Where, task
from clothyard.core.estimate.workings.sheet import Input, Sheet, worked
from clothyard.core.job.document import Cell
from clothyard.core.price.amounts import ZERO, hours_at
from clothyard.core.price.cost import LineCost, bobbin_cost, consumables_cost, of_share
from clothyard.core.time.steps import FixedPart
from clothyard.core.units import exact
from clothyard.core.work.line_done import LineDone


def goods(sheet: Sheet, figures: LineFigures) -> None:
    """What the blanks cost. Source: docs/formulas.md 11."""
    supply, bought, line = figures.supply, figures.cost.goods, figures.plan.line
    source = supply.source
    if bought.step > 1:
        source += f", from {bought.step} on"
    if supply.alike:
        source += f", counted with {supply.alike} more in the order"
    key = f"blanks.{supply.blank}.prices" if supply.blank and supply.source != "typed" else ""
    each = Input("a blank", bought.each, "money", source, standard=key)
    bought_for = f"{bought.bought} are bought: price steps and packs"
    rows = [Input("pieces", figures.cost.quantity, "pieces", bought_for), each]
    formula = "pieces × a blank"
    if bought.delivery:
        shared = "typed" if supply.supplier is None else "the supplier's, by what is bought"
        key = f"suppliers.{supply.supplier}.delivery" if supply.supplier else ""
        rows.append(Input("delivery", bought.delivery, "money", shared, standard=key))
        formula += " + delivery"
    if line.goods.spares_unsaleable:
        formula += " + those beyond them that cannot be sold"
        beyond = bought.bought - figures.cost.quantity
        rows.append(worked("spares", figures.priced.spares, "pieces", "spares"))
        rows.append(Input("bought beyond", beyond, "pieces", "price steps and packs"))
    sheet.add("cost.goods", "Goods", formula, rows, figures.cost.parts["goods"], "money")


def _needle_thread(sheet: Sheet, at: Where, id_: str) -> Input:
    thread_id = at.placed.making.thread_id
    price = sheet.house.thread_price_per_m(thread_id)
    largest = max(sheet.house.putups, key=lambda key: sheet.house.putups[key].length_m)
    each = sheet.add(
        f"{id_}.a_metre",
        "A metre of needle thread",
        "price × factor ÷ length",
        [
            sheet.standard("price", f"putups.{largest}.price", "money"),
            sheet.standard("length", f"putups.{largest}.length_m", "m"),
            sheet.standard("factor", f"threads.{thread_id}.price_factor", ""),
        ],
        price,
        "money/m",
    )
    return sheet.add(
        id_,
        "Needle thread",
        "pieces × metres × price of a metre",
        [
            Input("pieces", at.done.pieces, "pieces", "asked"),
            worked("needle thread a piece", at.done.needle_m, "m", f"{at.prefix}.needle"),
            each._replace(name="a metre"),
        ],
        exact(at.done.needle_m * at.done.pieces) * price,
        "money",
    )


def _bobbin_thread(sheet: Sheet, at: Where, id_: str, needle_id: str) -> Input:
    machine = at.placed.making.machine
    kind = sheet.house.bobbins[machine.bobbin]
    rows = [
        Input("pieces", at.done.pieces, "pieces", "asked"),
        worked("bobbin thread a piece", at.done.bobbin_m, "m", f"{at.prefix}.bobbin"),
    ]
    if at.placed.making.bobbin == "match":
        formula = "pieces × metres × price of a metre"
        price = sheet.house.thread_price_per_m(at.placed.making.thread_id)
        rows.append(worked("a metre", price, "money/m", f"{needle_id}.a_metre"))
    else:
        formula = "(pieces × metres + ends) × price ÷ full"
        ends = f"bobbin ends under {sheet.house.bobbin_plan.shelf_m:g} m"
        rows.append(Input("ends too short to keep", at.done.waste_m, "m", ends))
        full = "a bobbin" if kind.prewound else "a filling"
        rows.append(sheet.standard(full, f"bobbins.{machine.bobbin}.price", "money"))
        rows.append(sheet.standard("full", f"bobbins.{machine.bobbin}.capacity_m", "m"))
    value = bobbin_cost(at.placed, at.done, sheet.house)
    return sheet.add(id_, "Bobbin thread", formula, rows, value, "money")


def _of_stock(sheet: Sheet, cut: Cut, cut_id: str) -> tuple[str, list[Input]]:
    """Formula and inputs of what a cut costs, from a roll or from sheets."""
    if cut.on_sheets:
        return "rows × price of a sheet ÷ rows on one", [
            worked("rows", cut.rows, "rows", cut_id),
            sheet.standard("a sheet", f"sheets.{cut.stock}.price", "money"),
            worked("rows on one", cut.rows_each, "rows", cut_id),
        ]
    return "length × price ÷ roll length", [
        worked("length", cut.length_mm, "mm", cut_id),
        sheet.standard("a roll", f"rolls.{cut.stock}.price", "money"),
        sheet.standard("roll length", f"rolls.{cut.stock}.length_m", "m"),
    ]


def _placement(sheet: Sheet, at: Where, prefix: str) -> dict[str, Input]:
    """What thread, backing and topping of one placement cost: part to entry."""
    needle_id = f"{prefix}needle_thread"
    found = {"needle_thread": _needle_thread(sheet, at, needle_id)}
    found["bobbin_thread"] = _bobbin_thread(sheet, at, f"{prefix}bobbin_thread", needle_id)
    first = "backing_first" if at.done.second else "backing"
    for name, of, cut in (
        (first, "backing", at.done.backing),
        ("backing_second", "backing_second", at.done.second),
        ("topping", "topping", at.done.topping),
    ):
        if cut:
            formula, rows = _of_stock(sheet, cut, f"{at.prefix}.{of}_cut")
            rows += batch_share(at)
            cost = of_share(cut.cost, at.done)
            title = _BACKINGS.get(name, name.capitalize())
            found[name] = sheet.add(f"{prefix}{name}", title, formula, rows, cost, "money")
    if at.done.second:
        both = [found.pop(name) for name in _BACKINGS if name in found]
        cost = sum((of_share(cut.cost, at.done) for cut in _backings(at)), ZERO)
        found["backing"] = sheet.add(
            f"{prefix}backing", "Backing", "sum of both kinds", both, cost, "money"
        )
    return found


_BACKINGS = {"backing_first": "First backing", "backing_second": "Second backing"}


def _backings(at: Where) -> list[Cut]:
    return [cut for cut in (at.done.backing, at.done.second) if cut]


def batch_share(at: Where) -> list[Input]:
    """This line's share of what its batch is cut for; nothing for a line by itself."""
    if at.done.share == 1:
        return []
    return [Input("× its share of the batch", at.done.share, "share", "lines that are alike")]


def thread_and_cuts(sheet: Sheet, cost: LineCost, ats: list[Where]) -> None:
    """What thread, backing and topping cost; of several placements each, and their sum.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    cost : LineCost
        At its quantity, order-level shares counted.
    ats : list[Where]
        The placements of the line, as named in the working.
    """
    if len(ats) == 1:
        _placement(sheet, ats[0], "cost.")
        return
    each = [_placement(sheet, at, f"{at.prefix}.cost.") for at in ats]
    for name in ("needle_thread", "bobbin_thread", "backing", "topping"):
        rows = [
            found[name]._replace(name=at.placed.making.position_id)
            for at, found in zip(ats, each, strict=True)
            if name in found
        ]
        if rows:
            title = name.replace("_", " ").capitalize()
            whole = cost.parts[name]
            sheet.add(f"cost.{name}", title, "sum over the places", rows, whole, "money")


def _part_cost(sheet: Sheet, part: FixedPart, pieces: int) -> Input:
    price = sheet.house.hardware[part.item].price
    source = f"{pieces} × {part.amount:g} × {price}"
    value = price * exact(part.amount) * pieces
    return Input(part.item, value, "money", source, standard=f"hardware.{part.item}.price")


def small_things(sheet: Sheet, figures: LineFigures, ats: list[Where]) -> list[Input]:
    """What consumables, sheet goods and hardware cost; returns each.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    figures : LineFigures
        Of the line.
    ats : list[Where]
        The placements of the line, as named in the working.

    Returns
    -------
    list[Input]
    """
    cost, house = figures.cost, sheet.house
    rows = []
    for at in ats:
        hoopings = at.done.loads.hoopings if at.placed.making.hold == "float" else 0
        rows += [
            Input("floated hoopings", hoopings, "hoopings", "pieces and layout"),
            Input("pieces covered", at.done.pieces if at.placed.covered else 0, "pieces", "asked"),
        ]
    rows += [
        sheet.standard("adhesive", "consumables.adhesive", "money"),
        sheet.standard("soft cover", "consumables.soft_cover", "money"),
    ]
    formula = "hoopings × adhesive where floated + pieces × cover"
    filmed = [at for at in ats if at.placed.film_m2]
    for at in filmed:
        rows.append(Input("pieces pressed on", at.done.pieces, "pieces", "asked"))
        rows.append(Input("film each", at.placed.film_m2, "m²", "the patch as cut out"))
    if filmed:
        rows.append(sheet.standard("film", "patches.film_per_m2", "money"))
        formula += " + patches × film"
    value = sum((consumables_cost(at.placed, at.done, house) for at in ats), ZERO)
    found = [sheet.add("cost.consumables", "Consumables", formula, rows, value, "money")]
    if cost.parts["sheet_goods"]:
        rows = []
        for at in ats:
            for n, laid in enumerate(at.done.sheets):
                said = f"{laid.count} of {laid.cut.count} pieces cut from {laid.cut.stock}"
                cut_id = f"{at.prefix}.sheet{n}_cut"
                cut = of_share(laid.cost, at.done)
                rows.append(Input(f"{laid.material}, cut", cut, "money", said, cut_id))
            rows += [_part_cost(sheet, p, at.done.pieces) for p in at.placed.steps.parts]
        rows += [_part_cost(sheet, part, cost.quantity) for part in figures.plan.hardware]
        found.append(
            sheet.add(
                "cost.sheet_goods",
                "Sheet goods and hardware",
                "sum of the cuts and the parts",
                rows,
                cost.parts["sheet_goods"],
                "money",
            )
        )
    return found


def times(sheet: Sheet, figures: LineFigures, ats: list[Where]) -> None:
    """Machine, hand and attending of all pieces, and what they cost.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    figures : LineFigures
        Of the line.
    ats : list[Where]
        The placements of the line, as named in the working.
    """
    cost, done = figures.cost, figures.cost.done
    for side, name, unit in (
        ("machine", "Machine time, all pieces", "s"),
        ("attend", "Standing by, all pieces", "s"),
    ):
        each = [
            (
                worked(
                    f"{side} time a piece",
                    getattr(at.done, f"{side}_s"),
                    unit,
                    f"{at.prefix}.{side}_time",
                ),
                at.done.pieces,
            )
            for at in ats
        ]
        sheet.all_pieces(f"run.{side}", name, each, unit)
    hand = worked("handwork a piece", done.hand_s / done.quantity, "s", "hand_time")
    sheet.all_pieces("run.hand", "Handwork, all pieces", [(hand, done.quantity)], "s")
    machines = list(dict.fromkeys(at.placed.making.machine_id for at in ats))
    rates = [sheet.standard(m, f"machines.{m}.rate_per_h", "money/h") for m in machines]
    sheet.add(
        "cost.machine",
        "Machine",
        "time × rate of an hour",
        [worked("machine time, all pieces", done.machine_s, "s", "run.machine"), *rates],
        cost.parts["machine"],
        "money",
    )
    waits = waiting(done)
    said = "hand + standing by + waiting" if waits else "hand + standing by"
    sheet.add(
        "cost.labour",
        "Handwork",
        f"({said}) × rate of an hour",
        [
            worked("hand, all pieces", done.hand_s, "s", "run.hand"),
            worked("standing by, all pieces", done.attend_s, "s", "run.attend"),
            *waits,
            sheet.standard("labour", "rates.labour_per_h", "money/h"),
        ],
        cost.parts["labour"],
        "money",
    )


def waiting(done: LineDone) -> list[Input]:
    """Hands that wait for the machine, where labour is by elapsed time."""
    if not done.waiting_s:
        return []
    return [Input("waiting for the machine", done.waiting_s, "s", "the run in closed form")]


def sample(sheet: Sheet, figures: LineFigures) -> None:
    """What the samples take: each as one first piece, unpractised, cut by itself."""
    cost, done = figures.cost, figures.cost.done
    if cost.sample is None:
        return
    n = done.samples
    of = "typed" if done.plan.line.sample else "the house's rule"
    if done.share != 1:
        of += f", this line's share of {done.sampled.pieces} of its batch"
    pieces = Input("samples", n, "pieces", of)
    first = cost.sample
    for side, name, seconds in (
        ("machine", "Samples: machine", done.sample_machine_s),
        ("hand", "Samples: hand and standing by", done.sample_hand_s + done.sample_attend_s),
    ):
        said = "a first piece, unpractised; its events and tasks are as a piece's"
        each = Input("a first piece", seconds / n, "s", said)
        sheet.add(f"sample.{side}", name, "samples × a first piece", [pieces, each], seconds, "s")
    rows = [
        Input(
            name.replace("_", " "),
            getattr(first, name),
            "money",
            "its own cut, bobbin by the metre",
        )
        for name in (
            "needle_thread",
            "bobbin_thread",
            "backing",
            "topping",
            "consumables",
            "sheet_goods",
        )
        if getattr(first, name)
    ]
    sheet.add("sample.materials", "Samples: materials", "sum", rows, first.materials, "money")


def _once(sheet: Sheet, cost: LineCost) -> list[Input]:
    """What is done once an order and for names, and the order's share of it."""
    rows = [task(sheet, used, f"once.{n}") for n, used in enumerate(cost.order.tasks)]
    rows += [task(sheet, used, f"name.{n}") for n, used in enumerate(cost.done.name_tasks)]
    if cost.order.others:
        share = sheet.add(
            "order.share",
            "This line's share of what is done once an order",
            "its other cost ÷ that of all lines",
            [
                Input("its other cost", cost.own, "money", "all parts but that share"),
                Input("that of the other lines", cost.order.others, "money", "theirs"),
            ],
            cost.order_share,
            "share",
        )
        rows.append(share)
    return rows


def set_up(sheet: Sheet, figures: LineFigures) -> None:
    """Set-up: what is done once, for names and samples. Source: docs/formulas.md 11, 14."""
    cost, done = figures.cost, figures.cost.done
    rows = _once(sheet, cost)
    formula = "tasks × labour of an hour"
    if cost.sample:
        formula += " + sample's labour, machine and materials"
        hand_s = done.sample_hand_s + done.sample_attend_s
        rows += [
            worked("sample: machine", done.sample_machine_s, "s", "sample.machine"),
            worked("sample: hand and standing by", hand_s, "s", "sample.hand"),
            worked("sample: materials", cost.sample.materials, "money", "sample.materials"),
        ]
        machines = dict.fromkeys(p.making.machine_id for p in done.plan.placements)
        rows += [sheet.standard(m, f"machines.{m}.rate_per_h", "money/h") for m in machines]
    put_ups = cost.order.bought(done)
    if put_ups:
        said = "whole spools and cones"
        rows.append(Input("put-ups beyond the thread used, order", put_ups, "money", said))
    rows.append(sheet.standard("labour", "rates.labour_per_h", "money/h"))
    sheet.add("cost.set_up", "Set-up", formula, rows, cost.parts["set_up"], "money")


def overhead(sheet: Sheet, figures: LineFigures) -> None:
    """Overhead and packing."""
    cost, done = figures.cost, figures.cost.done
    set_up_s = sheet.add(
        "run.set_up",
        "Set-up and samples",
        "names + samples + share of what is done once",
        [
            Input("names", done.names_s, "s", "typed and proofed"),
            Input(
                "samples", done.sample_hand_s + done.sample_attend_s, "s", "hand and standing by"
            ),
            Input("done once an order", cost.order.seconds, "s", "all its tasks"),
            Input("this line's share", cost.order_share, "share", "by its other cost"),
        ],
        cost.set_up_s,
        "s",
    )
    sheet.add(
        "cost.overhead",
        "Overhead",
        "labour hours, set-up and sample included × rate",
        [
            worked("hand", done.hand_s, "s", "run.hand"),
            worked("standing by", done.attend_s, "s", "run.attend"),
            *waiting(done),
            set_up_s,
            sheet.standard("overhead", "rates.overhead_per_h", "money/h"),
        ],
        cost.parts["overhead"],
        "money",
    )
    sheet.add(
        "cost.packing",
        "Packing",
        "pieces × packing",
        [
            Input("pieces", cost.quantity, "pieces", "asked"),
            sheet.standard("packing", "consumables.packing", "money"),
        ],
        cost.parts["packing"],
        "money",
    )


def _chance(sheet: Sheet, figures: LineFigures) -> Input:
    """Chance that a piece is spoiled. Source: docs/formulas.md 10."""
    plan = figures.plan
    goods_id = plan.placements[0].making.goods_id
    hoopings = sum(p.making.layout.hoopings for p in plan.placements)
    rows = [
        sheet.standard("goods", f"goods.{goods_id}.spoil", "share"),
        Input("hoopings", hoopings, "hoopings", "over all placements"),
        sheet.standard("each further hooping", "spoilage.further_hooping", "share"),
        sheet.standard("small letters", "spoilage.small_letters", "share"),
        sheet.standard("names", "spoilage.personalised", "share"),
        sheet.standard("most", "spoilage.most", "share"),
    ]
    formula = (
        "1 − (1 − goods) × further hoopings × small letters and names where there are any; at most "
        "most"
    )
    chance = sheet.add(
        "spoil", "Chance that a piece is spoiled", formula, rows, plan.spoil, "share"
    )
    return chance._replace(name="p")


def _repairs(sheet: Sheet, figures: LineFigures, p: Input) -> Input:
    cost = figures.cost
    value = hours_at(cost.done.repair_s, cost.rates.labour_per_h)
    return sheet.add(
        "repairs",
        "Repairs",
        "pieces × p × share mended × seconds each × labour of an hour",
        [
            Input("pieces", cost.quantity, "pieces", "asked"),
            p,
            sheet.standard("share mended", "spoilage.repair_share", "share"),
            sheet.standard("each", "tasks.repair.seconds", "s"),
            sheet.standard("labour", "rates.labour_per_h", "money/h"),
        ],
        value,
        "money",
    )


def spoilage(sheet: Sheet, figures: LineFigures) -> None:
    """What goes wrong, and the spares for it. Source: docs/formulas.md 10, 14."""
    cost, done, q = figures.cost, figures.cost.done, figures.cost.quantity
    p = _chance(sheet, figures)
    pieces = Input("pieces", q, "pieces", "asked")
    own = figures.plan.line.goods.supplied_by == "customer"
    lost = sheet.add(
        "remakes",
        "Lost pieces",
        "pieces × p" if own else "pieces × p ÷ (1 − p)",
        [pieces, p],
        done.remakes,
        "pieces",
    )
    taken = cost.run.materials + cost.parts["machine"] + cost.parts["labour"]
    made = sheet.add(
        "made",
        "Materials, machine, hand a piece",
        "sum ÷ pieces",
        [
            Input("materials", cost.run.materials, "money", "thread, cuts and small things"),
            worked("machine", cost.parts["machine"], "money", "cost.machine"),
            worked("handwork", cost.parts["labour"], "money", "cost.labour"),
            pieces,
        ],
        taken / q,
        "money",
    )
    each = cost.parts["goods"] / Decimal(q)
    rows = [lost, worked("goods a piece", each, "money", "cost.goods"), made]
    if own:
        liability = figures.plan.line.goods.liability
        rows.append(Input("liability a piece", liability, "money", "typed"))
        formula = "lost pieces × (what a piece took + liability)"
    else:
        rows.append(_repairs(sheet, figures, p))
        formula = "lost pieces × (goods + what a piece took) + repairs"
    sheet.add("cost.spoilage", "Spoilage", formula, rows, cost.parts["spoilage"], "money")
    _spares(sheet, figures, p)


def _spares(sheet: Sheet, figures: LineFigures, p: Input) -> None:
    """Spares of each size and colour, over all lines that are sewn with this one.

    Source: docs/formulas.md 10.
    """
    supply, plan = figures.supply, figures.plan
    if plan.line.goods.supplied_by == "customer":
        rows = [Input("pieces", figures.cost.quantity, "pieces", "asked")]
        said = "none of its own: the customer's goods are asked for with theirs"
        sheet.add("spares", "Spares to have ready", said, rows, 0, "pieces")
        return
    rows = []
    for each in figures.cost.done.together:
        source = "asked" if each is plan else "asked of a line that is sewn with it"
        of = [(_cell_name(cell), cell.quantity) for cell in each.line.cells]
        whole = figures.cost.quantity if each is plan else each.line.quantity
        rows += [
            Input(f"pieces {name}".strip(), n, "pieces", source) for name, n in of or [("", whole)]
        ]
    rows += [p, sheet.standard("confidence", "spoilage.confidence", "share")]
    formula = "least S over all sizes with P(each has its good pieces) ≥ confidence"
    names = [_cell_name(cell) for cell in plan.line.cells]
    if names and len(names) == len(supply.spares_of):
        rows += [
            Input(f"spare {name}".strip(), n, "pieces", "worked out with the others")
            for name, n in zip(names, supply.spares_of, strict=True)
        ]
    if supply.pack > 1:
        rows.append(Input("pack", supply.pack, "pieces", "of the goods"))
        formula += ", then whole packs"
    spares = figures.priced.spares
    sheet.add("spares", "Spares to have ready", formula, rows, spares, "pieces")


def _cell_name(cell: Cell) -> str:
    return " ".join(part for part in (cell.size, cell.colour) if part)
