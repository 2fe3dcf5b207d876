"""What a line of an order takes and costs, at any quantity."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from clothyard.core.cloth.cutting import Cut, cut_from_best
from clothyard.core.cloth.hoops import FALLBACK_CLEARANCE_MM
from clothyard.core.house import House, Roll
from clothyard.core.job import Line, Sample
from clothyard.core.making import Making
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.thread.bobbins import BobbinRun, bobbin_capacity_m, plan_bobbins
from clothyard.core.thread.use import PieceThread, basting_stitches, piece_thread
from clothyard.core.time.events import Event, hand_changes, pass_events
from clothyard.core.time.handwork import (
    TaskUse,
    covered,
    order_tasks,
    piece_tasks,
    placement_tasks,
)
from clothyard.core.time.practice import mean_practice
from clothyard.core.time.speed import needle_seconds
from clothyard.core.units import exact

HOUR = Decimal(3600)
ZERO = Decimal(0)


@dataclass(frozen=True, slots=True)
class PlacementPlan:
    """One placement of a line: all that does not depend on the quantity.

    Lengths in mm, thread in m, times in s, per piece.
    """

    making: Making
    facts: DesignFacts
    stitches: int
    baste_stitches: int
    thread: PieceThread
    needle_s: tuple[float, ...]
    backing_mm: tuple[float, float]
    topping_mm: tuple[float, float]
    tasks: tuple[TaskUse, ...]
    thread_price_m: Decimal
    adhesive: Decimal
    cover: Decimal
    backing_rolls: dict[str, Roll]
    topping_rolls: dict[str, Roll]

    @property
    def bobbin_m(self) -> float:
        """Bobbin thread of a piece in this pass. [m]"""
        return sum(self.thread.bobbin_m)


@dataclass(frozen=True, slots=True)
class PassCost:
    """One placement over a number of pieces. Times and thread are means per piece."""

    needle_m: float
    bobbin_m: float
    hand_change_m: float
    bobbins: tuple[tuple[str, BobbinRun], ...]
    bobbin_cost: Decimal
    winding_s: float
    backing: Cut | None
    topping: Cut | None
    events: tuple[Event, ...]
    hand_s: float


@dataclass(frozen=True, slots=True)
class Consumed:
    """Machine, attendance and hand seconds, and materials of some pieces, in all."""

    machine_s: float
    attend_s: float
    hand_s: float
    needle_thread: Decimal
    bobbin_thread: Decimal
    backing: Decimal
    topping: Decimal
    consumables: Decimal

    @property
    def materials(self) -> Decimal:
        """All materials; sheet goods come with later work. Not rounded."""
        return (
            self.needle_thread + self.bobbin_thread + self.backing + self.topping
            + self.consumables
        )  # fmt: skip


@dataclass(frozen=True, slots=True)
class LinePlan:
    """A line: all that does not depend on the quantity."""

    line: Line
    house: House
    placements: tuple[PlacementPlan, ...]
    tasks: tuple[TaskUse, ...]
    set_up_tasks: tuple[TaskUse, ...]
    goods_each: Decimal
    spoil: float
    is_new: bool
    first_piece: Consumed


@dataclass(frozen=True, slots=True)
class LineCost:
    """A line at a quantity: every cost unrounded, and what it came from."""

    quantity: int
    passes: tuple[PassCost, ...]
    run: Consumed
    sample_pieces: int
    sample: Consumed | None
    set_up_s: float
    order_tasks_s: float
    remakes: float
    spoilage_remakes: Decimal
    spoilage_repairs: Decimal
    parts: dict[str, Decimal]

    @property
    def total(self) -> Decimal:
        """Sum of the unrounded parts."""
        return sum(self.parts.values(), ZERO)

    @property
    def labour_s(self) -> float:
        """Hand and attendance of the good pieces. [s]"""
        return self.run.hand_s + self.run.attend_s


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


def plan_placement(
    making: Making,
    facts: DesignFacts,
    house: House,
    finishing: tuple[str, ...],
    *,
    like: PlacementPlan | None = None,
) -> PlacementPlan:
    """Work out all of a placement that does not depend on the quantity.

    `like` is one of the same design, whose needle time is taken when the speed is the same.
    """
    machine = making.machine
    basting = house.basting
    baste = basting_stitches(facts.width_mm, facts.height_mm, basting) if making.baste else 0
    thread = piece_thread(
        facts,
        thickness_mm=making.thickness_mm,
        use=house.thread_use,
        auto_trim=machine.auto_trim,
        baste_stitches=baste,
        baste_stitch_mm=basting.stitch_mm,
    )
    needle_s = (
        like.needle_s
        if like and _as_fast(like.making, making)
        else needle_seconds(
            facts,
            cap_spm=making.cap_spm,
            profile=house.speed_profile,
            speed=house.speed,
            auto_trim=machine.auto_trim,
            baste_stitches=baste,
            baste_stitch_mm=basting.stitch_mm,
        )
    )
    margin = 2 * house.cutting.topping_margin_mm
    return PlacementPlan(
        making=making,
        facts=facts,
        stitches=facts.stitches + baste,
        baste_stitches=baste,
        thread=thread,
        needle_s=needle_s,
        backing_mm=_backing_piece(making, house),
        topping_mm=(making.sewn_mm[0] + margin, making.sewn_mm[1] + margin),
        tasks=tuple(placement_tasks(making, facts, house)),
        thread_price_m=thread_price_per_m(house, making.thread_id),
        adhesive=house.consumables.adhesive if making.hold == "float" else ZERO,
        cover=house.consumables.soft_cover if covered(making, finishing) else ZERO,
        backing_rolls={k: r for k, r in house.rolls.items() if r.material == making.backing_id},
        topping_rolls={k: r for k, r in house.rolls.items() if r.material == making.topping_id},
    )


def _as_fast(one: Making, other: Making) -> bool:
    return (
        one.cap_spm == other.cap_spm
        and one.baste == other.baste
        and one.machine.auto_trim == other.machine.auto_trim
    )


def _spoil(line: Line, placements: list[PlacementPlan], house: House) -> float:
    """Chance that a piece is spoiled. Source: docs/formulas.md 10."""
    rules = house.spoilage
    good = 1 - placements[0].making.goods.spoil
    good *= (1 - rules.further_hooping) ** (len(placements) - 1)
    letters = [p.facts.letter_height_mm for p in placements]
    if any(height is not None and height < rules.small_letter_mm for height in letters):
        good *= 1 - rules.small_letters
    if line.names:
        good *= 1 - rules.personalised
    return 1 - good


def _goods_each(line: Line) -> Decimal:
    """Mean goods price of a piece; the customer's own cost nothing."""
    if line.goods.supplied_by == "customer":
        return ZERO
    base = line.goods.unit_cost or ZERO
    if not line.cells:
        return base
    total = sum(
        (c.quantity * (base if c.unit_cost is None else c.unit_cost) for c in line.cells), ZERO
    )
    return total / line.quantity


