"""Working: how every figure came about, complete enough to recompute it by hand."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from clothyard.core.advice import Priced
from clothyard.core.cloth.cutting import Cut
from clothyard.core.house import House, default_house
from clothyard.core.price.charges import Charged
from clothyard.core.price.line import LineCost, PassCost
from clothyard.core.price.plan import ZERO, LinePlan, PlacementPlan
from clothyard.core.price.ways import names_price, stitch_rate_at
from clothyard.core.result import Working, WorkingInput
from clothyard.core.stitches.facts import PULL
from clothyard.core.units import exact, money_text

Input = tuple[str, Any, str, str]


def _text(value: Any) -> str:
    if isinstance(value, Decimal):
        number = format(value.quantize(Decimal("0.000001")), "f")
        return number.rstrip("0").rstrip(".") if "." in number else number
    if isinstance(value, float):
        return f"{value:.6f}".rstrip("0").rstrip(".")
    return str(value)


def _at(house: House, key: str) -> Any:
    value: Any = house
    for part in key.split("."):
        value = value[part] if isinstance(value, dict) else getattr(value, part)
    return value


class _Sheet:
    """Collects entries; knows where a standard's value came from."""

    def __init__(self, house: House, currency: str):
        self.house, self.currency = house, currency
        self.entries: list[Working] = []

    def add(
        self, id_: str, name: str, formula: str, inputs: list[Input], value: Any, unit: str
    ) -> None:
        self.entries.append(
            Working(
                id=id_,
                name=name,
                formula=formula,
                inputs=[
                    WorkingInput(name=n, value=_text(v), unit=self._unit(u), source=s)
                    for n, v, u, s in inputs
                ],
                value=_text(value),
                unit=self._unit(unit),
            )
        )

    def _unit(self, unit: str) -> str:
        return unit.replace("money", self.currency)

    def standard(self, name: str, key: str, unit: str) -> Input:
        value = _at(self.house, key)
        try:
            same = _at(default_house(), key) == value
        except KeyError:
            same = False
        where = "goods class" if key.startswith("goods.") else "house default"
        return name, value, unit, where if same else "the shop's own"


def _design_source(placed: PlacementPlan) -> str:
    named = "names, their mean" if placed.own else "words as lettered"
    return {"file": "this file", "count": "typed count", "words": named}[placed.facts.source]


