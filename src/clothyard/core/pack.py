"""Packing figures into the Estimate: each rounded once, for show."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import ROUND_CEILING, ROUND_FLOOR, Decimal
from typing import Literal

from clothyard.core.advice import Priced
from clothyard.core.colours import colour_name
from clothyard.core.comparing import MachineRun, SchoolDiffers, machine_seconds
from clothyard.core.house import House
from clothyard.core.order import ThreadUsed, colour_ids
from clothyard.core.pack_cloth import pack_cuts, pack_places
from clothyard.core.pack_minutes import pack_minutes
from clothyard.core.price.charges import Charged, KitSold, order_taxes
from clothyard.core.price.line import LineCost, whole_pieces
from clothyard.core.price.own import OwnPass, own_passes
from clothyard.core.price.plan import LinePlan
from clothyard.core.price.ways import digitising_cost, digitising_even
from clothyard.core.record import record
from clothyard.core.result import (
    Advice,
    BobbinColourPlan,
    BobbinEnd,
    Bobbins,
    BreakEven,
    Charge,
    Cost,
    CrossChecks,
    DesignBlock,
    EstimateLine,
    KitView,
    LinePrice,
    MachineTried,
    Material,
    MaterialKind,
    Method,
    NeedleUsed,
    NextStep,
    OrderThread,
    Other,
    PerPiece,
    PieceCost,
    PlacedDesign,
    PutUpBought,
    Run,
    SchoolOffered,
    Supplied,
    Tax,
    Tier,
    Total,
)
from clothyard.core.thread.bobbins import bobbin_ends
from clothyard.core.time.needles import plan_needles
from clothyard.core.units import exact, metres, money_text, round_half_up, round_money, share_text
from clothyard.core.working import line_working


@record
class LineFigures:
    """All that was worked out of a line, unrounded."""

    plan: LinePlan
    cost: LineCost
    priced: Priced
    tiers: list[tuple[int, Decimal, Decimal]]
    advice: list[Advice]
    others: dict[tuple[int, str, str], tuple[str, Decimal, float]]
    schools: list[SchoolDiffers]


@record
class OrderFigures:
    """What was worked out of the order, unrounded: kits, lines and kits as read, charges, run."""

    kits: tuple[KitSold, ...]
    in_kits: frozenset[int]
    sold: Decimal
    charges: tuple[Charged, ...]
    elapsed: tuple[tuple[str, float], ...]

    @property
    def elapsed_s(self) -> float:
        """All of it. [s]"""
        return sum(seconds for _, seconds in self.elapsed)


def signed_money(amount: Decimal, currency: str) -> str:
    """Write a difference with the currency's minor units, a minus where it saves."""
    return money_text(amount, currency)


def split_money(whole: Decimal, shares: list[float], currency: str) -> list[Decimal]:
    """Split a rounded amount by shares so that the parts add up to it (largest remainder).

    >>> split_money(Decimal("1.00"), [1.0, 1.0, 1.0], "GBP")
    [Decimal('0.34'), Decimal('0.33'), Decimal('0.33')]
    """
    total = sum(shares)
    if total <= 0:
        return [whole] + [Decimal(0)] * (len(shares) - 1)
    step = round_money(Decimal(0), currency)
    ideal = [whole * exact(share / total) for share in shares]
    parts = [amount.quantize(step, ROUND_FLOOR) for amount in ideal]
    unit = Decimal(1).scaleb(int(step.as_tuple().exponent))
    missing = int(((whole - sum(parts)) / unit).to_integral_value())
    order = sorted(range(len(parts)), key=lambda i: parts[i] - ideal[i])
    for i in order[:missing]:
        parts[i] += unit
    return parts


def _minutes(seconds: float) -> float:
    return round_half_up(seconds / 60, 2)


def _share(cost: LineCost, at: int) -> float:
    """Share of the line's pieces that are in a pass."""
    return cost.passes[at].pieces / cost.quantity


