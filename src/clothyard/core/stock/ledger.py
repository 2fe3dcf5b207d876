"""The ledger: append-only moves, what is on hand, and who may take it, earlier promises first."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from decimal import Decimal
from typing import Literal, TypeVar

from clothyard.core.errors import OutOfRange
from clothyard.core.record import record

ZERO = Decimal(0)
Amount = TypeVar("Amount", int, Decimal)
Why = Literal["received", "taken", "returned", "wasted", "counted", "weighed"]

GIVES: frozenset[str] = frozenset({"received", "returned"})
"""Moves that can only add; taking and wasting can only take; counts do either."""

TAKES: frozenset[str] = frozenset({"taken", "wasted"})


@record
class Move:
    """A change of what is on hand: never changed and never taken out. `on` is an ISO day."""

    item: str
    amount: Decimal
    why: Why
    order: str
    on: str
    note: str = ""


def check_move(move: Move) -> None:
    """Refuse a move that says one thing and does the other.

    Raises
    ------
    OutOfRange
    """
    wrong = (move.why in GIVES and move.amount < 0) or (move.why in TAKES and move.amount > 0)
    if wrong or not move.amount.is_finite():
        way = "add" if move.why in GIVES else "take"
        raise OutOfRange(
            f"{move.why} can only {way}: {move.amount} does not.",
            where="amount",
            remedy="Turn its sign, or count the shelf.",
            code="out-of-range",
        )


def on_hand(moves: Iterable[Move]) -> dict[str, Decimal]:
    """Add up the moves of each item.

    Returns
    -------
    dict of str to Decimal
        Below zero where more was taken than was known to be there: shown, never silent.
    """
    found: dict[str, Decimal] = {}
    for move in moves:
        found[move.item] = found.get(move.item, ZERO) + move.amount
    return found


def counted(item: str, amount: Decimal, there: Decimal, *, on: str, note: str = "") -> Move:
    """Book a count: the difference to what the ledger says."""
    return Move(item, amount - there, "counted", "", on, note)


def weighed_m(gross_g: Decimal, tare_g: Decimal, *, tex: Decimal) -> Decimal:
    """Return the metres of thread on a weighed put-up.

    Parameters
    ----------
    gross_g, tare_g : Decimal
        With and without its thread. [g]
    tex : Decimal
        Grams of a kilometre.

    Raises
    ------
    OutOfRange
        If it weighs less than it does empty.

    Source
    ------
    The handbook's workshop 3: m = (gross − tare)·1000/tex.
    """
    if gross_g < tare_g:
        raise OutOfRange(
            f"{gross_g} g is less than it weighs empty, {tare_g} g.",
            where="gross_g",
            remedy="Weigh it again, or mend its tare.",
            code="out-of-range",
        )
    return (gross_g - tare_g) * 1000 / tex


def uncovered(needs: Iterable[tuple[str, Amount]], there: Mapping[str, Amount]) -> list[Amount]:
    """Say what of each need the shelf does not cover, those promised earlier first.

    Parameters
    ----------
    needs : iterable of (item, amount)
        Those promised earlier stand first; amounts in the item's unit, or in thousandths of it.
    there : mapping of item to amount
        On hand, in the same; what is below zero gives nothing.

    Returns
    -------
    list, shape (n_needs,), in the order given

    Source
    ------
    The handbook's workshop 2.

    Examples
    --------
    >>> uncovered([("film", 5), ("film", 5), ("ring", 1)], {"film": 7})
    [0, 3, 1]
    """
    left = dict(there)
    short = []
    for item, amount in needs:
        have = left.get(item)
        if have is None or have <= 0:
            short.append(amount)
            continue
        free = min(amount, have)
        left[item] = have - free
        short.append(amount - free)
    return short
