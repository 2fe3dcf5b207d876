"""What the log teaches: factors, what they do to prices, taken by the seller or by themselves."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import Any, NamedTuple

from pydantic import BaseModel

from clothyard.core.errors import BadInput, NotFound
from clothyard.core.figure_text import counted
from clothyard.core.house.check import build_house
from clothyard.core.house.document import House
from clothyard.core.house.learnt import GROUPS
from clothyard.core.log.learn import Learnt, Ratio, carried_share, is_wild, learn, spoiled_share
from clothyard.core.log.rows import (
    BOBBIN,
    NEEDLE,
    SEWING,
    pieces_by_goods,
    puckered_by_goods,
    ratios_of,
)
from clothyard.core.record import record
from clothyard.core.standards import all_standards, table_columns
from clothyard.core.units import money_text
from clothyard.services.house.standards import LEARNT, Change, changing, shop_house
from clothyard.services.log.rows import age_days
from clothyard.services.quotes.drafts import Shown, price_typed
from clothyard.store import log as kept
from clothyard.store import quotes
from clothyard.store.settings import read_kept, read_setting, write_setting
from clothyard.store.shop import Shop
from clothyard.store.unit import Reads, Unit

AUTO = "learning"
"""The setting that says which factors move by themselves, and what they were before."""
SHOWN_QUOTES = 10
SURE_80 = 1.2815515655446004
SPOIL = "spoil:"
"""Begins the share spoiled of a class of goods."""
CARRIES = "carries:"
"""Begins what backings carry on a class of goods."""
EXACT = 4


class Point(BaseModel):
    """A job on a factor's ruler: actual ÷ estimated with a factor of 1.

    `counts` is its weight by age and measure; `asked` that it is left out until confirmed.
    """

    row_id: int
    label: str
    on: str
    ratio: float
    counts: float
    asked: bool


class FactorView(BaseModel):
    """A factor as the log has it beside what is in force.

    `value` and `spread` are what the log says, `now` and `spread_now` what prices are made with;
    `low` and `high` hold the factor itself in 80 of 100 cases. `said` is all of it in words.
    """

    key: str
    label: str
    standard: str
    start: float
    now: float
    value: float
    low: float
    high: float
    spread_now: float
    spread: float
    jobs: int
    points: list[Point]
    taken: bool
    auto: bool
    can_undo: bool
    said: str


class PriceEffect(BaseModel):
    """A quote as it is and as it would be: cost and price. Money."""

    quote_id: int
    number: str
    customer: str
    summary: str
    currency: str
    cost_now: str
    cost_then: str
    price_now: str
    price_then: str
    share: float


class Effects(BaseModel):
    """What a factor does to the last quotes; drafts follow it, sent ones never do."""

    key: str
    value: float
    quotes: list[PriceEffect]


class _Factor(NamedTuple):
    key: str
    label: str
    standard: str
    spread: str


_FIXED = (
    _Factor(NEEDLE, "Needle thread", "thread_use.factor_needle", "sure.needle"),
    _Factor(BOBBIN, "Bobbin thread", "thread_use.factor_bobbin", "sure.bobbin"),
)
_HANDS = {
    "loading": "At the machine",
    "hooping": "Preparing and hooping",
    "finishing": "Finishing",
    "order": "Order tasks",
}


def _factors(house: House) -> list[_Factor]:
    found = [*_FIXED]
    found += [
        _Factor(
            f"{SEWING}{id_}",
            f"Needle time, {machine.label}",
            f"machines.{id_}.time_factor",
            "sure.sewing",
        )
        for id_, machine in house.machines.items()
        if machine.owned
    ]
    found += [_Factor(g, _HANDS[g], f"hands.{g}", f"sure.{g}") for g in GROUPS]
    return found


def _value(house: House, key: str) -> float:
    place: Any = house
    for part in key.split("."):
        place = place[part] if isinstance(place, Mapping) else getattr(place, part)
    return float(place)


def _start(key: str) -> float:
    known = all_standards().get(key)
    if known is None:
        section, _, column = key.split(".")
        known = table_columns(section)[column]
    return float(known.value)


class _Log:
    """The log, read once: rows with their age, ratios of each factor."""

    def __init__(self, shop: Reads):
        self.rows = kept.list_rows(shop)
        told = [(str(each.id), each.row, age_days(each.row)) for each in self.rows]
        self.ratios = ratios_of(told)
        self.by_id = {str(each.id): each.row for each in self.rows}

    def learnt(self, factor: _Factor) -> Learnt:
        """Work a factor out; machines are told apart, their spread is one."""
        mine = self.ratios.get(factor.key, [])
        start, spread = _start(factor.standard), _start(factor.spread)
        found = learn(mine, start=start, spread=spread)
        if not factor.key.startswith(SEWING):
            return found
        together: list[Ratio] = []
        for key, ratios in self.ratios.items():
            if key.startswith(SEWING):
                own = learn(ratios, start=start, spread=spread).factor
                together += [
                    Ratio(r.of, r.value / own, r.weight, r.age_days, r.confirmed)
                    for r in ratios
                    if r.confirmed or not is_wild(r.value)
                ]
        wide = learn(together, start=1.0, spread=spread).spread if together else spread
        return Learnt(found.factor, wide, found.error, found.jobs, found.weight, found.asked)

    def points(self, key: str) -> list[Point]:
        """List a factor's jobs, the oldest first."""
        found = []
        for ratio in self.ratios.get(key, []):
            row = self.by_id[ratio.of]
            asked = is_wild(ratio.value) and not ratio.confirmed
            label = " · ".join(x for x in (row.order, row.design or row.goods) if x) or row.goods
            found.append(
                Point(
                    row_id=int(ratio.of),
                    label=label,
                    on=row.finished_on,
                    ratio=ratio.value,
                    counts=ratio.counts,
                    asked=asked,
                )
            )
        return sorted(found, key=lambda p: (p.on, p.row_id))


