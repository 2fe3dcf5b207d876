"""What a line of an order takes, as far as it does not depend on the quantity."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import field
from decimal import Decimal
from itertools import pairwise
from typing import Any

import numpy as np

from clothyard.core.cloth.cutting import Cutter, cutters, stocks_of
from clothyard.core.cloth.hoops import FALLBACK_CLEARANCE_MM
from clothyard.core.errors import unknown_id
from clothyard.core.house import House
from clothyard.core.job import Line, Placement
from clothyard.core.making import Making
from clothyard.core.price.goods import Supply
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.thread.use import (
    DesignThread,
    PieceThread,
    basting_stitches,
    design_thread,
)
from clothyard.core.time.events import Event
from clothyard.core.time.handwork import TaskUse, covered, piece_tasks, placement_tasks
from clothyard.core.time.needles import NeedlePlan, plan_needles
from clothyard.core.time.speed import design_cap_spm, even_seconds, needle_seconds
from clothyard.core.time.steps import FixedPart, StepPlan
from clothyard.core.units import exact

ZERO = Decimal(0)


@record
class OwnDesigns:
    """Designs that differ by piece: the names of a line.

    Attributes
    ----------
    pieces : tuple of (DesignFacts or None), shape (quantity,)
        In sewing order; None for a piece that is left blank on purpose.
    given : int
        Names that were given; the rest are priced as the mean of them.
    names : tuple of str
        Those given, blanks left out.
    """

    pieces: tuple[DesignFacts | None, ...]
    given: int
    names: tuple[str, ...]

    @property
    def sewn(self) -> tuple[DesignFacts, ...]:
        """The pieces that are sewn."""
        return tuple(facts for facts in self.pieces if facts is not None)

    @property
    def named(self) -> tuple[DesignFacts, ...]:
        """The pieces whose name is known."""
        return tuple(facts for facts in self.pieces[: self.given] if facts is not None)

    @property
    def share(self) -> float:
        """Share of the pieces that are sewn."""
        return len(self.sewn) / len(self.pieces)

    @property
    def rename_share(self) -> float:
        """Changes of design from one sewn piece to the next, as a share of all there could be."""
        sewn = self.sewn
        if len(sewn) < 2:
            return 1.0
        # the names still to come all differ
        changes = sum(
            a.name != b.name or i >= self.given for i, (a, b) in enumerate(pairwise(sewn), 1)
        )
        return changes / (len(sewn) - 1)


@record
class PlacementPlan:
    """One placement of a line: all that does not depend on the quantity.

    Lengths in mm, thread in m, times in s. `needle_s` is per block, of the design sewn once;
    `baste_s` of one hooping; `gap_s` the way over an uncut gap between motifs. `own_bobbin_m` is
    each piece's bobbin thread where designs differ by piece.
    """

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
    thread_price_m: Decimal
    adhesive: Decimal
    cover: Decimal
    backing_cutters: tuple[Cutter, ...]
    topping_cutters: tuple[Cutter, ...]
    sheet_cutters: tuple[tuple[Cutter, ...], ...]
    needles: NeedlePlan
    hand_s: tuple[float, float, float, float]
    """Its tasks a piece, those practised, a hooping, and those practised. [s]"""
    threads: dict[tuple[float, float], PieceThread] = field(
        default_factory=dict, compare=False, repr=False
    )
    """A piece's thread by hoopings and gaps a piece: the same at most quantities."""
    steady: dict[tuple[float, float, float, float], tuple[Event, ...]] = field(
        default_factory=dict, compare=False, repr=False
    )
    """Events that are the same for every piece, by what of the loads falls on one."""
    known: dict[tuple[int, bool], Any] = field(default_factory=dict, compare=False, repr=False)
    """Passes costed already, by pieces and practice: a pass depends on nothing else."""

    def pieces_of(self, quantity: int) -> int:
        """Pieces of a quantity that have this placement: all but those left blank."""
        if self.own is None:
            return quantity
        return max(1, round(quantity * self.own.share))


@record
class LinePlan:
    """A line: all that does not depend on the quantity."""

    line: Line
    house: House
    supply: Supply
    placements: tuple[PlacementPlan, ...]
    tasks: tuple[TaskUse, ...]
    hand_s: float
    hardware: tuple[FixedPart, ...]
    spoil: float
    is_new: bool

    def names_of(self, quantity: int) -> int:
        """Names to type at a quantity: the sewn pieces of a placement with names."""
        own = [p.pieces_of(quantity) for p in self.placements if p.own is not None]
        return max(own, default=0)


def thread_price_per_m(house: House, thread_id: str) -> Decimal:
    """Price a metre from the shop's largest put-up.

    Source: docs/formulas.md 14: without a shelf every colour counts as on it in cones.
    """
    largest = max(house.putups.values(), key=lambda putup: putup.length_m)
    factor = house.threads[thread_id].price_factor
    return largest.price * factor / exact(largest.length_m)


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