def _per_piece(cost: LineCost) -> PerPiece:
    q = cost.quantity
    shares = [(done, _share(cost, i)) for i, done in enumerate(cost.passes)]
    return PerPiece(
        stitches=int(round_half_up(whole_pieces(cost), 0)),
        needle_m=metres(sum(done.needle_m * share for done, share in shares)),
        bobbin_m=metres(sum(done.bobbin_m * share for done, share in shares)),
        machine_min=_minutes(cost.run.machine_s / q),
        attend_min=_minutes(cost.run.attend_s / q),
        hand_min=_minutes(cost.run.hand_s / q),
    )


def _pieces(plan: LinePlan, cost: LineCost) -> list[PerPiece]:
    """List each piece's own figures, in sewing order; none when all are alike."""
    if not any(p.own and p.own.given for p in plan.placements):
        return []
    own = [
        own_passes(p, done, plan.house)
        for p, done in zip(plan.placements, cost.passes, strict=True)
    ]
    each = sum(task.total_s for task in plan.tasks)
    found = []
    for n in range(cost.quantity):
        passes = [done if isinstance(done, OwnPass) else done[n] for done in own]
        sewn = [done for done in passes if done is not None]
        found.append(
            PerPiece(
                stitches=int(round_half_up(sum(d.stitches for d in sewn), 0)),
                needle_m=metres(sum(d.needle_m for d in sewn)),
                bobbin_m=metres(sum(d.bobbin_m for d in sewn)),
                machine_min=_minutes(sum(d.machine_s for d in sewn)),
                attend_min=_minutes(sum(d.attend_s for d in sewn)),
                hand_min=_minutes(each + sum(d.hand_s for d in sewn)),
            )
        )
    return found


def _designs(plan: LinePlan, cost: LineCost) -> list[PlacedDesign]:
    return [
        PlacedDesign(
            name=placed.facts.name,
            width_mm=round_half_up(placed.facts.width_mm, 2),
            height_mm=round_half_up(placed.facts.height_mm, 2),
            band=placed.facts.band,
            hoop_turned=bool(placed.making.fit and placed.making.fit.turned),
            trims=int(round_half_up(placed.facts.trims, 0)),
            jumps=int(round_half_up(placed.facts.jumps, 0)),
            stops=placed.facts.stops,
            blocks=[
                DesignBlock(
                    colour=block.colour,
                    colour_name=_colour_name(block.colour, key),
                    stitches=int(round_half_up(block.stitches * placed.making.layout.copies, 0)),
                    needle_m=metres(needle),
                    bobbin_m=metres(bobbin),
                )
                for block, key, needle, bobbin in zip(
                    placed.facts.blocks,
                    placed.facts.colour_keys,
                    done.thread.needle_m,
                    done.thread.bobbin_m,
                    strict=True,
                )
            ],
        )
        for placed, done in zip(plan.placements, cost.passes, strict=True)
    ]


def _colour_name(colour: str | None, key: str) -> str:
    if colour:
        return colour_name(colour)
    return "base, matching the goods" if key == "base" else key


def _methods(figures: LineFigures, currency: str) -> list[Method]:
    found = []
    for i, placement in enumerate(figures.plan.placements):
        for choice in placement.making.choices:
            others = [
                Other(
                    value=value,
                    reason=reason,
                    cost_difference=signed_money(money, currency),
                    minutes_difference=round_half_up(minutes, 2),
                )
                for (n, key, value), (reason, money, minutes) in figures.others.items()
                if n == i and key == choice.key
            ]
            found.append(
                Method(
                    placement=i,
                    key=choice.key,
                    value=choice.value,
                    source=choice.source,
                    reason=choice.reason,
                    others=others,
                )
            )
    return found


