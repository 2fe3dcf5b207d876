"""What a line of an order costs, at any quantity: its work at the house's prices."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import field
from decimal import Decimal

from clothyard.core.house.document import House, Rates
from clothyard.core.price.amounts import ZERO, hours_at
from clothyard.core.price.goods import GoodsBought, Supply, goods_bought, in_packs, spares_at
from clothyard.core.price.order_level import ALONE, OrderLevel
from clothyard.core.record import record
from clothyard.core.units import exact
from clothyard.core.work.line_done import LineDone, machine_seconds_by
from clothyard.core.work.line_plan import LinePlan
from clothyard.core.work.line_work import LineWork
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan


@record
class Spent:
    """Machine time and materials of some pieces, in money. Not rounded."""

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
            self.needle_thread
            + self.bobbin_thread
            + self.backing
            + self.topping
            + self.consumables
            + self.sheet_goods
        )

    def times(self, n: float) -> Spent:
        """So many of it."""
        number = exact(n)
        return Spent(
            self.machine * number,
            self.needle_thread * number,
            self.bobbin_thread * number,
            self.backing * number,
            self.topping * number,
            self.consumables * number,
            self.sheet_goods * number,
        )


@record
class LineCost:
    """A line at a quantity: every cost unrounded, and what it came from.

    Attributes
    ----------
    done : LineDone
        Its work.
    run, sample : Spent
        Of the good pieces, and of the samples (None for none).
    rates : Rates
        The house's, of an hour.
    order, order_share : OrderLevel, Decimal
        What the order takes once, and this line's share of it.
    set_up_s : float
        Names, samples and that share. [s]
    spoilage_remakes, spoilage_repairs : Decimal
    own : Decimal
        What it costs without its share of the order.
    goods : GoodsBought
    parts : dict of str to Decimal
        Every part, in the order of the yard.
    total : Decimal
        Sum of the unrounded parts.
    """

    done: LineDone
    run: Spent
    sample: Spent | None
    rates: Rates
    order: OrderLevel
    order_share: Decimal
    set_up_s: float
    spoilage_remakes: Decimal
    spoilage_repairs: Decimal
    own: Decimal
    goods: GoodsBought
    parts: dict[str, Decimal] = field(hash=False)
    total: Decimal

    @property
    def quantity(self) -> int:
        """Good pieces."""
        return self.done.quantity

    @property
    def passes(self) -> tuple[Pass, ...]:
        """Its placements over their pieces."""
        return self.done.passes

    @property
    def set_up_whole(self) -> Decimal:
        """Set-up with its overhead: what is not of the pieces themselves."""
        return self.parts["set_up"] + hours_at(self.set_up_s, self.rates.overhead_per_h)


def bobbin_cost(plan: PlacementPlan, done: Pass, house: House) -> Decimal:
    """Cost the bobbins of a pass. Not rounded.

    A matching bobbin by the metre of its thread, any other by the metre of its filling, with the
    ends that are too short to keep.

    Parameters
    ----------
    plan : PlacementPlan
        Whatever the quantity.
    done : Pass
        As worked for the quantity.
    house : House
        The standards.

    Returns
    -------
    Decimal
        In the house's currency.

    Source
    ------
    docs/formulas.md 3 and 14.
    """
    kind = house.bobbins[plan.making.machine.bobbin]
    metres = sum(done.thread.bobbin_m) * done.pieces
    if plan.making.bobbin == "match":
        return exact(metres) * house.thread_price_per_m(plan.making.thread_id)
    return exact(metres + done.waste_m) * kind.price / exact(kind.capacity_m)


def _metred_bobbin(plan: PlacementPlan, done: Pass, house: House) -> Decimal:
    """Cost the bobbin thread of one first piece by the metre. Source: docs/formulas.md 14."""
    kind = house.bobbins[plan.making.machine.bobbin]
    price = house.thread_price_per_m(plan.making.thread_id)
    if plan.making.bobbin != "match":
        price = kind.price / exact(kind.capacity_m)
    return exact(done.bobbin_m) * price


def _glued(plan: PlacementPlan) -> bool:
    return plan.making.hold == "float" and not plan.shares


def consumables_cost(plan: PlacementPlan, done: Pass, house: House) -> Decimal:
    """Cost the adhesive of floated hoopings, soft covers and patches' film of a pass. Not rounded.

    Parameters
    ----------
    plan : PlacementPlan
        Whatever the quantity.
    done : Pass
        As worked for the quantity.
    house : House
        The standards.

    Returns
    -------
    Decimal
        In the house's currency.
    """
    small = house.consumables
    found = small.adhesive * exact(done.loads.hoopings) if _glued(plan) else ZERO
    if plan.film_m2:
        found += house.patches.film_per_m2 * exact(plan.film_m2) * done.pieces
    return found + (small.soft_cover * done.pieces if plan.covered else ZERO)


def _sheet_goods(plan: LinePlan, passes: Sequence[Pass], pieces: int) -> Decimal:
    """Cost sheet goods as cut, and hardware."""
    found, prices = ZERO, plan.house.hardware
    for placement, done in zip(plan.placements, passes, strict=True):
        if done.sheets:
            found += sum((laid.cost for laid in done.sheets), ZERO) * exact(done.share)
        for part in placement.steps.parts:
            found += prices[part.item].price * exact(part.amount) * done.pieces
    for part in plan.hardware:
        found += prices[part.item].price * exact(part.amount) * pieces
    return found


def of_share(cost: Decimal, done: Pass) -> Decimal:
    """Take a line's share of what its batch is cut for."""
    return cost if done.share == 1 else cost * exact(done.share)