def plan_placement(
    making: Making,
    facts: DesignFacts,
    house: House,
    finishing: tuple[str, ...],
    *,
    steps: StepPlan,
    extras: Placement | None = None,
    own: OwnDesigns | None = None,
    like: PlacementPlan | None = None,
) -> PlacementPlan:
    """Work out all of a placement that does not depend on the quantity.

    Parameters
    ----------
    facts : DesignFacts
        As sewn: on its base if it has one; of names, the mean.
    extras : Placement, optional
        Its seam and jig.
    like : PlacementPlan, optional
        One of the same design, whose needle time is taken when the speed is the same.
    """
    machine, basting = making.machine, house.basting
    baste = _basting(making, facts, own, house)
    pitch = making.layout.gap_mm + (making.sewn_mm[0] / making.layout.columns)
    thread = design_thread(
        facts,
        thickness_mm=making.thickness_mm,
        use=house.thread_use,
        auto_trim=machine.auto_trim,
        baste_stitches=baste,
        baste_stitch_mm=basting.stitch_mm,
        pitch_mm=pitch,
    )
    cap = design_cap_spm(facts, cap_spm=making.cap_spm, speed=house.speed)
    if like and _as_fast(like, making, facts):
        needle_s = like.needle_s
    else:
        needle_s = needle_seconds(
            facts,
            cap_spm=making.cap_spm,
            profile=house.speed_profile,
            speed=house.speed,
            auto_trim=machine.auto_trim,
        )
    tasks = tuple(placement_tasks(making, facts, house, steps, finishing, extras))
    margin = 2 * house.cutting.topping_margin_mm
    backing_mm = _backing_piece(making, house)
    topping_mm = (making.sewn_mm[0] + margin, making.sewn_mm[1] + margin)
    return PlacementPlan(
        making=making,
        facts=facts,
        baste_stitches=baste,
        thread=thread,
        needle_s=needle_s,
        baste_s=even_seconds(baste, basting.stitch_mm, cap_spm=cap, profile=house.speed_profile),
        gap_s=0.0 if machine.auto_trim else -(-pitch // 12) * 60 / house.speed.jump_spm,
        backing_mm=backing_mm,
        topping_mm=topping_mm,
        tasks=tasks,
        steps=steps,
        own=own,
        own_bobbin_m=_own_bobbin(own, thread, making, house) if own else (),
        thread_price_m=thread_price_per_m(house, making.thread_id),
        adhesive=house.consumables.adhesive if making.hold == "float" else ZERO,
        cover=house.consumables.soft_cover if covered(making, finishing) else ZERO,
        backing_cutters=cutters(*backing_mm, stocks_of(making.backing_id, house)),
        topping_cutters=cutters(*topping_mm, stocks_of(making.topping_id, house)),
        sheet_cutters=tuple(
            cutters(sheet.width_mm, sheet.height_mm, stocks_of(sheet.material, house))
            for sheet in steps.sheets
        ),
        needles=plan_needles(facts.colour_keys, machine.needles),
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
    )


def _spoil(line: Line, placements: Sequence[PlacementPlan], house: House) -> float:
    """Chance that a piece is spoiled. Source: docs/formulas.md 10."""
    rules = house.spoilage
    good = 1 - placements[0].making.goods.spoil
    hoopings = sum(p.making.layout.hoopings for p in placements)
    good *= (1 - rules.further_hooping) ** (hoopings - 1)
    letters = [p.facts.letter_height_mm for p in placements]
    if any(height is not None and height < rules.small_letter_mm for height in letters):
        good *= 1 - rules.small_letters
    if any(p.own for p in placements):
        good *= 1 - rules.personalised
    return 1 - good


def plan_hardware(line: Line, house: House, *, where: str) -> tuple[FixedPart, ...]:
    """Plan what is fixed to each piece after sewing.

    Raises
    ------
    BadInput
        If the shop has no such part.
    """
    parts = []
    for i, part in enumerate(line.hardware):
        if part.item not in house.hardware:
            raise unknown_id(
                part.item, house.hardware, where=f"{where}.hardware[{i}].item", what="hardware"
            )
        unit = house.hardware[part.item].unit
        each = (part.length_mm or 0) / 1000 if unit == "m" else 1
        parts.append(FixedPart(part.item, each * part.count, unit))
    return tuple(parts)


def plan_line(
    line: Line,
    placements: Sequence[PlacementPlan],
    house: House,
    supply: Supply,
    *,
    where: str = "line",
) -> LinePlan:
    """Work out all of a line that does not depend on the quantity.

    Parameters
    ----------
    line : Line
    placements : sequence of PlacementPlan, shape (n_placements,)
    house : House
    supply : Supply
        How its blanks are bought.
    """
    makings = [p.making for p in placements]
    tasks = piece_tasks(makings, line.finishing, house)
    for part in line.hardware:
        if part.item in house.hardware:
            kind = house.hardware[part.item]
            check = next(i for i, task in enumerate(tasks) if task.task == "check")
            fixed = TaskUse(f"fix-{part.item}", f"Fix: {kind.label.lower()}", kind.seconds,
                            part.count, practised=False)  # fmt: skip
            tasks.insert(check, fixed)
    return LinePlan(
        line=line,
        house=house,
        supply=supply,
        placements=tuple(placements),
        tasks=tuple(tasks),
        hand_s=sum(task.total_s for task in tasks),
        hardware=plan_hardware(line, house, where=where),
        spoil=_spoil(line, placements, house),
        is_new=not all(p.design.repeat for p in line.placements),
    )
