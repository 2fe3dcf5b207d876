"""Advice on orders: what the shelf is short of and by when it can be here; proof and sample."""

from __future__ import annotations

from collections.abc import Sequence

from clothyard.core.advice.document import Advice
from clothyard.core.figure_text import day_text
from clothyard.core.record import record

MOST_NAMED = 4


@record
class Lacking:
    """An item that the shelf does not cover: how much, from whom, and by which day ("" unknown)."""

    label: str
    amount: str
    supplier: str
    by: str


def stock_short(lacking: Sequence[Lacking], *, wanted_by: str = "") -> Advice | None:
    """Say what the shelf lacks for a quote; None where it lacks nothing.

    Parameters
    ----------
    lacking : sequence of Lacking
    wanted_by : str
        The ISO day on which the customer wants it, "" for none.
    """
    if not lacking:
        return None
    named = [f"{row.label} {row.amount}" for row in lacking[:MOST_NAMED]]
    more = len(lacking) - len(named)
    said = ", ".join(named) + (f" and {more} more" if more else "")
    days = [row.by for row in lacking if row.by]
    by = f" It can be here by {day_text(max(days))} at the earliest." if days else ""
    late = bool(wanted_by) and bool(days) and max(days) >= wanted_by
    when = f" It is wanted by {day_text(wanted_by)}." if late else ""
    return Advice(
        code="stock-short",
        level="warn",
        where="shelf",
        message=f"The shelf is short of {said}.{by}{when}",
        fix="Order it as soon as it is accepted: the buying list has it then. Or choose what is "
        "there.",
        apply=None,
    )


def proof_open() -> Advice:
    """Say that words or names are not approved: nothing of them is sewn until they are."""
    return Advice(
        code="proof-open",
        level="stop",
        where="proof",
        message="Its words or names are not approved: what is sewn wrong cannot be undone.",
        fix="Let the customer approve the proof, or tick that they did.",
        apply=None,
    )


def sample_open(places: Sequence[str]) -> Advice:
    """Say that a sample has not passed: its batch is held back until it has.

    Parameters
    ----------
    places : sequence of str
        Where its design goes, in words.
    """
    where = " and ".join(dict.fromkeys(places)).lower()
    return Advice(
        code="sample-open",
        level="stop",
        where="sample",
        message=f"Its sample has not passed ({where}): the batch waits until it was sewn and "
        "looked at.",
        fix="Tick that it passed, or change the quote so that none is sewn.",
        apply=None,
    )


_TAKE_A_WAY = "Take one of the ways below, or promise the safe day."
_NO_WAY = "Promise the safe day: as shelf, suppliers and the week stand, nothing makes it sooner."


def date_tight(
    wanted_by: str, likely: str, safe: str, *, ways: int = 0, said: str = "It is wanted by"
) -> Advice | None:
    """Say that a wanted day is before it can be ready; None where it is not, or no day is wanted.

    Parameters
    ----------
    wanted_by, likely, safe : str
        ISO days; likely and safe "" where it cannot be ready within half a year.
    ways : int
        How many ways there are that would make it, told beside it.
    said : str
        How the day stands: wanted, or promised.
    """
    if not wanted_by or (safe and safe <= wanted_by):
        return None
    if not likely:
        when = "It cannot be ready within half a year, as the week stands."
    elif likely > wanted_by:
        when = (
            f"It can be ready by {day_text(likely)} at the likeliest, safely by {day_text(safe)}."
        )
    else:
        when = f"It may be ready by {day_text(likely)}, but safely only by {day_text(safe)}."
    return Advice(
        code="date-tight",
        level="warn",
        where="due_on",
        message=f"{said} {day_text(wanted_by)}. {when}",
        fix=_TAKE_A_WAY if ways else _NO_WAY,
        apply=None,
    )