def _thread_rows(
    figures: LineFigures, kind: MaterialKind, whole: Decimal, currency: str
) -> list[Material]:
    """One row a thread colour; costs add up to the rounded whole."""
    used: dict[tuple[str, str], float] = {}
    labels: dict[tuple[str, str], str] = {}
    for plan, done in zip(figures.plan.placements, figures.cost.passes, strict=True):
        metred = done.thread.needle_m if kind == "needle-thread" else done.thread.bobbin_m
        n = done.pieces
        if kind == "bobbin-thread" and plan.making.bobbin != "match":
            row: tuple[str, str] = ("", plan.making.bobbin)
            labels[row] = plan.making.bobbin
            used[row] = used.get(row, 0.0) + sum(metred) * n
            continue
        tail = done.hand_change_m / len(metred) if kind == "needle-thread" else 0.0
        keys = zip(colour_ids(plan.facts), plan.facts.colour_keys, metred, strict=True)
        for colour, key, length in keys:
            row = (plan.making.thread_id, colour)
            taken = labels.get(row) or f"{plan.making.thread_id} {key}"
            if row not in labels and taken in labels.values():
                taken += f" of {plan.facts.name}"
            labels[row] = taken
            used[row] = used.get(row, 0.0) + (length + tail) * n
    costs = split_money(whole, list(used.values()), currency)
    return [
        Material(
            kind=kind, item=labels[row], quantity=metres(length), unit="m",
            cost=money_text(cost, currency),
        )
        for (row, length), cost in zip(used.items(), costs, strict=True)
    ]  # fmt: skip


def _sheet_rows(figures: LineFigures, whole: Decimal, currency: str) -> list[Material]:
    """Sheet goods by piece of material, hardware by part; costs add up to the rounded whole."""
    plan, house, q = figures.plan, figures.plan.house, figures.cost.quantity
    rows: list[tuple[MaterialKind, str, float, Literal["m", "mm", "each"], Decimal]] = []
    for placed, done in zip(plan.placements, figures.cost.passes, strict=True):
        for sheet in done.sheets:
            rows.append(("sheet", sheet.material, sheet.cut.count, "each", sheet.cut.cost))
        for part in placed.steps.parts:
            price = house.hardware[part.item].price * exact(part.amount) * done.pieces
            unit: Literal["m", "each"] = "m" if part.unit == "m" else "each"
            rows.append(("hardware", part.item, part.amount * done.pieces, unit, price))
    for part in plan.hardware:
        price = house.hardware[part.item].price * exact(part.amount) * q
        unit = "m" if part.unit == "m" else "each"
        rows.append(("hardware", part.item, part.amount * q, unit, price))
    if not rows:
        return []
    costs = split_money(whole, [float(row[4]) for row in rows], currency)
    return [
        Material(kind=kind, item=item, quantity=round_half_up(amount, 3), unit=unit,
                 cost=money_text(cost, currency))
        for (kind, item, amount, unit, _), cost in zip(rows, costs, strict=True)
    ]  # fmt: skip


def _materials(figures: LineFigures, cost: dict[str, Decimal], currency: str) -> list[Material]:
    plan, q = figures.plan, figures.cost.quantity
    rows = [
        Material(
            kind="goods", item=plan.supply.blank or plan.line.goods.class_, quantity=q, unit="each",
            cost=money_text(cost["goods"], currency),
        )
    ]  # fmt: skip
    rows += _thread_rows(figures, "needle-thread", cost["needle_thread"], currency)
    rows += _thread_rows(figures, "bobbin-thread", cost["bobbin_thread"], currency)
    for kind in ("backing", "topping"):
        cuts = [(getattr(p.making, f"{kind}_id"), getattr(done, kind))
                for p, done in zip(plan.placements, figures.cost.passes, strict=True)]  # fmt: skip
        cuts = [(item, cut) for item, cut in cuts if cut]
        if not cuts:
            continue
        parts = split_money(cost[kind], [float(cut.cost) for _, cut in cuts], currency)
        for (item, cut), part in zip(cuts, parts, strict=True):
            rows.append(
                Material(
                    kind="backing" if kind == "backing" else "topping",
                    item=item,
                    quantity=round_half_up(cut.length_mm, 2),
                    unit="mm",
                    cost=money_text(part, currency),
                )
            )
    rows += _sheet_rows(figures, cost["sheet_goods"], currency)
    if cost["consumables"]:
        rows.append(
            Material(
                kind="consumable", item="adhesive and soft cover", quantity=q, unit="each",
                cost=money_text(cost["consumables"], currency),
            )
        )  # fmt: skip
    return rows