def _kept(shop: Reads) -> dict[str, Any]:
    found = read_setting(shop, AUTO)
    found = found if isinstance(found, dict) else {}
    return {"auto": list(found.get("auto", [])), "before": dict(found.get("before", {}))}


def _said(label: str, found: Learnt) -> str:
    if not found.jobs:
        return f"{label}: nothing in the log says anything yet."
    off = (found.factor - 1) * 100
    way = "as estimated" if abs(off) < 0.5 else f"{abs(off):.0f} % {'over' if off > 0 else 'under'}"
    jobs = counted(found.jobs, "job")
    asked = f"; {counted(len(found.asked), 'job')} so far off that it is asked about"
    return f"{label}: {way} what the standards say, from {jobs}{asked if found.asked else ''}."


def _views(shop: Reads) -> list[FactorView]:
    house, log, kept_now = shop_house(shop), _Log(shop), _kept(shop)
    found = []
    for factor in _factors(house):
        learnt = log.learnt(factor)
        now, reach = _value(house, factor.standard), 2.718281828459045 ** (SURE_80 * learnt.error)
        found.append(
            FactorView(
                key=factor.key,
                label=factor.label,
                standard=factor.standard,
                start=_start(factor.standard),
                now=now,
                value=round(learnt.factor, EXACT),
                low=learnt.factor / reach,
                high=learnt.factor * reach,
                spread_now=_value(house, factor.spread),
                spread=round(learnt.of_next, EXACT),
                jobs=learnt.jobs,
                points=log.points(factor.key),
                taken=round(learnt.factor, EXACT) == round(now, EXACT),
                auto=factor.key in kept_now["auto"],
                can_undo=factor.key in kept_now["before"],
                said=_said(factor.label, learnt),
            )
        )
    return [
        *found,
        *_spoil_views(house, log, kept_now),
        *_carries_views(house, log, kept_now),
    ]


def _spoil_views(house: House, log: _Log, kept_now: Mapping[str, Any]) -> list[FactorView]:
    """List the share spoiled of each class of goods that was logged."""
    found = []
    counts = pieces_by_goods([each.row for each in log.rows])
    for goods, (spoiled, sewn) in sorted(counts.items()):
        known = house.goods.get(goods)
        if known is None:
            continue
        key, standard = f"{SPOIL}{goods}", f"goods.{goods}.spoil"
        start = _start(standard)
        value = spoiled_share(spoiled, sewn, start=start)
        wide = SURE_80 * (value * (1 - value) / (sewn + 20)) ** 0.5
        said = (
            f"{known.label}: {spoiled} of {sewn} spoiled, {value * 100:.1f} % with what is usual."
        )
        found.append(
            FactorView(
                key=key,
                label=f"Spoiled, {known.label}",
                standard=standard,
                start=start,
                now=float(known.spoil),
                value=round(value, EXACT),
                low=max(0.0, value - wide),
                high=value + wide,
                spread_now=0.0,
                spread=0.0,
                jobs=sum(1 for each in log.rows if each.row.goods == goods),
                points=[],
                taken=round(value, EXACT) == round(float(known.spoil), EXACT),
                auto=key in kept_now["auto"],
                can_undo=key in kept_now["before"],
                said=said,
            )
        )
    return found


