"""Handwork: which tasks a piece and an order take."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

from clothyard.core.errors import unknown_id
from clothyard.core.house.document import House
from clothyard.core.job.document import Placement
from clothyard.core.methods.making import Making
from clothyard.core.methods.marking import task_of
from clothyard.core.methods.patch import reach_mm
from clothyard.core.record import record
from clothyard.core.stitches.derived import outline_mm
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.stitches.own import OwnDesigns
from clothyard.core.time.steps import StepPlan

Size = tuple[float, float]

DEEP = 2
"""The pile out of which film is picked, not pulled."""
STICKY_HOOPINGS = 6
"""A hoop that glue was used in is cleaned every so many hoopings."""
FINISHING = ("press", "label", "soft-cover", "wash", "restuff", "pins", "soak")


@record
class TaskUse:
    """A task and how often a piece, a hooping or an order takes it; `seconds` is one, the first.

    `before` says whether it is done before the needle runs.
    """

    task: str
    label: str
    seconds: float
    times: float
    practised: bool
    before: bool
    per: Literal["piece", "hooping", "order"] = "piece"

    @property
    def total_s(self) -> float:
        """All of it, unpractised. [s]"""
        return self.seconds * self.times


Per = Literal["piece", "hooping", "order"]


def _use(
    house: House,
    task: str,
    times: float = 1.0,
    per: Per = "piece",
    *,
    over_mm: Sequence[Size] = (),
    deep: bool = False,
) -> TaskUse:
    """Use a task; it grows with what is sewn or cut, `over_mm`: of pieces that differ, the mean."""
    found = house.tasks[task]
    seconds = found.seconds
    if over_mm:
        each = [found.seconds_of(size, deep=deep) for size in over_mm]
        seconds = each[0] if len(each) == 1 else sum(each) / len(each)
    return TaskUse(task, found.label, seconds, times, found.practised, found.before, per)


def sewn_boxes(making: Making, facts: DesignFacts, own: OwnDesigns | None) -> list[Size]:
    """Return what of a hooping is sewn on one piece, without its basting; of names each. [mm]

    Source: docs/formulas.md 8.
    """
    if making.layout.kind != "single" and making.layout.pieces == 1:
        return [making.layout.size_mm]
    designs = own.sewn if own and own.given else (facts,)
    return [(design.width_mm, design.height_mm) for design in designs]


def check_finishing(finishing: Iterable[str], *, where: str) -> None:
    """Refuse finishing tasks that are not known, naming the nearest.

    Parameters
    ----------
    finishing : Iterable[str]
        Tasks asked for.
    where : str
        Its place in the job, for errors.
    """
    for i, task in enumerate(finishing):
        if task not in FINISHING:
            raise unknown_id(task, FINISHING, where=f"{where}.finishing[{i}]", what="finishing")


def hooping_task(making: Making) -> str:
    """Name the hooping task: by how the goods are held, else by the hoop's kind."""
    if making.hold == "float":
        return "hoop-wet" if making.under.wet else "hoop-float"
    if making.goods.hooping != "plain":
        return f"hoop-{making.goods.hooping}"
    if making.hoop is None:
        return "hoop-cap" if making.on_cap_frame else "hoop-screw"
    return f"hoop-{making.hoop.kind}"


def covered(making: Making, finishing: Iterable[str]) -> bool:
    """Whether a soft cover is ironed over the back.

    Parameters
    ----------
    making : Making
        How the placement is made.
    finishing : Iterable[str]
        Tasks asked for.

    Returns
    -------
    bool
    """
    return making.goods.soft_cover or "soft-cover" in finishing


def _cut_at(making: Making, house: House) -> float:
    """How far from its design a patch is cut out. [mm]"""
    return reach_mm(making.finish, house) or house.patches.margin_mm


