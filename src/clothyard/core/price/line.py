"""What a line of an order costs, at any quantity."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import field, replace
from decimal import Decimal

from clothyard.core.cloth.cutting import Cut, Wanted, cut_from_best, want
from clothyard.core.house import House, Rates
from clothyard.core.job import Sample
from clothyard.core.price.goods import GoodsBought, goods_bought, spares_for
from clothyard.core.price.plan import ZERO, LinePlan, PlacementPlan
from clothyard.core.record import record
from clothyard.core.thread.bobbins import (
    BobbinRun,
    bobbin_capacity_m,
    plan_bobbins,
    plan_own_bobbins,
)
from clothyard.core.thread.use import PieceThread, piece_thread
from clothyard.core.time.events import (
    Event,
    Loads,
    hand_changes,
    loads_of,
    pass_events,
    steady_events,
)
from clothyard.core.time.handwork import TaskUse, name_tasks
from clothyard.core.time.practice import mean_practice
from clothyard.core.units import exact

HOUR = Decimal(3600)


@record
class SheetCut:
    """Sheet goods of one step, as cut."""

    material: str
    cut: Cut


@record
class PassCost:
    """One placement over a number of pieces. Times and thread are means per piece of the pass."""

    loads: Loads
    stitches: float
    thread: PieceThread
    hand_change_m: float
    bobbins: tuple[tuple[str, BobbinRun], ...]
    bobbin_cost: Decimal
    winding_s: float
    backing_wanted: Wanted | None
    topping_wanted: Wanted | None
    sheets: tuple[SheetCut, ...]
    events: tuple[Event, ...]
    machine_s: float
    attend_s: float
    practice: float
    hand_s: float

    @property
    def pieces(self) -> int:
        """Pieces in the pass."""
        return self.loads.pieces

    @property
    def backing(self) -> Cut | None:
        """The backing's cut."""
        return self.backing_wanted.cut() if self.backing_wanted else None

    @property
    def topping(self) -> Cut | None:
        """The topping's cut."""
        return self.topping_wanted.cut() if self.topping_wanted else None

    @property
    def needle_m(self) -> float:
        """Needle thread of a piece, what hand changes draw out included. [m]"""
        return sum(self.thread.needle_m) + self.hand_change_m

    @property
    def bobbin_m(self) -> float:
        """Bobbin thread of a piece. [m]"""
        return sum(self.thread.bobbin_m)


@record
class Consumed:
    """Machine, attendance and hand seconds, and materials of some pieces, in all."""

    machine_s: float
    attend_s: float
    hand_s: float
    machine: Decimal
    needle_thread: Decimal
    bobbin_thread: Decimal
    backing: Decimal
    topping: Decimal
    consumables: Decimal
    sheet_goods: Decimal

    @property
    def materials(self) -> Decimal:
        """All materials. Not rounded."""
        return (
            self.needle_thread + self.bobbin_thread + self.backing + self.topping
            + self.consumables + self.sheet_goods
        )  # fmt: skip


@record
class OrderLevel:
    """What the order takes once, and what its other lines cost without it.

    `tasks` once an order; `bought` what whole put-ups cost beyond the thread used; `digitising`
    where it is spread into the prices; `others` the other lines' cost, by which all is shared;
    `alike` the pieces of other lines with the same designs in the same places: tiers count them.
    """

    tasks: tuple[TaskUse, ...] = ()
    bought: Decimal = ZERO
    digitising: Decimal = ZERO
    others: Decimal = ZERO
    lines: int = 1
    alike: int = 0

    @property
    def seconds(self) -> float:
        """Of all tasks. [s]"""
        return sum(task.total_s for task in self.tasks)

    def share(self, own: Decimal) -> Decimal:
        """The share a line bears, by its other cost."""
        if not self.others:
            return Decimal(1) if own or self.lines == 1 else Decimal(1) / self.lines
        return own / (own + self.others)


@record
class LineCost:
    """A line at a quantity: every cost unrounded, and what it came from.

    `own` is what it costs without its share of the order; `order_s` is that share's time.
    """

    quantity: int
    passes: tuple[PassCost, ...]
    run: Consumed
    sample_pieces: int
    sample: Consumed | None
    name_tasks: tuple[TaskUse, ...]
    house_rates: Rates
    order: OrderLevel
    order_share: Decimal
    set_up_s: float
    remakes: float
    spoilage_remakes: Decimal
    spoilage_repairs: Decimal
    own: Decimal
    goods: GoodsBought
    parts: dict[str, Decimal] = field(hash=False)

    @property
    def total(self) -> Decimal:
        """Sum of the unrounded parts."""
        return sum(self.parts.values(), ZERO)

    @property
    def set_up_whole(self) -> Decimal:
        """Set-up with its overhead: what is not of the pieces themselves."""
        rates = self.house_rates
        return self.parts["set_up"] + exact(self.set_up_s) / HOUR * rates.overhead_per_h

    @property
    def labour_s(self) -> float:
        """Hand and attendance of the good pieces. [s]"""
        return self.run.hand_s + self.run.attend_s