def plan_line(
    line: Line,
    makings: list[Making],
    designs: list[DesignFacts],
    house: House,
    *,
    like: LinePlan | None = None,
) -> LinePlan:
    """Work out all of a line that does not depend on the quantity.

    Parameters
    ----------
    line : Line
    makings, designs : list of Making, list of DesignFacts, shape (n_placements,)
    house : House
    like : LinePlan, optional
        A plan of the same line with other methods, to take over what they share.
    """
    shared = like.placements if like else [None] * len(makings)
    placements = [
        plan_placement(making, facts, house, line.finishing, like=alike)
        for making, facts, alike in zip(makings, designs, shared, strict=True)
    ]
    tasks = tuple(piece_tasks(makings, line.finishing, house))
    colours = len({(p.making.thread_id, key) for p in placements for key in p.facts.colour_keys})
    return LinePlan(
        line=line,
        house=house,
        placements=tuple(placements),
        tasks=tasks,
        set_up_tasks=tuple(order_tasks(makings, colours, len(placements), house)),
        goods_each=_goods_each(line),
        spoil=_spoil(line, placements, house),
        is_new=not all(p.design.repeat for p in line.placements),
        first_piece=first_piece(placements, tasks, house),
    )


def _bobbins(
    plan: PlacementPlan, house: House, pieces: int
) -> tuple[list[tuple[str, BobbinRun]], int, float]:
    """Plan a pass's bobbins: (thread, run) each, stops to change, seconds each."""
    making = plan.making
    kind = house.bobbins[making.machine.bobbin]
    rules, heads = house.bobbin_plan, making.machine.heads
    policy = making.bobbin_policy
    if making.bobbin != "match":
        run = plan_bobbins(
            plan.bobbin_m, pieces=pieces, capacity_m=kind.capacity_m, policy=policy, plan=rules,
            heads=heads,
        )  # fmt: skip
        return [(making.bobbin, run)], run.changes, run.change_s
    use: dict[str, float] = {}
    for key, metres in zip(plan.facts.colour_keys, plan.thread.bobbin_m, strict=True):
        use[key] = use.get(key, 0.0) + metres
    capacity = bobbin_capacity_m(kind.capacity_m, tex=making.thread.tex)
    runs = [
        (key, plan_bobbins(metres, pieces=pieces, capacity_m=capacity, policy=policy, plan=rules,
                           heads=heads))
        for key, metres in use.items()
    ]  # fmt: skip
    swaps = hand_changes(plan.facts, math.ceil(pieces / heads))
    if len(plan.facts.blocks) == 1:
        return runs, runs[0][1].changes, runs[0][1].change_s
    extra = rules.extra_head_s * (heads - 1)
    return runs, swaps, rules.change_between_s + extra


