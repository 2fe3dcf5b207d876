"""Advice on a price: its floor, its margin, its cross-checks, its tiers, its currency."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal

from clothyard.core.advice.document import Advice
from clothyard.core.advice.say import OnLine, Patch, add_patch
from clothyard.core.price.cost import LineCost
from clothyard.core.price.priced import PricedLine
from clothyard.core.price.sure import narrowing
from clothyard.core.units import money_text, round_money

_NAMES = {"margin": "the margin", "stitch-rate": "the stitch rate", "hour-rate": "the hour rate"}


def _floor_fix(on: OnLine) -> Patch | None:
    """Take a typed, agreed or discounted price back to the one that is worked out."""
    line = on.plan.line
    found = [
        {"op": "remove", "path": f"{on.path}/{key}"}
        for key in ("unit_price", "agreed", "discount")
        if key in line.model_fields_set and getattr(line, key)
    ]
    return found or None


def of_currency(on: OnLine, priced: PricedLine) -> Iterator[Advice]:
    """A job in another currency than the shop's rates; told once, on its first line.

    Parameters
    ----------
    on : OnLine
        The line, to put advice on.
    priced : PricedLine
        At its price.
    """
    ours = on.plan.house.price.currency
    if on.index == 0 and priced.currency != ours:
        yield on.say(
            "currency-differs",
            "warn",
            "price",
            f"This is in {priced.currency} and the shop's rates are in {ours}: nothing is "
            "converted.",
            f"Quote it in {ours}.",
            [{"op": "replace", "path": "/currency", "value": ours}],
        )


def of_floor(on: OnLine, cost: LineCost, priced: PricedLine) -> Iterator[Advice]:
    """Under variable cost, under full cost, or under the target margin.

    Parameters
    ----------
    on : OnLine
        The line, to put advice on.
    cost : LineCost
        At its quantity, order-level shares counted.
    priced : PricedLine
        At its price.
    """
    unit, q = priced.net, cost.quantity
    variable, full = priced.pricer.floor(q, variable=True), priced.pricer.floor(q)

    def said(amount: Decimal) -> str:
        return money_text(amount, priced.currency)

    if unit < variable:
        yield on.say(
            "price-floor",
            "stop",
            "price",
            f"{said(unit)} a piece is under what the piece itself costs ({said(variable)}).",
            "Take the price worked out.",
            _floor_fix(on),
        )
    elif unit < full:
        yield on.say(
            "price-floor",
            "warn",
            "price",
            f"{said(unit)} a piece is under its full cost ({said(full)}).",
            "Take the price worked out, or keep a reason for this one.",
            _floor_fix(on),
        )
    elif unit < round_money(priced.ways["margin"], priced.currency):
        yield on.say(
            "price-margin",
            "warn",
            "price",
            f"The margin is {priced.margin:.1%}, the target {priced.target:.1%}.",
            "Take the price worked out, or lower the target for this job.",
            _floor_fix(on),
        )


def of_loss(on: OnLine, cost: LineCost, priced: PricedLine) -> Iterator[Advice]:
    """A price that the line may well come to more than.

    Source: docs/formulas.md 15.

    Parameters
    ----------
    on : OnLine
        The line, to put advice on.
    cost : LineCost
        At its quantity, order-level shares counted.
    priced : PricedLine
        At its price.
    """
    pricer, rules = priced.pricer, on.plan.house.sure
    chance = pricer.loss_chance(priced.net, cost.quantity)
    terms = pricer.band(cost.quantity).terms
    if chance <= rules.note_from or not terms:
        return
    most = terms[0]
    yield on.say(
        "loss-chance",
        "warn" if chance > rules.warn_from else "note",
        "price",
        f"The chance that it costs more than this price is {chance:.0%}; what weighs most is "
        f"{most.name}.",
        f"To know it better, {narrowing(most)}; or price it to be 80% sure.",
    )


def of_crosschecks(on: OnLine, cost: LineCost, priced: PricedLine) -> Iterator[Advice]:
    """Far from what another way of pricing asks.

    Parameters
    ----------
    on : OnLine
        The line, to put advice on.
    cost : LineCost
        At its quantity, order-level shares counted.
    priced : PricedLine
        At its price.
    """
    unit, most = priced.net, Decimal(str(on.plan.house.price.crosscheck))
    for way, price in priced.ways.items():
        if way == priced.method or price <= 0 or abs(unit / price - 1) <= most:
            continue
        driver = max(cost.parts, key=lambda name: cost.parts[name]).replace("_", " ")
        side = "over" if unit > price else "under"
        yield on.say(
            "price-crosscheck",
            "note",
            "price",
            f"{money_text(unit, priced.currency)} is {abs(unit / price - 1):.0%} {side} "
            f"{_NAMES[way]} ({money_text(price, priced.currency)}); the largest cost is {driver}.",
            "Look at that cost, or at the rate.",
        )


def of_tiers(on: OnLine, priced: PricedLine) -> Iterator[Advice]:
    """Quantities that cost more than a later tier.

    Parameters
    ----------
    on : OnLine
        The line, to put advice on.
    priced : PricedLine
        At its price.
    """
    asked, currency = priced.asked, priced.currency
    cheaper = priced.cheaper_more()
    if cheaper:
        line = money_text(asked * priced.unit, currency)
        yield on.say(
            "price-inversion",
            "warn",
            "price",
            f"{asked} at the {priced.method} price come to {line}, {cheaper[0]} only to "
            f"{money_text(cheaper[1], currency)}: offer {cheaper[0]}.",
            "Take the price worked out, or offer more.",
            _floor_fix(on),
        )
    for found in priced.ladder.inversions():
        stretch = f"{found.first}" if found.first == found.last else f"{found.first}–{found.last}"
        yield on.say(
            "price-inversion",
            "warn",
            "tiers",
            f"{stretch} cost more than {found.offer}: offer {found.offer}.",
            "Take smooth tiers.",
            add_patch("/tier_mode", "smooth"),
        )