def _thread(sheet: _Sheet, placed: PlacementPlan, done: PassCost, prefix: str) -> None:
    making, facts, source = placed.making, placed.facts, _design_source(placed)
    inputs = [sheet.standard("goods", f"goods.{making.goods_id}.thickness_mm", "mm")]
    if making.backing:
        inputs.append(
            sheet.standard("backing layer", f"backings.{making.backing_id}.thickness_mm", "mm")
        )
        inputs.append(("layers", making.layers, "layers", "method"))
    if making.topping:
        inputs.append(sheet.standard("topping", f"toppings.{making.topping_id}.thickness_mm", "mm"))
    sheet.add(
        f"{prefix}.thickness", "Thickness under the stitches",
        "goods + layers × backing + topping", inputs, making.thickness_mm, "mm",
    )  # fmt: skip
    for side, name, parts, factor_key, whole in (
        ("needle", "Needle thread a piece", done.thread.needle_parts_m,
         "thread_use.factor_needle", done.needle_m),
        ("bobbin", "Bobbin thread a piece", done.thread.bobbin_parts_m,
         "thread_use.factor_bobbin", done.bobbin_m),
    ):  # fmt: skip
        bare = (
            "path + 2 × loops + 2 × thickness × stitches"
            if side == "needle"
            else "path on the back"
        )
        if facts.source == "count":
            bare = (
                "stitches × (mean stitch × (1 + 2·s·satin) + 2 × thickness)"
                if side == "needle"
                else "stitches × mean stitch × (1 − 2·s·satin)"
            )
        bare_inputs: list[Input] = [
            ("stitches", facts.stitches, "stitches", source),
            ("s", PULL, "", "balanced tension, a third of the back"),
        ]
        if facts.source == "count":
            kind = facts.kind or "mixed"
            letter = facts.letter_height_mm if kind == "lettering" else None
            if letter is None:
                bare_inputs += [
                    sheet.standard("mean stitch", f"kinds.{kind}.mean_stitch_mm", "mm"),
                    sheet.standard("satin", f"kinds.{kind}.satin_share", "share"),
                ]
            else:
                bare_inputs += [
                    ("mean stitch", facts.blocks[0].lengths.mm[0], "mm", "letter height"),
                    ("satin", 0.9, "share", "lettering of known height"),
                ]
        if side == "needle":
            bare_inputs.append(("thickness", making.thickness_mm, "mm", "worked out"))
        if making.layout.copies > 1:
            bare_inputs.append(("motifs", making.layout.copies, "a piece", "band"))
        sheet.add(f"{prefix}.{side}_bare", f"{name}, bare", bare, bare_inputs, parts["bare"], "m")
        rows: list[Input] = [("bare", parts["bare"], "m", "worked out")]
        trims = facts.trims * making.layout.copies if making.machine.auto_trim else 0
        each = done.loads.hoopings / done.pieces
        tails = f"{len(facts.blocks)} colours × the house's"
        if each != 1:
            tails += f" × {each:.4g} hoopings a piece"
        rows += [
            ("threads bend round each other", parts["wrap"], "m",
             f"{_text(done.stitches)} stitches × the house's"),
            ("trim tails", parts["trims"], "m", f"{_text(float(trims))} trims × the house's"),
            ("colour tails", parts["tails"], "m", tails),
        ]  # fmt: skip
        if parts["gaps"]:
            between = done.loads.gaps * len(facts.blocks) / done.pieces
            rows.append(("between motifs or pieces", parts["gaps"], "m", f"{between:.4g} a piece"))
        if placed.baste_stitches:
            stitches = _text(float(placed.baste_stitches))
            rows.append(("basting", parts["basting"], "m", f"{stitches} stitches a hooping"))
        rows.append(sheet.standard("factor", factor_key, ""))
        formula = "(bare + bends + tails) × factor"
        if side == "needle" and done.hand_change_m:
            rows.append(("hand changes, with factor", done.hand_change_m, "m", "machine"))
            formula += " + hand changes"
        sheet.add(f"{prefix}.{side}", name, formula, rows, whole, "m")


def _bobbin(sheet: _Sheet, placed: PlacementPlan, done: PassCost, pieces: int, prefix: str) -> None:
    for n, (colour, run) in enumerate(done.bobbins):
        rows: list[Input] = [
            ("pieces", pieces, "pieces", "asked"),
            ("a full bobbin", run.capacity_m, "m", "machine's bobbin"),
            ("changes", run.changes, "stops", "bobbins − 1"),
        ]
        if run.pieces_per_bobbin:
            formula = "⌈pieces ÷ ⌊fill × full ÷ use⌋⌉"
            rows.insert(1, sheet.standard("fill", "bobbin_plan.fill", "share"))
        else:
            formula = "⌈pieces × use ÷ full⌉"
        if placed.making.bobbin != "match":
            rows.insert(1, ("use a piece", done.bobbin_m, "m", "worked out"))
        sheet.add(
            f"{prefix}.bobbins{'' if n == 0 else n}", f"Bobbins, {colour}", formula, rows,
            run.count, "bobbins",
        )  # fmt: skip


