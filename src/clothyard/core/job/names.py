"""Names of a line's pieces: piece by piece, cell by cell as listed; which are still to come."""

from __future__ import annotations

from collections.abc import Sequence

from clothyard.core.job.document import NAME_TO_COME, Line
from clothyard.core.record import record


@record
class CellNames:
    """The names of a cell's pieces, or of a line without cells.

    Attributes
    ----------
    kind : str
        "M navy"; "" without a cell.
    pieces : int
    names : tuple of str
        In sewing order, stripped; "" for a piece that is left blank on purpose.
    to_come : int
        Pieces whose name is not known yet.
    """

    kind: str
    pieces: int
    names: tuple[str, ...]
    to_come: int


def is_to_come(name: str) -> bool:
    """Whether a name on the list only keeps a place.

    >>> is_to_come(" ? "), is_to_come(""), is_to_come("Ada")
    (True, False, False)
    """
    return name.strip() == NAME_TO_COME


def known_names(line: Line) -> tuple[str, ...]:
    """List the names that are known, in sewing order, stripped; "" for blank pieces."""
    return tuple(name.strip() for name in line.names if not is_to_come(name))


def piece_order(line: Line) -> tuple[int, ...]:
    """Say for each piece which it is when those with a known name are counted first.

    Returns
    -------
    tuple of int, shape (quantity,)
    """
    rows = list(line.names) + [NAME_TO_COME] * (line.quantity - len(line.names))
    waiting = [is_to_come(name) for name in rows]
    first = iter(range(len(rows)))
    order = {n: next(first) for n, waits in enumerate(waiting) if not waits}
    order |= {n: next(first) for n, waits in enumerate(waiting) if waits}
    return tuple(order[n] for n in range(len(rows)))


def piece_kinds(line: Line) -> list[str]:
    """Say each piece's size and colour, "M navy"; "" without.

    Returns
    -------
    list of str, shape (quantity,)
    """
    kinds = [
        " ".join(part for part in (cell.size, cell.colour) if part)
        for cell in line.cells
        for _ in range(cell.quantity)
    ]
    return kinds + [""] * (line.quantity - len(kinds))


def piece_names(line: Line) -> list[str]:
    """Say the name on each piece; "" for a blank one, and for one whose name is still to come.

    Returns
    -------
    list of str, shape (quantity,)
    """
    names = ["" if is_to_come(name) else name.strip() for name in line.names]
    return names + [""] * (line.quantity - len(names))


def names_by_cell(line: Line) -> list[CellNames]:
    """Say which names go on which size and colour: cell by cell, as both are listed.

    Returns
    -------
    list of CellNames
        One for each cell; one for the whole line where it has none.
    """
    cells = [
        (" ".join(part for part in (cell.size, cell.colour) if part) or "plain", cell.quantity)
        for cell in line.cells
    ] or [("", line.quantity)]
    found, names = [], line.names
    for kind, pieces in cells:
        mine, names = names[:pieces], names[pieces:]
        known = _stripped(mine)
        found.append(CellNames(kind, pieces, known, pieces - len(known)))
    return found


def _stripped(names: Sequence[str]) -> tuple[str, ...]:
    return tuple(name.strip() for name in names if not is_to_come(name))