def _taken_off(
    making: Making,
    facts: DesignFacts,
    house: House,
    finishing: tuple[str, ...],
    *,
    boxes: Sequence[Size],
    shares: bool,
) -> list[TaskUse]:
    """List what is clipped, pulled and torn off a placement once it is sewn."""
    layout = making.layout
    backings = layout.hoopings  # a piece's own share of what is taken off its back
    tasks = []
    auto = making.machine.auto_trim
    clips = sum(b.clips + (0 if auto else b.trims) for b in facts.blocks) * layout.copies
    sides = 2 if making.goods.back_seen == "yes" else 1
    if clips:
        tasks.append(_use(house, "clip", clips * sides))
    if making.under.wet and not shares:
        tasks.append(_use(house, "release-wet", 1, "hooping"))
    if making.baste and not shares:
        tasks.append(_use(house, "unbaste", 1, "hooping"))
    if making.topping and not shares:
        soaked = making.topping.soluble and "soak" in finishing
        task, times = ("soak", 1) if soaked else ("film", backings)
        deep = making.goods.pile == DEEP
        tasks.append(_use(house, task, times, over_mm=boxes, deep=deep))
    if making.under.torn and not shares:
        times = making.under.torn * backings
        tasks.append(_use(house, "tear-backing", times, over_mm=boxes))
    if making.under.trimmed and not shares:
        tasks.append(_use(house, "trim-backing", backings, over_mm=boxes))
    return tasks


def _held_by(making: Making, backing_mm: Size, house: House) -> list[TaskUse]:
    """List what holds a hooping beside the hoop: a backing fused on, glue cleaned off after."""
    tasks = []
    fused = making.under.fused
    if fused:
        tasks.append(_use(house, "fuse", fused, "hooping", over_mm=[backing_mm]))
    if making.hold == "float":
        tasks.append(_use(house, "clean-hoop", 1 / STICKY_HOOPINGS, "hooping"))
    return tasks


def placement_tasks(
    making: Making,
    facts: DesignFacts,
    house: House,
    steps: StepPlan,
    finishing: tuple[str, ...] = (),
    extras: Placement | None = None,
    *,
    backing_mm: Size = (0.0, 0.0),
    own: OwnDesigns | None = None,
) -> list[TaskUse]:
    """List the tasks of one placement, in the order of the work, per piece or per hooping.

    Parameters
    ----------
    making : Making
        How the placement is made.
    facts : DesignFacts
        Of the design.
    house : House
        The standards.
    steps : StepPlan
        Of the work at stops.
    finishing : tuple[str, ...], optional
        Tasks asked for.
    extras : Placement | None, optional
        The placement, for its seam.
    backing_mm : (float, float), optional
        That its backing is cut to. [mm]
    own : OwnDesigns, optional
        Where each piece has its own.

    Returns
    -------
    list[TaskUse]

    Source
    ------
    docs/formulas.md 8 and 14. A machine trim needs no hand clip; a jump over 2 mm left
    untrimmed does, on each seen side.
    """
    shares = extras is not None and extras.shares  # what goes by the hooping is the other's
    tasks = []
    if not making.goods.made:  # of a patch, where it is fixed: every piece
        per: Per = "piece" if extras is not None and extras.as_patch else "hooping"
        tasks.append(_use(house, task_of(making.marking), 1, per))
    seam = extras.seam if extras else None
    lengths = 0.0
    if seam:
        lengths = seam.length_mm / 100 * (house.seams.felled_factor if seam.felled else 1)
        tasks.append(_use(house, "open-seam", lengths))
    if seam and seam.lining:
        tasks.append(_use(house, "lining"))
    if making.under.layers and not shares:
        tasks.append(_use(house, "cut-backing", making.under.layers, "hooping"))
    if not shares:
        tasks += _held_by(making, backing_mm, house)
    if steps.patches:
        tasks.append(_use(house, "prepare-patch", steps.patches))
    if steps.hooping_patches:
        tasks.append(_use(house, "prepare-patch", steps.hooping_patches, "hooping"))
    if steps.shaped_mm:
        tasks.append(_use(house, "cut-patch", steps.shaped_mm))
    if steps.hooping_shaped_mm:
        tasks.append(_use(house, "cut-patch", steps.hooping_shaped_mm, "hooping"))
    if not shares:
        tasks.append(_use(house, hooping_task(making), 1, "hooping"))
    if making.hold == "float" and "pins" in finishing and not shares:
        tasks.append(_use(house, "pins", 1, "hooping"))
    if making.on_cap_frame and not shares:
        tasks.append(_use(house, "cap-form"))
    together = extras.hooping_mm if extras is not None else None
    boxes = [together] if together else sewn_boxes(making, facts, own)
    tasks += _taken_off(making, facts, house, finishing, boxes=boxes, shares=shares)
    if seam:
        tasks.append(_use(house, "close-seam", lengths))
    if extras is not None and extras.as_patch:
        tasks.append(_use(house, "cut-shape", outline_mm(facts, margin_mm=_cut_at(making, house))))
        tasks.append(_use(house, "sew-patch" if making.finish.fixing == "sew" else "fix-patch"))
    for step in steps.after:
        found = house.tasks[step.task]
        per = "hooping" if step.per_hooping else "piece"
        tasks.append(
            TaskUse(
                step.task,
                step.label,
                step.seconds / step.times,
                step.times,
                found.practised,
                False,
                per,
            )
        )
    return tasks


