"""Charges of an order: what stands beside its lines, once."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal

from clothyard.core.house.document import House
from clothyard.core.job.document import Job
from clothyard.core.price.amounts import ZERO
from clothyard.core.price.digitising import digitising_costs
from clothyard.core.price.selling import Pricer, extra_letters
from clothyard.core.price.ways import margin_price
from clothyard.core.record import record
from clothyard.core.units import round_money

SMALL_ORDER = "Small order"


@record
class Charged:
    """A charge of the order: its name, what it costs the shop, what is asked, and why.

    `amount` is as the customer reads it, rounded to the minor unit.
    """

    name: str
    cost: Decimal
    amount: Decimal
    formula: str


def rush_share(job: Job, house: House) -> Decimal:
    """Return the surcharge for work wanted within so many days: the shortest stretch that holds.

    Parameters
    ----------
    job : Job
        As asked.
    house : House
        The standards.

    Returns
    -------
    Decimal

    Source
    ------
    docs/formulas.md 11.
    """
    if job.rush_days is None:
        return ZERO
    held = [row for row in house.rush.values() if job.rush_days <= row.days]
    return min(held, key=lambda row: row.days).share if held else ZERO


def order_charges(
    job: Job, pricers: Sequence[Pricer], house: House, *, sold: Decimal
) -> list[Charged]:
    """List an order's charges: digitising, set-up, letters, rush, delivery, small order.

    What is typed, and shares of what the customer reads, stand as the customer reads them.

    Parameters
    ----------
    pricers : sequence of Pricer, one a line
    sold : Decimal
        All lines and kits, as the customer reads them.

    Source
    ------
    docs/formulas.md 11: each at its cost at the margin, or as the house and the job say.
    """
    rate = house.terms.tax_rate
    read = 1 + rate if house.terms.prices_include_tax else Decimal(1)
    fee = house.price.fee_share * (1 + rate if house.price.fee_on_tax else 1)
    margin = pricers[0].margin
    found: list[Charged] = []

    def add(name: str, cost: Decimal, asked: Decimal, formula: str) -> None:
        amount = round_money(asked, job.currency)
        if amount:
            found.append(Charged(name, cost, amount, formula))

    at_margin = "cost ÷ (1 − margin − fee share)"
    if house.price.digitising_shown == "line":
        for name, cost in digitising_costs([p.plan for p in pricers], house):
            add(name, cost, read * margin_price(cost, margin=margin, fee_share=fee), at_margin)
    set_up = sum((p.apart(p.line.quantity) for p in pricers), ZERO)
    # in the lines' cost already: only what is asked for it stands apart
    add("Set-up", ZERO, read * margin_price(set_up, margin=margin, fee_share=fee), at_margin)
    if house.price.names_way == "letters":
        letters = sum((extra_letters(p.plan, house) for p in pricers), ZERO)
        add(
            "Further letters",
            ZERO,
            read * letters * house.price.name_letter,
            "letters beyond those held × price of one",
        )
    share = rush_share(job, house)
    days = "1 day" if job.rush_days == 1 else f"{job.rush_days} days"
    add(f"Rush, {days}", ZERO, share * sold, "lines × surcharge")
    add("Delivery", job.delivery, job.delivery, "as typed")
    short = house.price.minimum_order - sold - sum((c.amount for c in found), ZERO)
    if short > 0:
        add(SMALL_ORDER, ZERO, short, "minimum order − lines and charges")
    return found


@record
class Taxed:
    """Tax at one rate: the amount it is counted on, and the tax."""

    rate: Decimal
    on: Decimal
    tax: Decimal


def order_taxes(
    amounts: Sequence[tuple[Decimal, Decimal]], house: House, currency: str
) -> list[Taxed]:
    """Count the tax of an order, once for each rate, half up.

    Parameters
    ----------
    amounts : sequence of (rate, amount as read)
        Lines, kits and charges.

    Returns
    -------
    list of Taxed
        By rate; `on` is net.

    Source
    ------
    docs/formulas.md 11: added to the sum, or taken out of it where prices include it.
    """
    found = []
    for rate in sorted({rate for rate, _ in amounts if rate}):
        whole = sum((amount for at, amount in amounts if at == rate), ZERO)
        if house.terms.prices_include_tax:
            tax = round_money(whole * rate / (1 + rate), currency)
            found.append(Taxed(rate, whole - tax, tax))
        else:
            found.append(Taxed(rate, whole, round_money(whole * rate, currency)))
    return found


@record
class KitSold:
    """A kit's price: rounded as the house rounds; its cost is its lines'. Not rounded.

    `taxed` is its whole price by tax rate, in proportion to what its parts cost alone.
    """

    name: str
    quantity: int
    unit: Decimal
    cost: Decimal
    lines: tuple[str, ...]
    taxed: tuple[tuple[Decimal, Decimal], ...]


def _in_proportion(
    whole: Decimal, alone: Mapping[Decimal, Decimal], currency: str
) -> tuple[tuple[Decimal, Decimal], ...]:
    """Split an amount over tax rates by what each rate's parts cost alone, to the penny."""
    rates, of = sorted(alone), sum(alone.values(), ZERO)
    found, left = [], whole
    for rate in rates[:-1]:
        part = round_money(whole * alone[rate] / of if of else ZERO, currency)
        found.append((rate, part))
        left -= part
    return (*found, (rates[-1], left))


def kits_sold(job: Job, pricers: Sequence[Pricer], units: Sequence[Decimal]) -> list[KitSold]:
    """Price the kits: their lines' prices together, rounded up once.

    Parameters
    ----------
    job : Job
        As asked.
    pricers : Sequence[Pricer]
        One a line.
    units : Sequence[Decimal]
        The lines' unit prices.

    Returns
    -------
    list[KitSold]

    Source
    ------
    docs/formulas.md 11.
    """
    at = {line.id: i for i, line in enumerate(job.lines)}
    found = []
    for kit in job.kits:
        lines = [at[line_id] for line_id in kit.lines]
        whole = sum((units[i] * pricers[i].line.quantity for i in lines), ZERO)
        first = pricers[lines[0]]
        unit = first.rounded(first.terms.net(whole / kit.quantity))
        cost = sum((pricers[i].cost(pricers[i].line.quantity).total for i in lines), ZERO)
        alone: dict[Decimal, Decimal] = {}
        for i in lines:
            rate = pricers[i].terms.tax_rate
            alone[rate] = alone.get(rate, ZERO) + units[i] * pricers[i].line.quantity
        taxed = _in_proportion(unit * kit.quantity, alone, job.currency)
        found.append(KitSold(kit.name, kit.quantity, unit, cost / kit.quantity, kit.lines, taxed))
    return found
