"""Today: what needs the seller now, each row with the one press that settles it."""

from __future__ import annotations

import json
from collections.abc import Callable, Collection, Mapping, Sequence
from decimal import Decimal
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.days import KEPT
from clothyard.core.errors import BadInput, NotFound
from clothyard.core.figure_text import amount_text, counted, currency_text, day_text
from clothyard.core.house.week_text import day_after
from clothyard.core.order.payment import Payment
from clothyard.core.order.state import State
from clothyard.core.units import money_text
from clothyard.services.orders import follow as orders
from clothyard.services.plan.planning import OpenOrders, open_orders, plan_of
from clothyard.services.stock.shelf import read_shelf
from clothyard.store import orders as kept
from clothyard.store import stock
from clothyard.store.aside import list_aside
from clothyard.store.asks import open_asks
from clothyard.store.log import logged_orders
from clothyard.store.quotes import KeptQuote, find_quote, list_quotes
from clothyard.store.shop import Shop, today

LAPSE_DAYS = 3
WEEK_DAYS = 7
NEXT_UNITS = 3
MOST_ROWS = 12

SectionId = Literal[
    "aside", "heard", "lapsing", "machines", "short", "promised", "money", "sewn", "over"
]
Do = Literal[
    "begin", "unbegin", "deposit", "undeposit", "done", "undone", "hand-over", "unhand-over"
]
Tone = Literal["plain", "danger"]


class TodayPress(BaseModel):
    """What one press does here: `do` and the order it is of; taken back by the other."""

    do: Do
    order: int
    label: str


class TodayRow(BaseModel):
    """Something that needs the seller: in words, where it is, the press that settles it.

    Without a press `go` names what is done at `href`.
    """

    text: str
    hint: str
    tone: Tone
    href: str
    go: str
    press: TodayPress | None = None


class TodaySection(BaseModel):
    """Rows of one kind; `more` are not listed."""

    id: SectionId
    title: str
    rows: list[TodayRow]
    more: int


class TodayDocument(BaseModel):
    """What needs the seller today; `empty` in a shop that has no quote yet."""

    day: str
    sections: list[TodaySection]
    empty: bool


class Pressed(BaseModel):
    """A press that was made on a row of today."""

    model_config = ConfigDict(extra="forbid")

    do: Do
    order: int = Field(ge=1, le=2**53)


def _quotes(shop: Shop, state: str) -> list[KeptQuote]:
    found, _ = list_quotes(shop, search="", state=state, sort="changed", offset=0, limit=None)
    return found


def _aside(shop: Shop, _: OpenOrders) -> list[TodayRow]:
    """What could not be read."""
    found = list_aside(shop)
    if not found:
        return []
    what = ", ".join(dict.fromkeys(each.what for each in found))
    return [
        TodayRow(
            text=f"{counted(len(found), 'record')} set aside that could not be read",
            hint=what,
            tone="danger",
            href="/workshop/backups#aside",
            go="Look at them",
        )
    ]


def _heard(shop: Shop, open_: OpenOrders) -> list[TodayRow]:
    """Answers and approvals that came."""
    rows = [
        TodayRow(
            text=f"{quote.customer} asks for a change of {quote.number}",
            hint=quote.summary,
            tone="danger",
            href=f"/quotes/{quote.id}",
            go="Read and revise",
        )
        for quote in _quotes(shop, "change")
    ]
    proofs = kept.proofs_of(shop, {o.quote_id: o.version for o in open_.kept.values()})
    told = {quote.id for quote in _quotes(shop, "change")}
    told |= {id_ for id_, proof in proofs.items() if proof.state == "corrected"}
    rows += _asked(shop, open_, told)
    for order in open_.kept.values():
        proof = proofs.get(order.quote_id)
        if proof and proof.state == "corrected":
            rows.append(
                TodayRow(
                    text=f"{order.customer} corrected the proof of {order.number}",
                    hint=order.summary,
                    tone="danger",
                    href=f"/orders/{order.quote_id}#proof",
                    go="Look at the corrections",
                )
            )
        elif order.state == "accepted" or order.waits == "proof":
            approved = proof is not None and proof.state == "approved"
            said = "accepted, proof approved" if approved else "accepted"
            said += "; its proof is open" if order.waits == "proof" and not approved else ""
            rows.append(
                TodayRow(
                    text=f"{order.customer}: {order.number} is {said}",
                    hint=order.summary,
                    tone="plain",
                    href=f"/orders/{order.quote_id}",
                    go="Get it ready",
                )
            )
    return rows