def piece_tasks(
    makings: Iterable[Making], finishing: tuple[str, ...], house: House
) -> list[TaskUse]:
    """List the tasks that a piece takes once, whatever its placements.

    Parameters
    ----------
    makings : Iterable[Making]
        How each placement is made.
    finishing : tuple[str, ...]
        Tasks asked for.
    house : House
        The standards.

    Returns
    -------
    list[TaskUse]

    Source
    ------
    docs/formulas.md 8 and 14. What washes away is cut and rinsed once a piece; pressed only where
    the class may be; one wash of linen stands for rinsing, marks and pressing.
    """
    makings = list(makings)
    goods = makings[0].goods
    rinsed = any(making.under.rinsed for making in makings)
    washed = "wash" in finishing or (rinsed and goods.rinse == "wash")
    tasks = []
    if not goods.made:
        tasks.append(_use(house, "inspect"))
        if not (rinsed and goods.rinse == "wash"):  # the wash takes marks out too
            tasks.append(_use(house, "unmark"))
    if "restuff" in finishing:
        tasks.append(_use(house, "restuff"))
    covers = sum(covered(making, finishing) for making in makings)
    if covers:
        tasks.append(_use(house, "soft-cover", covers))
    if rinsed:
        tasks.append(_use(house, "cut-wash-away"))
        if goods.rinse != "wash":
            tasks.append(_use(house, f"{goods.rinse}-wash-away"))
    if washed:
        tasks.append(_use(house, "wash"))
    pressed = "press" in finishing or (rinsed and goods.rinse == "rinse")
    if pressed and not (rinsed and goods.rinse == "wash") and goods.press != "none":
        tasks.append(_use(house, "steam" if goods.press == "steam" else "press"))
    tasks.append(_use(house, "check"))
    if "label" in finishing:
        tasks.append(_use(house, "label"))
    tasks.append(_use(house, "pack"))
    return tasks


Enquiry = Literal["proof", "counter"]


def customer_task(enquiry: Enquiry, *, repeat: bool) -> str:
    """Name what the customer takes: at the counter, of what was all sewn before, or with a proof.

    Source: docs/formulas.md 8.
    """
    if enquiry == "counter":
        return "customer-counter"
    return "customer-repeat" if repeat else "customer"


def order_tasks(
    house: House,
    *,
    designs: int,
    colours: int,
    further_heads: int,
    cap_frame: bool,
    customer: str = "customer",
) -> list[TaskUse]:
    """List the tasks an order takes once, repeats too.

    Parameters
    ----------
    designs : int
        Files to load: designs that differ, for each machine.
    colours : int
        Colours to thread: all that differ on a machine that changes by itself, else the first.
    further_heads : int
        Colours threaded on heads beyond the first.
    cap_frame : bool
        Whether anything is sewn on the cap frame.
    customer : str
        The task that the customer takes.

    Source
    ------
    docs/formulas.md 14.
    """
    tasks = [
        _use(house, "measure", 1, "order"),
        _use(house, "load-file", designs, "order"),
        _use(house, "thread-colour", colours, "order"),
        _use(house, customer, 1, "order"),
    ]
    if further_heads:
        tasks.insert(-1, _use(house, "thread-head", further_heads, "order"))
    if cap_frame:
        tasks.append(_use(house, "cap-driver", 1, "order"))
    return tasks


def name_tasks(house: House, names: int) -> list[TaskUse]:
    """List what names take before the run: each typed and proofed.

    Parameters
    ----------
    house : House
        The standards.
    names : int
        How many.

    Returns
    -------
    list[TaskUse]
    """
    return [_use(house, "name", names, "order")] if names else []