def _cuts(sheet: _Sheet, placed: PlacementPlan, done: PassCost, prefix: str) -> None:
    wanted = [("backing", done.backing, placed.backing_mm), ("topping", done.topping,
               placed.topping_mm)]  # fmt: skip
    for n, (of, laid) in enumerate(zip(placed.steps.sheets, done.sheets, strict=True)):
        wanted.append((f"sheet{n}", laid.cut, (of.width_mm, of.height_mm)))
    for name, cut, size in wanted:
        if not cut:
            continue
        table = "sheets" if cut.on_sheets else "rolls"
        sheet.add(
            f"{prefix}.{name}_cut", f"{name.capitalize()}, cut", "rows × step",
            [
                ("piece", f"{size[0]:g} × {size[1]:g}", "mm",
                 {"backing": "hoop's outside + margin", "topping": "sewn size + margin"}.get(
                     name, "typed")),
                ("pieces", cut.count, "pieces", "hoopings × layers" if name == "backing"
                 else "hoopings or pieces"),
                sheet.standard("width", f"{table}.{cut.stock}.width_mm", "mm"),
                ("across", cut.across, "pieces",
                 "⌊width ÷ piece⌋" + (", turned" if cut.turned else "")),
                ("rows", cut.rows, "rows", "⌈pieces ÷ across⌉"),
                ("step", cut.step_mm, "mm", "the piece" if cut.fits else "strips joined"),
                ("waste", cut.waste, "share", "1 − pieces ÷ what is used"),
            ],
            cut.length_mm, "mm",
        )  # fmt: skip


def _times(sheet: _Sheet, placed: PlacementPlan, done: PassCost, prefix: str) -> None:
    making = placed.making
    slowest = [
        sheet.standard("set speed", f"machines.{making.machine_id}.set_spm", "spm"),
        sheet.standard("goods", f"goods.{making.goods_id}.cap_spm", "spm"),
        sheet.standard("thread", f"threads.{making.thread_id}.cap_spm", "spm"),
    ]
    points = sorted((p.length_mm, p.spm) for p in sheet.house.speed_profile.values())
    profile = "; ".join(f"{length:g} mm {spm:g}" for length, spm in points)
    sheet.add(
        f"{prefix}.needle_time", "Needle time a piece",
        "Σ 60 ÷ least of set speed, goods, thread and the speed at each stitch's length",
        [("stitches", done.stitches, "stitches", _design_source(placed)), *slowest,
         ("speed by length", profile, "spm", "house")],
        sum(placed.needle_s) * making.layout.copies, "s",
    )  # fmt: skip
    for side, name in (("machine", "Machine time a piece"), ("attend", "Attending a piece")):
        rows: list[Input] = []
        for event in done.events:
            seconds = event.machine_s if side == "machine" else event.operator_s
            if seconds:
                each = f"{event.times:.4g} a piece"
                if event.name == "sew" and side == "attend":
                    each = f"stand-by share {making.goods.standby:g} of needle time"
                rows.append((event.label, seconds, "s", each))
        whole = sum(e.machine_s if side == "machine" else e.operator_s for e in done.events)
        sheet.add(f"{prefix}.{side}_time", name, "sum of the events", rows, whole, "s")


def _hand(sheet: _Sheet, plan: LinePlan, cost: LineCost) -> None:
    rows: list[Input] = []
    for i, (placed, done) in enumerate(zip(plan.placements, cost.passes, strict=True)):
        tag = "" if i == 0 else f".{i}"
        sheet.add(
            f"practice{tag}", "Practice over the run",
            "mean over hoopings n of max(least, n^log₂ doubling)",
            [("hoopings", done.loads.hoopings, "hoopings", "pieces and layout"),
             sheet.standard("doubling", "practice.doubling", "factor"),
             sheet.standard("least", "practice.least", "factor")],
            done.practice, "share of the first one",
        )  # fmt: skip
        in_pass = done.pieces / cost.quantity
        for task in placed.tasks:
            share = (done.practice if task.practised else 1.0) * in_pass
            how = f"{task.times:g} × {task.seconds:g} s"
            if task.practised:
                how += f" × {done.practice:.5f} practised"
            if task.per == "hooping" and done.loads.hoopings != done.pieces:
                each = done.loads.hoopings / done.pieces
                share, how = share * each, f"{how} × {each:.4g} hoopings a piece"
            if in_pass != 1:
                how += f" × {in_pass:.4g} of the pieces"
            rows.append((task.label, task.total_s * share, "s", how))
    rows += [
        (task.label, task.total_s, "s", f"{task.times:g} × {task.seconds:g} s")
        for task in plan.tasks
    ]
    winding = sum(done.winding_s * done.pieces for done in cost.passes) / cost.quantity
    if winding:
        rows.append(("Wind bobbins", winding, "s", "bobbins × 75 s ÷ pieces"))
    sheet.add(
        "hand_time", "Handwork a piece", "sum of the tasks", rows,
        cost.run.hand_s / cost.quantity, "s",
    )  # fmt: skip