def _bobbins(
    plan: PlacementPlan, house: House, loads: Loads, thread: PieceThread
) -> tuple[list[tuple[str, BobbinRun]], int, float]:
    """Plan a pass's bobbins: (thread, run) each, stops to change, seconds each."""
    making, pieces = plan.making, loads.pieces
    kind = house.bobbins[making.machine.bobbin]
    rules, policy, layout = house.bobbin_plan, making.bobbin_policy, making.layout
    # several pieces in a hooping: a bobbin can only be changed between hoopings
    units, each = (loads.hoopings, layout.pieces) if layout.pieces > 1 else (pieces, 1)

    def run_of(use_m: float, capacity_m: float) -> BobbinRun:
        run = plan_bobbins(
            use_m * pieces / units, pieces=units, capacity_m=capacity_m, policy=policy,
            plan=rules, heads=loads.heads,
        )  # fmt: skip
        return run if each == 1 else replace(run, pieces_per_bobbin=run.pieces_per_bobbin * each)

    if making.bobbin != "match":
        if len(plan.own_bobbin_m) == pieces:
            run = plan_own_bobbins(
                plan.own_bobbin_m, capacity_m=kind.capacity_m, policy=policy, plan=rules
            )
        else:
            run = run_of(sum(thread.bobbin_m), kind.capacity_m)
        return [(making.bobbin, run)], run.changes, run.change_s
    use: dict[str, float] = {}
    for key, metres in zip(plan.facts.colour_keys, thread.bobbin_m, strict=True):
        use[key] = use.get(key, 0.0) + metres
    capacity = bobbin_capacity_m(kind.capacity_m, tex=making.thread.tex)
    runs = [(key, run_of(metres, capacity)) for key, metres in use.items()]
    if len(plan.facts.blocks) == 1:
        return runs, runs[0][1].changes, runs[0][1].change_s
    extra = rules.extra_head_s * (loads.heads - 1)
    return runs, hand_changes(plan.facts, loads.cycles), rules.change_between_s + extra


def _bobbin_cost(
    plan: PlacementPlan, house: House, metres: float, runs: list[tuple[str, BobbinRun]]
) -> Decimal:
    kind = house.bobbins[plan.making.machine.bobbin]
    if plan.making.bobbin == "match":
        return exact(metres) * plan.thread_price_m
    if kind.prewound:
        return sum(run.count for _, run in runs) * kind.price
    return exact(metres) * kind.price / exact(kind.capacity_m)


def _sheet_cuts(plan: PlacementPlan, loads: Loads) -> tuple[SheetCut, ...]:
    return tuple(
        SheetCut(
            sheet.material,
            cut_from_best(
                tried, (loads.hoopings if sheet.per_hooping else loads.pieces) * sheet.count
            ),
        )
        for sheet, tried in zip(plan.steps.sheets, plan.sheet_cutters, strict=True)
    )


def cost_pass(
    plan: PlacementPlan, house: House, *, pieces: int, practised: bool = True
) -> PassCost:
    """Cost one placement over a number of pieces.

    Parameters
    ----------
    pieces : int
        1 or more.
    practised : bool
        False for a sample: every task takes as long as the first time.
    """
    known: PassCost | None = plan.known.get((pieces, practised))
    if known is None:
        known = plan.known[pieces, practised] = _pass(plan, house, pieces, practised=practised)
    return known