def _asked(shop: Shop, open_: OpenOrders, told: Collection[int]) -> list[TodayRow]:
    """What customers asked for and nobody answered, but for what is told otherwise."""
    waiting: dict[int, list[str]] = {}
    for ask in open_asks(shop):
        if ask.quote_id not in told:
            waiting.setdefault(ask.quote_id, []).append(ask.words)
    rows = []
    for quote_id, words in waiting.items():
        quote = find_quote(shop, quote_id)
        if quote.deleted_on is not None:
            continue
        ordered = str(quote_id) in open_.kept
        more = f", and {len(words) - 1} more" if len(words) > 1 else ""
        rows.append(
            TodayRow(
                text=f"{quote.customer} asked for something of {quote.number}",
                hint=f"“{words[0]}”{more}",
                tone="danger",
                href=f"/orders/{quote_id}" if ordered else f"/quotes/{quote_id}",
                go="Answer it",
            )
        )
    return rows


def _lapsing(shop: Shop, _: OpenOrders) -> list[TodayRow]:
    """Quotes that are about to lapse."""
    until = day_after(today(), LAPSE_DAYS)
    found = [q for q in _quotes(shop, "sent") if q.valid_until and q.valid_until <= until]
    return [
        TodayRow(
            text=f"{q.number} for {q.customer} holds until {day_text(q.valid_until)}",
            hint=f"{q.summary}, {currency_text(Decimal(q.total or '0'), q.currency)}",
            tone="plain",
            href=f"/quotes/{q.id}",
            go="Remind, or hold it longer",
        )
        for q in sorted(found, key=lambda q: q.valid_until)
    ]


def _machines(shop: Shop, open_: OpenOrders) -> list[TodayRow]:
    """What is on each machine, and the next units with what to lay ready."""
    plan, rows = plan_of(open_), []
    for key, machine in open_.house.machines.items():
        if not machine.owned:
            continue
        strips = sorted(
            (p for p in plan.placed if p.machine == key and p.kind in {"sew", "sample"}),
            key=lambda p: (p.begin_day, p.begin_h),
        )
        for n, strip in enumerate(strips[: NEXT_UNITS + 1]):
            order = open_.kept[strip.order]
            on = order.state == "in-work" and n == 0
            if not on and n >= NEXT_UNITS:
                break
            when = "now" if on else f"{day_text(strip.begin_day)}, {_clock(strip.begin_h)}"
            ready = _lay_ready(open_, strip.order, strip.unit)
            stay = f"; {counted(strip.stay, 'thread')} stay" if strip.stay > 1 else ""
            startable = order.state in {"accepted", "ready"} and n == 0
            rows.append(
                TodayRow(
                    text=f"{machine.label}: {strip.label.lower()} of {order.number}, {when}",
                    hint=f"{order.customer}. {ready}{stay}",
                    tone="plain",
                    href=f"/orders/{order.quote_id}/run-sheet",
                    go="Run sheet",
                    press=TodayPress(do="begin", order=order.quote_id, label="Begin")
                    if startable and strip.begin_day <= today()
                    else None,
                )
            )
    return rows


def _clock(hour: float) -> str:
    minutes = round(hour * 60)
    return f"{minutes // 60}:{minutes % 60:02}"


def _lay_ready(open_: OpenOrders, order: str, unit_id: str) -> str:
    """Say what is laid ready for a unit: hoop, needle, threads."""
    planned = next(p for p in open_.planned if p.id == order)
    unit = next((u for u in planned.units if u.id == unit_id), None)
    if unit is None or unit.set_up is None:
        return ""
    house, said = open_.house, []
    if unit.set_up.hoop:
        said.append(f"{unit.set_up.hoop} hoop")
    needle = house.needles.get(unit.set_up.needle)
    if needle:
        said.append(needle.label)
    said.append(counted(len(unit.set_up.threads), "thread"))
    return "Lay ready: " + ", ".join(said)


def _listed(numbers: Sequence[str]) -> str:
    more = f" and {len(numbers) - 4} more" if len(numbers) > 4 else ""
    return ", ".join(numbers[:4]) + more