def _material_costs(sheet: _Sheet, plan: LinePlan, cost: LineCost) -> None:
    q = cost.quantity
    supply, bought = plan.supply, cost.goods
    source = supply.source
    if bought.step > 1:
        source += f", from {bought.step} on"
    if supply.alike:
        source += f", counted with {supply.alike} more in the order"
    each: Input = ("a blank", bought.each, "money", source)
    pieces: Input = ("pieces", q, "pieces", "asked")
    goods: list[Input] = [("bought", bought.bought, "pieces", "asked, price steps and packs"), each]
    formula = "bought × a blank"
    if bought.delivery:
        shared = "typed" if supply.supplier is None else "the supplier's, by what is bought"
        goods.append(("delivery", bought.delivery, "money", shared))
        formula += " + delivery"
    if plan.line.goods.spares_unsaleable:
        formula += " + spares that cannot be sold"
    sheet.add("cost.goods", "Goods", formula, goods, cost.parts["goods"], "money")
    for i, (placed, done) in enumerate(zip(plan.placements, cost.passes, strict=True)):
        tag = "" if i == 0 else f".{i}"
        sheet.add(
            f"cost.needle_thread{tag}", "Needle thread", "pieces × metres × price of a metre",
            [("pieces", done.pieces, "pieces", "asked"),
             ("needle thread a piece", done.needle_m, "m", "worked out"),
             ("a metre", placed.thread_price_m, "money/m", "largest put-up: price ÷ length")],
            exact(done.needle_m * done.pieces) * placed.thread_price_m, "money",
        )  # fmt: skip
        bobbin = sheet.house.bobbins[placed.making.machine.bobbin]
        if placed.making.bobbin == "match":
            formula, row = "pieces × metres × price of a metre", (
                "a metre", placed.thread_price_m, "money/m", "the needle thread")  # fmt: skip
        elif bobbin.prewound:
            formula, row = "bobbins × price", sheet.standard(
                "a bobbin", f"bobbins.{placed.making.machine.bobbin}.price", "money")  # fmt: skip
        else:
            formula, row = "metres × price ÷ full", sheet.standard(
                "a filling", f"bobbins.{placed.making.machine.bobbin}.price", "money")  # fmt: skip
        count = sum(run.count for _, run in done.bobbins)
        sheet.add(
            f"cost.bobbin_thread{tag}", "Bobbin thread", formula,
            [("bobbins", count, "bobbins", "worked out"),
             ("bobbin thread a piece", done.bobbin_m, "m", "worked out"), row],
            done.bobbin_cost, "money",
        )  # fmt: skip
        for name, cut in (("backing", done.backing), ("topping", done.topping)):
            if cut:
                sheet.add(
                    f"cost.{name}{tag}", name.capitalize(), *_of_stock(sheet, cut), cut.cost,
                    "money",
                )  # fmt: skip
    hoopings = sum((p.adhesive * d.loads.hoopings for p, d in zip(
        plan.placements, cost.passes, strict=True)), ZERO)  # fmt: skip
    sheet.add(
        "cost.consumables", "Consumables", "hoopings × adhesive where floated + pieces × cover",
        [("adhesive, all hoopings", hoopings, "money", "house"), pieces,
         ("soft cover", sum(p.cover for p in plan.placements), "money", "house")],
        cost.parts["consumables"], "money",
    )  # fmt: skip
    if cost.parts["sheet_goods"]:
        rows = [
            (f"{laid.material}, cut", laid.cut.cost, "money",
             f"{laid.cut.count} pieces of {laid.cut.stock}")
            for done in cost.passes for laid in done.sheets
        ]  # fmt: skip
        parts = [(part, d.pieces) for p, d in zip(plan.placements, cost.passes, strict=True)
                 for part in p.steps.parts]  # fmt: skip
        for part, n in [*parts, *((part, q) for part in plan.hardware)]:
            price = sheet.house.hardware[part.item].price
            rows.append((part.item, price * exact(part.amount) * n, "money",
                         f"{n} × {part.amount:g} × {price}"))  # fmt: skip
        sheet.add(
            "cost.sheet_goods", "Sheet goods and hardware", "sum of the cuts and the parts",
            rows, cost.parts["sheet_goods"], "money",
        )  # fmt: skip


