"""What pays: what work really left, beside what was quoted, and what a price list should change."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from decimal import Decimal
from typing import Any

from pydantic import TypeAdapter

from clothyard.core.house.document import House
from clothyard.core.log.rows import LogRow, Measured
from clothyard.core.record import record
from clothyard.core.stock.key import read_key
from clothyard.core.units import exact

ZERO = Decimal(0)
HOUR_S = 3600.0
SIZES: tuple[tuple[int, str], ...] = (
    (1, "single pieces"),
    (5, "2 to 5 pieces"),
    (11, "6 to 11 pieces"),
    (23, "12 to 23 pieces"),
    (49, "24 to 49 pieces"),
    (10**9, "50 pieces and more"),
)
"""Sizes of orders: up to so many pieces, and what they are called."""


def size_of(pieces: int) -> str:
    """Say of what size an order of so many pieces is.

    >>> size_of(1), size_of(12)
    ('single pieces', '12 to 23 pieces')
    """
    return next(label for most, label in SIZES if pieces <= most)


@record
class Quoted:
    """A line of an order as it was quoted. Money of the whole line; hours.

    Attributes
    ----------
    price : Decimal
        Without tax.
    cost : Decimal
        Full cost, expected spoilage in it.
    materials : Decimal
        Goods, thread, backing, topping, packing and what else is bought.
    spoilage : Decimal
        What of the cost was set aside for spoiled pieces.
    bobbin_cost : Decimal
    goods_each : Decimal
        What one piece's goods cost.
    labour_rate, machine_rate : Decimal
        What an hour of hands, and of its machine, is reckoned at. [money/h]
    """

    order_id: int
    order: str
    line: str
    customer: str
    goods: str
    place: str
    method: str
    pieces: int
    order_pieces: int
    price: Decimal
    cost: Decimal
    materials: Decimal
    spoilage: Decimal
    bobbin_cost: Decimal
    goods_each: Decimal
    hand_h: float
    machine_h: float
    labour_rate: Decimal = ZERO
    machine_rate: Decimal = ZERO


@record
class Real:
    """A line as it came to; `reasons` what moved its cost, the largest first."""

    quoted: Quoted
    logged: bool
    cost: Decimal
    materials: Decimal
    hand_h: float
    machine_h: float
    reasons: tuple[tuple[str, Decimal], ...]

    @property
    def left(self) -> Decimal:
        """What is left of the price once everything is paid."""
        return self.quoted.price - self.cost

    @property
    def for_hands(self) -> Decimal:
        """What is left for hands once goods, materials, machine and overhead are paid."""
        return self.left + exact(self.hand_h) * self.quoted.labour_rate

    @property
    def for_machine(self) -> Decimal:
        """What is left for the machine once goods, materials, hands and overhead are paid."""
        return self.left + exact(self.machine_h) * self.quoted.machine_rate


MATERIALS = (
    "goods",
    "needle_thread",
    "bobbin_thread",
    "backing",
    "topping",
    "consumables",
    "sheet_goods",
    "packing",
)
"""Costs of a line that are bought."""


def _d(value: Any) -> Decimal:
    return Decimal(str(value or "0"))


def quoted_lines(
    order_id: int, number: str, estimate: Mapping[str, Any], job: Mapping[str, Any], house: House
) -> list[Quoted]:
    """Read an order's lines as they were quoted; what is taken once is shared by pieces.

    Parameters
    ----------
    order_id, number
        The order's id, and how it is called.
    estimate, job : mapping
        Its plain documents, as this release writes them.
    house : House
        Its price was made with.

    Returns
    -------
    list of Quoted
        For nobody yet: whose they are is told when they are read.
    """
    lines = estimate.get("lines", [])
    typed = job.get("lines", [])
    whole = sum(int(line["quantity"]) for line in lines)
    machine_min = sum(float(line["per_piece"]["machine_min"]) * line["quantity"] for line in lines)
    hands_min = float(estimate.get("run", {}).get("operator_min", 0.0))
    own = [
        (float(x["per_piece"]["attend_min"]) + float(x["per_piece"]["hand_min"])) * x["quantity"]
        for x in lines
    ]
    once = max(0.0, hands_min - sum(own))
    sample = max(0.0, float(estimate.get("run", {}).get("machine_min", 0.0)) - machine_min)
    found = []
    for n, line in enumerate(lines):
        asked = typed[n] if n < len(typed) and isinstance(typed[n], dict) else {}
        goods = (asked.get("goods") or {}).get("class", "")
        cost, places = line["cost"], line.get("places", [])
        pieces = int(line["quantity"])
        share = pieces / whole if whole else 1.0
        known = house.goods.get(goods)
        price = line["price"]
        found.append(
            Quoted(
                order_id=order_id,
                order=number,
                line=str(line.get("id", "")),
                customer="",
                goods=known.label if known else goods,
                place=" + ".join(p["label"] for p in places) or "no place",
                method=_method(line, house),
                pieces=pieces,
                order_pieces=whole,
                price=_d(price["net"]) * pieces if _d(price.get("net")) else _d(price["line"]),
                cost=_d(cost["total"]),
                materials=sum((_d(cost[m]) for m in MATERIALS), ZERO),
                spoilage=_d(cost["spoilage"]),
                bobbin_cost=_d(cost["bobbin_thread"]),
                goods_each=_d(cost["goods"]) / pieces if pieces else ZERO,
                hand_h=(own[n] + once * share) / 60,
                machine_h=(float(line["per_piece"]["machine_min"]) * pieces + sample * share) / 60,
                labour_rate=house.rates.labour_per_h,
                machine_rate=_machine_rate(line, house),
            )
        )
    return found


def _machine_rate(line: Mapping[str, Any], house: House) -> Decimal:
    """Return what an hour of a line's machine is reckoned at. [money/h]"""
    chosen = {m["value"] for m in line.get("methods", []) if m.get("key") == "machine"}
    rates = [m.rate_per_h for key, m in house.machines.items() if key in chosen]
    return max(rates, default=ZERO)


