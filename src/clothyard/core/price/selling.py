"""Selling a line: what a customer reads at any quantity, and what is left of it."""

from __future__ import annotations

from decimal import Decimal

from clothyard.core.errors import BadInput
from clothyard.core.house.document import House, PriceMethod
from clothyard.core.job.document import Job, Line
from clothyard.core.price.amounts import ZERO
from clothyard.core.price.cost import LineCost, LineCoster
from clothyard.core.price.order_level import OrderLevel
from clothyard.core.price.sure import P80, Band, as_money, cost_band
from clothyard.core.price.ways import letters_of, margin_price, way_price
from clothyard.core.record import record
from clothyard.core.units import exact, round_money, round_up_to_ending, round_up_to_step
from clothyard.core.work.line_plan import LinePlan

VARIABLE = (
    "goods",
    "needle_thread",
    "bobbin_thread",
    "backing",
    "topping",
    "consumables",
    "sheet_goods",
    "packing",
    "spoilage",
)
"""Costs that a piece would not have if it were not made."""
A_HAIR = Decimal("0.003")
WAYS: tuple[PriceMethod, ...] = ("margin", "stitch-rate", "hour-rate")


@record
class Terms:
    """How a line's prices stand to tax and fees.

    Attributes
    ----------
    tax_rate : Decimal
        Of the line.
    included : bool
        Whether prices are read with tax in them.
    fee_share, fee_fixed : Decimal
        Of a net price; fixed, an order.
    """

    tax_rate: Decimal
    included: bool
    fee_share: Decimal
    fee_fixed: Decimal

    @property
    def read(self) -> Decimal:
        """What a net price is multiplied by to be read."""
        return 1 + self.tax_rate if self.included else Decimal(1)

    def net(self, amount: Decimal) -> Decimal:
        """Take the tax out of an amount as it is read."""
        return amount / self.read


def terms_of(line: Line, house: House) -> Terms:
    """Return a line's terms: its own tax rate, else the house's.

    Parameters
    ----------
    line : Line
        As asked.
    house : House
        The standards.

    Returns
    -------
    Terms
    """
    rate = house.terms.tax_rate if line.tax_rate is None else line.tax_rate
    share = house.price.fee_share * (1 + rate if house.price.fee_on_tax else 1)
    return Terms(rate, house.terms.prices_include_tax, share, house.price.fee_fixed)


def check_margins(job: Job, house: House) -> None:
    """Refuse margins and discounts that leave nothing, or more off than the house allows.

    Parameters
    ----------
    job : Job
        As asked.
    house : House
        The standards.

    Raises
    ------
    BadInput
    """
    margin = house.price.margin if job.margin is None else job.margin
    for i, line in enumerate(job.lines):
        if margin + terms_of(line, house).fee_share >= 1:
            raise BadInput(
                "margin and fees together are the whole price.",
                where="margin",
                remedy="Enter a smaller margin.",
                code="out-of-range",
            )
        if line.discount > house.price.discount_most:
            raise BadInput(
                f"{line.discount:.1%} is more than is taken off ({house.price.discount_most:.1%}).",
                where=f"lines[{i}].discount",
                remedy="Enter less, or raise the shop's limit.",
                code="out-of-range",
            )


