"""The pieces of an order: made of its job, kept through its versions, remade where spoiled."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace
from difflib import SequenceMatcher

from clothyard.core.job.document import Job
from clothyard.core.job.names import piece_names
from clothyard.core.order.state import SEWN, TO_SEW
from clothyard.core.record import record
from clothyard.core.stock.key import blank_key
from clothyard.core.stock.needs import Need
from clothyard.core.work.document import Work
from clothyard.core.work.piece import Piece

_FURTHEST = {"good": 0, "mended": 1, "sewn": 2, "prepared": 3, "waiting": 4}
_MOST_REMADE = 10_000
RESPELT = 0.6
"""Names as like as this are one name, spelt otherwise."""
MOST_COMPARED = 10_000
"""Pairs of names that are compared at most."""


def wanted_pieces(job: Job) -> list[Piece]:
    """List the pieces of a job, cell by cell, with their names."""
    found: list[Piece] = []
    for line in job.lines:
        names = piece_names(line)
        cells = [(c.size, c.colour, c.quantity) for c in line.cells] or [("", "", line.quantity)]
        at = 0
        for size, colour, quantity in cells:
            for name in names[at : at + quantity]:
                at += 1
                found.append(Piece(f"{line.id}-{at}", len(found), line.id, size, colour, name))
    return found


def reconciled(there: Sequence[Piece], wanted: Sequence[Piece]) -> list[Piece]:
    """Bring pieces to another version: what was done of a piece stays where it is wanted still.

    Parameters
    ----------
    there : sequence of Piece
        As they stand.
    wanted : sequence of Piece
        As the new version has them.

    Returns
    -------
    list of Piece
        Those wanted, with the id and what was done of one that is the same: of that name, size and
        colour, else, not sewn yet, of that name or one spelt nearly so, else of that size and
        colour, else any of the line. Then spoiled ones; and those sewn that nobody wants any more,
        as surplus.

    Source
    ------
    The handbook's workshop 1.
    """
    match = _matched(there, wanted)
    used = {piece.id for piece in there}
    found: list[Piece] = []
    taken: set[str] = set()
    for n, want in enumerate(wanted):
        was = match.get(n)
        if was is None:
            id_ = _fresh(want, used | taken)
            found.append(replace(want, id=id_))
        else:
            id_ = was.id
            found.append(replace(was, n=want.n, size=want.size, colour=want.colour, name=want.name))
        taken.add(id_)
    kept = {was.id for was in match.values()}
    over = {p.id for p in there if p.state in _FURTHEST and p.id not in kept}
    for piece in there:
        unwanted = piece.id in over and piece.state in SEWN
        if piece.state not in {"spoiled", "surplus"} and not unwanted:
            continue
        id_ = piece.id
        while id_ in taken:
            id_ += "x"
        taken.add(id_)
        state = "spoiled" if piece.state == "spoiled" else "surplus"
        found.append(replace(piece, id=id_, n=len(found), state=state))
    return found


def _matched(there: Sequence[Piece], wanted: Sequence[Piece]) -> dict[int, Piece]:
    """Find for each wanted piece, by its place among them, the one there that it is.

    The furthest, then the earliest is taken first; what is sewn is only what it was sewn as.
    """
    order = sorted(
        (p for p in there if p.state in _FURTHEST), key=lambda p: (_FURTHEST[p.state], p.n)
    )
    found: dict[int, Piece] = {}
    taken: set[str] = set()
    for alike in (_who, _named, _of_kind, _of_line):
        left: dict[tuple[str, ...], list[Piece]] = {}
        for piece in reversed(order):
            if piece.id not in taken and (alike is _who or piece.state in TO_SEW):
                left.setdefault(alike(piece), []).append(piece)
        for n, want in enumerate(wanted):
            same = left.get(alike(want)) if n not in found else None
            if same and alike(want):
                found[n] = same.pop()
                taken.add(found[n].id)
        if alike is _named:
            found |= _respelt(
                [p for p in order if p.id not in taken and p.state in TO_SEW and p.name],
                [(n, want) for n, want in enumerate(wanted) if n not in found and want.name],
            )
            taken = {was.id for was in found.values()}
    return found


def _respelt(left: Sequence[Piece], wanted: Sequence[tuple[int, Piece]]) -> dict[int, Piece]:
    """Find pieces whose name is spelt a little otherwise now, the likest first.

    A list that is exchanged as a whole is not compared name by name.
    """
    if len(left) * len(wanted) > MOST_COMPARED:
        return {}
    pairs = sorted(
        (
            (-ratio, n, k)
            for n, want in wanted
            for k, was in enumerate(left)
            if was.line == want.line
            and (ratio := SequenceMatcher(None, was.name.lower(), want.name.lower()).ratio())
            >= RESPELT
        ),
    )
    found: dict[int, Piece] = {}
    used: set[int] = set()
    for _, n, k in pairs:
        if n not in found and k not in used:
            found[n] = left[k]
            used.add(k)
    return found


def _fresh(want: Piece, used: Collection[str]) -> str:
    """Return an id that no piece of the order has: its own, else the next of its line."""
    if want.id not in used:
        return want.id
    return next(id_ for n in range(1, _MOST_REMADE * 2) if (id_ := f"{want.line}-{n}") not in used)


def _named(piece: Piece) -> tuple[str, ...]:
    return (piece.line, piece.name) if piece.name else ()


def _of_kind(piece: Piece) -> tuple[str, ...]:
    return piece.line, piece.size, piece.colour


def _of_line(piece: Piece) -> tuple[str, ...]:
    return (piece.line,)


def _who(piece: Piece) -> tuple[str, ...]:
    return piece.line, piece.size, piece.colour, piece.name


@record
class Moved:
    """Pieces after some of them changed: all as they are now, and those that changed."""

    pieces: tuple[Piece, ...]
    changed: tuple[Piece, ...]


def moved(
    pieces: Sequence[Piece],
    ids: Collection[str],
    *,
    seen: Collection[str],
    to: str,
    reason: str = "",
    on: str = "",
) -> Moved:
    """Move pieces on, or back: for a spoiled one another is made, for one that is not after all
    that other is let go.

    Parameters
    ----------
    pieces : sequence of Piece
        All of the order.
    ids : collection of str
        Those to move; what is no longer in one of the states `seen` stays as it is.
    to, reason, on : str
        Their new state, why, and when.
    """
    mine = [p for p in pieces if p.id in ids and p.state in seen]
    found = {piece.id: piece for piece in pieces}
    for piece in mine:
        if to == "spoiled" and piece.state != "spoiled":
            id_ = next(
                f"{piece.id}.{n}" for n in range(2, _MOST_REMADE) if f"{piece.id}.{n}" not in found
            )
            found[id_] = replace(
                piece, id=id_, state="waiting", reason="", instead_of=piece.id, changed_on=on
            )
        if to != "spoiled" and piece.state == "spoiled":
            for other in pieces:
                if other.instead_of == piece.id and other.state == "waiting":
                    found.pop(other.id, None)
        found[piece.id] = replace(piece, state=to, reason=reason, changed_on=on)
    return Moved(tuple(found.values()), tuple(mine))


def with_remakes(needs: Sequence[Need], work: Work | None, pieces: Sequence[Piece]) -> list[Need]:
    """Say what an order needs, and one blank more for each spoiled piece beyond its own spares.

    A spare is of one size and colour: a spoiled one of another does not use it up.

    Parameters
    ----------
    needs : sequence of Need
        Of its work.
    work : Work or None
        None where it cannot be told.
    pieces : sequence of Piece
    """
    lines = {line.id: line for line in work.lines} if work else {}
    spares: dict[tuple[str, str, str], int] = {}
    for each in lines.values():
        for cell in each.cells:
            own = each.spares if cell.spares is None else cell.spares
            spares[each.id, cell.size, cell.colour] = own
        if not each.cells:
            spares[each.id, "", ""] = each.spares
    more: dict[str, int] = {}
    for piece in pieces:
        if piece.state != "spoiled":
            continue
        who = piece.line, piece.size, piece.colour
        if spares.get(who, 0) > 0:
            spares[who] -= 1
            continue
        line = lines.get(piece.line)
        key = blank_key((line.blank or line.goods) if line else "", piece.size, piece.colour)
        more[str(key)] = more.get(str(key), 0) + 1
    return [replace(need, amount=need.amount + more.get(need.item.key, 0)) for need in needs]


def count_states(pieces: Sequence[Piece]) -> dict[str, int]:
    """Count pieces by state."""
    found: dict[str, int] = {}
    for piece in pieces:
        found[piece.state] = found.get(piece.state, 0) + 1
    return found


def surplus(pieces: Sequence[Piece]) -> list[str]:
    """Call the pieces that were sewn and are not wanted any more."""
    return [piece.said for piece in pieces if piece.state == "surplus"]
