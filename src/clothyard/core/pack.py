"""Packing figures into the Estimate: each rounded once, for show."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import ROUND_FLOOR, Decimal

from clothyard.core.advice import Priced
from clothyard.core.colours import colour_name
from clothyard.core.house import House
from clothyard.core.price.line import LineCost, LinePlan
from clothyard.core.result import (
    Advice,
    BobbinColourPlan,
    BobbinEnd,
    Bobbins,
    Charge,
    Cost,
    CrossChecks,
    DesignBlock,
    EstimateLine,
    LinePrice,
    Material,
    MaterialKind,
    Method,
    Other,
    PerPiece,
    PieceCost,
    PlacedDesign,
    Run,
    Tier,
    Total,
)
from clothyard.core.thread.bobbins import bobbin_ends
from clothyard.core.units import exact, metres, money_text, round_half_up, round_money, share_text
from clothyard.core.working import line_working


@dataclass(frozen=True, slots=True)
class LineFigures:
    """All that was worked out of a line, unrounded."""

    plan: LinePlan
    cost: LineCost
    priced: Priced
    tiers: list[tuple[int, Decimal, Decimal]]
    advice: list[Advice]
    others: dict[tuple[int, str, str], tuple[str, Decimal, float]]
    charge: tuple[str, Decimal, Decimal] | None


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


def _per_piece(plan: LinePlan, cost: LineCost) -> PerPiece:
    q = cost.quantity
    return PerPiece(
        stitches=sum(p.stitches for p in plan.placements),
        needle_m=metres(sum(p.needle_m for p in cost.passes)),
        bobbin_m=metres(sum(p.bobbin_m for p in cost.passes)),
        machine_min=_minutes(cost.run.machine_s / q),
        attend_min=_minutes(cost.run.attend_s / q),
        hand_min=_minutes(cost.run.hand_s / q),
    )


def _designs(plan: LinePlan) -> list[PlacedDesign]:
    return [
        PlacedDesign(
            name=placed.facts.name,
            width_mm=round_half_up(placed.facts.width_mm, 2),
            height_mm=round_half_up(placed.facts.height_mm, 2),
            band=placed.facts.band,
            hoop_turned=bool(placed.making.fit and placed.making.fit.turned),
            trims=placed.facts.trims,
            jumps=placed.facts.jumps,
            stops=placed.facts.stops,
            blocks=[
                DesignBlock(
                    colour=block.colour,
                    colour_name=colour_name(block.colour) if block.colour else f"colour {n}",
                    stitches=block.stitches,
                    needle_m=metres(needle),
                    bobbin_m=metres(bobbin),
                )
                for n, (block, needle, bobbin) in enumerate(
                    zip(
                        placed.facts.blocks,
                        placed.thread.needle_m,
                        placed.thread.bobbin_m,
                        strict=True,
                    ),
                    1,
                )
            ],
        )
        for placed in plan.placements
    ]


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
    used: dict[str, float] = {}
    q = figures.cost.quantity
    for plan, done in zip(figures.plan.placements, figures.cost.passes, strict=True):
        metred = plan.thread.needle_m if kind == "needle-thread" else plan.thread.bobbin_m
        if kind == "bobbin-thread" and plan.making.bobbin != "match":
            used[plan.making.bobbin] = used.get(plan.making.bobbin, 0.0) + sum(metred) * q
            continue
        tail = done.hand_change_m / len(metred) if kind == "needle-thread" else 0.0
        for key, length in zip(plan.facts.colour_keys, metred, strict=True):
            item = f"{plan.making.thread_id} {key}"
            used[item] = used.get(item, 0.0) + (length + tail) * q
    costs = split_money(whole, list(used.values()), currency)
    return [
        Material(
            kind=kind, item=item, quantity=metres(length), unit="m",
            cost=money_text(cost, currency),
        )
        for (item, length), cost in zip(used.items(), costs, strict=True)
    ]  # fmt: skip


def _materials(figures: LineFigures, cost: dict[str, Decimal], currency: str) -> list[Material]:
    plan, q = figures.plan, figures.cost.quantity
    rows = [
        Material(
            kind="goods", item=plan.line.goods.class_, quantity=q, unit="each",
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
        ends = [
            BobbinEnd(piece=piece, block=block)
            for piece, block, _ in bobbin_ends(
                first.thread.bobbin_m,
                pieces=figures.cost.quantity,
                capacity_m=done.bobbins[0][1].capacity_m,
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


def pack_line(figures: LineFigures, currency: str, *, working: bool) -> EstimateLine:
    """Pack a line: each cost part rounded once, the total their sum."""
    plan, cost, priced = figures.plan, figures.cost, figures.priced
    rounded = {name: round_money(part, currency) for name, part in cost.parts.items()}
    shown = {name: money_text(part, currency) for name, part in rounded.items()}
    total = sum(rounded.values(), Decimal(0))
    return EstimateLine(
        quantity=cost.quantity,
        per_piece=_per_piece(plan, cost),
        pieces=[],
        designs=_designs(plan),
        methods=_methods(figures, currency),
        materials=_materials(figures, rounded, currency),
        bobbins=_bobbins(figures),
        spares=priced.spares,
        cost=Cost(**shown, total=money_text(total, currency)),
        piece_cost=PieceCost(
            **{name: share_text(part / cost.quantity) for name, part in cost.parts.items()},
            total=share_text(priced.unit_cost),
        ),
        price=LinePrice(
            method=priced.method,
            unit=money_text(priced.unit, currency),
            line=money_text(priced.unit * cost.quantity, currency),
            margin=_margin(priced.unit, priced.unit_cost),
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
                margin=_margin(unit, unit_cost),
            )
            for q, unit, unit_cost in figures.tiers
        ],
        advice=figures.advice,
        working=line_working(plan, cost, priced, figures.charge, currency) if working else [],
    )


def pack_total(lines: list[LineFigures], house: House, currency: str) -> tuple[Total, Run]:
    """Pack the order: lines and charges, what is to pay, the run in closed form."""
    charges = [f.charge for f in lines if f.charge]
    cost = sum(
        (round_money(part, currency) for f in lines for part in f.cost.parts.values()), Decimal(0)
    )
    cost += sum((round_money(bought, currency) for _, bought, _ in charges), Decimal(0))
    price = sum((f.priced.unit * f.cost.quantity for f in lines), Decimal(0))
    price += sum((amount for _, _, amount in charges), Decimal(0))
    total = Total(
        cost=money_text(cost, currency),
        price=money_text(price, currency),
        charges=[
            Charge(name=name, amount=money_text(amount, currency)) for name, _, amount in charges
        ],
        tax=money_text(Decimal(0), currency),
        to_pay=money_text(price, currency),
        deposit=money_text(price * house.terms.deposit, currency),
    )
    machine = operator = 0.0
    for f in lines:
        machine += f.cost.run.machine_s + (f.cost.sample.machine_s if f.cost.sample else 0.0)
        operator += f.cost.labour_s + f.cost.set_up_s
    run = Run(
        elapsed_min=None,
        machine_min=_minutes(machine),
        operator_min=_minutes(operator),
        basis="closed-form",
    )
    return total, run
