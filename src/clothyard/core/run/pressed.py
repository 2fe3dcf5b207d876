"""Whether what was pressed at the machine still holds when it arrives."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from clothyard.core.errors import Conflict
from clothyard.core.run.at_machine import BY_MACHINE, Event, taken_off
from clothyard.core.run.event import EventIn, at_seconds
from clothyard.core.work.piece import Piece


def check_stands(number: str, state: str, version: int, *, seen: int | None) -> None:
    """Refuse presses of an order that is no longer what it was when they were made.

    Parameters
    ----------
    number, state : str
        Of the order, as it is now.
    version : int
        That stands now.
    seen : int or None
        That was on the screen; None where it does not say.

    Raises
    ------
    Conflict
    """
    if state == "cancelled":
        raise Conflict(
            f"{number} was cancelled.",
            where="order",
            remedy="Write it all the same where it was sewn: it counts as cost so far.",
            code="order-cancelled",
        )
    if seen is not None and seen != version:
        raise Conflict(
            f"{number} was revised since: v{version} stands, this was of v{seen}.",
            where="order",
            remedy="Look whether this piece is still wanted so, then write it all the same.",
            code="order-revised",
        )


def check_first(
    there: Sequence[Event],
    people: Mapping[str, str],
    events: Sequence[EventIn],
    pieces: Sequence[Piece],
) -> None:
    """Refuse that a piece came off which another took off: one of the two meant another piece.

    What the machine reports by itself says again what was pressed, and is none.

    Parameters
    ----------
    there : sequence of Event
        Of the pass, in the order in which they came.
    people : mapping of event id to who pressed it
    events : sequence of EventIn
        That come now.
    pieces : sequence of Piece
        Of the order, to call one.

    Raises
    ------
    Conflict
        Nothing of what comes is kept then.
    """
    known, so_far = {event.id for event in there}, list(there)
    for n, event in enumerate(events):
        by_hand = event.id not in known and not event.id.startswith(BY_MACHINE)
        before = taken_off(so_far, event.piece, event.kind) if by_hand else None
        at_s = at_seconds(event.at)
        so_far.append(Event(event.id, event.kind, at_s, event.piece, {"of": event.of}))
        if before is None:
            continue
        by = f" by {people[before.id]}" if people.get(before.id) else ""
        piece = next((p for p in pieces if p.id == event.piece), None)
        called = (piece.name or f"piece {piece.n + 1}") if piece else "this piece"
        raise Conflict(
            f"{called} was {before.kind} already{by}.",
            where=f"events[{n}].piece",
            remedy="Look which piece is in the machine; leave this press out if it was the same.",
            code="piece-off",
        )
