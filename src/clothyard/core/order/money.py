"""Money of an order: what is due of it, and what it has cost so far."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from decimal import Decimal
from typing import Any

from clothyard.core.record import record
from clothyard.core.stock.ledger import ZERO
from clothyard.core.units import round_money
from clothyard.core.work.piece import Piece

_WORKED = ("machine", "labour", "overhead")
TOUCHED = ("sewn", "good", "mended", "surplus", "spoiled")
"""Pieces that took their goods, thread and time."""


@record
class Due:
    """What an order comes to, what was paid of it, what is due; and what of its deposit."""

    to_pay: Decimal
    deposit: Decimal
    paid: Decimal

    @property
    def due(self) -> Decimal:
        """What is still to be paid; below zero what was paid too much."""
        return self.to_pay - self.paid

    @property
    def deposit_due(self) -> Decimal:
        """What of the deposit did not come yet; zero or below where it did."""
        return self.deposit - self.paid


@record
class SoFar:
    """What an order has cost until now: taken of the shelf, and worked on its sewn pieces."""

    materials: Decimal
    work: Decimal

    @property
    def total(self) -> Decimal:
        """Both."""
        return self.materials + self.work


def due_of(to_pay: str, deposit: str, payments: Iterable[Mapping[str, Any]]) -> Due:
    """Say what is due of an order, by what it comes to and what was paid."""
    paid = sum((Decimal(str(row["amount"])) for row in payments), ZERO)
    return Due(Decimal(to_pay or "0"), Decimal(deposit or "0"), paid)


def cost_so_far(
    lines: Sequence[Mapping[str, Any]],
    pieces: Sequence[Piece],
    taken: Iterable[tuple[Decimal, Decimal]],
    currency: str,
) -> SoFar:
    """Add up what was taken at its cost, and machine and hands of the pieces that are sewn.

    Parameters
    ----------
    lines : sequence of mapping
        The lines of its estimate.
    pieces : sequence of Piece
    taken : iterable of (amount, cost of a unit)
        What was taken of the shelf, less what was given back. [money]
    currency : str

    Returns
    -------
    SoFar
        Each part rounded to the minor unit.
    """
    materials = sum((amount * cost for amount, cost in taken), ZERO)
    work = ZERO
    for line in lines:
        sewn = sum(1 for p in pieces if p.line == line["id"] and p.state in TOUCHED)
        if not sewn:
            continue
        cost = line["cost"]
        hours = sum((Decimal(cost[key]) for key in _WORKED), ZERO)
        work += hours * min(sewn, line["quantity"]) / line["quantity"] + Decimal(cost["set_up"])
    return SoFar(round_money(materials, currency), round_money(work, currency))