def _method(line: Mapping[str, Any], house: House) -> str:
    """Say how a line's first place is made: hoop and backing."""
    chosen = {m["key"]: m["value"] for m in line.get("methods", []) if m.get("placement") == 0}
    hoop, backing = house.hoops.get(chosen.get("hoop", "")), chosen.get("backing", "")
    words = [hoop.label] if hoop else []
    if chosen.get("hold") == "float":
        words.append("floated")
    if backing in house.backings:
        words.append(house.backings[backing].label)
    return ", ".join(words) or "as proposed"


_REALS: TypeAdapter[list[Real]] = TypeAdapter(list[Real])


def plain_reals(lines: Sequence[Real]) -> list[dict[str, Any]]:
    """Write lines as plain documents, as they are kept."""
    found: list[dict[str, Any]] = _REALS.dump_python(list(lines), mode="json")
    return found


def read_reals(lines: Sequence[Mapping[str, Any]], *, customer: str) -> list[Real]:
    """Read lines as they were kept, and say whose they are; [] where they cannot be read."""
    try:
        found = _REALS.validate_python(lines)
    except ValueError:
        return []
    return [replace(real, quoted=replace(real.quoted, customer=customer)) for real in found]


def _expected(row: LogRow, house: House) -> Measured:
    """What the quote counted on for a row's pass: with the factors of its day. [s, m]"""
    share = (row.planned or row.sewn) / row.sewn
    machine = house.machines.get(row.machine)
    factors = {
        "needle_s": machine.time_factor if machine else 1.0,
        "needle_m": house.thread_use.factor_needle,
        "bobbin_m": house.thread_use.factor_bobbin,
        "bobbins": house.thread_use.factor_bobbin,
        **{f"{g}_s": getattr(house.hands, g) for g in ("loading", "hooping", "finishing", "order")},
    }
    found = {}
    for name, value in row.estimated:
        if value is not None:
            found[name] = value * factors.get(name, 1.0) * (1.0 if name == "order_s" else share)
    return Measured(**found)


_HANDS = {
    "loading_s": "at the machine",
    "hooping_s": "hooping",
    "finishing_s": "finishing",
    "order_s": "order tasks",
}


