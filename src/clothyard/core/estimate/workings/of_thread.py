"""Workings of thread, bobbins and cuts of one placement."""

from __future__ import annotations

from typing import Literal

from clothyard.core.cloth.cutting import Cut
from clothyard.core.estimate.workings.sheet import Input, Sheet, worked
from clothyard.core.stitches.count import LETTER_SATIN_SHARE_KNOWN
from clothyard.core.stitches.facts import PULL
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan

Side = Literal["needle", "bobbin"]


def design_source(placed: PlacementPlan) -> str:
    """Say where a design's stitches came from."""
    named = "names, their mean" if placed.own else "words as lettered"
    return {"file": "this file", "count": "typed count", "words": named}[placed.facts.source]


def thickness(sheet: Sheet, placed: PlacementPlan, prefix: str) -> None:
    """Thickness under the stitches: goods, backing, topping.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    placed : PlacementPlan
        The placement as planned.
    prefix : str
        Of the ids of its figures.
    """
    making = placed.making
    inputs = [sheet.standard("goods", f"goods.{making.goods_id}.thickness_mm", "mm")]
    if making.backing:
        key = f"backings.{making.backing_id}.thickness_mm"
        inputs.append(sheet.standard("backing layer", key, "mm"))
        inputs.append(Input("layers", making.layers, "layers", "method"))
    if making.second:
        key = f"backings.{making.second_id}.thickness_mm"
        inputs.append(sheet.standard("second backing layer", key, "mm"))
        inputs.append(Input("its layers", making.second_layers, "layers", "method"))
    if making.topping:
        inputs.append(sheet.standard("topping", f"toppings.{making.topping_id}.thickness_mm", "mm"))
    sheet.add(
        f"{prefix}.thickness",
        "Thickness under the stitches",
        "goods + layers × backing (each kind) + topping"
        if making.second
        else "goods + layers × backing + topping",
        inputs,
        making.thickness_mm,
        "mm",
    )


def stitches(sheet: Sheet, placed: PlacementPlan, done: Pass, prefix: str) -> None:
    """Stitches of a piece: the design as often as it is sewn, and basting.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    placed : PlacementPlan
        The placement as planned.
    done : Pass
        As worked for the quantity.
    prefix : str
        Of the ids of its figures.
    """
    rows = [
        Input("stitches of the design", placed.facts.stitches, "stitches", design_source(placed)),
        Input("times on a piece", placed.making.layout.copies, "motifs", "asked"),
    ]
    if placed.baste_stitches:
        hoopings = done.loads.hoopings / done.pieces
        rows += [
            worked("basting", placed.baste_stitches, "stitches", f"{prefix}.basting"),
            Input("hoopings a piece", hoopings, "hoopings", "pieces and layout"),
        ]
        width, height = placed.making.layout.size_mm
        sheet.add(
            f"{prefix}.basting",
            "Basting stitches of a hooping",
            "⌈perimeter ÷ stitch⌉",
            [
                Input("across", width, "mm", "sewn in a hooping"),
                Input("down", height, "mm", "sewn in a hooping"),
                sheet.standard("outside it", "basting.margin_mm", "mm"),
                sheet.standard("stitch", "basting.stitch_mm", "mm"),
            ],
            placed.baste_stitches,
            "stitches",
        )
    sheet.add(
        f"{prefix}.stitches",
        "Stitches of a piece",
        "design × times" + (" + basting × hoopings" if placed.baste_stitches else ""),
        rows,
        done.stitches,
        "stitches",
    )


def _count_inputs(sheet: Sheet, placed: PlacementPlan) -> list[Input]:
    """Stitch length and satin of a bare count: the kind's, or of letters of known height."""
    facts = placed.facts
    kind = facts.kind or "mixed"
    if kind != "lettering" or facts.letter_height_mm is None:
        return [
            sheet.standard("mean stitch", f"kinds.{kind}.mean_stitch_mm", "mm"),
            sheet.standard("satin", f"kinds.{kind}.satin_share", "share"),
        ]
    known = "lettering of known height"
    return [
        Input("mean stitch", facts.blocks[0].lengths.mm[0], "mm", "letter height"),
        Input("satin", LETTER_SATIN_SHARE_KNOWN, "share", known),
    ]