class Pricer:
    """Costs and prices of one line, each quantity worked out once.

    Parameters
    ----------
    job : Job
    coster : LineCoster
        Its work and how its blanks are bought.
    order : OrderLevel
        What the order takes once.
    together : Pricer, optional
        Of the lines alike that it is sewn with, as the one line that they are.
    """

    def __init__(
        self,
        job: Job,
        coster: LineCoster,
        order: OrderLevel,
        *,
        together: Pricer | None = None,
    ):
        plan = coster.plan
        self.together = together
        house = plan.house
        self.coster, self.plan, self.order = coster, plan, order
        self.house, self.currency = house, job.currency
        self.line = plan.line
        self.margin = house.price.margin if job.margin is None else job.margin
        self.method = job.price_method or house.price.method
        self.terms = terms_of(plan.line, house)
        self._costs: dict[int, LineCost] = {}
        self._bands: dict[int, Band] = {}

    def cost(self, quantity: int) -> LineCost:
        """Cost the line at a quantity."""
        if quantity not in self._costs:
            self._costs[quantity] = self.coster.cost(quantity, self.order)
        return self._costs[quantity]

    def band(self, quantity: int) -> Band:
        """Work out what the line may come to at a quantity."""
        if quantity not in self._bands:
            self._bands[quantity] = cost_band(self.cost(quantity))
        return self._bands[quantity]

    def loss_chance(self, net: Decimal, quantity: int) -> float:
        """Return the chance that a net price does not cover what the line comes to."""
        left = net * quantity * (1 - self.terms.fee_share) - self.terms.fee_fixed
        return self.band(quantity).chance_over(float(left + self.apart(quantity)))

    def apart(self, quantity: int) -> Decimal:
        """Set-up that is charged as its own line. Not rounded."""
        if self.house.price.set_up_shown == "spread":
            return ZERO
        return self.cost(quantity).set_up_whole

    def unit_cost(self, quantity: int) -> Decimal:
        """What a piece costs that its price must bear. Not rounded."""
        return (self.cost(quantity).total - self.apart(quantity)) / quantity

    def charged(self, cost: Decimal) -> Decimal:
        """Price a cost at the margin, net. Not rounded."""
        return margin_price(cost, margin=self.margin, fee_share=self.terms.fee_share)

    def letters_each(self) -> Decimal:
        """Charge for letters beyond those a name holds, mean of a piece, where names pay so."""
        if self.house.price.names_way != "letters":
            return ZERO
        whole = extra_letters(self.plan, self.house)
        return self.house.price.name_letter * whole / self.line.quantity

    def way(self, way: PriceMethod, quantity: int) -> Decimal:
        """Return the price of a piece one way, net; what is charged apart is left out."""
        found = way_price(way, self.plan, self.cost(quantity), margin=self.margin, terms=self.terms)
        less = self.charged(self.apart(quantity)) / quantity + self.letters_each()
        return max(ZERO, found - less) if less else found

    def ways(self, quantity: int) -> dict[str, Decimal]:
        """Return the three prices of a piece, net."""
        return {way: self.way(way, quantity) for way in WAYS}

    def rounded(self, net: Decimal) -> Decimal:
        """Round a net price up to what the customer reads."""
        read, ending = net * self.terms.read, self.house.price.ending
        if ending != "none":
            return round_up_to_ending(read, Decimal(ending), self.currency)
        return round_up_to_step(read, self.house.price.round_to, self.currency)

    def floor(self, quantity: int, *, variable: bool = False) -> Decimal:
        """Return the net price under which the costs are not met, fees included. Not rounded."""
        cost = self.unit_cost(quantity)
        if variable:
            parts = self.cost(quantity).parts
            cost = sum((parts[name] for name in VARIABLE), ZERO) / quantity
        fixed = self.terms.fee_fixed / quantity
        return (cost + fixed) / (1 - self.terms.fee_share)

    def house_floor(self, quantity: int) -> Decimal:
        """Return the floor the house holds to, net. Not rounded."""
        if self.house.price.floor == "sure":
            cost = as_money(self.band(quantity).quantile(P80)) - self.apart(quantity)
            return (cost + self.terms.fee_fixed) / quantity / (1 - self.terms.fee_share)
        return self.floor(quantity, variable=self.house.price.floor == "variable")

    def raw(self, quantity: int) -> Decimal:
        """Price a piece by the method, as read and rounded; a discount never goes under the floor.

        Source: docs/formulas.md 11.
        """
        worked = self.rounded(self.way(self.method, quantity))
        if self.house.price.floor == "sure":
            worked = max(worked, self.rounded(self.house_floor(quantity)))
        if not self.line.discount:
            return worked
        floor = self.rounded(self.house_floor(quantity))
        less = self.rounded(self.terms.net(worked) * (1 - self.line.discount))
        return min(worked, max(floor, less))

    @property
    def bounded(self) -> bool:
        """Whether all pieces together never come to less when there are more of them."""
        return (
            self.method == "margin"
            and len(self.coster.supply.style) == 1
            and not self.line.discount
            and self.house.price.floor != "sure"
        )

    def most_between(self, first: int, last: int) -> Decimal:
        """Return what no quantity of a stretch costs more than a piece, as read and rounded.

        All pieces together never come to more than those of the last: a hair is added, since
        which bobbins are cheaper is reckoned, not charged.
        """
        net = self.way("margin", last) * last / first
        return self.rounded(net * (1 + A_HAIR))

    def safe_discount(self, unit: Decimal, quantity: int) -> Decimal:
        """Return the share that could be taken off a price before it meets the floor."""
        net = self.terms.net(unit)
        return max(ZERO, 1 - self.house_floor(quantity) / net) if net else ZERO


def extra_letters(plan: LinePlan, house: House) -> Decimal:
    """Count the letters beyond those a name's price holds, over the line's names.

    Parameters
    ----------
    plan : LinePlan
        Whatever the quantity.
    house : House
        The standards.

    Returns
    -------
    Decimal
    """
    own = max((p.own for p in plan.placements if p.own), key=lambda o: o.given, default=None)
    if own is None or not own.names:
        return ZERO
    held = house.price.name_letters
    over = sum(max(0, letters_of(name) - held) for name in own.names)
    return exact(over * len(own.sewn) / len(own.names))


def agreed_price(line: Line, job: Job) -> Decimal | None:
    """Return the price agreed with the customer, while it holds.

    Parameters
    ----------
    line : Line
        As asked.
    job : Job
        As asked.

    Returns
    -------
    Decimal | None
    """
    if line.agreed is None:
        return None
    held = not line.agreed.until or not job.on or job.on <= line.agreed.until
    return round_money(line.agreed.unit_price, job.currency) if held else None
