"""A placement of a line: all of its work that does not depend on the quantity."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from clothyard.core.cloth.cutting import Cutter, cutters, stocks_of
from clothyard.core.cloth.hoops import FALLBACK_CLEARANCE_MM
from clothyard.core.house.document import House
from clothyard.core.job.document import Placement
from clothyard.core.methods.making import Making
from clothyard.core.methods.patch import reach_mm
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.stitches.own import OwnDesigns
from clothyard.core.thread.use import DesignThread, basting_stitches, design_thread
from clothyard.core.time.needles import NeedlePlan, plan_needles
from clothyard.core.time.speed import needle_seconds
from clothyard.core.time.steps import StepPlan
from clothyard.core.work.handwork import TaskUse, covered, placement_tasks


@record
class PlacementPlan:
    """One placement of a line: all that does not depend on the quantity.

    Lengths in mm, thread in m, times in s. `needle_s` is per block, of the design sewn once;
    `baste_s` of one hooping; `gap_s` the way over an uncut gap between motifs. One that `shares`
    lies in the hooping of the place before. `own_bobbin_m` is each piece's bobbin thread where
    designs differ by piece; `covered` says whether a soft cover goes over its back, `film_m2` how
    much heat-seal film a patch is pressed on with; `hand_s` are
    its tasks a piece, those practised, a hooping, and those practised. `identity` tells its design
    from others, `colour_ids` each block's thread from those of the whole order.
    """

    id: str
    making: Making
    facts: DesignFacts
    baste_stitches: float
    thread: DesignThread
    needle_s: tuple[float, ...]
    baste_s: float
    gap_s: float
    backing_mm: tuple[float, float]
    topping_mm: tuple[float, float]
    tasks: tuple[TaskUse, ...]
    steps: StepPlan
    own: OwnDesigns | None
    own_bobbin_m: tuple[float, ...]
    covered: bool
    film_m2: float
    backing_cutters: tuple[Cutter, ...]
    second_cutters: tuple[Cutter, ...]
    topping_cutters: tuple[Cutter, ...]
    sheet_cutters: tuple[tuple[Cutter, ...], ...]
    needles: NeedlePlan
    identity: str
    colour_ids: tuple[str, ...]
    shares: bool
    hand_s: tuple[float, float, float, float]

    def pieces_of(self, quantity: int) -> int:
        """Pieces of a quantity that have this placement: all but those left blank."""
        if self.own is None:
            return quantity
        return max(1, round(quantity * self.own.share))


Size = tuple[float, float]


def _backing_piece(making: Making, house: House) -> tuple[float, float]:
    cut = house.cutting
    if making.hoop is None:
        extra = 2 * FALLBACK_CLEARANCE_MM + cut.no_hoop_margin_mm
        return making.sewn_mm[0] + extra, making.sewn_mm[1] + extra
    if making.hoop.kind == "cap":
        return cut.cap_width_mm, cut.cap_length_mm
    margin = 2 * cut.backing_margin_mm
    return making.hoop.outer_width_mm + margin, making.hoop.outer_height_mm + margin


def _basting(making: Making, facts: DesignFacts, own: OwnDesigns | None, house: House) -> float:
    """Basting stitches of one hooping: round what it sews; of names, the mean."""
    if not making.baste:
        return 0
    if making.layout.kind == "single":
        designs = (own.named if own else ()) or (facts,)
        each = [basting_stitches(d.width_mm, d.height_mm, house.basting) for d in designs]
        return each[0] if len(each) == 1 else sum(each) / len(each)
    return basting_stitches(*making.layout.size_mm, house.basting)


def _own_bobbin(
    own: OwnDesigns, thread: DesignThread, making: Making, house: House
) -> tuple[float, ...]:
    """Bobbin thread of each sewn piece, in sewing order: linear in its design's sums. [m]"""
    use, designs = house.thread_use, own.sewn
    auto = making.machine.auto_trim

    def column(values: Sequence[float]) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
        return np.asarray(values, dtype=float)

    metres = column([sum(b.bobbin_mm for b in d.blocks) for d in designs])
    metres += use.wrap_bobbin_mm * column([d.stitches for d in designs])
    if auto:
        metres += use.trim_bobbin_mm * column([d.trims for d in designs])
    else:
        metres += column([sum(b.trim_gap_mm for b in d.blocks) for d in designs])
    metres *= making.layout.copies
    metres += sum(sum(bobbin.values()) for _, bobbin in thread.of_hooping)
    return tuple((metres / 1000 * thread.factor_bobbin).tolist())


def _colour_ids(facts: DesignFacts) -> tuple[str, ...]:
    """Name each block's thread so that it holds over the order.

    A known colour is the same thread everywhere; unknown ones all differ, and are the same only
    in the same design.
    """
    identity = facts.identity
    return tuple(
        block.colour or ("base" if block.role == "base" else f"{identity}|{key}")
        for block, key in zip(facts.blocks, facts.colour_keys, strict=True)
    )


def _pitch_mm(making: Making) -> float:
    """From one motif or piece of a hooping to the next. [mm]"""
    return making.layout.gap_mm + making.sewn_mm[0] / making.layout.columns


def _film_m2(making: Making, facts: DesignFacts, house: House) -> float:
    """Heat-seal film of a patch, as large as it is cut out; 0 of what is not pressed on. [m²]"""
    if making.finish.fixing != "press":
        return 0.0
    reach = 2 * (reach_mm(making.finish, house) or house.patches.margin_mm)
    return (facts.width_mm + reach) * (facts.height_mm + reach) / 1e6


