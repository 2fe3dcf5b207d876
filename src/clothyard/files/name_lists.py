"""Lists of who wants which size: names, sizes, colours and pieces, pasted or dropped."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import dataclass, field

from clothyard.core.errors import BadInput
from clothyard.core.job.document import MAX_QUANTITY
from clothyard.core.units import read_count
from clothyard.files.tables import read_table

COLUMNS = {
    "name": ("name", "names", "wording", "text", "personalisation", "first name"),
    "size": ("size", "sizes"),
    "colour": ("colour", "color", "colours", "colors"),
    "quantity": ("pieces", "quantity", "qty", "how many", "number", "count"),
}
_SIZE = re.compile(r"(\d?x{0,4}[sml]|\d{1,3}|\d{1,3}\s?[-/]\s?\d{1,3}(\s?[my])?|one size)", re.I)
MAX_COLUMNS = 20


@dataclass
class ListedCell:
    """Pieces of one size and colour, and the names on the first of them."""

    size: str
    colour: str
    quantity: int = 0
    names: list[str] = field(default_factory=list)


def size_key(size: str) -> tuple[int, float, str]:
    """Sort sizes as a shelf has them: letters small to large, then figures, then words.

    >>> sorted(["10", "XL", "S", "2XL", "8", "XXS", "M"], key=size_key)
    ['XXS', 'S', 'M', 'XL', '2XL', '8', '10']
    """
    text = size.strip().lower()
    found = re.fullmatch(r"(\d?)(x*)([sml])", text)
    if found:
        more = int(found[1] or 0) if found[2] else 0
        xs = max(more, len(found[2]))
        return (0, {"s": -xs, "m": 1, "l": 2 + xs}[found[3]], text)
    number = re.match(r"\d+", text)
    return (1, float(number[0]), text) if number else (2, 0.0, text)


def read_name_list(text: str, *, colours: Sequence[str] = ()) -> list[ListedCell]:
    """Read a list of pieces: a row a person or a row a size; headings help, without them we look.

    Parameters
    ----------
    text : str
        Headings Name, Size, Colour, Pieces, in any order, what is there of them; a row without
        Pieces is one piece.
    colours : sequence of str
        Colours that the blank comes in, to know a column without a heading by.

    Returns
    -------
    list of ListedCell
        By size as a shelf has them, then colour as first met.

    Raises
    ------
    BadInput
        If nothing can be made of it, or a row's pieces are no number.
    """
    heads = _first_cells(text)
    known = [head for head in heads if any(head in names for names in COLUMNS.values())]
    offset = 0
    if not known:
        text = f"{_guessed(text, colours)}\n{text}"
        offset, known = 1, ["name"]
        heads = _first_cells(text)
    needed = next(column for column, names in COLUMNS.items() if set(heads) & set(names))
    rows = read_table(text, COLUMNS, needed=needed, example="Name, Size, Colour, Pieces")
    found: dict[tuple[str, str], ListedCell] = {}
    for row in rows:
        line = row.line - offset
        size, colour = row.cells.get("size", ""), row.cells.get("colour", "")
        pieces = _pieces(row.cells.get("quantity", ""), line)
        cell = found.setdefault(
            (size.casefold(), colour.casefold()), ListedCell(size=size, colour=colour)
        )
        cell.quantity += pieces
        if name := row.cells.get("name", ""):
            cell.names += [name] * pieces
    total = sum(cell.quantity for cell in found.values())
    if not found or total > MAX_QUANTITY:
        raise BadInput(
            f"it holds {total} pieces.",
            where="text",
            remedy=f"Paste between one and {MAX_QUANTITY}.",
            code="list-empty" if not found else "list-huge",
        )
    return sorted(found.values(), key=lambda cell: size_key(cell.size))


def _pieces(text: str, line: int) -> int:
    if not text:
        return 1
    try:
        pieces = read_count(text)
    except ValueError:
        pieces = 0
    if not 1 <= pieces <= MAX_QUANTITY:
        raise BadInput(
            f"{text[:40]!r} is no number of pieces.",
            where=f"line {line}",
            remedy="Write a whole number, such as 3.",
            code="list-count",
        )
    return pieces


def _table(text: str) -> list[list[str]]:
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip()]
    if not lines:
        return []
    mark = max("\t;,|", key=lines[0].count)
    rows = csv.reader(io.StringIO("\n".join(lines[:500])), delimiter=mark)
    try:
        return [[cell.strip() for cell in row[:MAX_COLUMNS]] for row in rows]
    except csv.Error:
        return []


def _first_cells(text: str) -> list[str]:
    rows = _table(text)
    return [" ".join(cell.lower().split()) for cell in rows[0]] if rows else []


def _guessed(text: str, colours: Sequence[str]) -> str:
    """Name the columns of a table without headings, by what stands in them."""
    rows = _table(text)
    if not rows:
        return "name"
    mark = max("\t;,|", key=text.strip().splitlines()[0].count)
    known = {colour.casefold() for colour in colours}
    named: list[str] = []
    for column in range(max(len(row) for row in rows)):
        cells = [row[column] for row in rows if column < len(row) and row[column]]
        named.append(_column(cells, known, named))
    return mark.join(named)


def _column(cells: list[str], colours: set[str], before: list[str]) -> str:
    def all_are(fits: re.Pattern[str]) -> bool:
        return bool(cells) and all(fits.fullmatch(cell) for cell in cells)

    if all_are(_SIZE) and "size" not in before:
        return "size"
    if all_are(re.compile(r"\d{1,5}")) and "pieces" not in before:
        return "pieces"
    if cells and all(cell.casefold() in colours for cell in cells) and "colour" not in before:
        return "colour"
    if "name" not in before:
        return "name"
    return "colour" if "colour" not in before else f"column {len(before) + 1}"
