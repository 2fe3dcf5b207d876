"""What a cancelled order used, what it comes to, what is billed or given back; in words."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from decimal import ROUND_CEILING, Decimal
from typing import Any, Literal

from clothyard.core.figure_text import counted, currency_text
from clothyard.core.order.money import TOUCHED, SoFar
from clothyard.core.record import record
from clothyard.core.stock.key import blank_key, read_key
from clothyard.core.stock.ledger import ZERO
from clothyard.core.units import exact, round_money
from clothyard.core.work.document import Work
from clothyard.core.work.piece import Piece

Rule = Literal["price", "cost", "nothing"]
"""What is charged of what was used: at its price, at its cost, nothing."""

_THOUSANDTH = Decimal("0.001")


def used_of(
    needs: Iterable[tuple[str, Decimal]],
    pieces: Sequence[Piece],
    work: Work | None,
    unit: Callable[[str], str],
) -> list[tuple[str, Decimal]]:
    """Say what of its needs an order has used: blanks piece by piece, all else by their share.

    Parameters
    ----------
    needs : iterable of (item, amount)
        Of the whole order.
    pieces : sequence of Piece
        As they stand: what is sewn or spoiled is used.
    work : Work or None
        Names the blanks of its lines.
    unit : callable
        Says whether an item is counted in metres or pieces.
    """
    lines = {line.id: line for line in work.lines} if work else {}
    whole = sum(1 for p in pieces if p.state != "surplus" and not p.instead_of)
    touched = [p for p in pieces if p.state in TOUCHED]
    if not touched or not whole:
        return []
    share = min(exact(len(touched)) / whole, Decimal(1))
    blanks: dict[str, int] = {}
    for piece in touched:
        line = lines.get(piece.line)
        id_ = (line.blank or line.goods) if line else ""
        key = str(blank_key(id_, piece.size, piece.colour))
        blanks[key] = blanks.get(key, 0) + 1
    found = []
    for item, amount in needs:
        if read_key(item).kind == "blank":
            used = min(amount, Decimal(blanks.get(item, 0)))
        elif unit(item) == "m":
            used = (amount * share).quantize(_THOUSANDTH)
        else:
            used = (amount * share).to_integral_value(ROUND_CEILING)
        if used > ZERO:
            found.append((item, used))
    return found


@record
class Settlement:
    """What a cancelled order comes to: at cost, at price; to be billed, to be given back."""

    sewn: int
    pieces: int
    at_cost: Decimal
    at_price: Decimal
    paid: Decimal
    charged: Decimal
    words: tuple[str, ...]

    @property
    def bill(self) -> Decimal:
        """What is still to be paid of it."""
        return max(ZERO, self.charged - self.paid)

    @property
    def give_back(self) -> Decimal:
        """What of the payments goes back: they are kept up to what was used."""
        return max(ZERO, self.paid - self.charged)


def settlement(
    figures: Mapping[str, Any],
    pieces: Sequence[Piece],
    so_far: SoFar,
    payments: Iterable[Mapping[str, Any]],
    *,
    rule: Rule,
    currency: str,
    kept: Collection[str] = (),
) -> Settlement:
    """Settle an order that is cancelled.

    Parameters
    ----------
    figures : mapping
        Its estimate, as it was sent.
    pieces : sequence of Piece
    so_far : SoFar
        What it has cost until now.
    payments : iterable of mapping
    rule : Rule
        The shop's.
    currency : str
    kept : collection of str
        What of its goods was not used: it lies on the shelf, or goes back to its supplier.

    Source
    ------
    The handbook's workshop 1, cancelled.
    """
    total, price, sewn = figures["total"], ZERO, 0
    for line in figures["lines"]:
        mine = sum(1 for p in pieces if p.line == line["id"] and p.state in TOUCHED)
        sewn += mine
        price += Decimal(line["price"]["unit"]) * min(mine, line["quantity"])
    whole = sum(line["quantity"] for line in figures["lines"])
    if sewn:
        price += sum((Decimal(charge["amount"]) for charge in total["charges"]), ZERO)
    before_tax = Decimal(total["price"])
    if before_tax:
        price = price * Decimal(total["to_pay"]) / before_tax
    price = round_money(price, currency)
    paid = sum((Decimal(str(row["amount"])) for row in payments), ZERO)
    charged = {"price": price, "cost": so_far.total, "nothing": ZERO}[rule]

    def money(amount: Decimal) -> str:
        return currency_text(amount, currency)

    words = [
        f"{sewn} of {counted(whole, 'piece')} sewn or spoiled: {money(price)} at price, "
        f"{money(so_far.total)} at cost ({money(so_far.materials)} of the shelf, "
        f"{money(so_far.work)} of machine and hands)."
    ]
    if not sewn and not so_far.total:
        words = ["Nothing of it was sewn."]
    if kept:
        words.append(f"Not used, and on the shelf or to go back: {', '.join(kept)}.")
    how = {
        "price": "What was used is charged at its price",
        "cost": "What was used is charged at its cost",
        "nothing": "Nothing is charged",
    }[rule]
    settled = Settlement(sewn, whole, so_far.total, price, paid, charged, ())
    if settled.bill:
        rest = f"{money(settled.bill)} is to be billed"
    elif settled.give_back:
        rest = f"{money(settled.give_back)} goes back"
    else:
        rest = "nothing is to be billed, nothing goes back"
    words.append(f"{how}: {money(charged)}; {money(paid)} was paid, {rest}.")
    return Settlement(sewn, whole, so_far.total, price, paid, charged, tuple(words))
