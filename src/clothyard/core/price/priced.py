"""A line's price and what it is measured by."""

from __future__ import annotations

from decimal import Decimal
from typing import Literal

from clothyard.core.job.document import Job
from clothyard.core.price.selling import Pricer, agreed_price
from clothyard.core.price.tiers import PriceLadder
from clothyard.core.record import record
from clothyard.core.units import round_money

Method = Literal["margin", "stitch-rate", "hour-rate", "typed", "agreed"]


@record
class PricedLine:
    """A line's price and what it is measured by.

    Attributes
    ----------
    unit, net : Decimal
        As the customer reads it, and without tax. [money]
    unit_cost : Decimal
        What a piece costs that its price must bear. Not rounded.
    margin, target : Decimal
        What is left of the net price, and what is aimed at. [shares]
    ways : dict of str to Decimal
        The three ways of pricing, net. Not rounded.
    method : str
        Which of them it is, or how else it came.
    ladder : PriceLadder
    spares : int
    currency : str
    pricer : Pricer
    """

    unit: Decimal
    net: Decimal
    unit_cost: Decimal
    margin: Decimal
    target: Decimal
    ways: dict[str, Decimal]
    method: Method
    ladder: PriceLadder
    spares: int
    currency: str
    pricer: Pricer

    @property
    def tiers(self) -> list[tuple[int, Decimal, Decimal]]:
        """The table: (quantity, price of a piece as read, its cost) each; what is asked stands."""
        pricer = self.pricer.together or self.pricer
        return [(q, self.unit_at(q), pricer.unit_cost(q)) for q in self.ladder.tiers]

    @property
    def asked(self) -> int:
        """The pieces that the table counts: of a line in a batch those of all lines alike."""
        return (self.pricer.together or self.pricer).line.quantity

    @property
    def stated(self) -> bool:
        """Whether the price was typed or agreed."""
        return self.method in ("typed", "agreed")

    def unit_at(self, quantity: int) -> Decimal:
        """Return the price of a piece at any quantity, as read.

        What is asked stands, typed, agreed or counted with lines alike: more pieces never cost more
        each, fewer never less.

        Source: docs/formulas.md 11.
        """
        asked, unit = self.asked, self.ladder.unit(quantity)
        if quantity == asked:
            return self.unit
        return min(unit, self.unit) if quantity > asked else max(unit, self.unit)

    def cheaper_more(self) -> tuple[int, Decimal] | None:
        """Find a tier above a stated price's quantity that costs less in all: (tier, its line)."""
        asked = self.asked
        if not self.stated:
            return None
        lines = [(q, q * self.unit_at(q)) for q in self.ladder.tiers if q > asked]
        return next(((q, line) for q, line in lines if line < asked * self.unit), None)


def _tiers(job: Job, pricer: Pricer) -> tuple[int, ...]:
    """List the quantities of the table: those asked, and the steps of a stitch rate.

    Source: docs/formulas.md 11: so no price jumps up between two tiers.
    """
    asked = tuple(job.tiers or pricer.house.price.tiers)
    if pricer.method != "stitch-rate":
        return asked
    return (*asked, *(rate.quantity for rate in pricer.house.stitch_rates.values()))


def _ladder(job: Job, pricer: Pricer) -> PriceLadder:
    price = pricer.house.price
    return PriceLadder(
        _tiers(job, pricer),
        pricer.raw,
        mode=job.tier_mode or price.tier_mode,
        currency=job.currency,
        least=price.minimum_order if len(job.lines) == 1 else Decimal(0),
        bound=pricer.most_between if pricer.bounded else None,
    )


def _at_tiers(ladder: PriceLadder, pricer: Pricer, quantity: int) -> Decimal:
    """Return the unit price at a quantity.

    Stepped tiers count the pieces of other lines with the same designs too, and still never go
    under the floor of this one. Smooth prices follow this line's own cost, in which what the lines
    share is shared already.
    """
    alike = pricer.order.alike
    if ladder.mode == "smooth" or not alike:
        return ladder.unit(quantity)
    floor = pricer.rounded(pricer.house_floor(quantity))
    return min(ladder.unit(quantity), max(ladder.unit(quantity + alike), floor))


def _unit(job: Job, pricer: Pricer, ladder: PriceLadder) -> tuple[Decimal, Method]:
    """Price a piece: as typed, as agreed, or as worked out, and which of these it is."""
    line = pricer.line
    if line.unit_price is not None:
        return line.unit_price, "typed"
    agreed = agreed_price(line, job)
    if agreed is not None:
        return agreed, "agreed"
    of = pricer.together or pricer
    return _at_tiers(ladder, of, of.line.quantity), pricer.method


def price_line(job: Job, pricer: Pricer, spares: int) -> PricedLine:
    """Price a line at its quantity.

    Parameters
    ----------
    job : Job
    pricer : Pricer
    spares : int
        Pieces to have ready beyond the quantity.

    Source
    ------
    docs/formulas.md 11.
    """
    quantity, ladder = pricer.line.quantity, _ladder(job, pricer.together or pricer)
    unit, method = _unit(job, pricer, ladder)
    unit = round_money(unit, job.currency)
    unit_cost, net = pricer.unit_cost(quantity), pricer.terms.net(unit)
    return PricedLine(
        unit=unit,
        net=net,
        unit_cost=unit_cost,
        margin=1 - unit_cost / net if net else Decimal(0),
        target=pricer.margin,
        ways=pricer.ways(quantity),
        method=method,
        ladder=ladder,
        spares=spares,
        currency=job.currency,
        pricer=pricer,
    )
