"""The plan as a calendar to take along or to subscribe to; days off taken from one."""

from __future__ import annotations

import hashlib
import secrets

from pydantic import BaseModel

from clothyard.core.errors import BadInput, NotFound
from clothyard.core.house.week_text import read_dates, write_dates
from clothyard.files.calendars import DayOff, Entry, write_ics
from clothyard.files.guarded import shared_reader
from clothyard.services.customer_page.links import link_base
from clothyard.services.house.standards import change_standard, shop_house
from clothyard.services.plan.planning import plan_shop
from clothyard.store.settings import read_setting, write_setting
from clothyard.store.shop import Shop, now, today

LINK = "plan-link"


class PlanLink(BaseModel):
    """The link by which the plan is subscribed to; its address is told once, when it is made."""

    there: bool
    url: str
    made_on: str


class DayRow(BaseModel):
    """A day that a calendar names, and whether it is a closing day already."""

    day: str
    name: str
    closed: bool


class DaysRead(BaseModel):
    """The days of a calendar that was read; nothing is taken yet."""

    days: list[DayRow]


def plan_ics(shop: Shop) -> bytes:
    """Write a shop's plan: when what is worked on, and each promised day."""
    plan = plan_shop(shop)
    entries = []
    names = {order.id: order for order in plan.orders}
    for strip in plan.strips:
        if strip.kind == "dry":
            continue
        order = names[strip.order]
        words = f"{order.summary}\n{order.why}".strip()
        entries.append(
            Entry(
                f"{strip.number}-{strip.unit}",
                f"{strip.number} {order.customer}: {strip.label}",
                words,
                strip.begin_day,
                strip.end_day,
                strip.begin_h,
                strip.end_h,
            )
        )
    for order in plan.orders:
        if order.promised_on:
            late = f" ({order.why})" if order.late_days else ""
            entries.append(
                Entry(
                    f"{order.number}-promised",
                    f"Promised: {order.number} {order.customer}{late}",
                    order.summary,
                    order.promised_on,
                    order.promised_on,
                )
            )
    name = f"{shop_house(shop).shop.name}: plan"
    return write_ics(entries, name=name, made_on=now())


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def plan_link(shop: Shop) -> PlanLink:
    """Say whether the plan can be subscribed to; the address itself is not kept."""
    kept = read_setting(shop, LINK)
    if not isinstance(kept, dict) or not kept.get("sha256"):
        return PlanLink(there=False, url="", made_on="")
    return PlanLink(there=True, url="", made_on=str(kept.get("made_on", "")))


def make_plan_link(shop: Shop, *, served_at: str) -> PlanLink:
    """Make a link to subscribe to; one that was made before opens nothing any more."""
    token = secrets.token_urlsafe(32)
    with shop.unit() as unit:
        write_setting(unit, LINK, {"sha256": _hash(token), "made_on": today()})
    url = f"{link_base(shop, served_at)}/calendar/{token}.ics"
    return PlanLink(there=True, url=url, made_on=today())


def withdraw_plan_link(shop: Shop) -> None:
    """Withdraw the link: it opens nothing any more."""
    with shop.unit() as unit:
        write_setting(unit, LINK, {})


def plan_by_link(shop: Shop, token: str) -> bytes:
    """Write the plan for who has the link.

    Raises
    ------
    NotFound
        If it is no link, or was withdrawn.
    """
    kept = read_setting(shop, LINK)
    known = kept.get("sha256", "") if isinstance(kept, dict) else ""
    if not known or not secrets.compare_digest(str(known), _hash(token)):
        raise NotFound(
            "this link opens no calendar, or not any more.",
            where="token",
            remedy="Ask the shop for the one it uses now.",
            code="link-unknown",
        )
    return plan_ics(shop)


def read_calendar(shop: Shop, data: bytes) -> DaysRead:
    """Read the days of a calendar, from today on.

    Raises
    ------
    BadInput
        See `files.calendars.read_days`.
    """
    closed = read_dates(shop_house(shop).week.closed)
    found: list[DayOff] = shared_reader().days(data, from_day=today())
    return DaysRead(
        days=[DayRow(day=row.day, name=row.name, closed=row.day in closed) for row in found]
    )


def close_days(shop: Shop, days: list[str]) -> str:
    """Add closing days to the shop's; return them all, as they stand in the standards.

    Raises
    ------
    BadInput
        If one is no day.
    """
    try:
        closed = read_dates(shop_house(shop).week.closed) | read_dates(", ".join(days))
    except ValueError as error:
        raise BadInput(
            f"{error}.", where="days", remedy="Write each like 2026-12-24.", code="not-dates"
        ) from None
    ahead = [day for day in closed if day >= today()]  # what is past holds nothing
    text = write_dates(ahead)
    change_standard(shop, "week.closed", text)
    return text