def _moved(
    row: LogRow, house: House, quoted: Sequence[Quoted]
) -> tuple[dict[str, Decimal], float, float]:
    """Say what a pass moved against its quote: (money by reason, hours of hands, of machine)."""
    meant, was, money = _expected(row, house), row.actual, dict[str, Decimal]()
    hour = house.rates.labour_per_h + house.rates.overhead_per_h
    machine = house.machines.get(row.machine)
    machine_hour = machine.rate_per_h if machine else ZERO
    hands = running = 0.0

    def add(reason: str, amount: Decimal) -> None:
        if amount:
            money[reason] = money.get(reason, ZERO) + amount

    for name, reason in _HANDS.items():
        took, expected = getattr(was, name), getattr(meant, name)
        if took is not None and expected is not None:
            hours = (took - expected) / HOUR_S
            hands += hours
            add(reason, exact(hours) * hour)
    if was.needle_s is not None and meant.needle_s is not None:
        hours = (was.needle_s - meant.needle_s) / HOUR_S
        running += hours
        add("needle time", exact(hours) * machine_hour)
    if was.breaks is not None and meant.breaks is not None:
        hours = (was.breaks - meant.breaks) * house.events.break_s / HOUR_S
        hands, running = hands + hours, running + hours
        add("thread breaks", exact(hours) * (hour + machine_hour))
    if was.needle_m is not None and meant.needle_m:
        add("needle thread", exact(was.needle_m - meant.needle_m) * _a_metre(row, house))
    for name in ("bobbins", "bobbin_m"):
        took, expected = getattr(was, name), getattr(meant, name)
        if took is not None and expected:
            bobbins = sum((q.bobbin_cost for q in quoted), ZERO)
            add("bobbin thread", bobbins * exact(took / expected - 1))
            break
    if row.mended:
        hours = row.mended * house.tasks["repair"].seconds / HOUR_S
        hands += hours
        add("mending", exact(hours) * hour)
    return money, hands, running


def _a_metre(row: LogRow, house: House) -> Decimal:
    """Price a metre of a pass's thread. [money/m]"""
    kinds = [read_key(thread.item).id for thread in row.threads if thread.item]
    kind = next((kind for kind in kinds if kind in house.threads), house.proposals.thread)
    return house.thread_price_per_m(kind)


def real_lines(quoted: Sequence[Quoted], rows: Sequence[tuple[LogRow, House]]) -> list[Real]:
    """Say what an order's lines came to.

    Parameters
    ----------
    quoted : sequence of Quoted
        Its lines, as they were quoted.
    rows : sequence of (LogRow, House)
        Its log, each row with the house its quote was made with.

    Returns
    -------
    list of Real
        Where nothing was measured, what was quoted holds. What a pass moved is shared over its
        lines by pieces. Spoiled pieces cost their goods; what was set aside for them is given back.

    Source
    ------
    docs/formulas.md 17.
    """
    money: dict[str, dict[str, Decimal]] = {q.line: {} for q in quoted}
    hours = {q.line: [0.0, 0.0] for q in quoted}
    logged: set[str] = set()
    by_line = {q.line: q for q in quoted}
    for row, house in rows:
        mine = [by_line[line] for line in row.lines if line in by_line] or list(quoted)
        moved, hands, running = _moved(row, house, mine)
        whole = sum(q.pieces for q in mine) or 1
        for q in mine:
            share = q.pieces / whole
            logged.add(q.line)
            hours[q.line][0] += hands * share
            hours[q.line][1] += running * share
            lost = exact(row.spoiled * share) * q.goods_each
            for reason, amount in [*moved.items()]:
                found = money[q.line]
                found[reason] = found.get(reason, ZERO) + amount * exact(share)
            if lost:
                money[q.line]["spoiled"] = money[q.line].get("spoiled", ZERO) + lost
    real: list[Real] = []
    for q in quoted:
        reasons = money[q.line]
        if q.line in logged and q.spoilage:
            reasons["spoiled"] = reasons.get("spoiled", ZERO) - q.spoilage
        bought = ("needle thread", "bobbin thread", "spoiled")
        more = sum(reasons.values(), ZERO)
        real.append(
            Real(
                quoted=q,
                logged=q.line in logged,
                cost=q.cost + more,
                materials=q.materials + sum((reasons.get(b, ZERO) for b in bought), ZERO),
                hand_h=max(0.0, q.hand_h + hours[q.line][0]),
                machine_h=max(0.0, q.machine_h + hours[q.line][1]),
                reasons=tuple(sorted(reasons.items(), key=lambda r: (-abs(r[1]), r[0]))),
            )
        )
    return real