def _bobbins(figures: LineFigures) -> Bobbins:
    passes = list(zip(figures.plan.placements, figures.cost.passes, strict=True))
    first, done = passes[0]
    runs = [run for _, cost in passes for _, run in cost.bobbins]
    ends = []
    if first.making.bobbin_policy == "run-out" and first.making.bobbin != "match":
        uses: list[tuple[float, ...]] = [done.thread.bobbin_m]
        if len(first.own_bobbin_m) == done.pieces and len(first.facts.blocks) == 1:
            uses = [(metres_used,) for metres_used in first.own_bobbin_m]
        ends = [
            BobbinEnd(piece=piece, block=block)
            for piece, block, _ in bobbin_ends(
                uses, pieces=done.pieces, capacity_m=done.bobbins[0][1].capacity_m
            )
        ]
    return Bobbins(
        policy=first.making.bobbin_policy,
        capacity_m=metres(runs[0].capacity_m),
        pieces_per_bobbin=min(run.pieces_per_bobbin for run in runs),
        count=sum(run.count for run in runs),
        ends=ends,
        by_colour=[
            BobbinColourPlan(
                colour=colour,
                capacity_m=metres(run.capacity_m),
                pieces_per_bobbin=run.pieces_per_bobbin,
                count=run.count,
            )
            for _, cost in passes
            for colour, run in cost.bobbins
        ],
    )


def _margin(unit: Decimal, unit_cost: Decimal) -> str:
    return share_text(1 - unit_cost / unit) if unit else "0.0000"


def _needles(plan: LinePlan, cost: LineCost) -> list[NeedleUsed]:
    """List what is on each needle, placement by placement."""
    found = []
    for i, (placed, done) in enumerate(zip(plan.placements, cost.passes, strict=True)):
        machine = placed.making.machine
        names = dict(zip(placed.facts.colour_keys, placed.facts.blocks, strict=True))
        keys = placed.facts.colour_keys
        needles = plan_needles(keys, machine.needles if machine.auto_change else 1)
        on = [[key] for key in needles.fixed]
        if needles.rotating:
            on.append(list(dict.fromkeys(needles.rotating)))
        for n, held in enumerate(on, 1):
            shared = len(held) > 1
            found.append(
                NeedleUsed(
                    placement=i,
                    needle=n,
                    colours=[_colour_name(names[key].colour, key) for key in held],
                    changes_at=list(needles.changes_at) if shared else [],
                    changes=needles.changes(done.loads.cycles) if shared else 0,
                )
            )
    return found


def _next_step(figures: LineFigures, currency: str) -> NextStep | None:
    """The next tier that costs less a piece."""
    q, unit = figures.cost.quantity, figures.priced.unit
    for tier, price, _ in figures.tiers:
        if tier > q and price < unit:
            return NextStep(
                quantity=tier,
                more=tier - q,
                unit=money_text(price, currency),
                saves_each=money_text(unit - price, currency),
            )
    return None


def pack_machines(runs: Sequence[MachineRun], house: House, currency: str) -> list[MachineTried]:
    """Pack the order on each machine: the cheapest and the soonest of those that can do it."""
    able = [run for run in runs if run.fits] or list(runs)
    cheapest = min(able, key=lambda run: run.cost, default=None)
    soonest = min(able, key=lambda run: run.elapsed_s, default=None)
    return [
        MachineTried(
            id=run.machine_id,
            label=house.machines[run.machine_id].label,
            fits=run.fits,
            chosen=run.chosen,
            cost=money_text(run.cost, currency),
            machine_min=_minutes(run.machine_s),
            elapsed_min=_minutes(run.elapsed_s),
            cheapest=run is cheapest,
            soonest=run is soonest,
        )
        for run in runs
    ]


