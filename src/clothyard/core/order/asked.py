"""What is asked before an order or a piece is said to be what it can hardly be."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from clothyard.core.errors import Conflict
from clothyard.core.figure_text import counted
from clothyard.core.order.state import FINISHED, WANTED
from clothyard.core.stock.ledger import ZERO
from clothyard.core.stock.shelf import NeedNow
from clothyard.core.work.piece import Piece


def check_ready(needs: Iterable[NeedNow]) -> None:
    """Ask before an order is said to be ready whose goods are not here.

    Raises
    ------
    Conflict
        goods-short.
    """
    short = [row.need.label for row in needs if row.short > ZERO]
    if short:
        named = ", ".join(short[:3]) + (f" and {len(short) - 3} more" if len(short) > 3 else "")
        raise Conflict(
            f"not all that it needs is here: {named}.",
            where="state",
            remedy="Say under get ready what is here, or say that it is ready all the same.",
            code="goods-short",
        )


def check_made(to: str, pieces: Mapping[str, int]) -> None:
    """Ask before an order is said to be made of which pieces are not sewn.

    Parameters
    ----------
    to : str
        The state that it is to be in.
    pieces : mapping of state to how many

    Raises
    ------
    Conflict
        not-sewn.
    """
    sewn = sum(pieces.get(state, 0) for state in WANTED)
    whole = sewn + pieces.get("waiting", 0) + pieces.get("prepared", 0)
    if to in FINISHED and sewn < whole:
        said = "none of its pieces is sewn" if not sewn else f"only {sewn} of {whole} are sewn"
        raise Conflict(
            f"{said}.",
            where="state",
            remedy="Move on the pieces that are, or say that it is so all the same.",
            code="not-sewn",
        )


def check_moving(state: str, pieces: Sequence[Piece], to: str, *, anyway: bool) -> None:
    """Refuse to move pieces of a cancelled order; ask where spoiled ones are among those moved.

    Raises
    ------
    Conflict
        order-cancelled, piece-spoiled.
    """
    if state == "cancelled":
        raise Conflict(
            "the order is cancelled: its pieces stay as they are.",
            where="state",
            remedy="Take the order up again first.",
            code="order-cancelled",
        )
    spoiled = [piece for piece in pieces if piece.state == "spoiled"]
    if spoiled and len(spoiled) < len(pieces) and to != "spoiled" and not anyway:
        raise Conflict(
            f"{counted(len(spoiled), 'chosen piece')} {'is' if len(spoiled) == 1 else 'are'} "
            f"spoiled: {', '.join(piece.said for piece in spoiled[:3])}.",
            where="ids",
            remedy="Choose those that are whole, or say that it was not spoiled after all.",
            code="piece-spoiled",
        )