@record
class Group:
    """Lines of one kind, added up. Money, hours; the rates are None where there are no hours.

    `an_hour_of_hands`: what is left of the price once goods, materials, machine and overhead are
    paid, over the hours of hands; `an_hour_of_machine`: once goods, materials, hands and overhead
    are, over the hours of machine.
    """

    name: str
    orders: int
    pieces: int
    logged: int
    price: Decimal
    quoted_cost: Decimal
    cost: Decimal
    left: Decimal
    hand_h: float
    machine_h: float
    an_hour_of_hands: Decimal | None
    an_hour_of_machine: Decimal | None
    reasons: tuple[tuple[str, Decimal], ...]


KEYS: Mapping[str, Callable[[Real], str]] = {
    "order": lambda real: f"{real.quoted.order} {real.quoted.customer}".strip(),
    "customer": lambda real: real.quoted.customer or "no name",
    "goods": lambda real: real.quoted.goods,
    "place": lambda real: real.quoted.place,
    "method": lambda real: real.quoted.method,
    "size": lambda real: size_of(real.quoted.order_pieces),
}
"""What lines are grouped by."""


def _group(name: str, lines: Sequence[Real]) -> Group:
    price = sum((r.quoted.price for r in lines), ZERO)
    cost = sum((r.cost for r in lines), ZERO)
    for_hands = sum((r.for_hands for r in lines), ZERO)
    for_machine = sum((r.for_machine for r in lines), ZERO)
    hand_h, machine_h = sum(r.hand_h for r in lines), sum(r.machine_h for r in lines)
    reasons: dict[str, Decimal] = {}
    for real in lines:
        for reason, amount in real.reasons:
            reasons[reason] = reasons.get(reason, ZERO) + amount
    return Group(
        name=name,
        orders=len({r.quoted.order_id for r in lines}),
        pieces=sum(r.quoted.pieces for r in lines),
        logged=sum(r.logged for r in lines),
        price=price,
        quoted_cost=sum((r.quoted.cost for r in lines), ZERO),
        cost=cost,
        left=price - cost,
        hand_h=hand_h,
        machine_h=machine_h,
        an_hour_of_hands=for_hands / exact(hand_h) if hand_h > 0 else None,
        an_hour_of_machine=for_machine / exact(machine_h) if machine_h > 0 else None,
        reasons=tuple(sorted(reasons.items(), key=lambda r: (-abs(r[1]), r[0]))[:3]),
    )


def what_pays(lines: Iterable[Real], by: str) -> list[Group]:
    """Add lines up by what they have in common, what earns most an hour of hands first."""
    found: dict[str, list[Real]] = {}
    for real in lines:
        found.setdefault(KEYS[by](real), []).append(real)
    groups = [_group(name, mine) for name, mine in found.items()]
    return sorted(groups, key=lambda g: (-(g.an_hour_of_hands or ZERO), g.name))


@record
class Loss:
    """Work that loses money as it is priced: so many orders of it, so much each.

    `ask` is the price a piece that would have covered it with the shop's margin.
    """

    goods: str
    size: str
    orders: int
    under: Decimal
    loses_each: Decimal
    ask: Decimal


LEAST_ORDERS = 2


def losses(lines: Sequence[Real], *, margin: Decimal) -> list[Loss]:
    """Say which work loses money, by class of goods and size of order; the worst first.

    Parameters
    ----------
    lines : sequence of Real
    margin : Decimal
        The shop's, as a share of the price.
    """
    found: dict[tuple[str, str], list[Real]] = {}
    for real in lines:
        key = real.quoted.goods, size_of(real.quoted.order_pieces)
        found.setdefault(key, []).append(real)
    told = []
    for (goods, size), mine in found.items():
        orders, pieces = len({r.quoted.order_id for r in mine}), sum(r.quoted.pieces for r in mine)
        left = sum((r.left for r in mine), ZERO)
        if left >= 0 or orders < LEAST_ORDERS:
            continue
        cost = sum((r.cost for r in mine), ZERO)
        most = max(r.quoted.price / r.quoted.pieces for r in mine)
        told.append(Loss(goods, size, orders, most, -left / pieces, cost / pieces / (1 - margin)))
    return sorted(told, key=lambda each: (-each.loses_each, each.goods))
