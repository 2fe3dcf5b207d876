"""Workings of machine, attending and hand time."""

from __future__ import annotations

from clothyard.core.estimate.workings.sheet import Input, Sheet, worked
from clothyard.core.record import record
from clothyard.core.work.events import Event
from clothyard.core.work.handwork import TaskUse
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan

_EVENT_STANDARDS = {
    ("load", "machine"): "events.load_machine_s",
    ("load", "attend"): "events.load_operator_s",
    ("change", "machine"): "events.change_hand_s",
    ("change", "attend"): "events.change_hand_s",
    ("rethread", "machine"): "events.change_hand_s",
    ("rethread", "attend"): "events.change_hand_s",
    ("trim", "machine"): "events.trim_auto_s",
    ("stop", "machine"): "events.stop_s",
    ("stop", "attend"): "events.stop_s",
    ("name", "machine"): "events.name_file_s",
    ("name", "attend"): "events.name_file_s",
    ("break", "machine"): "events.break_s",
    ("break", "attend"): "events.break_s",
}
"""The standard that one event takes, by its name and side."""


@record
class Where:
    """One placement's pass, and what its workings' ids begin with."""

    placed: PlacementPlan
    done: Pass
    prefix: str


def needle_time(sheet: Sheet, at: Where) -> None:
    """Needle time of a piece: each stitch at the least of four speeds.

    Source: docs/formulas.md 7.
    """
    making = at.placed.making
    points = sorted((p.length_mm, p.spm) for p in sheet.house.speed_profile.values())
    profile = "; ".join(f"{length:g} mm {spm:g}" for length, spm in points)
    slower = f"machines.{making.machine_id}.time_factor"
    own = [] if making.machine.time_factor == 1 else [sheet.standard("factor", slower, "times")]
    sheet.add(
        f"{at.prefix}.needle_time",
        "Needle time a piece",
        "Σ 60 ÷ least of set speed, goods, thread and the speed at each stitch's length"
        + (" × factor" if own else ""),
        [
            worked("stitches", at.done.stitches, "stitches", f"{at.prefix}.stitches"),
            sheet.standard("set speed", f"machines.{making.machine_id}.set_spm", "spm"),
            _of_goods(sheet, at, "goods", "cap_spm", "spm"),
            sheet.standard("thread", f"threads.{making.thread_id}.cap_spm", "spm"),
            Input("speed by length", profile, "spm", "house", standard="speed_profile"),
            *own,
        ],
        sum(at.placed.needle_s) * making.layout.copies,
        "s",
    )


def practice(sheet: Sheet, at: Where) -> None:
    """How much quicker the hands get over the run. Source: docs/formulas.md 8."""
    sheet.add(
        f"{at.prefix}.practice",
        "Practice over the run",
        "mean over hoopings n of max(least, n^log₂ doubling)",
        [
            Input(
                "hoopings",
                round(at.done.loads.hoopings / at.done.share),
                "hoopings",
                "pieces of the batch, and layout",
            ),
            sheet.standard("doubling", "practice.doubling", "factor"),
            sheet.standard("least", "practice.least", "factor"),
        ],
        at.done.practice,
        "share of the first one",
    )


def _of_goods(sheet: Sheet, at: Where, name: str, column: str, unit: str) -> Input:
    """A property of the goods: their class's, or what a heavy piece or one that is there only once
    asks for."""
    making = at.placed.making
    value = getattr(making.goods, column)
    if value == getattr(sheet.house.goods[making.goods_id], column):
        return sheet.standard(name, f"goods.{making.goods_id}.{column}", unit)
    once = making.goods.cap_spm != sheet.house.goods[making.goods_id].cap_spm
    why = "once only: it cannot be bought again" if once else "its class's, and its weight to bear"
    return Input(name, value, unit, why)


def _sewing(sheet: Sheet, at: Where, event: Event, side: str) -> list[Input]:
    making = at.placed.making
    rows = [
        worked(
            "needle time",
            sum(at.placed.needle_s) * making.layout.copies,
            "s",
            f"{at.prefix}.needle_time",
        ),
        Input("turns of sewing a piece", at.done.loads.abreast, "turns", "heads that sew at once"),
    ]
    if side == "attend":
        rows.append(_of_goods(sheet, at, "stand-by", "standby", "share"))
    return rows


def _breaks(sheet: Sheet, at: Where) -> list[Input]:
    making = at.placed.making
    rows = [
        worked("stitches", at.done.stitches, "stitches", f"{at.prefix}.stitches"),
        sheet.standard("breaks a thousand", f"threads.{making.thread_id}.break_rate", "breaks"),
    ]
    if making.goods.frame == "cap":
        rows.append(sheet.standard("on structured caps", "events.cap_break_factor", "times"))
    return rows


