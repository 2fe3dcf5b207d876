"""What a row of the log books on the shelf: what its pass really took."""

from __future__ import annotations

from decimal import Decimal

from clothyard.core.log.rows import LogRow
from clothyard.core.stock.ledger import ZERO, Move, Why
from clothyard.core.units import exact

_THOUSANDTH = Decimal("0.001")


def took(row: LogRow | None) -> dict[str, Decimal]:
    """Say what a row took of the shelf, by item: metres of thread that were measured, bobbins."""
    found: dict[str, Decimal] = {}
    if row is None:
        return found
    for thread in row.threads:
        if thread.item and thread.used_m:
            metres = exact(thread.used_m).quantize(_THOUSANDTH)
            found[thread.item] = found.get(thread.item, ZERO) + metres
    if row.bobbin_item and row.actual.bobbins:
        found[row.bobbin_item] = exact(row.actual.bobbins).quantize(_THOUSANDTH)
    return found


def moves_of(
    row_id: int, revision: int, order: str, before: LogRow | None, after: LogRow | None, *, on: str
) -> list[tuple[str, Move]]:
    """Book what a row says was taken, or the difference to what it said before.

    Parameters
    ----------
    row_id, revision : int
        The row's, after the change: they name what is booked.
    order : str
        The order's id.
    before, after : LogRow or None
        None where there was, or is, none.
    on : str
        When.

    Returns
    -------
    list of (key, Move)
    """
    was, is_ = took(before), took(after)
    row = after or before
    note = f"logged, pass {row.pass_id if row else ''}"
    found = []
    for item in {**was, **is_}:
        more = is_.get(item, ZERO) - was.get(item, ZERO)
        if more:
            key = f"log:{row_id}:r{revision}:{item}"
            why: Why = "taken" if more > 0 else "returned"
            found.append((key, Move(item, -more, why, order, on, note)))
    return found
