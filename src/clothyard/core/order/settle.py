"""Settling with the shelf: what a finished order took is booked, and given back if it is not."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from decimal import Decimal
from typing import Any

from clothyard.core.order.state import FINISHED
from clothyard.core.stock.key import ItemKey
from clothyard.core.stock.ledger import ZERO, Move


def settling(
    order: str,
    was: str,
    to: str,
    *,
    outstanding: Iterable[tuple[str, Decimal]],
    used: Iterable[tuple[str, Decimal]] = (),
    logged: Collection[str],
    offcuts: Mapping[str, Decimal],
    booked: Mapping[str, Decimal],
    on: str,
) -> list[Move]:
    """Say what is booked as an order is done or cancelled, or is not after all.

    Parameters
    ----------
    order : str
        Its id.
    was, to : str
        Its state before and after. What was used stays used where it is cancelled: nothing of it
        lies on the shelf again.
    outstanding : iterable of (item, amount)
        What it needs and was not taken for it yet.
    used : iterable of (item, amount)
        What its sewn pieces used and was not taken for it yet.
    logged : collection of item
        Items whose use the log knows whole: these it has booked.
    offcuts : mapping of item to how many
        Worth keeping.
    booked : mapping of item to amount
        What was booked when it was done before; below zero is taken.
    on : str
        When.
    """
    if to in FINISHED and was not in FINISHED:
        taken = [
            Move(item, -amount, "taken", order, on, "the order is done")
            for item, amount in outstanding
            if amount > ZERO and item not in logged
        ]
        left = [
            Move(item, more, "received", order, on, "an offcut worth keeping")
            for item, count in offcuts.items()
            if (more := count - booked.get(item, ZERO)) > ZERO
        ]
        return [*taken, *left]
    if to == "cancelled" and was not in FINISHED:
        return [
            Move(item, -amount, "taken", order, on, "used before it was cancelled")
            for item, amount in used
            if amount > ZERO and item not in logged
        ]
    if was in {*FINISHED, "cancelled"} and to not in FINISHED and to != "cancelled":
        return [
            Move(
                item,
                -amount,
                "returned" if amount < ZERO else "wasted",
                order,
                on,
                "not done after all" if was in FINISHED else "not cancelled after all",
            )
            for item, amount in booked.items()
            if amount
        ]
    return []


def offcuts_of(lines: Sequence[Mapping[str, Any]]) -> dict[str, Decimal]:
    """Count the offcuts of an order that are worth keeping, by roll and size, in whole mm.

    Parameters
    ----------
    lines : sequence of mapping
        The lines of its estimate.
    """
    found: dict[str, Decimal] = {}
    for line in lines:
        for cut in line.get("cuts", []):
            for piece in cut.get("offcuts", []):
                size = f"{int(piece['width_mm'])}x{int(piece['length_mm'])}"
                key = str(ItemKey("offcut", cut["stock"], size))
                found[key] = found.get(key, ZERO) + 1
    return found


def outstanding(
    needed: Iterable[tuple[str, Decimal]], taken: Mapping[str, Decimal]
) -> list[tuple[str, Decimal]]:
    """List what an order needs and was not yet taken for it; below zero what was taken beyond."""
    return [(item, amount - taken.get(item, ZERO)) for item, amount in needed]