def _break_evens(figures: LineFigures, currency: str) -> list[BreakEven]:
    """Own digitising against bought, and the small-order charge against the piece price."""
    house, found = figures.plan.house, []
    for placed in figures.plan.placements:
        if placed.facts.source != "count":
            continue
        own = digitising_cost("own", placed.facts, house)[1]
        bought = digitising_cost("supplier", placed.facts, house)[1]
        even = digitising_even(house)
        at = "own costs less at any size" if even is None else f"{even:,} stitches"
        found.append(
            BreakEven(
                name="Digitising", one="own", one_amount=money_text(own, currency),
                other="bought", other_amount=money_text(bought, currency), at=at,
            )
        )  # fmt: skip
        break
    least = house.price.minimum_order
    if least:
        unit = figures.priced.unit
        pieces = int((least / unit).to_integral_value(ROUND_CEILING)) if unit else 0
        found.append(
            BreakEven(
                name="Small order", one="minimum order", one_amount=money_text(least, currency),
                other="a piece", other_amount=money_text(unit, currency), at=f"{pieces} pieces",
            )
        )  # fmt: skip
    return found


def _schools(figures: LineFigures, currency: str) -> list[SchoolOffered]:
    return [
        SchoolOffered(
            placement=s.placement,
            id=s.school_id,
            question=s.question,
            why=s.why,
            apply=s.apply,
            cost_difference=signed_money(s.money, currency),
            minutes_difference=round_half_up(s.minutes, 2),
        )
        for s in figures.schools
    ]


def _supplied(plan: LinePlan, cost: LineCost, currency: str) -> Supplied | None:
    if plan.line.goods.supplied_by == "customer":
        return None
    supply, bought, house = plan.supply, cost.goods, plan.house
    blank = house.blanks.get(supply.blank or "")
    beyond = next((step for step in supply.steps if step[0] > bought.step), None)
    return Supplied(
        blank=supply.blank,
        label=blank.label if blank else "",
        supplier=house.suppliers[blank.supplier].label if blank else "",
        each=share_text(bought.each),
        step=bought.step,
        next_step=beyond[0] if beyond else None,
        next_each=share_text(beyond[1]) if beyond else None,
        alike=supply.alike,
        more=bought.bought - cost.quantity,
        pack=supply.pack,
        delivery=money_text(bought.delivery, currency),
        days=supply.days,
        typed=supply.source == "typed",
    )


def pack_line(
    figures: LineFigures, whole: OrderFigures | None, currency: str, *, working: bool
) -> EstimateLine:
    """Pack a line: each cost part rounded once, the total their sum."""
    plan, cost, priced = figures.plan, figures.cost, figures.priced
    rounded = {name: round_money(part, currency) for name, part in cost.parts.items()}
    shown = {name: money_text(part, currency) for name, part in rounded.items()}
    total = sum(rounded.values(), Decimal(0))
    return EstimateLine(
        quantity=cost.quantity,
        per_piece=_per_piece(cost),
        pieces=_pieces(plan, cost),
        designs=_designs(plan, cost),
        places=pack_places(plan, cost),
        methods=_methods(figures, currency),
        materials=_materials(figures, rounded, currency),
        cuts=pack_cuts(plan, cost, priced.spares, currency),
        bobbins=_bobbins(figures),
        spares=priced.spares,
        goods_bought=cost.goods.bought,
        supplied=_supplied(plan, cost, currency),
        tier_quantity=cost.quantity + cost.order.alike,
        minutes=pack_minutes(plan, cost),
        needles=_needles(plan, cost),
        schools=_schools(figures, currency),
        next_step=_next_step(figures, currency),
        break_evens=_break_evens(figures, currency),
        cost=Cost(**shown, total=money_text(total, currency)),
        piece_cost=PieceCost(
            **{name: share_text(part / cost.quantity) for name, part in cost.parts.items()},
            total=share_text(priced.unit_cost),
        ),
        price=LinePrice(
            method=priced.method,
            unit=money_text(priced.unit, currency),
            line=money_text(priced.unit * cost.quantity, currency),
            margin=_margin(priced.net, priced.unit_cost),
            net=money_text(priced.net, currency),
            floor=money_text(priced.pricer.house_floor(cost.quantity), currency),
            safe_discount=share_text(priced.pricer.safe_discount(priced.unit, cost.quantity)),
            cross_checks=CrossChecks(
                margin=money_text(priced.ways["margin"], currency),
                stitch_rate=money_text(priced.ways["stitch-rate"], currency),
                hour_rate=money_text(priced.ways["hour-rate"], currency),
            ),
        ),
        tiers=[
            Tier(
                quantity=q,
                unit=money_text(unit, currency),
                line=money_text(unit * q, currency),
                unit_cost=share_text(unit_cost),
                margin=_margin(priced.pricer.terms.net(unit), unit_cost),
                set_up=share_text(priced.pricer.cost(q).set_up_whole / q),
            )
            for q, unit, unit_cost in figures.tiers
        ],
        advice=figures.advice,
        working=line_working(
            plan,
            cost,
            priced,
            whole.charges if whole else (),
            whole.elapsed if whole else (),
            currency,
        )
        if working
        else [],
    )