def _of_stock(sheet: _Sheet, cut: Cut) -> tuple[str, list[Input]]:
    """Formula and inputs of what a cut costs, from a roll or from sheets."""
    if cut.on_sheets:
        return "rows × price of a sheet ÷ rows on one", [
            ("rows", cut.rows, "rows", "worked out"),
            sheet.standard("a sheet", f"sheets.{cut.stock}.price", "money"),
            ("rows on one", cut.rows_each, "rows", "worked out"),
        ]
    return "length × price ÷ roll length", [
        ("length", cut.length_mm, "mm", "worked out"),
        sheet.standard("a roll", f"rolls.{cut.stock}.price", "money"),
        sheet.standard("roll length", f"rolls.{cut.stock}.length_m", "m"),
    ]


def _time_costs(sheet: _Sheet, plan: LinePlan, cost: LineCost) -> None:
    machines = list(dict.fromkeys(p.making.machine_id for p in plan.placements))
    rates = [sheet.standard(m, f"machines.{m}.rate_per_h", "money/h") for m in machines]
    labour_rate = sheet.standard("labour", "rates.labour_per_h", "money/h")
    sheet.add(
        "cost.machine", "Machine", "seconds ÷ 3600 × rate",
        [("machine time, all pieces", cost.run.machine_s, "s", "worked out"), *rates],
        cost.parts["machine"], "money",
    )  # fmt: skip
    sheet.add(
        "cost.labour", "Hand work", "(hand + attending) ÷ 3600 × rate",
        [("hand, all pieces", cost.run.hand_s, "s", "worked out"),
         ("attending, all pieces", cost.run.attend_s, "s", "worked out"), labour_rate],
        cost.parts["labour"], "money",
    )  # fmt: skip
    rows: list[Input] = [
        (t.label, t.total_s, "s", f"{t.times:g} × {t.seconds:g} s")
        for t in (*cost.order.tasks, *cost.name_tasks)
    ]
    if cost.order.others:
        rows.append(("this line's share of what is done once an order", cost.order_share, "share",
                     "its other cost ÷ that of all lines"))  # fmt: skip
    if cost.order.bought:
        rows.append(("put-ups beyond the thread used, order", cost.order.bought, "money",
                     "whole spools and cones"))  # fmt: skip
    if cost.sample:
        rows += [
            ("sample: machine", cost.sample.machine_s, "s",
             f"{cost.sample_pieces} sewn, unpractised"),
            ("sample: hand and attending", cost.sample.hand_s + cost.sample.attend_s, "s",
             "unpractised"),
            ("sample: materials", cost.sample.materials, "money",
             "its own cut, bobbin by the metre"),
            *rates,
        ]  # fmt: skip
    rows.append(labour_rate)
    sheet.add(
        "cost.set_up", "Set-up",
        "tasks ÷ 3600 × labour"
        + (" + sample's labour, machine and materials" if cost.sample else ""),
        rows, cost.parts["set_up"], "money",
    )  # fmt: skip
    sheet.add(
        "cost.overhead", "Overhead", "labour hours, set-up and sample included × rate",
        [("hand and attending", cost.labour_s, "s", "worked out"),
         ("set-up and sample", cost.set_up_s, "s", "worked out"),
         sheet.standard("overhead", "rates.overhead_per_h", "money/h")],
        cost.parts["overhead"], "money",
    )  # fmt: skip
    sheet.add(
        "cost.packing", "Packing", "pieces × packing",
        [("pieces", cost.quantity, "pieces", "asked"),
         sheet.standard("packing", "consumables.packing", "money")],
        cost.parts["packing"], "money",
    )  # fmt: skip


