"""Packing materials: each row with its share of the rounded cost."""

from __future__ import annotations

from decimal import ROUND_FLOOR, Decimal
from typing import Literal

from clothyard.core.estimate.document import Material, MaterialKind
from clothyard.core.estimate.figures import LineFigures
from clothyard.core.house.document import House
from clothyard.core.price.cost import of_share
from clothyard.core.time.steps import FixedPart
from clothyard.core.units import exact, metres, money_text, round_half_up, round_money
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan


def split_money(whole: Decimal, shares: list[float], currency: str) -> list[Decimal]:
    """Split a rounded amount by shares so that the parts add up to it (largest remainder).

    Parameters
    ----------
    whole : Decimal
        The amount to split, rounded; or the figures of the whole order.
    shares : list[float]
        Weights, any sum above zero.
    currency : str
        ISO code.

    Returns
    -------
    list[Decimal]
        As many as shares; they add up to `whole`.

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


Row = tuple[MaterialKind, str, float, Literal["m", "mm", "each"], Decimal]
"""Kind, item, amount, unit, and what it costs by itself, not rounded."""


class _Threads:
    """Adds up thread by kind and colour; unknown colours of several designs are told apart."""

    def __init__(self) -> None:
        self.used: dict[tuple[str, str], float] = {}
        self.labels: dict[tuple[str, str], str] = {}

    def add(self, row: tuple[str, str], label: str, of: str, length_m: float) -> None:
        if row not in self.labels and label in self.labels.values():
            label += f" of {of}"
        self.labels.setdefault(row, label)
        self.used[row] = self.used.get(row, 0.0) + length_m


def _add_bobbin(rows: _Threads, placed: PlacementPlan, done: Pass) -> None:
    making = placed.making
    if making.bobbin != "match":
        row = ("", making.bobbin)
        rows.used[row] = rows.used.get(row, 0.0) + sum(done.thread.bobbin_m) * done.pieces
        rows.labels[row] = making.bobbin
        return
    _add_blocks(rows, placed, done, done.thread.bobbin_m, 0.0)


def _add_blocks(
    rows: _Threads, placed: PlacementPlan, done: Pass, metred: tuple[float, ...], tail_m: float
) -> None:
    thread_id, facts = placed.making.thread_id, placed.facts
    for colour, key, length in zip(placed.colour_ids, facts.colour_keys, metred, strict=True):
        label = f"{thread_id} {key}"
        rows.add((thread_id, colour), label, facts.name, (length + tail_m) * done.pieces)


def _thread_rows(
    figures: LineFigures, kind: MaterialKind, whole: Decimal, currency: str
) -> list[Material]:
    """One row a thread colour; costs add up to the rounded whole."""
    rows = _Threads()
    for placed, done in figures.cost.done.placed:
        if kind == "bobbin-thread":
            _add_bobbin(rows, placed, done)
        else:
            tail = done.hand_change_m / len(done.thread.needle_m)
            _add_blocks(rows, placed, done, done.thread.needle_m, tail)
    costs = split_money(whole, list(rows.used.values()), currency)
    return [
        Material(
            kind=kind,
            item=rows.labels[row],
            quantity=metres(length),
            unit="m",
            cost=money_text(cost, currency),
        )
        for (row, length), cost in zip(rows.used.items(), costs, strict=True)
    ]


def _shared(rows: list[Row], whole: Decimal, currency: str, places: int) -> list[Material]:
    """Share a rounded cost over rows by what each costs by itself."""
    if not rows:
        return []
    costs = split_money(whole, [float(row[4]) for row in rows], currency)
    return [
        Material(
            kind=kind,
            item=item,
            quantity=round_half_up(amount, places),
            unit=unit,
            cost=money_text(cost, currency),
        )
        for (kind, item, amount, unit, _), cost in zip(rows, costs, strict=True)
    ]


def _hardware(part: FixedPart, pieces: int, house: House) -> Row:
    price = house.hardware[part.item].price * exact(part.amount) * pieces
    unit: Literal["m", "each"] = "m" if part.unit == "m" else "each"
    return "hardware", part.item, part.amount * pieces, unit, price


def _sheet_rows(figures: LineFigures) -> list[Row]:
    """Sheet goods by piece of material, hardware by part."""
    plan, house = figures.plan, figures.plan.house
    rows: list[Row] = []
    for placed, done in figures.cost.done.placed:
        for sheet in done.sheets:
            number, cost = sheet.count * done.share, of_share(sheet.cost, done)
            rows.append(("sheet", sheet.material, number, "each", cost))
        rows += [_hardware(part, done.pieces, house) for part in placed.steps.parts]
    return rows + [_hardware(part, figures.cost.quantity, house) for part in plan.hardware]


def _cut_rows(figures: LineFigures, kind: Literal["backing", "topping"]) -> list[Row]:
    cuts = [
        (getattr(placed.making, f"{of}_id"), getattr(done, of), done)
        for placed, done in figures.cost.done.placed
        for of in (("backing", "second") if kind == "backing" else ("topping",))
    ]
    return [
        (kind, item, cut.length_mm * done.share, "mm", of_share(cut.cost, done))
        for item, cut, done in cuts
        if cut
    ]


def pack_materials(figures: LineFigures, cost: dict[str, Decimal], currency: str) -> list[Material]:
    """Pack the materials of a line.

    Parameters
    ----------
    figures : LineFigures
    cost : dict of str to Decimal
        Each part of the line's cost, rounded: the rows of a part add up to it.
    currency : str
    """
    plan, q = figures.plan, figures.cost.quantity
    rows = [
        Material(
            kind="goods",
            item=figures.supply.blank or plan.line.goods.class_,
            quantity=q,
            unit="each",
            cost=money_text(cost["goods"], currency),
        )
    ]
    rows += _thread_rows(figures, "needle-thread", cost["needle_thread"], currency)
    rows += _thread_rows(figures, "bobbin-thread", cost["bobbin_thread"], currency)
    rows += _shared(_cut_rows(figures, "backing"), cost["backing"], currency, 2)
    rows += _shared(_cut_rows(figures, "topping"), cost["topping"], currency, 2)
    rows += _shared(_sheet_rows(figures), cost["sheet_goods"], currency, 3)
    if cost["consumables"]:
        rows.append(
            Material(
                kind="consumable",
                item="adhesive and soft cover",
                quantity=q,
                unit="each",
                cost=money_text(cost["consumables"], currency),
            )
        )
    return rows