def pack_threads(table: Sequence[ThreadUsed], house: House, currency: str) -> list[OrderThread]:
    """Pack the order's thread by colour."""
    return [
        OrderThread(
            thread=row.thread_id,
            colour=row.colour,
            colour_name=_colour_name(row.colour, row.label),
            needle_m=metres(row.needle_m),
            bobbin_m=metres(row.bobbin_m),
            needed_m=metres(row.needed_m),
            grams=round_half_up(row.grams, 2),
            put_ups=[
                PutUpBought(id=key, label=house.putups[key].label, count=n)
                for key, n in row.put_ups
            ],
            used_cost=money_text(row.used_cost, currency),
            bought_cost=money_text(row.bought_cost, currency),
        )
        for row in table
    ]


def pack_total(
    lines: Sequence[LineFigures], whole: OrderFigures, house: House, currency: str
) -> tuple[Total, Run]:
    """Pack the order: lines, kits and charges, tax, what is to pay, the run in closed form."""
    parts = {
        name: sum((round_money(f.cost.parts[name], currency) for f in lines), Decimal(0))
        for name in lines[0].cost.parts
    }
    cost = sum(parts.values(), Decimal(0))
    bought = sum((round_money(charge.cost, currency) for charge in whole.charges), Decimal(0))
    charged = sum((charge.amount for charge in whole.charges), Decimal(0))
    price = whole.sold + charged
    taxes = order_taxes(
        [
            *((f.priced.pricer.terms.tax_rate, f.priced.unit * f.cost.quantity)
              for i, f in enumerate(lines) if i not in whole.in_kits),
            *((kit.rate, kit.unit * kit.quantity) for kit in whole.kits),
            *((house.terms.tax_rate, charge.amount) for charge in whole.charges),
        ],
        house,
        currency,
    )  # fmt: skip
    tax = sum((t.tax for t in taxes), Decimal(0))
    to_pay = price if house.terms.prices_include_tax else price + tax
    total = Total(
        cost=money_text(cost + bought, currency),
        lines=money_text(whole.sold, currency),
        parts=Cost(
            **{name: money_text(part, currency) for name, part in parts.items()},
            total=money_text(cost, currency),
        ),
        price=money_text(price, currency),
        charges=[
            Charge(name=charge.name, amount=money_text(charge.amount, currency))
            for charge in whole.charges
        ],
        kits=[
            KitView(
                name=kit.name,
                quantity=kit.quantity,
                lines=list(kit.lines),
                unit=money_text(kit.unit, currency),
                line=money_text(kit.unit * kit.quantity, currency),
                unit_cost=share_text(kit.cost),
            )
            for kit in whole.kits
        ],
        taxes=[
            Tax(rate=share_text(t.rate), on=money_text(t.on, currency),
                tax=money_text(t.tax, currency))
            for t in taxes
        ],
        tax=money_text(tax, currency),
        to_pay=money_text(to_pay, currency),
        deposit=money_text(to_pay * house.terms.deposit, currency),
    )  # fmt: skip
    run = Run(
        elapsed_min=_minutes(whole.elapsed_s),
        machine_min=_minutes(sum(machine_seconds(f.cost) for f in lines)),
        operator_min=_minutes(sum(f.cost.labour_s + f.cost.set_up_s for f in lines)),
        basis="closed-form",
    )
    return total, run