def _pass(plan: PlacementPlan, house: House, pieces: int, *, practised: bool) -> PassCost:
    making = plan.making
    own = plan.own
    loads = loads_of(
        making, pieces, own_designs=own is not None, rename_share=own.rename_share if own else 0.0
    )
    practice = mean_practice(loads.hoopings, practice=house.practice) if practised else 1.0
    hoopings, gaps = loads.hoopings / pieces, loads.gaps / pieces
    copies = making.layout.copies
    thread = plan.threads.get((hoopings, gaps))
    if thread is None:
        thread = piece_thread(plan.thread, copies=copies, hoopings=hoopings, gaps=gaps)
        plan.threads[hoopings, gaps] = thread
    runs, changes, change_s = _bobbins(plan, house, loads, thread)
    wound = making.bobbin == "match" or not house.bobbins[making.machine.bobbin].prewound
    bobbins = sum(run.count for _, run in runs)
    winding = house.tasks["wind-bobbin"].seconds * bobbins / pieces if wound else 0.0
    use = house.thread_use
    if making.machine.auto_change:
        by_hand = plan.needles.changes(loads.cycles)
    else:
        by_hand = hand_changes(plan.facts, loads.cycles)
    tail = use.hand_change_mm / 1000 * by_hand / pieces * use.factor_needle
    backing = topping = None
    if making.backing:
        count = loads.hoopings * making.layers
        backing = want(plan.backing_cutters, count)
    if making.topping:
        topping = want(plan.topping_cutters, loads.hoopings)
    stitches = plan.facts.stitches * copies + plan.baste_stitches * hoopings
    shared = (loads.cycles / pieces, loads.abreast, gaps, hoopings)
    steady = plan.steady.get(shared)
    if steady is None:
        steady = plan.steady[shared] = steady_events(
            making,
            plan.facts,
            house,
            loads=loads,
            stitches=stitches,
            needle_s=sum(plan.needle_s) * copies,
            baste_s=plan.baste_s,
            gap_s=plan.gap_s,
            steps=plan.steps,
        )
    events = pass_events(
        making,
        house,
        loads=loads,
        steady=steady,
        by_hand=by_hand,
        practice=practice,
        bobbin_changes=changes,
        bobbin_change_s=change_s,
    )
    each, each_practised, load, load_practised = plan.hand_s
    hand = each + each_practised * practice + (load + load_practised * practice) * hoopings
    return PassCost(
        loads=loads,
        stitches=stitches,
        thread=thread,
        hand_change_m=tail,
        bobbins=tuple(runs),
        bobbin_cost=_bobbin_cost(plan, house, sum(thread.bobbin_m) * pieces, runs),
        winding_s=winding,
        backing_wanted=backing,
        topping_wanted=topping,
        sheets=_sheet_cuts(plan, loads),
        events=tuple(events),
        machine_s=sum([e.machine_s for e in events]),
        attend_s=sum([e.operator_s for e in events]),
        practice=practice,
        hand_s=hand + winding,
    )