def _spoilage(sheet: _Sheet, plan: LinePlan, cost: LineCost, priced: Priced) -> None:
    making = plan.placements[0].making
    sheet.add(
        "spoil", "Chance that a piece is spoiled",
        "1 − (1 − goods) × further hoopings × small letters × names",
        [sheet.standard("goods", f"goods.{making.goods_id}.spoil", "share"),
         ("hoopings", sum(p.making.layout.hoopings for p in plan.placements), "hoopings",
          "over all placements")],
        plan.spoil, "share",
    )  # fmt: skip
    own = plan.line.goods.supplied_by == "customer"
    formula = (
        "N·p × (what a piece took + liability)" if own
        else "N·p ÷ (1 − p) × (goods + what a piece took) + N·p ÷ 10 repairs × labour"
    )  # fmt: skip
    taken = cost.run.materials + cost.parts["machine"] + cost.parts["labour"]
    sheet.add(
        "cost.spoilage", "Spoilage", formula,
        [("lost pieces", cost.remakes, "pieces", "N and p"),
         ("goods a piece", cost.parts["goods"] / cost.quantity, "money", "worked out"),
         ("materials, machine, hand a piece", taken / cost.quantity, "money", "worked out"),
         ("repairs", cost.spoilage_repairs, "money", "worked out of p"),
         ("liability a piece", plan.line.goods.liability, "money", "typed")],
        cost.parts["spoilage"], "money",
    )  # fmt: skip
    sheet.add(
        "spares", "Spares to have ready", "least S with P(at least N good of N + S) ≥ confidence",
        [("pieces", cost.quantity, "pieces", "asked"),
         ("p", plan.spoil, "share", "worked out"),
         sheet.standard("confidence", "spoilage.confidence", "share")],
        priced.spares, "pieces",
    )  # fmt: skip