def _bobbin_cost(
    plan: PlacementPlan, house: House, pieces: float, runs: list[tuple[str, BobbinRun]]
) -> Decimal:
    kind = house.bobbins[plan.making.machine.bobbin]
    used = exact(plan.bobbin_m * pieces)
    if plan.making.bobbin == "match":
        return used * plan.thread_price_m
    if kind.prewound:
        return sum(run.count for _, run in runs) * kind.price
    return used * kind.price / exact(kind.capacity_m)


def cost_pass(plan: PlacementPlan, house: House, *, pieces: int, practice: float) -> PassCost:
    """Cost one placement over a number of pieces.

    Parameters
    ----------
    pieces : int
        1 or more.
    practice : float
        Mean share of the first piece's practised tasks: 1 for a sample.
    """
    making = plan.making
    runs, changes, change_s = _bobbins(plan, house, pieces)
    wound = making.bobbin == "match" or not house.bobbins[making.machine.bobbin].prewound
    bobbins = sum(run.count for _, run in runs)
    winding = house.tasks["wind-bobbin"].seconds * bobbins / pieces if wound else 0.0
    tail = 0.0
    if not making.machine.auto_change:
        use = house.thread_use
        changes_each = hand_changes(plan.facts, pieces) / pieces
        tail = use.hand_change_mm / 1000 * changes_each * use.factor_needle
    backing = topping = None
    if making.backing:
        backing = cut_from_best(
            *plan.backing_mm,
            count=pieces * making.layers,
            rolls=plan.backing_rolls,
        )
    if making.topping:
        topping = cut_from_best(
            *plan.topping_mm,
            count=pieces,
            rolls=plan.topping_rolls,
        )
    events = pass_events(
        making,
        plan.facts,
        house,
        pieces=pieces,
        stitches=plan.stitches,
        needle_s=sum(plan.needle_s),
        practice=practice,
        bobbin_changes=changes,
        bobbin_change_s=change_s,
    )
    hand = sum(t.total_s * (practice if t.practised else 1.0) for t in plan.tasks)
    return PassCost(
        needle_m=sum(plan.thread.needle_m) + tail,
        bobbin_m=plan.bobbin_m,
        hand_change_m=tail,
        bobbins=tuple(runs),
        bobbin_cost=_bobbin_cost(plan, house, pieces, runs),
        winding_s=winding,
        backing=backing,
        topping=topping,
        events=tuple(events),
        hand_s=hand + winding,
    )


def _consumed(
    placements: Sequence[PlacementPlan],
    tasks: Sequence[TaskUse],
    passes: Sequence[PassCost],
    *,
    pieces: int,
) -> Consumed:
    hand = sum(t.total_s for t in tasks) + sum(p.hand_s for p in passes)
    each = [p.adhesive + p.cover for p in placements]
    needle = ZERO
    for placement, cost in zip(placements, passes, strict=True):
        needle += exact(cost.needle_m * pieces) * placement.thread_price_m
    return Consumed(
        machine_s=sum(e.machine_s for p in passes for e in p.events) * pieces,
        attend_s=sum(e.operator_s for p in passes for e in p.events) * pieces,
        hand_s=hand * pieces,
        needle_thread=needle,
        bobbin_thread=sum((p.bobbin_cost for p in passes), ZERO),
        backing=sum((p.backing.cost for p in passes if p.backing), ZERO),
        topping=sum((p.topping.cost for p in passes if p.topping), ZERO),
        consumables=sum(each, ZERO) * pieces,
    )


def sample_pieces(plan: LinePlan, quantity: int) -> tuple[int, bool]:
    """Return how many samples are sewn at this quantity, and whether they are washed.

    Source: docs/formulas.md 8 and 14: stated samples at every tier; the default rule at each
    tier's own quantity.
    """
    stated: Sample | None = plan.line.sample
    if stated is not None:
        return stated.pieces, stated.wash
    rule = plan.house.sample
    return (rule.pieces if plan.is_new and quantity >= rule.from_quantity else 0), False


