"""Before sending: what of a price is still guess, and what is missing for the customer."""

from __future__ import annotations

from typing import Literal
from urllib.parse import urlsplit

from pydantic import BaseModel

from clothyard.core.estimate.document import Estimate
from clothyard.services.customer_page.links import link_base
from clothyard.services.house.guesses import Rates, rates_of
from clothyard.services.house.standards import shop_house, standards_of
from clothyard.services.plan.promises import promise_quote
from clothyard.services.quotes.drafts import Shown, price_typed
from clothyard.store import quotes as kept
from clothyard.store.shop import Shop

LOOPBACK = {"127.0.0.1", "localhost", "::1"}


class Missing(BaseModel):
    """What is missing or to be known before a quote goes out; `to` is where it is mended."""

    code: str
    level: Literal["stop", "warn", "note"]
    message: str
    fix: str
    to: str = ""
    reason: str = ""
    """Why it is gone against, where it is advice that is."""


class SendingView(BaseModel):
    """A quote before it goes out: whether it can, what is missing, where its link will lead."""

    ready: bool
    missing: list[Missing]
    rates: Rates
    link: str
    link_is_local: bool


def _of_shop(shop: Shop) -> list[Missing]:
    found = []
    for view in standards_of(shop, ["shop.name", "shop.address"]):
        if not view.changed:
            found.append(
                Missing(
                    code=f"no-{view.key.replace('.', '-')}",
                    level="warn",
                    message=f"The shop's {view.name} is not set: the customer reads "
                    f"“{view.value}”.",
                    fix="Set it once, for every paper.",
                    to=f"/workshop/standards?search={view.key}",
                )
            )
    return found


ASKED = {"thread-open", "colour-none", "applique-like"}
"""Notes that are warnings once a quote is sent."""


def _of_advice(estimate: Estimate) -> list[Missing]:
    """What stops it, what is gone against with its reason, and colours without a thread."""
    found = []
    for line in estimate.lines:
        for advice in line.advice:
            stops = advice.level == "stop"
            if stops or advice.overruled or advice.code in ASKED:
                level: Literal["stop", "warn", "note"] = "warn"
                if stops and not advice.overruled:
                    level = "stop"
                elif advice.overruled:
                    level = "note"
                found.append(
                    Missing(
                        code=advice.code,
                        level=level,
                        message=advice.message,
                        fix=advice.fix,
                        reason=advice.overruled,
                    )
                )
    return found


def _of_rates(rates: Rates) -> list[Missing]:
    if not rates.guessed:
        return []
    names = [row.name for row in rates.rates if row.guessed]
    more = f" and {len(names) - 4} more" if len(names) > 4 else ""
    return [
        Missing(
            code="guesses",
            level="warn",
            message=f"{rates.guessed} of the {rates.of} rates of this price are guesses: "
            f"{', '.join(names[:4])}{more}.",
            fix="Set them: nobody else knows them.",
            to="/workshop/rates",
        )
    ]


def _of_day(shop: Shop, quote_id: int) -> list[Missing]:
    """Warn of a wanted or promised day that is too tight."""
    return [
        Missing(code=advice.code, level="warn", message=advice.message, fix=advice.fix)
        for advice in promise_quote(shop, quote_id, ways=False).advice
    ]


def before_sending(shop: Shop, quote_id: int, *, served_at: str) -> SendingView:
    """Look a draft over before it goes out.

    Parameters
    ----------
    shop : Shop
    quote_id : int
    served_at : str
        The address that this shop is served at just now.

    Raises
    ------
    NotFound
    """
    quote, house = kept.find_quote(shop, quote_id), shop_house(shop)
    priced = price_typed(shop, quote.job, house, Shown())
    base = link_base(shop, served_at)
    local = urlsplit(base).hostname in LOOPBACK
    rates, missing = Rates(of=0, guessed=0, rates=[]), []
    if priced.job is None or priced.estimate is None or priced.pricing is None:
        said = f"it lacks {', '.join(priced.lacks)}" if priced.lacks else "something is wrong in it"
        missing.append(
            Missing(
                code="unpriced",
                level="stop",
                message=f"It has no price yet: {said}.",
                fix="Finish it on the bench.",
            )
        )
    else:
        rates = rates_of(shop, priced.pricing)
        missing += _of_advice(priced.estimate)
        missing += _of_day(shop, quote_id)
    if not quote.customer.strip():
        missing.append(
            Missing(
                code="no-customer",
                level="stop",
                message="It is for nobody yet.",
                fix="Say who it is for.",
            )
        )
    missing += _of_shop(shop)
    missing += _of_rates(rates)
    if not quote.email.strip():
        missing.append(
            Missing(
                code="no-email",
                level="note",
                message="Without an e-mail nothing is posted.",
                fix="Give them the paper, the text or the link instead: all three are kept.",
            )
        )
    elif local:
        missing.append(
            Missing(
                code="link-local",
                level="warn",
                message=f"The link in the message leads to {base}, which opens on this machine "
                "only.",
                fix="State the address that customers reach it by, or send the paper.",
                to="/workshop/standards?search=public_address",
            )
        )
    order = {"stop": 0, "warn": 1, "note": 2}
    missing.sort(key=lambda each: order[each.level])
    return SendingView(
        ready=not any(each.level == "stop" for each in missing),
        missing=missing,
        rates=rates,
        link=base,
        link_is_local=local,
    )