def _short(shop: Shop, open_: OpenOrders) -> list[TodayRow]:
    """What is short, and which orders it stops."""
    by_item: dict[str, list[stock.OpenNeed]] = {}
    shelf = read_shelf(shop, open_.house)
    uncounted: dict[str, set[str]] = {}
    for need in stock.open_needs(shop, short=True):
        if need.item in shelf.there:
            by_item.setdefault(need.item, []).append(need)
        else:
            uncounted.setdefault(need.item, set()).add(need.number)
    labels = stock.known_labels(shop)
    rows = []
    if uncounted:
        numbers = sorted(set().union(*uncounted.values()))
        rows.append(
            TodayRow(
                text=f"{counted(len(uncounted), 'thing')} not counted: is it here?",
                hint=f"stops {_listed(numbers)}",
                tone="danger",
                href="/shelf/to-buy",
                go="Say",
            )
        )
    for item, needs in by_item.items():
        lacks = sum((need.short for need in needs), Decimal(0))
        if shelf.coming.get(item, Decimal(0)) >= lacks:
            continue  # it is ordered
        numbers = list(dict.fromkeys(need.number for need in needs))
        rows.append(
            TodayRow(
                text=f"{labels.get(item, item)}: {amount_text(lacks)} short",
                hint=f"stops {_listed(numbers)}",
                tone="danger",
                href="/shelf/to-buy",
                go="Buy it",
            )
        )
    return rows


def _promised(shop: Shop, open_: OpenOrders) -> list[TodayRow]:
    """What is promised this week or late by the plan, in danger first."""
    plan = plan_of(open_)
    told = {row.order: row for row in plan.told}
    until = day_after(today(), WEEK_DAYS)
    rows: list[tuple[int, str, TodayRow]] = []
    for key, order in open_.kept.items():
        row = told.get(key)
        late = row.late_days if row else 0
        if not order.promised_on or (order.promised_on > until and not late and row):
            continue
        by = f"by the plan ready {day_text(row.end_day)}" if row else "does not end by the plan"
        danger = bool(late) or row is None
        rows.append(
            (
                -late,
                order.promised_on,
                TodayRow(
                    text=f"{order.number} for {order.customer}, promised "
                    f"{day_text(order.promised_on)}"
                    + (f": {counted(late, 'day')} late" if late else ""),
                    hint=f"{order.summary}; {by}",
                    tone="danger" if danger else "plain",
                    href=f"/orders/plan?order={order.quote_id}"
                    if danger
                    else f"/orders/{order.quote_id}",
                    go="Plan" if danger else "Open",
                ),
            )
        )
    return [row for _, _, row in sorted(rows, key=lambda each: each[:2])]


def _due(shop: Shop, found: Collection[kept.KeptOrder]) -> dict[int, tuple[Decimal, Decimal]]:
    """Return what of each one's deposit, and of all, is still due."""
    wanted = kept.to_pay(shop, {order.quote_id: order.version for order in found})
    dues = {}
    for order in found:
        deposit, whole = wanted.get(order.quote_id, ("0", "0"))
        paid = sum((Decimal(row["amount"]) for row in order.payments), Decimal(0))
        dues[order.quote_id] = Decimal(deposit) - paid, Decimal(whole) - paid
    return dues


def _money(shop: Shop, open_: OpenOrders) -> list[TodayRow]:
    """Deposits that are due."""
    rows, dues = [], _due(shop, open_.kept.values())
    for order in open_.kept.values():
        deposit, _ = dues[order.quote_id]
        if deposit <= 0:
            continue
        amount = currency_text(deposit, order.currency)
        rows.append(
            TodayRow(
                text=f"{order.customer}: deposit of {amount} for {order.number}",
                hint=order.summary,
                tone="plain",
                href=f"/orders/{order.quote_id}#money",
                go="Money",
                press=TodayPress(do="deposit", order=order.quote_id, label="It came"),
            )
        )
    return rows


def _sewn(shop: Shop, open_: OpenOrders) -> list[TodayRow]:
    """What is sewn whole and not said to be done, or done and not in the log."""
    logged = logged_orders(shop)
    begun = [order for order in open_.kept.values() if order.state == "in-work"]
    counts = kept.count_pieces(shop, [order.quote_id for order in begun])
    rows = []
    for order in begun:
        pieces = counts.get(order.quote_id, {})
        sewn = sum(pieces.get(state, 0) for state in ("sewn", "good", "mended"))
        if not sewn or pieces.get("waiting", 0) or pieces.get("prepared", 0):
            continue
        rows.append(
            TodayRow(
                text=f"{order.number} for {order.customer}: all {counted(sewn, 'piece')} are sewn",
                hint=order.summary,
                tone="plain",
                **_to_log(order.quote_id, logged),
                press=TodayPress(do="done", order=order.quote_id, label="Done"),
            )
        )
    done, _n = kept.list_orders(
        shop, search="", state="done", sort="promise", down=None, offset=0, limit=None
    )
    for order in done:
        if order.quote_id not in logged:
            rows.append(
                TodayRow(
                    text=f"{order.number} for {order.customer} is done, and not in the log",
                    hint=order.summary,
                    tone="plain",
                    **_to_log(order.quote_id, logged),
                )
            )
    return rows