def _consumed(plan: LinePlan, passes: Sequence[PassCost], *, pieces: int) -> Consumed:
    """Add up what some pieces take, whole and in money."""
    house = plan.house
    hand = plan.hand_s * pieces + sum([p.hand_s * p.pieces for p in passes])
    by_machine: dict[str, float] = {}
    needle = consumables = sheets = ZERO
    for placement, cost in zip(plan.placements, passes, strict=True):
        seconds = cost.machine_s * cost.pieces
        machine_id = placement.making.machine_id
        by_machine[machine_id] = by_machine.get(machine_id, 0.0) + seconds
        needle += exact(cost.needle_m * cost.pieces) * placement.thread_price_m
        consumables += placement.adhesive * cost.loads.hoopings + placement.cover * cost.pieces
        for laid in cost.sheets:
            sheets += laid.cut.cost
        for part in placement.steps.parts:
            sheets += house.hardware[part.item].price * exact(part.amount) * cost.pieces
    for part in plan.hardware:
        sheets += house.hardware[part.item].price * exact(part.amount) * pieces
    return Consumed(
        machine_s=sum(by_machine.values()),
        attend_s=sum([p.attend_s * p.pieces for p in passes]),
        hand_s=hand,
        machine=sum(
            (exact(s) / HOUR * house.machines[m].rate_per_h for m, s in by_machine.items()), ZERO
        ),
        needle_thread=needle,
        bobbin_thread=sum((p.bobbin_cost for p in passes), ZERO),
        backing=sum([p.backing_wanted.cost for p in passes if p.backing_wanted], ZERO),
        topping=sum([p.topping_wanted.cost for p in passes if p.topping_wanted], ZERO),
        consumables=consumables,
        sheet_goods=sheets,
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


def first_piece(plan: LinePlan) -> Consumed:
    """Work out what one first piece takes: unpractised, its own cut, bobbin by the metre.

    Source: docs/formulas.md 14.
    """
    house = plan.house
    passes = [cost_pass(p, house, pieces=1, practised=False) for p in plan.placements]
    one = _consumed(plan, passes, pieces=1)
    metred = ZERO
    for placement, cost in zip(plan.placements, passes, strict=True):
        kind = house.bobbins[placement.making.machine.bobbin]
        price = placement.thread_price_m
        if placement.making.bobbin != "match":
            price = kind.price / exact(kind.capacity_m)
        metred += exact(cost.bobbin_m) * price
    return replace(one, bobbin_thread=metred)


def _samples(plan: LinePlan, pieces: int, *, wash: bool, first: Consumed | None) -> Consumed | None:
    """Work out what the samples take: a first piece as often as asked, washed if asked."""
    if pieces == 0:
        return None
    one, n = first or first_piece(plan), Decimal(pieces)
    washing = plan.house.tasks["wash"].seconds if wash and "wash" not in plan.line.finishing else 0
    return Consumed(
        machine_s=one.machine_s * pieces,
        attend_s=one.attend_s * pieces,
        hand_s=(one.hand_s + washing) * pieces,
        machine=one.machine * n,
        needle_thread=one.needle_thread * n,
        bobbin_thread=one.bobbin_thread * n,
        backing=one.backing * n,
        topping=one.topping * n,
        consumables=one.consumables * n,
        sheet_goods=one.sheet_goods * n,
    )


def cost_line(
    plan: LinePlan, quantity: int, order: OrderLevel, *, first: Consumed | None = None
) -> LineCost:
    """Cost a line at a quantity.

    Parameters
    ----------
    plan : LinePlan
    quantity : int
        Good pieces, 1 or more.
    order : OrderLevel
        What the order takes once, shared over its lines by their other cost.
    first : Consumed, optional
        `first_piece(plan)`, when it is known already.

    Returns
    -------
    LineCost
        Parts unrounded, in the order of the yard.

    Source
    ------
    docs/formulas.md 11 and 14, and the handbook's cost of a line.
    """
    rates = plan.house.rates
    passes = [cost_pass(p, plan.house, pieces=p.pieces_of(quantity)) for p in plan.placements]
    run = _consumed(plan, passes, pieces=quantity)
    n_samples, wash = sample_pieces(plan, quantity)
    sample = _samples(plan, n_samples, wash=wash, first=first)
    bought = goods_bought(plan.supply, quantity)
    goods = bought.total
    if plan.line.goods.spares_unsaleable:
        spares = spares_for(
            plan.line, plan.supply, quantity, spoil=plan.spoil, rules=plan.house.spoilage
        )
        goods += max(0, quantity + spares - bought.bought) * bought.each
    labour = exact(run.hand_s + run.attend_s) / HOUR * rates.labour_per_h
    names = tuple(name_tasks(plan.house, plan.names_of(quantity)))
    set_up_s = float(sum(task.total_s for task in names))
    set_up = ZERO
    if sample:
        sample_s = sample.hand_s + sample.attend_s
        set_up += sample.machine + sample.materials
        set_up_s += sample_s
    remakes, lost, repairs = _spoilage(plan, quantity, goods, run.materials + run.machine + labour)
    packing = plan.house.consumables.packing * quantity
    hours = exact(run.hand_s + run.attend_s + set_up_s) / HOUR
    own = goods + run.materials + run.machine + labour + packing + lost + repairs + set_up
    own += exact(set_up_s) / HOUR * rates.labour_per_h + hours * rates.overhead_per_h
    share = order.share(own)
    set_up_s += float(share) * order.seconds
    set_up += exact(set_up_s) / HOUR * rates.labour_per_h + share * (
        order.bought + order.digitising
    )
    overhead = exact(run.hand_s + run.attend_s + set_up_s) / HOUR * rates.overhead_per_h
    parts = {
        "goods": goods,
        "needle_thread": run.needle_thread,
        "bobbin_thread": run.bobbin_thread,
        "backing": run.backing,
        "topping": run.topping,
        "consumables": run.consumables,
        "sheet_goods": run.sheet_goods,
        "machine": run.machine,
        "labour": labour,
        "set_up": set_up,
        "overhead": overhead,
        "packing": packing,
        "spoilage": lost + repairs,
    }
    return LineCost(
        quantity=quantity,
        passes=tuple(passes),
        run=run,
        sample_pieces=n_samples,
        sample=sample,
        name_tasks=names,
        house_rates=rates,
        order=order,
        order_share=share,
        set_up_s=set_up_s,
        remakes=remakes,
        spoilage_remakes=lost,
        spoilage_repairs=repairs,
        own=own,
        goods=bought,
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


def whole_pieces(cost: LineCost) -> float:
    """Stitches of a piece, all placements, the mean over the line's pieces."""
    return sum(p.stitches * p.pieces for p in cost.passes) / cost.quantity
