"""What was worked out of a job, unrounded: a line, and the order."""

from __future__ import annotations

from decimal import Decimal

from clothyard.core.advice.document import Advice
from clothyard.core.estimate.comparing import Differs, SchoolDiffers
from clothyard.core.price.charges import Charged, KitSold
from clothyard.core.price.cost import LineCost
from clothyard.core.price.goods import Supply
from clothyard.core.price.priced import PricedLine
from clothyard.core.record import record
from clothyard.core.work.elapsed import ElapsedPart
from clothyard.core.work.line_plan import LinePlan


@record
class LineFigures:
    """All that was worked out of a line, unrounded."""

    cost: LineCost
    priced: PricedLine
    advice: list[Advice]
    others: list[Differs]
    schools: list[SchoolDiffers]
    shown: dict[str, Decimal]
    """Every part of the cost, rounded for show; the lines of a batch add up to the batch's."""
    batch_spares: int
    """Pieces to have ready beyond the quantities of all lines of its batch."""

    @property
    def plan(self) -> LinePlan:
        """Its work, whatever the quantity."""
        return self.cost.done.plan

    @property
    def supply(self) -> Supply:
        """How its blanks are bought."""
        return self.priced.pricer.coster.supply


@record
class OrderFigures:
    """What was worked out of the order, unrounded: kits, lines and kits as read, charges, run."""

    kits: tuple[KitSold, ...]
    in_kits: frozenset[str]
    sold: Decimal
    charges: tuple[Charged, ...]
    elapsed: tuple[ElapsedPart, ...]

    @property
    def elapsed_s(self) -> float:
        """All of it. [s]"""
        return sum(part.seconds for part in self.elapsed)