def _carries_views(house: House, log: _Log, kept_now: Mapping[str, Any]) -> list[FactorView]:
    """List what backings carry on each class of goods of which a piece puckered."""
    found = []
    rows = [each.row for each in log.rows]
    counts = pieces_by_goods(rows)
    for goods, puckered in sorted(puckered_by_goods(rows).items()):
        known = house.goods.get(goods)
        if known is None or not puckered:
            continue
        key, standard = f"{CARRIES}{goods}", f"goods.{goods}.carries"
        sewn = counts[goods][1]
        value = carried_share(puckered, sewn, spoil=_start(f"goods.{goods}.spoil"))
        now = float(known.carries)
        found.append(
            FactorView(
                key=key,
                label=f"Backing holds, {known.label}",
                standard=standard,
                start=_start(standard),
                now=now,
                value=round(value, EXACT),
                low=value,
                high=value,
                spread_now=0.0,
                spread=0.0,
                jobs=sum(1 for row in rows if row.goods == goods),
                points=[],
                taken=round(value, EXACT) == round(now, EXACT),
                auto=key in kept_now["auto"],
                can_undo=key in kept_now["before"],
                said=f"{known.label}: {puckered} of {sewn} puckered; backings carry "
                f"{value * 100:.0f} % of what the standards say.",
            )
        )
    return found


def list_factors(shop: Shop) -> list[FactorView]:
    """List what the log teaches, factor by factor."""
    return _views(shop)


def _one(shop: Shop, key: str) -> FactorView:
    for view in _views(shop):
        if view.key == key:
            return view
    raise NotFound(
        f"there is no factor {key[:60]!r}.",
        where="factor",
        code="factor-unknown",
        remedy="Choose one of those the log teaches.",
    )


def _spread_key(view: FactorView) -> str:
    if view.key.startswith((SPOIL, CARRIES)):
        return ""
    return "sure.sewing" if view.key.startswith(SEWING) else f"sure.{view.key}"


@record
class _Taking:
    """What is written as factors are taken or let go: standards and the two settings about them.

    `values` are standards and what they become, None for their defaults.
    """

    values: dict[str, Any]
    learnt: dict[str, Any]
    settings: dict[str, Any]
    seen: tuple[int, int]

    def write(self, unit: Unit, change: Change) -> None:
        """Keep all of it.

        Raises
        ------
        Stale
            If the settings were changed since they were read; nothing is kept then.
        """
        change.write(unit)
        for name, value, seen in zip(
            (LEARNT, AUTO), (self.learnt, self.settings), self.seen, strict=True
        ):
            write_setting(unit, name, value, seen=seen)


def _begin(shop: Reads) -> _Taking:
    learnt, seen = read_kept(shop, LEARNT)
    _, of_settings = read_kept(shop, AUTO)
    known = dict(learnt) if isinstance(learnt, dict) else {}
    return _Taking({}, known, _kept(shop), (seen, of_settings))


def _change(at: Reads, taking: _Taking) -> Change:
    """Work out what is taken as a change of standards, and say what was learnt of each."""
    change = changing(at, taking.values)
    for standard, row in taking.learnt.items():
        if taking.values.get(standard) is not None:
            row["value"] = str(change.changed.get(standard, ""))
    return change


def _keep(shop: Shop, taking: _Taking) -> None:
    """Keep what is taken: in one step, or nothing of it."""
    change = _change(shop, taking)
    with shop.unit() as unit:
        taking.write(unit, change)


def take_factor(shop: Shop, key: str) -> list[FactorView]:
    """Make prices with what the log says of a factor, and of how far it spreads.

    Raises
    ------
    NotFound
    BadInput
        If nothing was logged of it.
    """
    view = _one(shop, key)
    if not view.jobs:
        raise BadInput(
            "the log says nothing of it yet.",
            where="factor",
            remedy="Log a job first.",
            code="nothing-learnt",
        )
    taking = _begin(shop)
    _take(taking, view)
    _keep(shop, taking)
    return _views(shop)