def spent_on(plan: LinePlan, passes: Sequence[Pass], *, pieces: int, metred: bool = False) -> Spent:
    """Add up what some pieces take, in money.

    Parameters
    ----------
    plan : LinePlan
    passes : sequence of Pass, shape (n_placements,)
    pieces : int
        Good pieces they make.
    metred : bool
        Of one first piece: bobbin thread by the metre, without ends.

    Source
    ------
    docs/formulas.md 11 and 14.
    """
    house = plan.house
    machine = needle = bobbin = backing = topping = consumables = ZERO
    for machine_id, seconds in machine_seconds_by(plan, passes).items():
        machine += hours_at(seconds, house.machines[machine_id].rate_per_h)
    for placed, done in zip(plan.placements, passes, strict=True):
        price = house.thread_price_per_m(placed.making.thread_id)
        needle += exact(done.needle_m * done.pieces) * price
        bobbin += (_metred_bobbin if metred else bobbin_cost)(placed, done, house)
        consumables += consumables_cost(placed, done, house)
        if done.backing_wanted:
            backing += of_share(done.backing_wanted.cost, done)
        if done.second_wanted:
            backing += of_share(done.second_wanted.cost, done)
        if done.topping_wanted:
            topping += of_share(done.topping_wanted.cost, done)
    sheets = _sheet_goods(plan, passes, pieces)
    return Spent(machine, needle, bobbin, backing, topping, consumables, sheets)