def first_piece(
    placements: Sequence[PlacementPlan], tasks: Sequence[TaskUse], house: House
) -> Consumed:
    """Work out what one first piece takes: unpractised, its own cut, bobbin by the metre.

    Source: docs/formulas.md 14.
    """
    passes = [cost_pass(p, house, pieces=1, practice=1.0) for p in placements]
    one = _consumed(placements, tasks, passes, pieces=1)
    metred = ZERO
    for placement, cost in zip(placements, passes, strict=True):
        kind = house.bobbins[placement.making.machine.bobbin]
        price = placement.thread_price_m
        if placement.making.bobbin != "match":
            price = kind.price / exact(kind.capacity_m)
        metred += exact(cost.bobbin_m) * price
    return replace(one, bobbin_thread=metred)


def _samples(plan: LinePlan, pieces: int, *, wash: bool) -> Consumed | None:
    """Work out what the samples take: a first piece as often as asked, washed if asked."""
    if pieces == 0:
        return None
    one, n = plan.first_piece, Decimal(pieces)
    washing = plan.house.tasks["wash"].seconds if wash and "wash" not in plan.line.finishing else 0
    return Consumed(
        machine_s=one.machine_s * pieces,
        attend_s=one.attend_s * pieces,
        hand_s=(one.hand_s + washing) * pieces,
        needle_thread=one.needle_thread * n,
        bobbin_thread=one.bobbin_thread * n,
        backing=one.backing * n,
        topping=one.topping * n,
        consumables=one.consumables * n,
    )


def _machine_rate(plan: LinePlan) -> Decimal:
    return plan.placements[0].making.machine.rate_per_h


def cost_line(plan: LinePlan, quantity: int) -> LineCost:
    """Cost a line at a quantity.

    Parameters
    ----------
    plan : LinePlan
    quantity : int
        Good pieces, 1 or more.

    Returns
    -------
    LineCost
        Parts unrounded, in the order of the yard.

    Source
    ------
    docs/formulas.md 11 and 14, and the handbook's cost of a line.
    """
    house = plan.house
    practice = mean_practice(quantity, practice=house.practice)
    passes = [cost_pass(p, house, pieces=quantity, practice=practice) for p in plan.placements]
    run = _consumed(plan.placements, plan.tasks, passes, pieces=quantity)
    n_samples, wash = sample_pieces(plan, quantity)
    sample = _samples(plan, n_samples, wash=wash)
    labour_h = house.rates.labour_per_h
    machine_h = _machine_rate(plan)
    goods = plan.goods_each * quantity
    machine = exact(run.machine_s) / HOUR * machine_h
    labour = exact(run.hand_s + run.attend_s) / HOUR * labour_h
    set_up_tasks_s = sum(task.total_s for task in plan.set_up_tasks)
    set_up = exact(set_up_tasks_s) / HOUR * labour_h
    set_up_s = set_up_tasks_s
    if sample:
        sample_s = sample.hand_s + sample.attend_s
        set_up += exact(sample.machine_s) / HOUR * machine_h
        set_up += exact(sample_s) / HOUR * labour_h + sample.materials
        set_up_s += sample_s
    overhead = exact(run.hand_s + run.attend_s + set_up_s) / HOUR * house.rates.overhead_per_h
    remakes, lost, repairs = _spoilage(plan, quantity, goods, run.materials + machine + labour)
    parts = {
        "goods": goods,
        "needle_thread": run.needle_thread,
        "bobbin_thread": run.bobbin_thread,
        "backing": run.backing,
        "topping": run.topping,
        "consumables": run.consumables,
        "sheet_goods": ZERO,
        "machine": machine,
        "labour": labour,
        "set_up": set_up,
        "overhead": overhead,
        "packing": house.consumables.packing * quantity,
        "spoilage": lost + repairs,
    }
    return LineCost(
        quantity=quantity,
        passes=tuple(passes),
        run=run,
        sample_pieces=n_samples,
        sample=sample,
        set_up_s=set_up_s,
        order_tasks_s=set_up_tasks_s,
        remakes=remakes,
        spoilage_remakes=lost,
        spoilage_repairs=repairs,
        parts=parts,
    )


def _spoilage(
    plan: LinePlan, quantity: int, goods: Decimal, made: Decimal
) -> tuple[float, Decimal, Decimal]:
    """Return (pieces lost, their cost, cost of repairs). Source: docs/formulas.md 10, 14."""
    p = plan.spoil
    if plan.line.goods.supplied_by == "customer":
        lost = quantity * p
        cost = exact(lost) * (made / quantity + plan.line.goods.liability)
        return lost, cost, ZERO
    lost = quantity * p / (1 - p)
    cost = exact(lost) * (goods + made) / quantity
    rules = plan.house.spoilage
    mended_s = quantity * p * rules.repair_share * plan.house.tasks["repair"].seconds
    return lost, cost, exact(mended_s) / HOUR * plan.house.rates.labour_per_h