@record
class PlacementWish:
    """A placement as asked, settled and drawn: what its plan is made from.

    `facts` are as sewn, on its base if it has one; of names, the mean. `like` is a plan of the
    same design in the same house, of which is taken what comes out the same.
    """

    asked: Placement
    making: Making
    facts: DesignFacts
    own: OwnDesigns | None
    steps: StepPlan
    finishing: tuple[str, ...]
    like: PlacementPlan | None = None


def _needle_seconds(wish: PlacementWish, house: House) -> tuple[float, ...]:
    making, facts = wish.making, wish.facts
    if wish.like and _as_fast(wish.like, making, facts):
        return wish.like.needle_s
    found = needle_seconds(
        facts,
        cap_spm=making.cap_spm,
        profile=house.speed_profile,
        speed=house.speed,
        auto_trim=making.machine.auto_trim,
    )
    slower = making.machine.time_factor
    return found if slower == 1 else tuple(seconds * slower for seconds in found)


def _sewn_as(making: Making, baste: float) -> tuple[float | int | bool, ...]:
    """What a design's thread depends on beside the design."""
    layout, auto = making.layout, making.machine.auto_trim
    return making.thickness_mm, auto, layout.copies, _pitch_mm(making), baste


def _thread(
    wish: PlacementWish, baste: float, house: House
) -> tuple[DesignThread, tuple[float, ...]]:
    """Work out a piece's thread, and the bobbin thread of each piece where designs differ. [m]"""
    making, facts, own, like = wish.making, wish.facts, wish.own, wish.like
    if (
        like
        and like.facts is facts
        and like.own is own
        and _sewn_as(like.making, like.baste_stitches) == _sewn_as(making, baste)
    ):
        return like.thread, like.own_bobbin_m
    thread = design_thread(
        facts,
        thickness_mm=making.thickness_mm,
        use=house.thread_use,
        auto_trim=making.machine.auto_trim,
        baste_stitches=baste,
        baste_stitch_mm=house.basting.stitch_mm,
        pitch_mm=_pitch_mm(making),
    )
    return thread, _own_bobbin(own, thread, making, house) if own else ()


def _piece_sizes(making: Making, house: House) -> tuple[Size, Size]:
    """Sizes that backing and topping are cut to: (backing, topping). [mm]"""
    margin = 2 * house.cutting.topping_margin_mm
    topping = (making.sewn_mm[0] + margin, making.sewn_mm[1] + margin)
    return _backing_piece(making, house), topping


def plan_placement(wish: PlacementWish, house: House) -> PlacementPlan:
    """Work out all of a placement that does not depend on the quantity.

    Parameters
    ----------
    wish : PlacementWish
    house : House

    Returns
    -------
    PlacementPlan
        Thread a piece, needle time a block, cut sizes, tasks, needles.

    Source
    ------
    docs/formulas.md 2 to 8.
    """
    making, facts, own = wish.making, wish.facts, wish.own
    machine, basting = making.machine, house.basting
    like = wish.like if wish.like and wish.like.facts is facts else None
    baste = 0 if wish.asked.shares else _basting(making, facts, own, house)
    thread, own_bobbin_m = _thread(wish, baste, house)
    backing_mm, topping_mm = _piece_sizes(making, house)
    tasks = tuple(
        placement_tasks(
            making,
            facts,
            house,
            wish.steps,
            wish.finishing,
            wish.asked,
            backing_mm=backing_mm,
            own=own,
        )
    )
    backed, topped = (making.backing_id, backing_mm), (making.topping_id, topping_mm)
    return PlacementPlan(
        id=wish.asked.id,
        making=making,
        facts=facts,
        baste_stitches=baste,
        thread=thread,
        needle_s=_needle_seconds(wish, house),
        baste_s=baste * 60 / basting.spm,
        gap_s=0.0 if machine.auto_trim else -(-_pitch_mm(making) // 12) * 60 / house.speed.jump_spm,
        backing_mm=backing_mm,
        topping_mm=topping_mm,
        tasks=tasks,
        steps=wish.steps,
        own=own,
        own_bobbin_m=own_bobbin_m,
        covered=covered(making, wish.finishing),
        film_m2=_film_m2(making, facts, house),
        backing_cutters=like.backing_cutters
        if like and (like.making.backing_id, like.backing_mm) == backed
        else cutters(*backing_mm, stocks_of(making.backing_id, house)),
        second_cutters=like.second_cutters
        if like and (like.making.second_id, like.backing_mm) == (making.second_id, backing_mm)
        else cutters(*backing_mm, stocks_of(making.second_id, house)),
        topping_cutters=like.topping_cutters
        if like and (like.making.topping_id, like.topping_mm) == topped
        else cutters(*topping_mm, stocks_of(making.topping_id, house)),
        sheet_cutters=tuple(
            cutters(
                sheet.width_mm, sheet.height_mm, stocks_of(sheet.material, house), grain=sheet.grain
            )
            for sheet in wish.steps.sheets
        ),
        needles=like.needles
        if like and like.making.machine.needles == machine.needles
        else plan_needles(facts.colour_keys, machine.needles),
        identity=like.identity if like else facts.identity,
        colour_ids=like.colour_ids if like else _colour_ids(facts),
        shares=wish.asked.shares,
        hand_s=_hand_seconds(tasks),
    )


def _hand_seconds(tasks: Sequence[TaskUse]) -> tuple[float, float, float, float]:
    sums = {(per, practised): 0.0 for per in ("piece", "hooping") for practised in (False, True)}
    for task in tasks:
        sums[task.per, task.practised] += task.total_s
    a, b, c, d = sums.values()
    return a, b, c, d


def _as_fast(one: PlacementPlan, other: Making, facts: DesignFacts) -> bool:
    making = one.making
    return (
        one.facts is facts
        and making.cap_spm == other.cap_spm
        and making.machine.auto_trim == other.machine.auto_trim
        and making.machine.time_factor == other.machine.time_factor
    )