class LineCoster:
    """Costs one line at any quantity.

    Parameters
    ----------
    work : LineWork
    supply : Supply
        How its blanks are bought.
    """

    def __init__(self, work: LineWork, supply: Supply):
        self.work, self.plan, self.supply = work, work.plan, supply
        self._first: Spent | None = None
        self._alone: dict[int, LineCost] = {}

    def first(self) -> Spent:
        """Cost one first piece: unpractised, its own cut, bobbin by the metre.

        Source: docs/formulas.md 14.
        """
        if self._first is None:
            self._first = spent_on(self.plan, self.work.first(), pieces=1, metred=True)
        return self._first

    def _need_beyond(self, quantity: int) -> int:
        """Pieces to have beyond a quantity, before whole packs."""
        plan = self.plan
        if quantity == plan.line.quantity:
            return self.supply.spares
        return spares_at(plan.line, quantity, spoil=plan.spoil, rules=plan.house.spoilage)

    def spares(self, quantity: int) -> int:
        """Return the pieces bought beyond a quantity, in whole packs.

        Source: docs/formulas.md 10.
        """
        return in_packs(quantity, self._need_beyond(quantity), self.supply)

    def _bought(self, quantity: int) -> GoodsBought:
        """Buy blanks; at one price for any number the spares change nothing of it."""
        supply = self.supply
        even = len(supply.style) == 1 and supply.pack == 1 and supply.supplier is None
        asked = quantity == self.plan.line.quantity
        return goods_bought(
            supply, quantity, 0 if even and not asked else self._need_beyond(quantity)
        )

    def _goods(self, quantity: int, bought: GoodsBought) -> Decimal:
        """Blanks of the pieces, and what is bought beyond them where it cannot be sold."""
        if not self.plan.line.goods.spares_unsaleable:
            return bought.total
        beyond = max(self.spares(quantity), bought.bought - quantity)
        return bought.total + beyond * bought.each

    def alone(self, quantity: int) -> LineCost:
        """Cost the line at a quantity as if it were by itself, worked out once; see `cost`."""
        if quantity not in self._alone:
            self._alone[quantity] = self.cost(quantity)
        return self._alone[quantity]

    def cost(self, quantity: int, order: OrderLevel = ALONE) -> LineCost:
        """Cost the line at a quantity.

        Parameters
        ----------
        quantity : int
            Good pieces, 1 or more.
        order : OrderLevel
            What the order takes once, shared over its lines by their other cost.

        Returns
        -------
        LineCost
            Parts unrounded, in the order of the yard.

        Source
        ------
        docs/formulas.md 11 and 14, and the handbook's cost of a line.
        """
        plan, rates = self.plan, self.plan.house.rates
        done = self.work.at(quantity)
        run = spent_on(plan, done.passes, pieces=quantity)
        n = done.samples
        sample = self.first().times(n) if n else None
        bought = self._bought(quantity)
        goods = self._goods(quantity, bought)
        run_s = done.labour_s
        labour = hours_at(run_s, rates.labour_per_h)
        set_up = sample.machine + sample.materials if sample else ZERO
        set_up_s = done.names_s + (done.sample_hand_s + done.sample_attend_s if sample else 0.0)
        lost, repairs = _spoilage(done, goods, run.materials + run.machine + labour)
        packing = plan.house.consumables.packing * quantity
        own = goods + run.materials + run.machine + labour + packing + lost + repairs + set_up
        own += hours_at(set_up_s, rates.labour_per_h)
        own += hours_at(run_s + set_up_s, rates.overhead_per_h)
        share = order.share(own)
        set_up_s += float(share) * order.seconds
        set_up += hours_at(set_up_s, rates.labour_per_h)
        set_up += share * (order.bought(done) + order.digitising)
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
            "overhead": hours_at(run_s + set_up_s, rates.overhead_per_h),
            "packing": packing,
            "spoilage": lost + repairs,
        }
        return LineCost(
            done=done,
            run=run,
            sample=sample,
            rates=rates,
            order=order,
            order_share=share,
            set_up_s=set_up_s,
            spoilage_remakes=lost,
            spoilage_repairs=repairs,
            own=own,
            goods=bought,
            parts=parts,
            total=sum(parts.values(), ZERO),
        )


def _spoilage(done: LineDone, goods: Decimal, made: Decimal) -> tuple[Decimal, Decimal]:
    """Cost what goes wrong: (pieces lost, repairs). Source: docs/formulas.md 10 and 14."""
    of, quantity = done.plan.line.goods, done.quantity
    if all(placement.as_patch for placement in done.plan.line.placements):
        goods = ZERO  # a patch is lost, and what it was meant for is whole
    repairs = hours_at(done.repair_s, done.plan.house.rates.labour_per_h)
    if of.supplied_by == "customer":
        return exact(done.remakes) * (made + of.liability * quantity) / quantity, repairs
    return exact(done.remakes) * (goods + made) / quantity, repairs