def _event_inputs(sheet: Sheet, at: Where, event: Event, side: str) -> list[Input]:
    """What an event's seconds are made of: how often a piece, and the house's seconds each."""
    if event.name == "sew":
        return _sewing(sheet, at, event, side)
    rows = [Input("times a piece", event.times, "times", "design, pieces and layout")]
    if event.name == "break":
        rows = _breaks(sheet, at)
    if event.name == "baste":
        rows.append(sheet.standard("begun", "events.baste_s", "s"))
        if side == "machine":
            rows += [
                worked("stitches", at.placed.baste_stitches, "stitches", f"{at.prefix}.basting"),
                sheet.standard("speed", "basting.spm", "spm"),
            ]
        return rows
    key = _EVENT_STANDARDS.get((event.name, side), "")
    if event.name == "change" and at.placed.making.machine.auto_change:
        key = "events.change_auto_s"
    if event.name == "bobbin":
        between = "between" if at.done.bobbins[0][1].pieces_per_bobbin else "within"
        if at.placed.making.bobbin != "match":
            key = f"bobbin_plan.change_{between}_s"
    if key:
        rows.append(sheet.standard("each", key, "s"))
    else:
        seconds = event.machine_s if side == "machine" else event.operator_s
        rows.append(Input("each", seconds / event.times, "s", "its tasks at the stop"))
    if (event.name, side) == ("load", "attend"):
        rows.append(
            worked("practised", at.done.practice, "share of the first one", f"{at.prefix}.practice")
        )
    return rows


def events(sheet: Sheet, at: Where) -> None:
    """Machine time and attending of a piece: the sum of its events.

    Source: docs/formulas.md 7.
    """
    for side, name in (("machine", "Machine time a piece"), ("attend", "Standing by, a piece")):
        rows, whole = [], 0.0
        for n, event in enumerate(at.done.events):
            seconds = event.machine_s if side == "machine" else event.operator_s
            whole += seconds
            if seconds:
                id_ = f"{at.prefix}.{side}.{n}"
                formula = "times × each" if event.name != "sew" else "needle time × turns"
                if event.name == "baste" and side == "machine":
                    formula = "times × (begun + stitches × 60 ÷ speed)"
                if event.name == "sew" and side == "attend":
                    formula += " × stand-by"
                inputs = _event_inputs(sheet, at, event, side)
                sheet.add(id_, f"{event.label}, a piece", formula, inputs, seconds, "s")
                rows.append(worked(event.label, seconds, "s", id_))
        sheet.add(f"{at.prefix}.{side}_time", name, "sum of the events", rows, whole, "s")


def task(
    sheet: Sheet, used: TaskUse, id_: str, *, share: float = 1.0, at: Where | None = None
) -> Input:
    """Add a task: how often × the first one's seconds × practice, and what share of the pieces.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    used : TaskUse
        The task, its seconds and how often.
    id_ : str
        Of the figure.
    share : float, optional
        Of the pieces.
    at : Where | None, optional
        The placement it is of.

    Returns
    -------
    Input
    """
    rows = [Input("times", used.times, "times", f"a {used.per}")]
    key = f"tasks.{used.task}.seconds"
    if used.task in sheet.house.tasks:
        rows.append(sheet.standard("the first one", key, "s"))
    else:
        part = used.task.removeprefix("fix-")
        rows.append(sheet.standard("the first one", f"hardware.{part}.seconds", "s"))
    value = used.total_s * share
    if at is not None:
        if used.practised:
            rows.append(
                worked(
                    "practised", at.done.practice, "share of the first one", f"{at.prefix}.practice"
                )
            )
            value *= at.done.practice
        hoopings = at.done.loads.hoopings / at.done.pieces
        if used.per == "hooping" and hoopings != 1:
            rows.append(Input("hoopings a piece", hoopings, "hoopings", "pieces and layout"))
            value *= hoopings
    if share != 1:
        rows.append(Input("of the pieces", share, "share", "those that are sewn here"))
    sheet.add(id_, used.label, " × ".join(row.name for row in rows), rows, value, "s")
    return worked(used.label, value, "s", id_)


def _winding(sheet: Sheet, ats: list[Where], quantity: int, id_: str) -> list[Input]:
    """Winding bobbins, a piece: they match, or are not bought wound."""
    bobbins = sum(run.count for at in ats if at.done.winding_s for _, run in at.done.bobbins)
    if not bobbins:
        return []
    each = sheet.standard("each", "tasks.wind-bobbin.seconds", "s")
    value = sum(at.done.winding_s * at.done.pieces for at in ats) / quantity
    sheet.add(
        id_,
        "Wind bobbins, a piece",
        "bobbins × each ÷ pieces",
        [
            Input("bobbins", bobbins, "bobbins", "of all threads"),
            each,
            Input("pieces", quantity, "pieces", "asked"),
        ],
        value,
        "s",
    )
    return [worked("Wind bobbins", value, "s", id_)]


def hand_time(sheet: Sheet, done: LineDone, ats: list[Where], quantity: int, prefix: str) -> None:
    """Handwork of a piece: the sum of its tasks.

    Parameters
    ----------
    sheet : Sheet
        Where the working is put.
    done : LineDone
        As worked for the quantity.
    ats : list[Where]
        The placements of the line, as named in the working.
    quantity : int
        Pieces.
    prefix : str
        Of the ids of its figures.

    Source
    ------
    docs/formulas.md 8.
    """
    rows: list[Input] = []
    for at in ats:
        share = at.done.pieces / quantity
        for n, used in enumerate(at.placed.tasks):
            rows.append(task(sheet, used, f"{at.prefix}.task.{n}", share=share, at=at))
    for n, used in enumerate(done.plan.tasks):
        rows.append(task(sheet, used, f"{prefix}task.{n}"))
    rows += _winding(sheet, ats, quantity, f"{prefix}winding")
    whole = done.plan.hand_s + sum(at.done.hand_s * at.done.pieces for at in ats) / quantity
    sheet.add(f"{prefix}hand_time", "Handwork a piece", "sum of the tasks", rows, whole, "s")