_BARE = {
    ("needle", False): "path + 2 × loops + 2 × thickness × stitches",
    ("bobbin", False): "path on the back",
    ("needle", True): "stitches × (mean stitch × (1 + 2·s·satin) + 2 × thickness)",
    ("bobbin", True): "stitches × mean stitch × (1 − 2·s·satin)",
}


def _bare(sheet: Sheet, placed: PlacementPlan, done: Pass, prefix: str, side: Side) -> Input:
    making, facts = placed.making, placed.facts
    counted = facts.source == "count"
    rows = [
        Input("stitches", facts.stitches, "stitches", design_source(placed)),
        Input("s", PULL, "", "balanced tension, a third of the back"),
    ]
    if counted:
        rows += _count_inputs(sheet, placed)
    if side == "needle":
        rows.append(worked("thickness", making.thickness_mm, "mm", f"{prefix}.thickness"))
    if making.layout.copies > 1:
        rows.append(Input("motifs", making.layout.copies, "a piece", "band"))
    parts = done.thread.needle_parts_m if side == "needle" else done.thread.bobbin_parts_m
    name = f"{side.capitalize()} thread a piece, bare"
    id_ = f"{prefix}.{side}_bare"
    sheet.add(id_, name, _BARE[side, counted], rows, parts["bare"], "m")
    return worked("bare", parts["bare"], "m", id_)


def _extras(
    sheet: Sheet, placed: PlacementPlan, done: Pass, prefix: str, side: Side
) -> list[Input]:
    """What an estimate adds to the bare thread: each a count × the house's length."""
    parts = done.thread.needle_parts_m if side == "needle" else done.thread.bobbin_parts_m
    making, blocks = placed.making, len(placed.facts.blocks)
    trims = placed.facts.trims * making.layout.copies if making.machine.auto_trim else 0
    hoopings = done.loads.hoopings / done.pieces
    counts = (
        (
            "wrap",
            "Threads bend round each other",
            worked("stitches", done.stitches, "stitches", f"{prefix}.stitches"),
        ),
        ("trim", "Trim tails", Input("trims", float(trims), "trims", design_source(placed))),
        (
            "block",
            "Colour tails",
            Input("colours", blocks * hoopings, "blocks", "of the design, in each hooping"),
        ),
    )
    rows = []
    for what, name, count in counts:
        part = parts[{"wrap": "wrap", "trim": "trims", "block": "tails"}[what]]
        id_ = f"{prefix}.{side}_{what}"
        each = sheet.standard("each", f"thread_use.{what}_{side}_mm", "mm")
        sheet.add(id_, name, f"{count.name} × each", [count, each], part, "m")
        rows.append(worked(name[:1].lower() + name[1:], part, "m", id_))
    if parts["gaps"]:
        between = done.loads.gaps * blocks / done.pieces
        said = f"{between:.4g} a piece"
        rows.append(Input("between motifs or pieces", parts["gaps"], "m", said))
    if placed.baste_stitches:
        rows.append(worked("basting", parts["basting"], "m", f"{prefix}.basting"))
    return rows


def _hand_changes(sheet: Sheet, placed: PlacementPlan, done: Pass, prefix: str) -> Input:
    """What hand changes of colour draw out, a piece."""
    each = sheet.standard("drawn out at each", "thread_use.hand_change_mm", "mm")
    factor = sheet.standard("factor", "thread_use.factor_needle", "")
    changes = done.hand_change_m * 1000 / (float(each.value) * float(factor.value) or 1)
    id_ = f"{prefix}.hand_changes"
    sheet.add(
        id_,
        "Hand changes of colour, thread a piece",
        "changes × drawn out × factor",
        [Input("changes a piece", changes, "changes", "colours, needles and pieces"), each, factor],
        done.hand_change_m,
        "m",
    )
    return worked("hand changes, with factor", done.hand_change_m, "m", id_)


def thread(sheet: Sheet, placed: PlacementPlan, done: Pass, prefix: str) -> None:
    """Needle and bobbin thread of a piece.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    placed : PlacementPlan
        The placement as planned.
    done : Pass
        As worked for the quantity.
    prefix : str
        Of the ids of its figures.

    Source
    ------
    docs/formulas.md 2.
    """
    for side, whole in (("needle", done.needle_m), ("bobbin", done.bobbin_m)):
        rows = [_bare(sheet, placed, done, prefix, side)]  # type: ignore[arg-type]
        rows += _extras(sheet, placed, done, prefix, side)  # type: ignore[arg-type]
        rows.append(sheet.standard("factor", f"thread_use.factor_{side}", ""))
        formula = "(bare + bends + tails) × factor"
        if side == "needle" and done.hand_change_m:
            rows.append(_hand_changes(sheet, placed, done, prefix))
            formula += " + hand changes"
        name = f"{side.capitalize()} thread a piece"
        sheet.add(f"{prefix}.{side}", name, formula, rows, whole, "m")


