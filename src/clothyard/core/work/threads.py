"""The thread of an order, all its lines together: metres by kind and colour."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from clothyard.core.record import record
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan


@record
class ThreadMetres:
    """One thread over the order.

    Attributes
    ----------
    thread_id, key : str
        Kind of thread, and the colour as the plan's `colour_ids` name it.
    colour : str or None
        "#rrggbb" when known.
    label : str
        Of an unknown colour: its place in the design.
    needle_m, bobbin_m : float
        Of the good pieces; bobbins only where they match. [m]
    needed_m : float
        With samples and spares. [m]
    """

    thread_id: str
    key: str
    colour: str | None
    label: str
    needle_m: float
    bobbin_m: float
    needed_m: float


def _of_pass(placed: PlacementPlan, done: Pass, more: float) -> Iterator[ThreadMetres]:
    """Thread of each block of a pass, over its pieces; `more` is what spares and samples add."""
    ids = placed.colour_ids
    tail = done.hand_change_m / len(ids)
    match = placed.making.bobbin == "match"
    rows = zip(
        ids,
        placed.facts.blocks,
        placed.facts.colour_keys,
        done.thread.needle_m,
        done.thread.bobbin_m,
        strict=True,
    )
    for key, block, label, needle_each, bobbin_each in rows:
        needle = (needle_each + tail) * done.pieces
        bobbin = bobbin_each * done.pieces if match else 0.0
        needed = (needle + bobbin) * more
        yield ThreadMetres(
            placed.making.thread_id, key, block.colour, label, needle, bobbin, needed
        )


def thread_metres(lines: Sequence[LineDone], spares: Sequence[int]) -> list[ThreadMetres]:
    """Add up the thread of an order by kind and colour.

    Parameters
    ----------
    lines, spares : sequence, one for each line
        What is done; pieces to have ready beyond the quantity.

    Returns
    -------
    list of ThreadMetres
        By kind, known colours first.

    Source
    ------
    docs/formulas.md 2 and 14.
    """
    sums: dict[tuple[str, str], ThreadMetres] = {}
    for line, spare in zip(lines, spares, strict=True):
        more = (line.quantity + line.samples + spare) / line.quantity
        for placed, done in line.placed:
            for row in _of_pass(placed, done, more):
                known = sums.get((row.thread_id, row.key))
                sums[row.thread_id, row.key] = row if known is None else _together(known, row)
    return sorted(sums.values(), key=lambda row: (row.thread_id, row.colour is None, row.key))


def _together(one: ThreadMetres, other: ThreadMetres) -> ThreadMetres:
    return ThreadMetres(
        one.thread_id,
        one.key,
        one.colour,
        one.label,
        one.needle_m + other.needle_m,
        one.bobbin_m + other.bobbin_m,
        one.needed_m + other.needed_m,
    )