def _prices(sheet: _Sheet, plan: LinePlan, cost: LineCost, priced: Priced, currency: str) -> None:
    sheet.add(
        "unit_cost", "Full cost of a piece", "sum of the costs ÷ pieces",
        [(name.replace("_", " "), part, "money", "worked out")
         for name, part in cost.parts.items() if part]
        + [("pieces", cost.quantity, "pieces", "asked")],
        priced.unit_cost, "money",
    )  # fmt: skip
    fees = [sheet.standard("fee share", "price.fee_share", "share"),
            sheet.standard("fixed fee", "price.fee_fixed", "money")]  # fmt: skip
    sheet.add(
        "way.margin", "By margin", "(cost + fixed fee ÷ pieces) ÷ (1 − margin − fee share)",
        [("cost", priced.unit_cost, "money", "worked out"),
         ("margin", priced.target, "share", "asked or house"), *fees],
        priced.ways["margin"], "money",
    )  # fmt: skip
    goods = ("goods", cost.parts["goods"] / cost.quantity, "money", "worked out")
    mark_up = sheet.standard("goods mark-up", "price.goods_mark_up", "share")
    sheet.add(
        "way.stitch_rate", "By stitch rate",
        "Σ max(least, stitches ÷ 1000 × rate) + goods × (1 + mark-up) + names + set-up ÷ pieces",
        [*((f"stitches, {p.making.position_id}", d.stitches, "stitches", "design and basting")
           for p, d in zip(plan.placements, cost.passes, strict=True)),
         ("names", sum((names_price(p, sheet.house.price) for p in plan.placements), ZERO),
          "money", "house, by letters"),
         ("rate", stitch_rate_at(sheet.house, cost.quantity + cost.order.alike), "money/1000",
          "house, at this quantity"),
         sheet.standard("least", "price.stitch_rate_least", "money"), goods, mark_up,
         ("set-up", cost.parts["set_up"], "money", "worked out")],
        priced.ways["stitch-rate"], "money",
    )  # fmt: skip
    sample_s = cost.sample.machine_s if cost.sample else 0.0
    sheet.add(
        "way.hour_rate", "By hour rate",
        "goods × (1 + mark-up) + (materials + machine h × charge + hand h × charge) ÷ pieces",
        [goods, mark_up, ("materials", cost.run.materials, "money", "worked out"),
         ("machine, sample included", cost.run.machine_s + sample_s, "s", "worked out"),
         sheet.standard("machine charge", "price.machine_charge_per_h", "money/h"),
         ("hand, set-up included", cost.labour_s + cost.set_up_s, "s", "worked out"),
         sheet.standard("hand charge", "price.hand_charge_per_h", "money/h")],
        priced.ways["hour-rate"], "money",
    )  # fmt: skip
    raw = priced.ways.get(priced.method, priced.unit)
    how = {"typed": "as typed", "agreed": "as agreed"}
    formula = how.get(
        priced.method,
        "rounded up to the step; never under the next tier's, never over the one below's",
    )
    rows: list[Input] = [(f"by {priced.method}", raw, "money", "worked out"),
                         sheet.standard("step", "price.round_to", "money")]  # fmt: skip
    terms, less = priced.pricer.terms, plan.line.discount
    if less:
        formula = f"less the discount, not under the floor, {formula}"
        floor = priced.pricer.house_floor(cost.quantity)
        rows += [("discount", less, "share", "typed"), ("floor", floor, "money", "worked out")]
    if terms.included and terms.tax_rate:
        formula = f"with tax, {formula}"
        rows.append(("tax", terms.tax_rate, "share", "line or house"))
    apart = priced.pricer.apart(cost.quantity)
    if apart:
        rows.append(("set-up charged apart", apart, "money", "not in the price"))
    sheet.add(
        "price.unit", "Price of a piece", formula, rows,
        Decimal(money_text(priced.unit, currency)), "money",
    )  # fmt: skip
    sheet.add(
        "price.margin", "Margin", "1 − cost ÷ price",
        [("cost", priced.unit_cost, "money", "worked out"),
         ("price, net", priced.net, "money", "worked out")],
        priced.margin, "share",
    )  # fmt: skip


def line_working(
    plan: LinePlan,
    cost: LineCost,
    priced: Priced,
    charges: Sequence[Charged],
    elapsed: Sequence[tuple[str, float]],
    currency: str,
) -> list[Working]:
    """Write the working of a line's figures, in the order they depend on each other.

    Returns
    -------
    list of Working
        The order's charges and elapsed time stand with the first line.
        Ids are stable: "placements[0].needle", "cost.backing", "price.unit" …
    """
    sheet = _Sheet(plan.house, currency)
    for i, (placed, done) in enumerate(zip(plan.placements, cost.passes, strict=True)):
        prefix = f"placements[{i}]"
        _thread(sheet, placed, done, prefix)
        _bobbin(sheet, placed, done, done.pieces, prefix)
        _cuts(sheet, placed, done, prefix)
        _times(sheet, placed, done, prefix)
    _hand(sheet, plan, cost)
    _material_costs(sheet, plan, cost)
    _time_costs(sheet, plan, cost)
    _spoilage(sheet, plan, cost, priced)
    _prices(sheet, plan, cost, priced, currency)
    for n, charge in enumerate(charges):
        sheet.add(
            "charge" if n == 0 else f"charge.{n}", charge.name,
            charge.formula,
            [("cost", charge.cost, "money", "hours at labour and overhead, or bought"),
             ("margin", priced.target, "share", "asked or house"),
             sheet.standard("fee share", "price.fee_share", "share")],
            Decimal(money_text(charge.amount, currency)), "money",
        )  # fmt: skip
    if elapsed:
        sheet.add(
            "run.elapsed", "Elapsed time of the order",
            "set-up, then each pass: the first piece's preparation + cycles × the longer of "
            "machine and hands, and its finishing",
            [(name, seconds, "s", "worked out") for name, seconds in elapsed],
            sum(seconds for _, seconds in elapsed), "s",
        )  # fmt: skip
    return sheet.entries