def _take(taking: _Taking, view: FactorView) -> None:
    spread_key, before = _spread_key(view), taking.settings["before"]
    if view.key not in before or not view.taken:
        said = taking.learnt.get(view.standard, {}).get("said", "")
        before[view.key] = {"value": view.now, "spread": view.spread_now, "said": said}
    said = f"learnt from {counted(view.jobs, 'job')}"
    for standard, value in ((view.standard, view.value), (spread_key, view.spread)):
        if standard:
            taking.values[standard] = f"{value:g}"
            taking.learnt[standard] = {"value": "", "said": said}


def undo_factor(shop: Shop, key: str) -> list[FactorView]:
    """Go back to what a factor was before it was taken; it no longer moves by itself.

    Raises
    ------
    NotFound
    BadInput
        If there is nothing to go back to.
    """
    view, taking = _one(shop, key), _begin(shop)
    before = taking.settings["before"].pop(key, None)
    if before is None:
        raise BadInput(
            "it was not taken from the log.",
            where="factor",
            remedy="Change the standard itself.",
            code="nothing-learnt",
        )
    for standard, value in (
        (view.standard, before["value"]),
        (_spread_key(view), before["spread"]),
    ):
        taking.learnt.pop(standard, None)
        if standard:
            usual = standard in all_standards() and value == _start(standard)
            taking.values[standard] = None if usual else f"{value:g}"
    if before["said"]:
        taking.learnt[view.standard] = {"value": "", "said": before["said"]}
    taking.settings["auto"] = [each for each in taking.settings["auto"] if each != key]
    _keep(shop, taking)
    return _views(shop)


def move_by_itself(shop: Shop, key: str, *, on: bool) -> list[FactorView]:
    """Let a factor follow the log from now on, or no longer.

    Raises
    ------
    NotFound
    """
    view, taking = _one(shop, key), _begin(shop)
    auto = [each for each in taking.settings["auto"] if each != key] + ([key] if on else [])
    taking.settings["auto"] = auto
    if on and view.jobs and not view.taken:
        _take(taking, view)
    _keep(shop, taking)
    return _views(shop)


def follow(unit: Unit) -> None:
    """Move the factors that move by themselves, with the row of the log that was just written."""
    wanted = set(_kept(unit)["auto"])
    moving = [v for v in _views(unit) if v.key in wanted] if wanted else []
    moving = [view for view in moving if view.jobs and not view.taken]
    if moving:
        taking = _begin(unit)
        for view in moving:
            _take(taking, view)
        taking.write(unit, _change(unit, taking))


def effects(shop: Shop, key: str, value: float | None = None) -> Effects:
    """Price the last quotes as they are now and as they would be with a factor.

    Parameters
    ----------
    value : float, optional
        To try; what the log says without.

    Raises
    ------
    NotFound, BadInput
    """
    view, house = _one(shop, key), shop_house(shop)
    value = view.value if value is None else value
    patch: dict[str, Any] = {}
    place, *rest = view.standard.split(".")
    at = patch.setdefault(place, {})
    for part in rest[:-1]:
        at = at.setdefault(part, {})
    at[rest[-1]] = str(value)
    then = build_house(patch, on=house)
    found, _ = quotes.list_quotes(
        shop, search="", state="", sort="changed", offset=0, limit=SHOWN_QUOTES
    )
    rows = []
    for quote in found:
        job = quotes.find_quote(shop, quote.id).job
        one, other = (
            price_typed(shop, job, h, Shown(), first=True).estimate for h in (house, then)
        )
        if one is None or other is None:
            continue
        cost = [
            sum((Decimal(line.cost.total) for line in e.lines), Decimal(0)) for e in (one, other)
        ]
        rows.append(
            PriceEffect(
                quote_id=quote.id,
                number=quote.number,
                customer=quote.customer,
                summary=quote.summary,
                currency=one.currency,
                cost_now=money_text(cost[0], one.currency),
                cost_then=money_text(cost[1], one.currency),
                price_now=str(one.total.price),
                price_then=str(other.total.price),
                share=float(cost[1] / cost[0] - 1) if cost[0] else 0.0,
            )
        )
    return Effects(key=key, value=value, quotes=rows)
