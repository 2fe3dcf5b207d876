"""The states of an order and its pieces: the one place that says which of them mean what."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Literal, get_args

State = Literal["accepted", "waiting", "ready", "in-work", "done", "handed-over", "cancelled"]
Waits = Literal["", "goods", "materials", "proof", "file", "sample", "payment"]
PieceState = Literal["waiting", "prepared", "sewn", "good", "mended", "spoiled", "surplus"]

PIECE_STATES: tuple[PieceState, ...] = get_args(PieceState)

OPEN: tuple[State, ...] = ("accepted", "waiting", "ready", "in-work")
"""Still to be made: these are planned, and need what they need of the shelf."""

HERE: tuple[State, ...] = (*OPEN, "done")
"""Not handed over yet: these the list of orders shows unless others are asked for."""

BEGUN: tuple[State, ...] = ("ready", "in-work", "done", "handed-over")
"""Begun, or about to be: not while a proof is open."""

FINISHED: tuple[State, ...] = ("done", "handed-over")
"""Made: what they took of the shelf is booked."""

SEWN: tuple[PieceState, ...] = ("sewn", "good", "mended", "surplus")
"""Pieces that have been at the machine and are whole."""

WANTED: tuple[PieceState, ...] = ("sewn", "good", "mended")
"""Sewn pieces that the order still wants."""

TO_SEW: tuple[PieceState, ...] = ("waiting", "prepared")
"""Pieces that are still to be sewn."""

_SAMPLE = "sample|"


def sample_key(pass_id: str) -> str:
    """Name what is ticked once the sample of a pass has passed."""
    return f"{_SAMPLE}{pass_id}"


def passed_samples(ready: Iterable[str]) -> frozenset[str]:
    """Return the sample passes that have passed, of what is ticked."""
    return frozenset(key.removeprefix(_SAMPLE) for key in ready if key.startswith(_SAMPLE))


def done_share(pieces: Mapping[str, int]) -> float:
    """Return which share of an order's pieces is sewn, by how many are in each state; 0 to 1."""
    sewn = sum(pieces.get(state, 0) for state in WANTED)
    whole = sewn + sum(pieces.get(state, 0) for state in TO_SEW)
    return sewn / whole if whole else 0.0


def all_sewn(pieces: Mapping[str, int]) -> bool:
    """Whether every piece that the order wants is sewn, by how many are in each state."""
    return done_share(pieces) == 1.0