def _to_log(order_id: int, logged: Mapping[int, set[str]]) -> dict[str, str]:
    """Say where a sewn order's row goes: to the log, or to the order once it is there."""
    if order_id in logged:
        return {"href": f"/orders/{order_id}", "go": "Open"}
    return {"href": f"/log/new?order={order_id}", "go": "Log it"}


def _over(shop: Shop, _: OpenOrders) -> list[TodayRow]:
    """What is done and waits to be handed over, with what is still due."""
    found, _n = kept.list_orders(
        shop, search="", state="done", sort="promise", down=None, offset=0, limit=None
    )
    rows, dues = [], _due(shop, found)
    for order in found:
        due = dues[order.quote_id][1]
        money = f"; {currency_text(due, order.currency)} due" if due > 0 else ""
        rows.append(
            TodayRow(
                text=f"{order.number} for {order.customer} is done",
                hint=order.summary + money,
                tone="plain",
                href=f"/orders/{order.quote_id}",
                go="Open",
                press=TodayPress(do="hand-over", order=order.quote_id, label="Handed over"),
            )
        )
    return rows


_SECTIONS: tuple[tuple[SectionId, str, Callable[[Shop, OpenOrders], list[TodayRow]]], ...] = (
    ("aside", "Cannot be read", _aside),
    ("promised", "Promised this week, or in danger", _promised),
    ("heard", "Heard from customers", _heard),
    ("short", "Short", _short),
    ("machines", "On the machines", _machines),
    ("lapsing", "About to lapse", _lapsing),
    ("money", "Deposits due", _money),
    ("sewn", "Sewn, and not said to be done or not logged", _sewn),
    ("over", "Done, to hand over", _over),
)


def todays(shop: Shop) -> TodayDocument:
    """List what needs the seller now."""
    open_ = open_orders(shop)
    sections = []
    for id_, title, list_rows in _SECTIONS:
        rows = list_rows(shop, open_)
        if rows:
            more = max(0, len(rows) - MOST_ROWS)
            sections.append(TodaySection(id=id_, title=title, rows=rows[:MOST_ROWS], more=more))
    empty = not sections and not _quotes(shop, "")
    return TodayDocument(day=today(), sections=sections, empty=empty)


def press(shop: Shop, pressed: Pressed) -> TodayDocument:
    """Do what a press of a row does, or take it back; return what is left to do.

    Raises
    ------
    NotFound
        If there is no such order.
    BadInput
        If there is nothing to take back.
    Conflict
        As moving an order on does: its proof is open …
    """
    order = kept.find_order(shop, pressed.order)
    to: dict[str, State] = {
        "begin": "in-work",
        "unbegin": "ready",
        "done": "done",
        "undone": "in-work",
        "hand-over": "handed-over",
        "unhand-over": "done",
    }
    if pressed.do in to:
        _save(shop, order, state=to[pressed.do])
        return todays(shop)
    payments = [Payment.model_validate(row, context=KEPT) for row in order.payments]
    if pressed.do == "deposit":
        due = _due(shop, [order])[order.quote_id][0]
        if due <= 0:
            raise BadInput(
                "its deposit came already.",
                where="order",
                remedy="Look at its payments.",
                code="deposit-there",
            )
        amount = money_text(due, order.currency)
        payments.append(
            Payment.model_validate({"on": today(), "amount": amount, "kind": "deposit"})
        )
    else:
        at = [n for n, row in enumerate(payments) if row.kind == "deposit"]
        if not at:
            raise NotFound(
                "it has no deposit to take back.",
                where="order",
                remedy="Look at its payments.",
                code="deposit-none",
            )
        del payments[at[-1]]
    _save(shop, order, payments=payments)
    return todays(shop)


def _save(shop: Shop, order: kept.KeptOrder, **changes: Any) -> None:
    document = orders.OrderDocument.model_validate(
        {
            "state": order.state,
            "waits": order.waits,
            "promised_on": order.promised_on,
            "ready": order.ready,
            "payments": json.loads(json.dumps(order.payments)),
        }
    )
    orders.save_order(
        shop, order.quote_id, document.model_copy(update=changes), seen=order.revision
    )