def bobbins(sheet: Sheet, placed: PlacementPlan, done: Pass, prefix: str) -> None:
    """How many bobbins a pass takes, thread by thread.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    placed : PlacementPlan
        The placement as planned.
    done : Pass
        As worked for the quantity.
    prefix : str
        Of the ids of its figures.

    Source
    ------
    docs/formulas.md 3.
    """
    for n, (colour, run) in enumerate(done.bobbins):
        pieces = round(done.pieces / done.share)
        rows = [Input("pieces", pieces, "pieces", "asked" if done.share == 1 else "of the batch")]
        if placed.making.bobbin != "match":
            rows.append(worked("use a piece", done.bobbin_m, "m", f"{prefix}.bobbin"))
        if run.pieces_per_bobbin:
            formula = "⌈pieces ÷ ⌊fill × full ÷ use⌋⌉"
        else:
            formula = "⌈pieces × use ÷ (fill × full)⌉"
        rows.append(sheet.standard("fill", "bobbin_plan.fill", "share"))
        full = Input("a full bobbin", run.capacity_m, "m", "what its thread's fineness leaves")
        if placed.making.bobbin != "match":
            kind = placed.making.machine.bobbin
            full = sheet.standard("a full bobbin", f"bobbins.{kind}.capacity_m", "m")
        rows += [full, Input("changes", run.changes, "stops", "bobbins − 1")]
        sheet.add(bobbins_id(prefix, n), f"Bobbins, {colour}", formula, rows, run.count, "bobbins")


def bobbins_id(prefix: str, n: int = 0) -> str:
    """Name the working of a pass's n-th bobbin thread."""
    return f"{prefix}.bobbins{'' if n == 0 else n}"


_SIZE_OF = {
    "backing": "hoop's outside + margin",
    "backing_second": "hoop's outside + margin",
    "topping": "sewn size + margin",
}


_TITLES = {"backing_second": "Second backing"}


def _cut(sheet: Sheet, name: str, cut: Cut, size: tuple[float, float], prefix: str) -> None:
    table = "sheets" if cut.on_sheets else "rolls"
    step = Input("step", cut.step_mm, "mm", "the piece" if cut.fits else "strips joined")
    sheet.add(
        f"{prefix}.{name}_cut",
        f"{_TITLES.get(name, name.capitalize())}, cut",
        "rows × step",
        [
            Input("piece", f"{size[0]:g} × {size[1]:g}", "mm", _SIZE_OF.get(name, "typed")),
            Input(
                "pieces",
                cut.count,
                "pieces",
                "hoopings × layers" if name.startswith("backing") else "hoopings or pieces",
            ),
            sheet.standard("width", f"{table}.{cut.stock}.width_mm", "mm"),
            Input(
                "across",
                cut.across,
                "pieces",
                "⌊width ÷ piece⌋" + (", turned" if cut.turned else ""),
            ),
            Input("rows", cut.rows, "rows", "⌈pieces ÷ across⌉"),
            step,
            Input("waste", cut.waste, "share", "1 − pieces ÷ what is used"),
        ],
        cut.length_mm,
        "mm",
    )


def cuts(sheet: Sheet, placed: PlacementPlan, done: Pass, prefix: str) -> None:
    """How backing, topping and sheet goods are cut.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    placed : PlacementPlan
        The placement as planned.
    done : Pass
        As worked for the quantity.
    prefix : str
        Of the ids of its figures.

    Source
    ------
    docs/formulas.md 4.
    """
    wanted = [
        ("backing", done.backing, placed.backing_mm),
        ("backing_second", done.second, placed.backing_mm),
        ("topping", done.topping, placed.topping_mm),
    ]
    for n, (of, laid) in enumerate(zip(placed.steps.sheets, done.sheets, strict=True)):
        wanted.append((f"sheet{n}", laid.cut, (of.width_mm, of.height_mm)))
    for name, cut, size in wanted:
        if cut:
            _cut(sheet, name, cut, size, prefix)
